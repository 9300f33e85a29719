import { readPlate } from './plate';
import type { PlateKind } from './labels';

/** Between a photo and a plate's text, whatever drew the one and read the other: even light, level lines, the best of several readings. */

/** A line as it was read, with its place in the picture. */
export interface PictureLine {
  text: string;
  confidence: number;
  /** Pixels of the picture that was read. */
  box: { x0: number; y0: number; x1: number; y1: number };
}

/** What a reader of pictures answers: its lines within paragraphs within blocks. */
export interface ReadBlock {
  paragraphs: {
    lines: { text: string; bbox: PictureLine['box']; words: { text: string; confidence: number }[] }[];
  }[];
}

const PAPER = 200;
/** Angles at which lines of print are looked for, degrees. */
const MOST_TILT = 8;
/** Degrees between two of them. */
export const TILT_STEP = 0.5;
/** So many fields are a plate that was read. */
const ENOUGH = 3;
/** Less sure than this it is the grain of the picture, percent. */
const NOISE_PCT = 40;
const DARK = 110;

/** Light print on dark is turned round. Grey values 0 to 255. */
export function darkOnLight(data: Uint8Array): Uint8Array {
  const ordered = Uint8Array.from(data).sort();
  const dark = (ordered[ordered.length >> 1] ?? 0) < DARK;
  return dark ? data.map((value) => 255 - value) : data;
}

/** Each place against the light around it: glare and shadow go. @param around the same picture, much blurred */
export function evenLight(paper: Uint8Array, around: (at: number) => number): Uint8Array {
  const out = new Uint8Array(paper.length);
  for (let i = 0; i < out.length; i++)
    out[i] = Math.max(0, Math.min(255, ((paper[i] ?? 0) / Math.max(16, around(i))) * PAPER + 20));
  return out;
}

/** How far the lines of print are turned, degrees: where the rows of the picture differ most. */
export function tiltOf(data: ArrayLike<number>, width: number, height: number): number {
  const score = (degrees: number) => {
    const slope = Math.tan((degrees * Math.PI) / 180);
    const rows = new Float64Array(height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x += 2) {
        const at = y + Math.round((x - width / 2) * slope);
        if (at >= 0 && at < height) rows[at] = (rows[at] as number) + 255 - (data[y * width + x] ?? 255);
      }
    let sum = 0;
    for (let y = 1; y < height; y++) sum += ((rows[y] as number) - (rows[y - 1] as number)) ** 2;
    return sum;
  };
  let [best, most] = [0, score(0) * 1.02];
  for (let degrees = -MOST_TILT; degrees <= MOST_TILT; degrees += TILT_STEP) {
    const value = score(degrees);
    if (value > most) [best, most] = [degrees, value];
  }
  return best;
}

/** The lines of a reader's answer that are print. */
export const linesIn = (blocks: readonly ReadBlock[]): PictureLine[] =>
  blocks.flatMap(({ paragraphs }) =>
    paragraphs.flatMap(({ lines }) =>
      lines
        .map(({ text, bbox, words }) => ({
          text: text.trim(),
          // A line is as sure as the least of its figures.
          confidence: Math.min(...words.filter((word) => /\d/.test(word.text)).map((word) => word.confidence), 100),
          box: bbox,
        }))
        .filter(({ text, confidence }) => /[a-z0-9]{2}/i.test(text) && confidence > NOISE_PCT),
    ),
  );

/** Read once, and where that says little once more another way: the reading with the most fields. */
export async function bestReading<Mode>(
  modes: readonly Mode[],
  pass: (mode: Mode) => Promise<PictureLine[]>,
  kind?: PlateKind,
): Promise<PictureLine[]> {
  const worth = (lines: PictureLine[]) =>
    readPlate(lines, kind).fields.reduce((sum, { sure }) => sum + (sure ? 1 : 0.5), 0);
  let best: PictureLine[] = [];
  for (const mode of modes) {
    const lines = await pass(mode);
    if (worth(lines) > worth(best)) best = lines;
    if (worth(best) >= ENOUGH) break;
  }
  return best;
}
