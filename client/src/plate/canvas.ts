/** Drawing and reading pixels, for whoever looks at a photo of a plate. */

/** What was wrong with a picture, in a sentence for a person. */
export class NoPlate extends Error {}

/** A canvas with its pen. @throws NoPlate where the browser cannot draw */
export function canvasOf(width: number, height: number): [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  const pen = canvas.getContext('2d', { willReadFrequently: true });
  if (!pen) throw new NoPlate('This browser cannot draw the picture.');
  return [canvas, pen];
}

/** Grey values of what was drawn. */
export function greyOf(pen: CanvasRenderingContext2D, width: number, height: number): Uint8Array {
  const { data } = pen.getImageData(0, 0, width, height);
  const grey = new Uint8Array(width * height);
  for (let i = 0; i < grey.length; i++)
    grey[i] = 0.299 * (data[4 * i] ?? 0) + 0.587 * (data[4 * i + 1] ?? 0) + 0.114 * (data[4 * i + 2] ?? 0);
  return grey;
}
