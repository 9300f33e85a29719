import type { OpenPhoto } from './read-photo';

/** A barcode or a QR code on a plate, as its text. */

/** What browsers that know codes have (Shape Detection API, W3C draft 2023). */
interface Detector {
  detect(source: CanvasImageSource): Promise<{ rawValue: string }[]>;
}
const detector = (): Detector | null => {
  const { BarcodeDetector } = globalThis as { BarcodeDetector?: new () => Detector };
  return BarcodeDetector ? new BarcodeDetector() : null;
};

/** Longer is no number of a device. */
const MOST_LENGTH = 80;

/**
 * The text of the code in a photo; null where there is none. Browsers that know codes read bars and squares; elsewhere squares
 * alone are read, by a package that is fetched for it.
 */
export async function codeIn({ canvas, grey }: Pick<OpenPhoto, 'canvas' | 'grey'>): Promise<string | null> {
  const own = await detector()
    ?.detect(canvas)
    .catch(() => []);
  const text = own?.[0]?.rawValue ?? (await squareCode(canvas, grey.width, grey.height));
  const clean = text?.trim();
  return clean && clean.length <= MOST_LENGTH ? clean : null;
}

async function squareCode(canvas: HTMLCanvasElement, width: number, height: number): Promise<string | null> {
  const image = canvas.getContext('2d')?.getImageData(0, 0, width, height);
  if (!image) return null;
  const { default: jsQR } = await import('jsqr');
  return jsQR(image.data, width, height)?.data ?? null;
}

/** The serial number that a code gives: its text, or of an address what stands behind its last sign. Null: none is in it. */
export function serialOf(code: string): string | null {
  const last = /^https?:/i.test(code) ? (code.split(/[/=?&#]/).at(-1) ?? '') : code;
  const bare = last.replace(/^(?:s\/?n|serial(?:\s*(?:no|number))?)[\s.:#]*/i, '').trim();
  return /^[\w\-./ ]{4,40}$/.test(bare) && /\d/.test(bare) ? bare : null;
}
