import * as codes from '@zxing/library';
import { expose } from 'comlink';
import { levelPicture, openPicture } from './picture-work';

/** The work on photos of plates on a thread of its own, so that the screen answers meanwhile. */
const pictures = {
  open: (bitmap: ImageBitmap) => openPicture(bitmap, () => Promise.resolve(codes)),
  level: levelPicture,
};
export type Pictures = typeof pictures;

expose(pictures);
