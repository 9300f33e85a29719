import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { pictureVerb } from '../cli/src/picture';
import { onto, type Corners } from '../core/src/plate/square';
import { diceOf, judged, strangePlate, type Dice, type StrangePlate } from '../core/test/strange-plates';

/**
 * `npm run plates -- [from] [count] [--copies] [--keep FOLDER]`: strange plates drawn, worn and photographed at an angle, and how many
 * of their figures are read (docs/plates.md has the results). Numbers from 1000 on are never tuned on.
 * `--copies`: no plates but pictures of them, photographed at an angle: on a screen, and in print.
 */

/** How a plate was photographed. */
export type Wear = 'straight' | 'turned' | 'angle' | 'shadow' | 'dark' | 'blur' | 'screen' | 'print';
const WEARS: readonly Wear[] = ['straight', 'turned', 'angle', 'shadow', 'dark', 'blur'];
const COPIES: readonly Wear[] = ['screen', 'print'];
const FONTS = ['DejaVu Sans', 'Liberation Sans', 'Liberation Sans Narrow', 'DejaVu Sans Mono', 'Liberation Serif'];
const [WIDE, HIGH] = [1600, 1200];

/** A photo of a plate, as a file. The same number, the same photo. */
export async function photograph(plate: StrangePlate, seed: number, wear: Wear, file: string): Promise<void> {
  const dice = diceOf(seed + 77_777);
  const dark = wear === 'dark';
  const size = 40 + 8 * dice();
  const high = 60 + plate.lines.length * size * 1.5;
  const wide = Math.max(...plate.lines.map((line) => line.length)) * size * 0.66 + 100;
  const [paper, ink] = dark ? ['#23272b', '#e8e8e2'] : ['#e6e6df', '#1d1d1f'];
  const font = FONTS[Math.floor(dice() * FONTS.length)];
  const text = plate.lines
    .map((line, i) => `<text x="40" y="${60 + (i + 0.4) * size * 1.5}">${escaped(line)}</text>`)
    .join('');
  const scratches = Array.from(
    { length: 6 },
    () => `<line x1="${wide * dice()}" y1="${high * dice()}" x2="${wide * dice()}" y2="${high * dice()}"/>`,
  ).join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${wide}" height="${high}">
    <rect width="100%" height="100%" fill="${paper}"/><rect x="8" y="8" width="${wide - 16}" height="${high - 16}" fill="none" stroke="${ink}" stroke-width="4"/>
    <g font-family="${font}" font-size="${size}" fill="${ink}" xml:space="preserve">${text}</g>
    <g stroke="${paper}" stroke-width="1.5" opacity="0.7">${scratches}</g></svg>`;
  const flat = await sharp(Buffer.from(svg)).greyscale().raw().toBuffer({ resolveWithObject: true });
  const step = flat.info.channels;
  const corners = cornersFor(dice, wear, flat.info.width / flat.info.height);
  const picture = laid(
    { data: flat.data, step, width: flat.info.width, height: flat.info.height },
    corners,
    dice,
    wear,
  );
  await sharp(picture, { raw: { width: WIDE, height: HIGH, channels: 1 } })
    .blur(wear === 'blur' ? 1.6 : COPIES.includes(wear) ? 1 : 0.5)
    .jpeg({ quality: 82 })
    .toFile(file);
}

const escaped = (line: string): string => line.replace(/&/g, '&amp;').replace(/</g, '&lt;');

/** Where the plate's corners come to lie in the photo. */
function cornersFor(dice: Dice, wear: Wear, shape: number): Corners {
  const wide = Math.min(WIDE * 0.84, HIGH * 0.84 * shape);
  const high = wide / shape;
  const turn = (wear === 'turned' ? (dice() < 0.5 ? -1 : 1) * (2 + 4 * dice()) : 0) * (Math.PI / 180);
  const lean = wear === 'angle' || COPIES.includes(wear) ? 0.08 + 0.1 * dice() : 0;
  const side = Math.floor(dice() * 4);
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([a = 0, b = 0]) => {
    // One side lies further off, and is shorter.
    const far = [b < 0, a > 0, b > 0, a < 0][side];
    const x = (a * wide) / 2 - (far && side % 2 === 0 ? a * lean * wide : 0);
    const y = (b * high) / 2 - (far && side % 2 === 1 ? b * lean * high : 0);
    return {
      x: WIDE / 2 + x * Math.cos(turn) - y * Math.sin(turn),
      y: HIGH / 2 + x * Math.sin(turn) + y * Math.cos(turn),
    };
  }) as unknown as Corners;
}

/** The plate laid on a wall, each pixel of the photo asked where it lies on the plate. */
function laid(
  plate: { data: Uint8Array; step: number; width: number; height: number },
  corners: Corners,
  dice: Dice,
  wear: Wear,
): Buffer {
  const out = Buffer.alloc(WIDE * HIGH);
  const at = onto(inverse(corners), 1, 1);
  const wall = 90 + 60 * dice();
  for (let y = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++) {
      const { x: u, y: v } = at(x / WIDE, y / HIGH);
      const light = wear === 'shadow' ? 1 - 0.55 * Math.min(1, Math.max(0, (x / WIDE + y / HIGH - 0.7) * 2)) : 1;
      const grain = (dice() - 0.5) * 14;
      const inside = u >= 0 && v >= 0 && u < 1 && v < 1;
      const value = inside
        ? (plate.data[(Math.floor(v * plate.height) * plate.width + Math.floor(u * plate.width)) * plate.step] ?? 0)
        : wall;
      out[y * WIDE + x] = Math.max(0, Math.min(255, copied(value, x, y, wear) * light + grain));
    }
  return out;
}

/** What a picture of a plate adds: a screen its glow and the stripes of its rows against those of the camera, print its dots. */
function copied(value: number, x: number, y: number, wear: Wear): number {
  const wave = (period: number, along: number) => Math.sin((2 * Math.PI * along) / period);
  if (wear === 'screen') return 40 + value * 0.8 + 9 * wave(3.3, y) + 14 * wave(47, x + 0.4 * y);
  if (wear === 'print') return value + 26 * wave(4.4, x + y) * wave(4.4, x - y);
  return value;
}

/** The corners of the whole photo as they lie on the plate, in shares of it: the way back of `onto`. */
function inverse(corners: Corners): Corners {
  const at = onto(corners, 1, 1);
  const find = (x: number, y: number) => {
    // By steps of Newton: the map is smooth, and four places are all that is asked of it.
    let [u, v] = [0.5, 0.5];
    for (let i = 0; i < 60; i++) {
      const here = at(u, v);
      const [right, down] = [at(u + 1e-6, v), at(u, v + 1e-6)];
      const [a, b, c, d] = [
        (right.x - here.x) / 1e-6,
        (down.x - here.x) / 1e-6,
        (right.y - here.y) / 1e-6,
        (down.y - here.y) / 1e-6,
      ];
      const whole = a * d - b * c;
      u += (d * (x - here.x) - b * (y - here.y)) / whole;
      v += (a * (y - here.y) - c * (x - here.x)) / whole;
    }
    return { x: u, y: v };
  };
  return [find(0, 0), find(WIDE, 0), find(WIDE, HIGH), find(0, HIGH)];
}

async function main(): Promise<void> {
  const args = process.argv.slice(2);
  const keep = args.includes('--keep') ? args[args.indexOf('--keep') + 1] : undefined;
  const [from = 1000, count = 30] = args.filter((arg) => /^\d+$/.test(arg)).map(Number);
  const folder = keep ?? join('.lantern', 'plates');
  mkdirSync(folder, { recursive: true });
  const tally = new Map<
    string,
    { of: number; right: number; wrong: number; sure: number; kinds: number; plates: number; ms: number }
  >();
  for (let seed = from; seed < from + count; seed++) {
    const plate = strangePlate(seed);
    const wears = args.includes('--copies') ? COPIES : WEARS;
    const wear = wears[seed % wears.length] ?? 'straight';
    const file = join(folder, `${seed}-${wear}.jpg`);
    await photograph(plate, seed, wear, file);
    const began = performance.now();
    const read = await pictureVerb(file, undefined).catch(() => ({ kind: null, fields: [] }));
    const one = judged(plate, read);
    for (const name of [wear, 'all']) {
      const sum = tally.get(name) ?? { of: 0, right: 0, wrong: 0, sure: 0, kinds: 0, plates: 0, ms: 0 };
      tally.set(name, {
        of: sum.of + one.of,
        right: sum.right + one.right,
        wrong: sum.wrong + one.wrong.length,
        sure: sum.sure + one.wrongAndSure.length,
        kinds: sum.kinds + (one.kind ? 1 : 0),
        plates: sum.plates + 1,
        ms: sum.ms + performance.now() - began,
      });
    }
    const note = [...(one.kind ? [] : ['kind not known']), ...one.wrong].join('; ');
    console.log(`${seed} ${wear} ${plate.kind}: ${one.right} of ${one.of}${note ? `; ${note}` : ''}`);
  }
  for (const [name, { of, right, wrong, sure, kinds, plates, ms }] of tally)
    console.log(
      `${name}: ${((100 * right) / of).toFixed(1)} % of ${of} figures, ${wrong} wrong, ${sure} of them said to be sure; kind ${kinds} of ${plates}; ${(ms / plates / 1000).toFixed(1)} s each`,
    );
  if (!keep) rmSync(folder, { recursive: true, force: true });
}

if (process.argv[1]?.endsWith('plates.ts')) void main();
