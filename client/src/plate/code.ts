import { canvasOf, greyOf, type Canvas } from './canvas';

/** A barcode or a QR code on a plate, as its text. */

/** What browsers that know codes have (Shape Detection API, W3C draft 2023). */
interface Detector {
  detect(source: CanvasImageSource): Promise<{ rawValue: string }[]>;
}
const detector = (): Detector | null => {
  const { BarcodeDetector } = globalThis as { BarcodeDetector?: new () => Detector };
  return BarcodeDetector ? new BarcodeDetector() : null;
};

/** The package that knows codes where the browser does not. */
export type Codes = typeof import('@zxing/library');

/** Longer is no number of a device. */
const MOST_LENGTH = 80;

/** Sizes at which a picture is looked through, as shares of its own: a code is found at one and missed at another. */
const SIZES = [1, 0.6, 0.36] as const;

/**
 * The text of the code in a photo; null where there is none. Browsers that know codes read it themselves; elsewhere a package
 * does. (Not jsqr, which needs seconds for a phone's photo and knows no bars: most serial numbers are.)
 */
export async function codeIn(canvas: Canvas, codes: () => Promise<Codes>): Promise<string | null> {
  const own = await detector()
    ?.detect(canvas)
    .catch(() => []);
  const text = own?.[0]?.rawValue ?? foundIn(canvas, await codes());
  const clean = text?.trim();
  return clean && clean.length <= MOST_LENGTH ? clean : null;
}

function foundIn(canvas: Canvas, known: Codes): string | null {
  const hints = new Map<number, unknown>([
    [known.DecodeHintType.POSSIBLE_FORMATS, [known.BarcodeFormat.CODE_128, known.BarcodeFormat.CODE_39]],
  ]);
  const readers = [
    new known.QRCodeReader(),
    new known.DataMatrixReader(),
    new known.MultiFormatOneDReader(hints as Map<never, unknown>),
  ];
  for (const share of SIZES) {
    const [width, height] = [Math.round(canvas.width * share), Math.round(canvas.height * share)];
    const [, pen] = canvasOf(width, height);
    pen.drawImage(canvas, 0, 0, width, height);
    const grey = Uint8ClampedArray.from(greyOf(pen, width, height));
    const bitmap = new known.BinaryBitmap(new known.HybridBinarizer(new known.RGBLuminanceSource(grey, width, height)));
    for (const reader of readers)
      try {
        return reader.decode(bitmap).getText();
      } catch {
        // None of its kind in this picture.
      }
  }
  return null;
}

/** The serial number that a code gives: its text, or of an address what stands behind its last sign. Null: none is in it. */
export function serialOf(code: string): string | null {
  const last = /^https?:/i.test(code) ? (code.split(/[/=?&#]/).at(-1) ?? '') : code;
  const bare = last.replace(/^(?:s\/?n|serial(?:\s*(?:no|number))?)[\s.:#]*/i, '').trim();
  return /^[\w\-./ ]{4,40}$/.test(bare) && /\d/.test(bare) ? bare : null;
}
