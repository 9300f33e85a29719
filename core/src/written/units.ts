import { area_mm2, AWG_SIZES, METRIC_SIZES } from '../conductors/sizes';
import { figure } from '../ledger/figures';
import type { Write } from '../parts/kind';

/** The units a person reads and types in. What is stored and computed is SI always. */
export interface Units {
  length: 'm' | 'ft';
  small: 'mm' | 'in';
  mass: 'kg' | 'lb';
  temperature: 'degC' | 'degF';
  size: 'mm2' | 'AWG';
}

/** Everything in the units that are stored. */
export const METRIC: Units = { length: 'm', small: 'mm', mass: 'kg', temperature: 'degC', size: 'mm2' };

/** Units that may be written behind a number, by the unit that is stored; each as many of the stored one. */
export const FACTORS: Record<string, Record<string, number>> = {
  m: { m: 1, ft: 0.3048, in: 0.0254, cm: 0.01, mm: 0.001 },
  mm: { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 },
  kg: { kg: 1, g: 0.001, lb: 0.453_592_37, oz: 0.028_349_523 },
  cm2: { cm2: 1, in2: 6.4516 },
  W: { w: 1, kw: 1000 },
  VA: { va: 1, kva: 1000 },
  V: { v: 1, mv: 0.001 },
  A: { a: 1, ma: 0.001, ka: 1000 },
  mohm: { mohm: 1, ohm: 1000 },
  h: { h: 1, min: 1 / 60 },
};

/** The unit in which a person reads and types what is stored in `unit`. */
export function shownUnit(unit: string, units: Units): string {
  if (unit === 'm') return units.length;
  if (unit === 'mm') return units.small;
  if (unit === 'kg') return units.mass;
  if (unit === 'cm2') return units.small === 'in' ? 'in2' : unit;
  return unit === 'degC' ? units.temperature : unit;
}

/** A stored value as it is shown in `shownUnit`. */
export const toShown = (value: number, unit: string, units: Units): number =>
  turned(value, unit, shownUnit(unit, units));

/** A value of one unit in another of its kind. */
function turned(value: number, unit: string, shown: string): number {
  if (shown === unit) return value;
  return shown === 'degF' ? (value * 9) / 5 + 32 : value / (FACTORS[unit]?.[shown] ?? 1);
}

/** As printed on the screen: true minus, degree sign, superscript. Stored and computed names stay plain. */
export const unitText = (unit: string) =>
  unit
    .replace(/deg([CF])/g, '\u00b0$1')
    .replace(/mm2/g, 'mm\u00b2')
    .replace(/(cm|in)2/g, '$1\u00b2')
    .replace(/^deg$/, '\u00b0');

/** An amount in a sentence of the core: always a figure, a space, and the unit that is stored. */
const AMOUNT = /(?<![\w.,-])(-?\d[\d,]*(?:\.\d+)?) (degC|m|mm|kg|cm2)(?![\w/\u00b2])/g;
/** Below a metre a person who reads in feet thinks in inches: where a fuse sits, what a hand needs. */
const INCHES_BELOW_M = 1;

/**
 * A sentence of the core in the person's own units: degrees, lengths, weights, openings. Sizes of cables stay as they are
 * printed on the jacket. `both` keeps what was computed and puts the person's own behind it, for a line of working.
 */
export function inOwnUnits(text: string, units: Units, both = false): string {
  if (units.length === 'm' && units.small === 'mm' && units.mass === 'kg' && units.temperature === 'degC') return text;
  return text.replace(AMOUNT, (whole, digits: string, unit: string) => {
    const own = ownAmount(Number(digits.replace(/,/g, '')), unit, units);
    if (own === null) return whole;
    return both ? `${whole} (${own})` : own;
  });
}

function ownAmount(value: number, unit: string, units: Units): string | null {
  const shown = spokenUnit(value, unit, units);
  if (shown === unit) return null;
  const own = turned(value, unit, shown);
  // A degree more or less is not said of what was given in whole ones.
  return `${shown === 'degF' ? figure(Math.round(own)) : figure(own, 3)}\u00a0${shown}`;
}

/** The unit in which an amount is spoken of: as `shownUnit`, and inches for less than a metre. */
const spokenUnit = (value: number, unit: string, units: Units): string => {
  const shown = shownUnit(unit, units);
  return shown === 'ft' && Math.abs(value) < INCHES_BELOW_M ? 'in' : shown;
};

/** Sentences from the core in the screen's typography, and in the person's units where they are given. */
export const pretty = (text: string, units: Units = METRIC, both = false) =>
  unitText(inOwnUnits(text, units, both))
    .replace(/(^|[\s(])-(\d)/g, '$1\u2212$2')

    .replace(/ - /g, ' \u2212 ')
    .replace(/ x /g, ' \u00d7 ')
    // A figure and its unit stay on one line.
    .replace(/(\d) (V|A|kA|W|Wh|Ah|K|m|h|VA|kW|kWh|%|cm\u00b2|\u00b0C|mm\u00b2)(?![\w\u00b2])/g, '$1\u00a0$2');

/** Five digits and more in groups of three, so that they are read at a glance: "11,117". */
export const inGroups = (text: string) =>
  text.replace(/\d{5,}(?![\d.]*\.)/g, (digits) => digits.replace(/\B(?=(\d{3})+$)/g, ','));

/** "154 V"; a sensible number of digits for reading, never the stored precision. */
export const withUnit = (value: number, unit: string | null, digits = 3) =>
  `${inGroups(pretty(figure(value, Math.abs(value) >= 1000 ? 4 : digits)))}${unit ? `\u00a0${unitText(unit)}` : ''}`;

/** A stored figure in the person's own unit: 3.66 m -> "12 ft". */
export function inUnits(value: number, unit: string | null, units: Units, digits = 3): string {
  if (unit === null) return withUnit(value, null, digits);
  const shown = spokenUnit(value, unit, units);
  return withUnit(turned(value, unit, shown), shown, digits);
}

/** "6mm2" -> "6 mm²"; in the other system than the person's, with the nearest size of theirs behind it. */
export function sizeText(size: string, units: Units = METRIC): string {
  const printed = unitText(size.replace(/(mm2|AWG)$/, '\u00a0$1'));
  if (size.endsWith(units.size) || units === METRIC) return printed;
  const area = area_mm2(size);
  const sizes = units.size === 'AWG' ? AWG_SIZES : METRIC_SIZES;
  const off = (other: string) => Math.abs(Math.log(area_mm2(other) / area));
  const nearest = sizes.reduce((best, other) => (off(other) < off(best) ? other : best));
  return `${printed} (\u2248 ${sizeText(nearest)})`;
}

/** How the facts of parts are written on the screen: in the person's own units. */
export const written = (units: Units): Write => ({
  amount: (value, unit, digits = 4) =>
    value === null || value === undefined
      ? null
      : `${figure(toShown(value, unit, units), digits)} ${unitText(shownUnit(unit, units))}`,
  size: (size) => sizeText(size, units),
});
