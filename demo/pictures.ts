import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import type { PartRow } from '@true-lantern/core';
import sharp from 'sharp';

/** Drawn stand-ins for photos: a nameplate on a wall, with the figures that the site's parts have. No real photograph. */

const WIDTH = 1280;
const HEIGHT = 960;
const fonts = dirname(
  createRequire(import.meta.url).resolve('@expo-google-fonts/atkinson-hyperlegible-next/package.json'),
);
const BOLD = join(fonts, '800ExtraBold', 'AtkinsonHyperlegibleNext_800ExtraBold.ttf');
const PLAIN = join(fonts, '400Regular', 'AtkinsonHyperlegibleNext_400Regular.ttf');

type Body = Record<string, string | number | null | undefined>;

/** What a plate says, line by line; null for parts that carry none. */
function plateOf({ kind, body }: PartRow): string[] | null {
  const b = body as Body;
  const line = (name: string, field: string, unit: string) =>
    b[field] === null || b[field] === undefined ? null : `${name}  ${b[field]} ${unit}`;
  const lines: Partial<Record<PartRow['kind'], (string | null)[]>> = {
    moduleTypes: [
      line('Pmax', 'pmax_W', 'W'),
      line('Voc', 'voc_V', 'V'),
      line('Isc', 'isc_A', 'A'),
      line('Vmp', 'vmp_V', 'V'),
      line('Imp', 'imp_A', 'A'),
    ],
    controllers: [
      String(b.type ?? '').toUpperCase(),
      line('PV max', 'maxPv_V', 'V'),
      line('Output', 'maxOutput_A', 'A'),
    ],
    bank: [
      String(b.chemistry ?? '').toUpperCase(),
      line('Nominal', 'block_V', 'V'),
      line('Capacity', 'blockCapacity_Ah', 'Ah'),
    ],
    inverters: [line('Output', 'continuous_W', 'W'), line('Surge', 'surge_W', 'W')],
    chargers: [String(b.kind ?? ''), line('Output', 'max_A', 'A')],
  };
  return lines[kind]?.filter((text): text is string => Boolean(text)) ?? null;
}

/** A picture of the part's plate as PNG; null where the part has none. The same part gives the same picture. */
export async function drawPlate(row: PartRow): Promise<Buffer | null> {
  const lines = plateOf(row);
  if (!lines) return null;
  const seed = createHash('sha256').update(JSON.stringify(row.body)).digest();
  const at = (i: number, from: number, to: number) => from + ((seed[i] ?? 0) / 255) * (to - from);
  const title = String(row.body.label ?? row.body.id);
  const text = (words: string, fontfile: string, size: number) =>
    sharp({
      text: {
        text: `<span foreground="#222018">${escaped(words)}</span>`,
        font: 'Atkinson Hyperlegible Next',
        fontfile,
        dpi: size * 6,
        rgba: true,
      },
    })
      .png()
      .toBuffer();
  const parts = await Promise.all([text(title, BOLD, 46), ...lines.map((words) => text(words, PLAIN, 38))]);
  const plateHeight = 150 + lines.length * 84;
  const plate = await sharp(Buffer.from(plateSvg(860, plateHeight, at(0, 0, 360))))
    .composite(parts.map((input, i) => ({ input, left: 60, top: i === 0 ? 40 : 66 + i * 84 })))
    .rotate(at(1, -4, 4), { background: { r: 0, g: 0, b: 0, alpha: 0 } })
    .png()
    .toBuffer();
  return sharp(Buffer.from(wallSvg(seed)))
    .composite([{ input: plate, gravity: 'centre' }, { input: Buffer.from(lightSvg(at(2, 20, 80), at(3, 20, 60))) }])
    .jpeg({ quality: 80 })
    .toBuffer();
}

const escaped = (words: string) => words.replace(/&/g, '&amp;').replace(/</g, '&lt;');

const plateSvg = (
  width: number,
  height: number,
  hue: number,
) => `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">
  <rect width="${width}" height="${height}" rx="18" fill="hsl(${hue.toFixed(0)},8%,84%)" stroke="#6b675c" stroke-width="6"/>
  ${[
    [28, 28],
    [width - 28, 28],
    [28, height - 28],
    [width - 28, height - 28],
  ]
    .map(([x, y]) => `<circle cx="${x}" cy="${y}" r="11" fill="#8c877a" stroke="#4a473e" stroke-width="3"/>`)
    .join('')}
</svg>`;

/** Boards of a wall, each of its own tone. */
const wallSvg = (seed: Buffer) => `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}">
  ${Array.from({ length: 8 }, (_, i) => `<rect x="0" y="${i * 120}" width="${WIDTH}" height="118" fill="hsl(32,${14 + ((seed[i + 8] ?? 0) % 12)}%,${38 + ((seed[i + 16] ?? 0) % 14)}%)"/>`).join('')}
</svg>`;

/** A torch's cone: bright in one spot, dark at the edges. */
const lightSvg = (x: number, y: number) => `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}">
  <defs><radialGradient id="g" cx="${x.toFixed(0)}%" cy="${y.toFixed(0)}%" r="80%">
    <stop offset="0" stop-color="#fff6d8" stop-opacity=".28"/><stop offset=".5" stop-color="#fff6d8" stop-opacity="0"/><stop offset="1" stop-color="#000" stop-opacity=".5"/>
  </radialGradient></defs><rect width="${WIDTH}" height="${HEIGHT}" fill="url(#g)"/></svg>`;
