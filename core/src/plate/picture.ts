import { elementAt } from '../numeric/element';
import { readPlate } from './plate';
import type { PlateKind } from './labels';
import type { Grey } from './square';

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

/** What a reader is asked for: the whole picture, or a part of it. */
export const partOf = (part?: PictureLine['box']) =>
  part ? { rectangle: { left: part.x0, top: part.y0, width: part.x1 - part.x0, height: part.y1 - part.y0 } } : {};

const PAPER = 200;
/** Angles at which lines of print are looked for, degrees. */
const MOST_TILT = 8;
/** Degrees between two of them. */
export const TILT_STEP = 0.5;
/** So many fields are a plate that was read. */
const ENOUGH = 3;
/** Less sure than this it is the grain of the picture, percent. */
const NOISE_PCT = 15;

/**
 * Each place against the light around it: glare and shadow go, and light print on dark is turned round.
 * @param around the same picture, much blurred
 */
export function evenLight(grey: Grey, around: (at: number) => number): Uint8Array {
  const { data } = grey;
  const turned = isLightPrint(grey);
  const out = new Uint8Array(data.length);
  for (let i = 0; i < out.length; i++) {
    const [value, light] = turned ? [255 - (data[i] ?? 0), 255 - around(i)] : [data[i] ?? 0, around(i)];
    out[i] = Math.max(0, Math.min(255, (value / Math.max(16, light)) * PAPER + 20));
  }
  return out;
}

/** Tiles across a picture, each looked at by itself. */
const TILES = 16;
/**
 * True where the print is lighter than what it stands on. In a small tile the ground is what most of it is, and print moves
 * the mean away from that to its own side, whatever light falls on it. The rim is left out: a wall is no print.
 */
function isLightPrint({ data, width, height }: Grey): boolean {
  const [wide, high] = [Math.floor(width / TILES), Math.floor(height / TILES)];
  let toLight = 0;
  for (let row = 1; row < TILES - 1; row++)
    for (let column = 1; column < TILES - 1; column++) {
      const tile: number[] = [];
      for (let y = row * high; y < (row + 1) * high; y += 2)
        for (let x = column * wide; x < (column + 1) * wide; x += 2) tile.push(data[y * width + x] ?? 0);
      const ordered = Uint8Array.from(tile).sort();
      toLight += tile.reduce((sum, value) => sum + value, 0) / tile.length - (ordered[ordered.length >> 1] ?? 0);
    }
  return toLight > 0;
}

/** How far the lines of print are turned, degrees: where the rows of the picture differ most. */
export function tiltOf(data: ArrayLike<number>, width: number, height: number): number {
  const score = (degrees: number) => {
    const slope = Math.tan((degrees * Math.PI) / 180);
    const rows = new Float64Array(height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x += 2) {
        const at = y + Math.round((x - width / 2) * slope);
        if (at >= 0 && at < height) rows[at] = elementAt(rows, at) + 255 - (data[y * width + x] ?? 255);
      }
    let sum = 0;
    for (let y = 1; y < height; y++) sum += (elementAt(rows, y) - elementAt(rows, y - 1)) ** 2;
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
async function bestReading<Mode>(
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

/**
 * What looks like the plate's border may be a window's: of pictures in their order the first in which a figure was read, else
 * the last.
 * @param pictures each made when it is needed; at least one
 */
export async function firstReading<Picture, Mode>(
  pictures: readonly (() => Picture | Promise<Picture>)[],
  modes: readonly Mode[],
  pass: (picture: Picture, mode: Mode, part?: PictureLine['box']) => Promise<PictureLine[]>,
  kind?: PlateKind,
): Promise<{ picture: Picture; lines: PictureLine[] } | null> {
  let last: { picture: Picture; lines: PictureLine[] } | null = null;
  for (const make of pictures) {
    const picture = await make();
    const lines = await bestReading(modes, (mode) => pass(picture, mode), kind);
    last = { picture, lines };
    if (readPlate(lines, kind).fields.length === 0) continue;
    const block = modes[1];
    if (block === undefined) break;
    // A reader drops a line now and then; asked for that strip alone it reads it.
    for (const part of leftOut(lines)) lines.push(...(await pass(picture, block, part)));
    lines.sort((a, b) => a.box.y0 + a.box.y1 - b.box.y0 - b.box.y1);
    break;
  }
  return last;
}

/** Rows of print stand apart evenly: this many times that apart, there is one between them. */
const ROW_MISSING = 1.6;
/** So far apart there is a logo, or nothing. */
const ROWS_APART = 4;
/** Each strip takes time. */
const MOST_STRIPS = 3;

/** Strips between rows of print in which a row was left out, pixels. */
export function leftOut(lines: readonly PictureLine[]): PictureLine['box'][] {
  const rows: PictureLine['box'][] = [];
  for (const { box } of [...lines].sort((a, b) => a.box.y0 + a.box.y1 - b.box.y0 - b.box.y1)) {
    const row = rows.at(-1);
    if (row && (box.y0 + box.y1) / 2 < row.y1)
      rows[rows.length - 1] = {
        x0: Math.min(row.x0, box.x0),
        y0: Math.min(row.y0, box.y0),
        x1: Math.max(row.x1, box.x1),
        y1: Math.max(row.y1, box.y1),
      };
    else rows.push(box);
  }
  const steps = rows.slice(1).map((row, i) => middle(row) - middle(rows[i] ?? row));
  const pitch = [...steps].sort((a, b) => a - b)[steps.length >> 1];
  // Of three rows none is the usual distance.
  if (pitch === undefined || steps.length < 3) return [];
  const [x0, x1] = [Math.min(...rows.map((row) => row.x0)), Math.max(...rows.map((row) => row.x1))];
  return steps
    .flatMap((step, i) => {
      const [above, below] = [rows[i], rows[i + 1]];
      return above && below && step > ROW_MISSING * pitch && step < ROWS_APART * pitch
        ? [{ x0, y0: above.y1, x1, y1: below.y0 }]
        : [];
    })
    .slice(0, MOST_STRIPS);
}
const middle = ({ y0, y1 }: PictureLine['box']): number => (y0 + y1) / 2;
