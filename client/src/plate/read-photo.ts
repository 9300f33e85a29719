import { firstReading, linesIn, partOf, type Corners, type PictureLine, type PlateKind } from '@true-lantern/core';
import { addressOf, NoPlate } from './canvas';
import type { LevelPicture, OpenPhoto } from './picture-work';
import { pictureWork } from './pictures';

/** A photo of a plate as lines of text, on the device itself (docs/plates.md): fetched once, then without a signal too. */

/** A phone's photo has twelve; beyond this a browser may give up on it. */
const MOST_PIXELS = 40e6;
/** What is fetched before the first photo is read, MB (measured; compressed on the way it is less). */
export const READER_MB = 7;
const READER = '/reader';

/** A photo as it was read: the picture upright and level, and its lines with their places in it. */
export interface ReadPhoto {
  lines: PictureLine[];
  /** The picture that the places are of, as a data address. */
  picture: string;
  width: number;
  height: number;
}

/**
 * Opens a photo.
 * @throws NoPlate for what is no picture or is too large; AbortError where it was stopped
 */
export async function openPhoto(file: Blob & { name?: string }, stop: AbortSignal): Promise<OpenPhoto> {
  if (/hei[cf]/i.test(file.type) || /\.hei[cf]$/i.test(file.name ?? ''))
    throw new NoPlate('This is a HEIC picture. Set the camera to "most compatible" and take it again.');
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new NoPlate('This is not a picture that this browser can read. Take a JPEG or PNG.');
  });
  if (bitmap.width * bitmap.height > MOST_PIXELS)
    throw new NoPlate('This picture has more than 40 megapixels. Take a smaller one.');
  const work = pictureWork(stop);
  try {
    return await work.open(bitmap);
  } finally {
    work.end();
  }
}

/**
 * Reads the words of a photo.
 * @param corners of the plate, pixels; null: the whole picture
 * @param tell share of the way, 0 to 1
 * @throws NoPlate for what shows no text; AbortError where it was stopped
 */
export async function readPhoto(
  photo: OpenPhoto,
  corners: Corners | null,
  kind: PlateKind | undefined,
  tell: (share: number) => void,
  stop: AbortSignal,
): Promise<ReadPhoto> {
  stop.throwIfAborted();
  const { createWorker, OEM, PSM } = await import('tesseract.js');
  const worker = await createWorker('eng', OEM.LSTM_ONLY, {
    workerPath: `${READER}/worker.min.js`,
    corePath: READER,
    langPath: READER,
    workerBlobURL: false,
    gzip: true,
    // The service worker keeps what was fetched; a second copy would be of no use.
    cacheMethod: 'none',
    logger: ({ status, progress }) => tell(status === 'recognizing text' ? 0.3 + 0.7 * progress : 0.3 * progress),
  });
  const work = pictureWork(stop);
  const end = () => void worker.terminate();
  stop.addEventListener('abort', end, { once: true });
  try {
    const pass = async ({ file }: LevelPicture, mode: (typeof PSM)[keyof typeof PSM], part?: PictureLine['box']) => {
      stop.throwIfAborted();
      await worker.setParameters({
        tessedit_pageseg_mode: mode,
        preserve_interword_spaces: '1',
        user_defined_dpi: '300',
      });
      const { data } = await stopped(worker.recognize(file, partOf(part), { blocks: true, text: false }), stop);
      return linesIn(data.blocks ?? []);
    };
    const { grey, found } = photo;
    const pictures = [
      ...(corners ? [() => work.level(grey, corners)] : []),
      // Corners that a person put are the plate's.
      ...(corners === null || corners === found ? [() => work.level(grey, null)] : []),
    ];
    const read = await firstReading(pictures, [PSM.AUTO, PSM.SINGLE_BLOCK, PSM.SPARSE_TEXT], pass, kind);
    if (!read || read.lines.length === 0)
      throw new NoPlate('No text was found. Fill the picture with the nameplate, in even light.');
    const { lines, picture } = read;
    return { lines, picture: await addressOf(picture.file), width: picture.width, height: picture.height };
  } finally {
    stop.removeEventListener('abort', end);
    work.end();
    await worker.terminate();
  }
}

/** A thread that was ended answers nothing: whoever waits for it is told. */
const stopped = <T>(work: Promise<T>, stop: AbortSignal): Promise<T> =>
  Promise.race([
    work,
    new Promise<never>((_, reject) =>
      stop.addEventListener('abort', () => reject(new DOMException('Stopped', 'AbortError')), { once: true }),
    ),
  ]);
