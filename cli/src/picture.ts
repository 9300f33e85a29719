import { dirname, join } from 'node:path';
import { createRequire } from 'node:module';
import { faultAt as fault } from '@true-lantern/core/system/faults';
import { readPlate, type Plate } from '@true-lantern/core/plate/plate';
import { kindFlag, plateOf } from './plate';

/** A photo of a plate as lines of text (docs/plates.md): grey, even light, dark on light, level; then read twice, the better kept. */

const MOST_PIXELS = 40e6;
/** Long enough for the small print of a module, short enough for a phone's twelve megapixels in seconds. */
const LONG_SIDE = 2000;
const PAPER = 200;
/** Angles at which lines of print are looked for, degrees. */
const MOST_TILT = 8;
const STEP = 0.5;

interface Grey {
  data: Uint8Array;
  width: number;
  height: number;
}
type Line = { text: string; confidence: number };

/** `lantern plate IMAGE`. @throws FaultError for what is no picture, too large, blank, or no plate */
export async function pictureVerb(path: string, kind: string | undefined): Promise<Plate> {
  const wanted = kindFlag(kind);
  if (/\.hei[cf]$/i.test(path))
    throw fault(path, 'is a HEIC picture, expected JPEG or PNG: set the camera to "most compatible"');
  const { default: sharp } = await import('sharp').catch(() => {
    throw fault(path, 'is a picture, and this installation has no picture reader: expected the lines as a text file');
  });
  const grey = await levelled(sharp, path);
  const lines = await read(sharp, grey, wanted);
  if (lines.length === 0) throw fault(path, 'shows no text, expected a photo of a nameplate that fills the picture');
  return plateOf(lines, wanted, path);
}

type Sharp = (typeof import('sharp'))['default'];

