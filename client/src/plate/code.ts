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

/** Sizes at which a picture is looked through, as shares of its own: a code is found at one and missed at another. */
const SIZES = [1, 0.6, 0.36] as const;

/**
 * The text of the code in a photo; null where there is none. Browsers that know codes read it themselves; elsewhere a package
 * does that is fetched for it. (Not jsqr, which needs seconds for a phone's photo and knows no bars: most serial numbers are.)
 */
export async function codeIn(canvas: HTMLCanvasElement): Promise<string | null> {
  const own = await detector()
    ?.detect(canvas)
    .catch(() => []);
  const text = own?.[0]?.rawValue ?? (await foundIn(canvas));
  const clean = text?.trim();
  return clean && clean.length <= MOST_LENGTH ? clean : null;
}

async function foundIn(canvas: HTMLCanvasElement): Promise<string | null> {
  const known = await import('@zxing/library');
  const hints = new Map<number, unknown>([
    [known.DecodeHintType.POSSIBLE_FORMATS, [known.BarcodeFormat.CODE_128, known.BarcodeFormat.CODE_39]],
  ]);
  const readers = [
    new known.QRCodeReader(),
    new known.DataMatrixReader(),
    new known.MultiFormatOneDReader(hints as Map<never, unknown>),
  ];
  for (const share of SIZES) {
    // Between two looks the page may answer a tap.
    await new Promise((resolve) => setTimeout(resolve, 0));
    const { grey, width, height } = scaled(canvas, share);
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

function scaled(canvas: HTMLCanvasElement, share: number) {
  const small = document.createElement('canvas');
  small.width = Math.round(canvas.width * share);
  small.height = Math.round(canvas.height * share);
  const pen = small.getContext('2d', { willReadFrequently: true });
  pen?.drawImage(canvas, 0, 0, small.width, small.height);
  const data = pen?.getImageData(0, 0, small.width, small.height).data ?? [];
  const grey = new Uint8ClampedArray(small.width * small.height);
  for (let i = 0; i < grey.length; i++)
    grey[i] = ((data[4 * i] ?? 0) + 2 * (data[4 * i + 1] ?? 0) + (data[4 * i + 2] ?? 0)) / 4;
  return { grey, width: small.width, height: small.height };
}

/** The serial number that a code gives: its text, or of an address what stands behind its last sign. Null: none is in it. */
export function serialOf(code: string): string | null {
  const last = /^https?:/i.test(code) ? (code.split(/[/=?&#]/).at(-1) ?? '') : code;
  const bare = last.replace(/^(?:s\/?n|serial(?:\s*(?:no|number))?)[\s.:#]*/i, '').trim();
  return /^[\w\-./ ]{4,40}$/.test(bare) && /\d/.test(bare) ? bare : null;
}
