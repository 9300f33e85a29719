/** Drawing and reading pixels, for whoever looks at a photo of a plate: on a thread, or on the page of a browser that has none for it. */

/** What was wrong with a picture, in a sentence for a person. */
export class NoPlate extends Error {
  // Told by its name: what a thread throws arrives without its class.
  override name = 'NoPlate';
}
/** True for what was thrown as NoPlate, here or on a thread. */
export const isNoPlate = (error: unknown): error is Error => error instanceof Error && error.name === 'NoPlate';

export type Canvas = OffscreenCanvas | HTMLCanvasElement;
export type Pen = OffscreenCanvasRenderingContext2D | CanvasRenderingContext2D;

/** A canvas with its pen. @throws NoPlate where the browser cannot draw */
export function canvasOf(width: number, height: number): [Canvas, Pen] {
  const canvas = typeof OffscreenCanvas === 'undefined' ? onPage(width, height) : new OffscreenCanvas(width, height);
  const pen = canvas.getContext('2d', { willReadFrequently: true });
  if (!pen) throw new NoPlate('This browser cannot draw the picture.');
  return [canvas, pen];
}

function onPage(width: number, height: number): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  return canvas;
}

/** Grey values of what was drawn. */
export function greyOf(pen: Pen, width: number, height: number): Uint8Array {
  const { data } = pen.getImageData(0, 0, width, height);
  const grey = new Uint8Array(width * height);
  for (let i = 0; i < grey.length; i++)
    grey[i] = 0.299 * (data[4 * i] ?? 0) + 0.587 * (data[4 * i + 1] ?? 0) + 0.114 * (data[4 * i + 2] ?? 0);
  return grey;
}

/** The picture as a file. @throws NoPlate where the browser cannot write it */
export async function fileOf(canvas: Canvas, type: 'image/jpeg' | 'image/png'): Promise<Blob> {
  if (!('toBlob' in canvas)) return canvas.convertToBlob({ type, quality: 0.8 });
  const file = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, type, 0.8));
  if (!file) throw new NoPlate('This browser cannot write the picture.');
  return file;
}

/** A file as a data address. */
export const addressOf = (file: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error ?? new Error('The picture could not be read.'));
    reader.readAsDataURL(file);
  });
