import { evenLight, plateIn, squared, tiltOf, TILT_STEP, type Corners, type Grey } from '@true-lantern/core/pictures';
import { addressOf, canvasOf, fileOf, greyOf, type Canvas, type Pen } from './canvas';
import { codeIn, type Codes } from './code';

/** The work on a photo before its words are read: seconds of it, so it belongs on a thread (picture.worker.ts). */

/** Long enough for the small print of a module, short enough to be read in seconds. */
const LONG_SIDE = 2000;

/** A photo as it was taken, ready to be read: upright, no larger than what is read. */
export interface OpenPhoto {
  grey: Grey;
  /** The picture as a data address, for the screen. */
  picture: string;
  /** The plate's corners as its border shows them, pixels; null where the whole picture is read. */
  found: Corners | null;
  /** What a barcode or QR code on the plate says; null where there is none. */
  code: string | null;
}

/** A picture in even light, dark on light, its lines level. */
export interface LevelPicture {
  /** What the words are read from: nothing of it is lost. */
  file: Blob;
  width: number;
  height: number;
}

/** Opens a picture and looks for the plate and for a code in it. */
export async function openPicture(bitmap: ImageBitmap, codes: () => Promise<Codes>): Promise<OpenPhoto> {
  const scale = Math.min(3, LONG_SIDE / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
  const [canvas, pen] = canvasOf(width, height);
  pen.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const grey: Grey = { data: greyOf(pen, width, height), width, height };
  const code = await codeIn(canvas, codes);
  return { grey, picture: await addressOf(await fileOf(canvas, 'image/jpeg')), found: plateIn(grey), code };
}

/** The plate between its corners, or the whole picture, made ready to be read. */
export async function levelPicture(whole: Grey, corners: Corners | null): Promise<LevelPicture> {
  const grey = corners ? squared(whole, corners) : whole;
  const { data, width, height } = grey;
  const [canvas, pen] = canvasOf(width, height);
  write(pen, width, height, data);
  write(pen, width, height, evenLight(grey, blurred(canvas, width, height)));
  const turn = turnOf(canvas);
  const level = Math.abs(turn) < TILT_STEP / 2 ? canvas : turned(canvas, turn);
  return { file: await fileOf(level, 'image/png'), width, height };
}

function write(pen: Pen, width: number, height: number, grey: Uint8Array): void {
  const image = pen.createImageData(width, height);
  for (let i = 0; i < grey.length; i++) {
    const value = grey[i] ?? 0;
    image.data[4 * i] = value;
    image.data[4 * i + 1] = value;
    image.data[4 * i + 2] = value;
    image.data[4 * i + 3] = 255;
  }
  pen.putImageData(image, 0, 0);
}

/** The light around each place: the picture much smaller, smoothed, read at its own size again. */
function blurred(canvas: Canvas, width: number, height: number): (at: number) => number {
  const small = Math.max(8, Math.round(width / 16));
  const low = Math.max(8, Math.round((height * small) / width));
  const [, pen] = canvasOf(small, low);
  pen.imageSmoothingQuality = 'high';
  // A little beyond its own edge, so that the border is not blurred with nothing.
  const draw = (from: Canvas) => pen.drawImage(from, -1, -1, small + 2, low + 2);
  if ('filter' in pen) {
    pen.filter = 'blur(6px)';
    draw(canvas);
  } else draw(smoothed(canvas, small, low));
  const grey = greyOf(pen, small, low);
  return (at) => {
    const x = Math.min(small - 1, Math.floor(((at % width) * small) / width));
    const y = Math.min(low - 1, Math.floor((Math.floor(at / width) * low) / height));
    return grey[y * small + x] ?? 255;
  };
}

/** For browsers whose pens cannot blur: drawn so small that only the light is left. */
function smoothed(canvas: Canvas, width: number, height: number): Canvas {
  const [small, low] = [Math.max(2, Math.round(width / 10)), Math.max(2, Math.round(height / 10))];
  const [tiny, pen] = canvasOf(small, low);
  pen.imageSmoothingQuality = 'high';
  pen.drawImage(canvas, 0, 0, small, low);
  return tiny;
}

const LOOK_PX = 500;
function turnOf(canvas: Canvas): number {
  const height = Math.round((canvas.height * LOOK_PX) / canvas.width);
  const [, pen] = canvasOf(LOOK_PX, height);
  pen.drawImage(canvas, 0, 0, LOOK_PX, height);
  return tiltOf(greyOf(pen, LOOK_PX, height), LOOK_PX, height);
}

function turned(canvas: Canvas, degrees: number): Canvas {
  const [out, pen] = canvasOf(canvas.width, canvas.height);
  pen.fillStyle = 'rgb(200, 200, 200)';
  pen.fillRect(0, 0, out.width, out.height);
  pen.translate(out.width / 2, out.height / 2);
  pen.rotate((degrees * Math.PI) / 180);
  pen.drawImage(canvas, -out.width / 2, -out.height / 2);
  return out;
}