async function levelled(sharp: Sharp, path: string): Promise<Grey> {
  const opened = sharp(path, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
  const { width = 0, height = 0 } = await opened.metadata().catch((error: Error) => {
    throw fault(path, `cannot be read as a picture (${error.message.split('\n')[0]}), expected JPEG or PNG`);
  });
  if (width * height > MOST_PIXELS) throw fault(path, 'has more than 40 megapixels, expected a smaller picture');
  const scale = Math.min(3, LONG_SIDE / Math.max(width, height));
  const upright = await opened
    .rotate()
    .greyscale()
    .resize(Math.round(width * scale), Math.round(height * scale), { fit: 'inside', kernel: 'lanczos3' })
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch((error: Error) => {
      throw fault(path, `cannot be read as a picture (${error.message.split('\n')[0]}), expected JPEG or PNG`);
    });
  const { info } = upright;
  const channels = info.channels;
  const data = new Uint8Array(info.width * info.height);
  for (let i = 0; i < data.length; i++) data[i] = upright.data[i * channels] ?? 0;
  const even = await evenLight(sharp, { data, width: info.width, height: info.height });
  const tilt = await tiltOf(sharp, even);
  return Math.abs(tilt) < STEP / 2 ? even : turned(sharp, even, tilt);
}

const raw = ({ width, height }: Grey) => ({ raw: { width, height, channels: 1 as const } });

/** Each place against the light around it: glare and shadow go, and light print on dark is turned round. */
async function evenLight(sharp: Sharp, grey: Grey): Promise<Grey> {
  const { data, width, height } = grey;
  const ordered = Uint8Array.from(data).sort();
  const dark = (ordered[ordered.length >> 1] ?? 0) < 110;
  const paper = dark ? data.map((value) => 255 - value) : data;
  const small = Math.max(8, Math.round(width / 16));
  const around = await sharp(paper, raw(grey))
    .resize(small, null)
    .blur(6)
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer();
  const step = around.length / (width * height);
  const out = new Uint8Array(width * height);
  for (let i = 0; i < out.length; i++)
    out[i] = Math.max(
      0,
      Math.min(255, ((paper[i] ?? 0) / Math.max(16, around[Math.floor(i * step)] ?? 255)) * PAPER + 20),
    );
  // Grain that the division raised is no print.
  const { data: smooth, info } = await sharp(out, raw(grey)).median(3).raw().toBuffer({ resolveWithObject: true });
  return { data: Uint8Array.from({ length: out.length }, (_, i) => smooth[i * info.channels] ?? 0), width, height };
}

/** How far the lines of print are turned: where the rows of the picture differ most. */
async function tiltOf(sharp: Sharp, grey: Grey): Promise<number> {
  const width = 500;
  const { data, info } = await sharp(grey.data, raw(grey))
    .resize(width, null)
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { height, channels } = info;
  const score = (degrees: number) => {
    const slope = Math.tan((degrees * Math.PI) / 180);
    const rows = new Float64Array(height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x += 2) {
        const at = y + Math.round((x - width / 2) * slope);
        if (at >= 0 && at < height) rows[at] = (rows[at] as number) + 255 - (data[(y * width + x) * channels] ?? 255);
      }
    let sum = 0;
    for (let y = 1; y < height; y++) sum += ((rows[y] as number) - (rows[y - 1] as number)) ** 2;
    return sum;
  };
  let [best, most] = [0, score(0) * 1.02];
  for (let degrees = -MOST_TILT; degrees <= MOST_TILT; degrees += STEP) {
    const value = score(degrees);
    if (value > most) [best, most] = [degrees, value];
  }
  return best;
}

async function turned(sharp: Sharp, grey: Grey, degrees: number): Promise<Grey> {
  const { data, info } = await sharp(grey.data, raw(grey))
    .rotate(degrees, { background: { r: PAPER, g: PAPER, b: PAPER } })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const out = new Uint8Array(info.width * info.height);
  for (let i = 0; i < out.length; i++) out[i] = data[i * info.channels] ?? 0;
  return { data: out, width: info.width, height: info.height };
}

/** As one block, and where that says little as scattered words. */
async function read(sharp: Sharp, grey: Grey, kind: Parameters<typeof readPlate>[1]): Promise<Line[]> {
  const { createWorker, OEM, PSM } = await import('tesseract.js');
  const words = join(
    dirname(
      createRequire(process.argv[1] ?? join(process.cwd(), 'package.json')).resolve(
        '@tesseract.js-data/eng/package.json',
      ),
    ),
    '4.0.0_best_int',
  );
  const worker = await createWorker('eng', OEM.LSTM_ONLY, { langPath: words, gzip: true, cacheMethod: 'none' });
  try {
    const png = await sharp(grey.data, raw(grey))
      .png({ compressionLevel: 1 })
      .withMetadata({ density: 300 })
      .toBuffer();
    const pass = async (mode: (typeof PSM)[keyof typeof PSM]): Promise<Line[]> => {
      await worker.setParameters({ tessedit_pageseg_mode: mode, preserve_interword_spaces: '1' });
      const { data } = await worker.recognize(png, {}, { blocks: true, text: false });
      return (data.blocks ?? []).flatMap(({ paragraphs }) =>
        paragraphs.flatMap(({ lines }) =>
          lines
            .map(({ text, words: each }) => ({
              text: text.trim(),
              // A line is as sure as the least of its figures.
              confidence: Math.min(...each.filter((word) => /\d/.test(word.text)).map((word) => word.confidence), 100),
            }))
            .filter(({ text, confidence }) => /[a-z0-9]{2}/i.test(text) && confidence > NOISE_PCT),
        ),
      );
    };
    const worth = (lines: Line[]) => {
      const { fields } = readPlate(lines, kind);
      return fields.reduce((sum, { sure }) => sum + (sure ? 1 : 0.5), 0);
    };
    let best: Line[] = [];
    for (const mode of [PSM.AUTO, PSM.SINGLE_BLOCK, PSM.SPARSE_TEXT]) {
      const lines = await pass(mode);
      if (worth(lines) > worth(best)) best = lines;
      if (worth(best) >= ENOUGH) break;
    }
    return best;
  } finally {
    await worker.terminate();
  }
}
/** So many fields are a plate that was read. */
const ENOUGH = 3;
/** Less sure than this it is the grain of the picture, percent. */
const NOISE_PCT = 40;
