import { area_mm2, FACTORS, METRIC, shownUnit, type Units } from '@true-lantern/core';

/**
 * What a person types into the number pad, as a number: "12.5", "-24", "3/8", "1 1/2", "1.2k". Null for an empty
 * entry, undefined where it is not (yet) a number.
 */
export function readEntry(text: string): number | null | undefined {
  const entry = withPoint(text.trim().replace(/\u2212/g, '-'));
  if (entry === undefined) return undefined;
  if (entry === '') return null;
  const match = /^(-?)(?:(\d+)\s+)?(\d*\.?\d*)(?:\/(\d+))?(k?)$/i.exec(entry);
  if (!match) return undefined;
  const [, sign, whole, top, bottom, kilo] = match;
  if (!top || top === '.') return undefined;
  if (whole !== undefined && bottom === undefined) return undefined;
  if (bottom !== undefined && Number(bottom) === 0) return undefined;
  const value = (Number(whole ?? 0) + Number(top) / Number(bottom ?? 1)) * (kilo ? 1000 : 1);
  return sign ? -value : value;
}

/**
 * An entry with a point for its decimals and nothing between its thousands, however its writer marks them: of both marks
 * the last is the decimal's; one that comes more than once groups; a comma before exactly three digits with a group
 * before it groups ("1,280"), any other is the decimal's ("12,5", "0,280"). Undefined where the groups are none.
 */
function withPoint(entry: string): string | undefined {
  const marks = [...entry.matchAll(/[.,]/g)].map(([mark]) => mark);
  const last = marks.at(-1);
  if (last === undefined) return entry;
  const both = new Set(marks).size === 2;
  const groups = both ? (last === '.' ? ',' : '.') : marks.length > 1 || GROUPED.test(entry) ? last : null;
  if (both && marks.filter((mark) => mark === last).length > 1) return undefined;
  if (groups === null) return entry.replace(',', '.');
  const whole = both ? entry.slice(0, entry.lastIndexOf(last)) : entry;
  const digits = /[\d.,]+/.exec(whole)?.[0] ?? '';
  if (!/^[1-9]\d{0,2}(?:[.,]\d{3})+$/.test(digits)) return undefined;
  return entry.replaceAll(groups, '').replace(',', '.');
}
/** One comma with a group before it and exactly three digits behind. */
const GROUPED = /(?:^|[^\d.,])[1-9]\d{0,2},\d{3}(?![\d.,])/;

/** What an entry such as "1,280" may mean: with the comma as a thousands' mark, and as a decimal's; null where it is plain. */
export function twoWays(text: string): { grouped: string; decimal: string } | null {
  if (!GROUPED.test(text) || (text.match(/[.,]/g) ?? []).length !== 1) return null;
  return { grouped: text.replace(',', ''), decimal: text.replace(',', '.') };
}

function toStored(value: number, written: string, unit: string): number | undefined {
  if (unit === 'degC')
    return /^(deg)?f$/.test(written) ? ((value - 32) * 5) / 9 : /^(deg)?c$/.test(written) ? value : undefined;
  if (written === unit.toLowerCase()) return value;
  const factor = FACTORS[unit]?.[written];
  return factor === undefined ? undefined : value * factor;
}

/** What a battery is, for amperes and ampere-hours that are written by it: "C/3", "1280 Wh". */
export interface BatteryContext {
  /** Volts and ampere-hours of what the field speaks of. */
  volts: number | null;
  ah: number | null;
}

/** "C/3" or "0.5C" as amperes, "1280 Wh" as ampere-hours, "100 Ah" as watt-hours; undefined where it is none of these. */
export function readByBattery(text: string, unit: string, { volts, ah }: BatteryContext): number | undefined {
  const entry = withPoint(text.trim().toLowerCase()) ?? '';
  if (unit === 'A' && ah) {
    const over = /^c\s*\/\s*(\d+\.?\d*)$/.exec(entry);
    if (over && Number(over[1]) > 0) return tidy(ah / Number(over[1]));
    const times = /^(\d*\.?\d+)\s*c$/.exec(entry);
    if (times) return tidy(ah * Number(times[1]));
  }
  const energy = /^(\d*\.?\d+)\s*(k?)wh$/.exec(entry);
  if (unit === 'Ah' && volts && energy) return tidy((Number(energy[1]) * (energy[2] ? 1000 : 1)) / volts);
  const charge = /^(\d*\.?\d+)\s*ah$/.exec(entry);
  if (unit === 'Wh' && volts && charge) return tidy(Number(charge[1]) * volts);
  return undefined;
}

