import { dirname, join } from 'node:path';
import { createRequire } from 'node:module';
import { faultAt as fault } from '@true-lantern/core/system/faults';
import type { PlateKind } from '@true-lantern/core/plate/labels';
import {
  evenLight as evened,
  firstReading,
  linesIn,
  partOf,
  tiltOf,
  TILT_STEP,
  type PictureLine,
} from '@true-lantern/core/plate/picture';
import { plateIn, squared, type Grey } from '@true-lantern/core/plate/square';
import type { Plate } from '@true-lantern/core/plate/plate';
import { kindFlag, plateOf } from './plate';

/** A photo of a plate as lines of text (docs/plates.md): grey, even light, dark on light, level; then read twice, the better kept. */

const MOST_PIXELS = 40e6;
/** Long enough for the small print of a module, short enough for a phone's twelve megapixels in seconds. */
const LONG_SIDE = 2000;
const PAPER = 200;

/** `lantern plate IMAGE`. @throws FaultError for what is no picture, too large, blank, or no plate */
export async function pictureVerb(path: string, kind: string | undefined): Promise<Plate> {
  const wanted = kindFlag(kind);
  if (/\.hei[cf]$/i.test(path))
    throw fault(path, 'is a HEIC picture, expected JPEG or PNG: set the camera to "most compatible"');
  const { default: sharp } = await import('sharp').catch(() => {
    throw fault(path, 'is a picture, and this installation has no picture reader: expected the lines as a text file');
  });
  const whole = await opened(sharp, path);
  const corners = plateIn(whole);
  const lines = await read(sharp, [...(corners ? [squared(whole, corners)] : []), whole], wanted);
  if (lines.length === 0) throw fault(path, 'shows no text, expected a photo of a nameplate that fills the picture');
  return plateOf(
    lines.map(({ text, confidence }) => ({ text, confidence })),
    wanted,
    path,
  );
}

type Sharp = (typeof import('sharp'))['default'];

/** Upright, grey, of a size to be read. @throws FaultError for what is no picture or too large */
async function opened(sharp: Sharp, path: string): Promise<Grey> {
  const file = sharp(path, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
  const { width = 0, height = 0 } = await file.metadata().catch((error: Error) => {
    throw fault(path, `cannot be read as a picture (${error.message.split('\n')[0]}), expected JPEG or PNG`);
  });
  if (width * height > MOST_PIXELS) throw fault(path, 'has more than 40 megapixels, expected a smaller picture');
  const scale = Math.min(3, LONG_SIDE / Math.max(width, height));
  const upright = await file
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
  return { data, width: info.width, height: info.height };
}

async function levelled(sharp: Sharp, grey: Grey): Promise<Grey> {
  const even = await evenLight(sharp, grey);
  const tilt = await turnOf(sharp, even);
  return Math.abs(tilt) < TILT_STEP / 2 ? even : turned(sharp, even, tilt);
}

const raw = ({ width, height }: Grey) => ({ raw: { width, height, channels: 1 as const } });

/** Each place against the light around it: glare and shadow go, and light print on dark is turned round. */
async function evenLight(sharp: Sharp, grey: Grey): Promise<Grey> {
  const { data, width, height } = grey;
  const small = Math.max(8, Math.round(width / 16));
  const around = await sharp(data, raw(grey))
    .resize(small, null)
    .blur(6)
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer();
  const step = around.length / (width * height);
  const out = evened(grey, (at) => around[Math.floor(at * step)] ?? 255);
  // Grain that the division raised is no print.
  const { data: smooth, info } = await sharp(out, raw(grey)).median(3).raw().toBuffer({ resolveWithObject: true });
  return { data: Uint8Array.from({ length: out.length }, (_, i) => smooth[i * info.channels] ?? 0), width, height };
}

/** How far the lines of print are turned. */
async function turnOf(sharp: Sharp, grey: Grey): Promise<number> {
  const width = 500;
  const { data, info } = await sharp(grey.data, raw(grey))
    .resize(width, null)
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { height, channels } = info;
  return tiltOf(
    Uint8Array.from({ length: width * height }, (_, i) => data[i * channels] ?? 255),
    width,
    height,
  );
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

/** As one block, and where that says little as scattered words; where nothing was said, the next picture. */
async function read(sharp: Sharp, pictures: readonly Grey[], kind: PlateKind | undefined): Promise<PictureLine[]> {
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
    const pngOf = async (picture: Grey) => {
      const grey = await levelled(sharp, picture);
      return sharp(grey.data, raw(grey)).png({ compressionLevel: 1 }).withMetadata({ density: 300 }).toBuffer();
    };
    const pass = async (png: Buffer, mode: (typeof PSM)[keyof typeof PSM], part?: PictureLine['box']) => {
      await worker.setParameters({ tessedit_pageseg_mode: mode, preserve_interword_spaces: '1' });
      const { data } = await worker.recognize(png, partOf(part), { blocks: true, text: false });
      return linesIn(data.blocks ?? []);
    };
    const found = await firstReading(
      pictures.map((picture) => () => pngOf(picture)),
      [PSM.AUTO, PSM.SINGLE_BLOCK, PSM.SPARSE_TEXT],
      pass,
      kind,
    );
    return found?.lines ?? [];
  } finally {
    await worker.terminate();
  }
}
