import {
  evenLight,
  firstReading,
  linesIn,
  plateIn,
  squared,
  tiltOf,
  TILT_STEP,
  type Corners,
  type Grey,
  type PictureLine,
  type PlateKind,
} from '@true-lantern/core';
import { canvasOf, greyOf, NoPlate } from './canvas';
import { codeIn } from './code';

/** A photo of a plate as lines of text, on the device itself (docs/plates.md): fetched once, then without a signal too. */

/** A phone's photo has twelve; beyond this a browser may give up on it. */
const MOST_PIXELS = 40e6;
/** Long enough for the small print of a module, short enough to be read in seconds. */
const LONG_SIDE = 2000;
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

/** A photo as it was taken, ready to be read: upright, no larger than what is read. */
export interface OpenPhoto {
  canvas: HTMLCanvasElement;
  grey: Grey;
  /** The plate's corners as its border shows them, pixels; null where the whole picture is read. */
  found: Corners | null;
  /** What a barcode or QR code on the plate says; null where there is none. */
  code: string | null;
}

/**
 * Opens a photo.
 * @throws NoPlate for what is no picture or is too large
 */
export async function openPhoto(file: Blob & { name?: string }): Promise<OpenPhoto> {
  if (/hei[cf]/i.test(file.type) || /\.hei[cf]$/i.test(file.name ?? ''))
    throw new NoPlate('This is a HEIC picture. Set the camera to "most compatible" and take it again.');
  const bitmap = await createImageBitmap(file).catch(() => {
    throw new NoPlate('This is not a picture that this browser can read. Take a JPEG or PNG.');
  });
  if (bitmap.width * bitmap.height > MOST_PIXELS)
    throw new NoPlate('This picture has more than 40 megapixels. Take a smaller one.');
  const scale = Math.min(3, LONG_SIDE / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
  const [canvas, pen] = canvasOf(width, height);
  pen.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const grey: Grey = { data: greyOf(pen, width, height), width, height };
  return { canvas, grey, found: plateIn(grey), code: await codeIn(canvas) };
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
  const end = () => void worker.terminate();
  stop.addEventListener('abort', end, { once: true });
  try {
    const pass = async (canvas: HTMLCanvasElement, mode: (typeof PSM)[keyof typeof PSM]) => {
      stop.throwIfAborted();
      await worker.setParameters({
        tessedit_pageseg_mode: mode,
        preserve_interword_spaces: '1',
        user_defined_dpi: '300',
      });
      const { data } = await stopped(worker.recognize(canvas, {}, { blocks: true, text: false }), stop);
      return linesIn(data.blocks ?? []);
    };
    const { grey, found } = photo;
    const pictures = [
      ...(corners ? [() => levelled(squared(grey, corners))] : []),
      // Corners that a person put are the plate's.
      ...(corners === null || corners === found ? [() => levelled(grey)] : []),
    ];
    const read = await firstReading(pictures, [PSM.AUTO, PSM.SINGLE_BLOCK, PSM.SPARSE_TEXT], pass, kind);
    if (!read || read.lines.length === 0)
      throw new NoPlate('No text was found. Fill the picture with the nameplate, in even light.');
    const { lines, picture } = read;
    return { lines, picture: picture.toDataURL('image/jpeg', 0.8), width: picture.width, height: picture.height };
  } finally {
    stop.removeEventListener('abort', end);
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

/** In even light, dark on light, its lines level. */
function levelled({ data, width, height }: Grey): HTMLCanvasElement {
  const [canvas, pen] = canvasOf(width, height);
  write(pen, width, height, data);
  write(pen, width, height, evenLight({ data, width, height }, blurred(canvas, width, height)));
  const turn = turnOf(canvas);
  return Math.abs(turn) < TILT_STEP / 2 ? canvas : turned(canvas, turn);
}

function write(pen: CanvasRenderingContext2D, width: number, height: number, grey: Uint8Array): void {
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
function blurred(canvas: HTMLCanvasElement, width: number, height: number): (at: number) => number {
  const small = Math.max(8, Math.round(width / 16));
  const low = Math.max(8, Math.round((height * small) / width));
  const [, pen] = canvasOf(small, low);
  pen.filter = 'blur(6px)';
  pen.imageSmoothingQuality = 'high';
  // A little beyond its own edge, so that the border is not blurred with nothing.
  pen.drawImage(canvas, -1, -1, small + 2, low + 2);
  const grey = greyOf(pen, small, low);
  return (at) => {
    const x = Math.min(small - 1, Math.floor(((at % width) * small) / width));
    const y = Math.min(low - 1, Math.floor((Math.floor(at / width) * low) / height));
    return grey[y * small + x] ?? 255;
  };
}

const LOOK_PX = 500;
function turnOf(canvas: HTMLCanvasElement): number {
  const height = Math.round((canvas.height * LOOK_PX) / canvas.width);
  const [, pen] = canvasOf(LOOK_PX, height);
  pen.drawImage(canvas, 0, 0, LOOK_PX, height);
  return tiltOf(greyOf(pen, LOOK_PX, height), LOOK_PX, height);
}

function turned(canvas: HTMLCanvasElement, degrees: number): HTMLCanvasElement {
  const [out, pen] = canvasOf(canvas.width, canvas.height);
  pen.fillStyle = 'rgb(200, 200, 200)';
  pen.fillRect(0, 0, out.width, out.height);
  pen.translate(out.width / 2, out.height / 2);
  pen.rotate((degrees * Math.PI) / 180);
  pen.drawImage(canvas, -out.width / 2, -out.height / 2);
  return out;
}