/** A number with its unit as typed - "12 ft 6 in", "75 F", "1.2 kW", "3/8" - in the stored unit. As `readEntry`. */
export function readQuantity(text: string, unit = '', units: Units = METRIC): number | null | undefined {
  const entry = text
    .trim()
    .toLowerCase()
    .replace(/[\u2032']/g, 'ft')
    .replace(/[\u2033"]/g, 'in')
    .replace(/\u00b0/g, '')
    .replace(/\u2212/g, '-');
  const plain = readEntry(entry);
  if (plain === null || plain === undefined) {
    const tokens = [...entry.matchAll(/(-?[\d.,/][\d.,/ ]*)([a-z]+)\s*/g)];
    if (tokens.length === 0 || tokens.map(([whole]) => whole).join('') !== entry) return plain;
    let sum = 0;
    for (const [, digits = '', written = ''] of tokens) {
      const number = readEntry(digits);
      const value = typeof number === 'number' ? toStored(number, written, unit) : undefined;
      // "-12 ft 6 in" would be two minds about the sign.
      if (value === undefined || (tokens.length > 1 && value < 0)) return undefined;
      sum += value;
    }
    return tidy(sum);
  }
  const shown = shownUnit(unit, units);
  return shown === unit ? plain : tidy(toStored(plain, shown.toLowerCase(), unit) ?? plain);
}

/** Seven figures: a converted value carries no digits that nobody measured. */
const tidy = (value: number) => Number(value.toPrecision(7));

/** What was typed: one number, or the ends of what it may be. */
export interface Ranged<T> {
  value: T;
  low?: T;
  high?: T;
}

const ABOUT = 0.2;

/**
 * As `readQuantity`, with "~12" for about (20 % either way) and "10..16" for between: the value is then in the
 * middle, and the ends go with it.
 */
export function readRange(text: string, unit = '', units: Units = METRIC): Ranged<number> | null | undefined {
  const ends = text.split('..');
  if (ends.length === 2) {
    const [a, b] = ends.map((end) => readQuantity(end, unit, units));
    if (typeof a !== 'number' || typeof b !== 'number') return undefined;
    return { value: tidy((a + b) / 2), low: Math.min(a, b), high: Math.max(a, b) };
  }
  const about = text.trim().startsWith('~');
  const value = readQuantity(about ? text.trim().slice(1) : text, unit, units);
  if (value === null || value === undefined) return about && value === null ? undefined : value;
  if (!about) return { value };
  const spread = Math.abs(value) * ABOUT;
  return { value, low: tidy(value - spread), high: tidy(value + spread) };
}

/** "16 mm2", "16", "2/0 awg" -> "16mm2", "2/0AWG"; a bare number is of the preferred system. Undefined where it is no size. */
export function readSize(text: string, preferred: Units['size'] = 'mm2'): string | undefined {
  const entry = text.trim().toLowerCase().replace(',', '.').replace('\u00b2', '2').replace(/\s+/g, '');
  const awg = /^(\d+|[1-4]\/0)(awg)?$/.exec(entry);
  if (awg && (awg[2] || awg[1]?.includes('/') || preferred === 'AWG')) return `${awg[1]}AWG`;
  const metric = /^(\d+(?:\.\d+)?)(?:mm2?|mm)?$/.exec(entry);
  return metric ? `${metric[1]}mm2` : undefined;
}

/** As `readRange` for sizes: "10..16" counts as the smaller, which is the safer reading. */
export function readSizeRange(text: string, preferred: Units['size'] = 'mm2'): Ranged<string> | undefined {
  const [a = '', b] = text.split('..');
  const value = readSize(a.replace('~', ''), preferred);
  if (value === undefined) return undefined;
  if (b === undefined) return { value };
  // "10..16 mm2": the unit behind the second stands for both.
  const second = readSize(b, preferred);
  const first = /[a-z/]/i.test(a) ? value : readSize(a, second?.endsWith('AWG') ? 'AWG' : 'mm2');
  if (!second || !first) return undefined;
  const [low, high] = area_mm2(first) <= area_mm2(second) ? [first, second] : [second, first];
  return { value: low, low, high };
}
