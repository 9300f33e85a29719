import { isQuantity } from '../readings/quantities';
import type { Feed } from '../system/schema';
import { outsideOf, type LiveValue } from './live';

/** What a device says by Modbus: which registers to ask it for, and what its answers are (docs/live.md). */

/** One entry of a device's map. */
export type Mapped = NonNullable<Feed['map']>[number];

const WORDS: Readonly<Record<NonNullable<Mapped['type']>, 1 | 2>> = { u16: 1, s16: 1, u32: 2, s32: 2, f32: 2 };
/** The protocol answers so many registers at once. */
const MOST_AT_ONCE = 125;
/** So many entries has a map; more is a list that somebody pasted whole. */
export const MOST_MAPPED = 200;
/** What is taken where a device's entry does not say it. */
export const MODBUS_DEFAULTS = { port: 502, unit: 1, every_s: 30 } as const;
/** No device is asked more often, s. */
export const LEAST_EVERY_S = 5;

const typeOf = ({ type }: Mapped) => type ?? 'u16';
const functionOf = (entry: Mapped): 3 | 4 => (entry.function === 4 ? 4 : 3);

/** One question to a device: registers that lie side by side. */
export interface Asked {
  function: 3 | 4;
  register: number;
  count: number;
}

/**
 * The questions that bring a whole map, the fewest: what lies side by side is asked at once. A gap is not bridged, since many
 * devices refuse a question that touches a register they do not have.
 */
export function questionsOf(map: readonly Mapped[]): Asked[] {
  const ordered = map
    .map((entry) => ({
      function: functionOf(entry),
      register: entry.register,
      count: WORDS[typeOf(entry)],
    }))
    .sort((a, b) => a.function - b.function || a.register - b.register);
  const asked: Asked[] = [];
  for (const one of ordered) {
    const last = asked.at(-1);
    const end = last ? last.register + last.count : 0;
    const count = last ? Math.max(end, one.register + one.count) - last.register : 0;
    if (last?.function === one.function && one.register <= end && count <= MOST_AT_ONCE) last.count = count;
    else asked.push({ ...one });
  }
  return asked;
}

/**
 * The figure of a map's entry in the words that came back, in the unit of its quantity: raw x scale + offset.
 * @param words the registers from `from` on, each 0 to 65535
 * @returns null where they are not all there, or are no number (f32)
 */
export function figureOf(entry: Mapped, words: readonly number[], from: number): number | null {
  const type = typeOf(entry);
  const own = words.slice(entry.register - from, entry.register - from + WORDS[type]);
  if (entry.register < from || own.length < WORDS[type]) return null;
  const bytes = new DataView(new ArrayBuffer(4));
  // Two registers: the high word first, as the protocol has it, unless the device says it the other way round.
  const ordered = entry.order === 'little' ? own.toReversed() : own;
  ordered.forEach((word, i) => bytes.setUint16(2 * i, word));
  const raw =
    type === 'u16'
      ? bytes.getUint16(0)
      : type === 's16'
        ? bytes.getInt16(0)
        : type === 'u32'
          ? bytes.getUint32(0)
          : type === 's32'
            ? bytes.getInt32(0)
            : bytes.getFloat32(0);
  const figure = raw * (entry.scale ?? 1) + (entry.offset ?? 0);
  return Number.isFinite(figure) ? figure : null;
}

/** What one round of questions came to. */
export interface Round {
  values: LiveValue[];
  /** Figures that nothing here can have, or no figures at all. */
  dropped: number;
}

/**
 * The values of a map in a device's answers.
 * @param answers in the order of `questionsOf`; null where one was refused
 * @param at ms since 1970
 */
export function valuesOf(
  map: readonly Mapped[],
  asked: readonly Asked[],
  answers: readonly (readonly number[] | null)[],
  at: number,
): Round {
  const values: LiveValue[] = [];
  let dropped = 0;
  for (const entry of map) {
    const place = asked.findIndex(
      (one) =>
        one.function === functionOf(entry) &&
        entry.register >= one.register &&
        entry.register + WORDS[typeOf(entry)] <= one.register + one.count,
    );
    const words = answers[place];
    if (!words || !isQuantity(entry.quantity)) continue;
    const value = figureOf(entry, words, asked[place]?.register ?? 0);
    if (value === null || outsideOf(entry.quantity, value)) dropped += 1;
    else values.push({ at, subject: entry.subject, quantity: entry.quantity, value });
  }
  return { values, dropped };
}

/** The map as somebody writes or pastes it: a register a line. */
const COLUMNS = ['register', 'function', 'type', 'order', 'scale', 'offset', 'subject', 'quantity'] as const;
/** The head of such a table. */
export const MAP_HEAD = COLUMNS.join(', ');

/** A map as text, a line an entry. */
export const mapText = (map: readonly Mapped[]): string =>
  map
    .map((entry) =>
      [
        entry.register,
        functionOf(entry),
        typeOf(entry),
        entry.order ?? 'big',
        entry.scale ?? 1,
        entry.offset ?? 0,
        entry.subject,
        entry.quantity,
      ].join(', '),
    )
    .join('\n');

/**
 * The text of a map as entries; tabs, semicolons or commas between the columns.
 * @param parts ids that there are
 * @returns what is wrong, by its line from 1
 */
export function readMap(
  text: string,
  parts: ReadonlySet<string>,
): { map: Mapped[]; wrong: { line: number; why: string }[] } {
  const map: Mapped[] = [];
  const wrong: { line: number; why: string }[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    if (line.trim() === '' || /^\s*register\b/i.test(line)) return;
    const read = readEntry(
      line.split(/[,;\t]/).map((cell) => cell.trim()),
      parts,
    );
    if (typeof read === 'string') wrong.push({ line: i + 1, why: read });
    else map.push(read);
  });
  if (map.length > MOST_MAPPED) wrong.push({ line: MOST_MAPPED + 1, why: `more than ${MOST_MAPPED} registers` });
  return { map, wrong };
}

function readEntry(cells: readonly string[], parts: ReadonlySet<string>): Mapped | string {
  if (cells.length !== COLUMNS.length) return `has ${cells.length} columns, expected ${COLUMNS.length}: ${MAP_HEAD}`;
  const [register, how, type, order, scale, offset, subject = '', quantity = ''] = cells;
  const [number, read, factor, added] = [register, how, scale || '1', offset || '0'].map(Number);
  if (!register || !Number.isInteger(number) || (number ?? -1) < 0 || (number ?? 0) > 65_535)
    return `register is "${register}", expected 0 to 65535`;
  if (read !== 3 && read !== 4) return `function is "${how}", expected 3 (holding) or 4 (input)`;
  if (!Object.hasOwn(WORDS, type ?? '')) return `type is "${type}", expected u16, s16, u32, s32 or f32`;
  if (order !== 'big' && order !== 'little') return `order is "${order}", expected big or little`;
  if (!Number.isFinite(factor)) return `scale is "${scale}", expected a number`;
  if (!Number.isFinite(added)) return `offset is "${offset}", expected a number`;
  if (!parts.has(subject)) return `subject is "${subject}", expected the id of a part of this site`;
  if (!isQuantity(quantity)) return `quantity is "${quantity}", expected one such as "load_V"`;
  return {
    register: number as number,
    function: read,
    type: type as NonNullable<Mapped['type']>,
    order,
    scale: factor as number,
    offset: added as number,
    subject,
    quantity,
  };
}
