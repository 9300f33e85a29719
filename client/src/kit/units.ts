import { area_mm2, figure } from '@true-lantern/core';
import { METRIC, type Units } from '../data/units';
import { shownUnit, toShown } from './number-entry';

/** As printed on the screen: true minus, degree sign, superscript. Stored and computed names stay plain. */
export const unitText = (unit: string) =>
  unit
    .replace(/deg([CF])/g, '\u00b0$1')
    .replace(/mm2/g, 'mm\u00b2')
    .replace(/cm2/g, 'cm\u00b2')
    .replace(/^deg$/, '\u00b0');

/** Sentences and working from the core, in the screen's typography. */
export const pretty = (text: string) =>
  unitText(text)
    .replace(/(^|[\s(])-(\d)/g, '$1\u2212$2')

    .replace(/ - /g, ' \u2212 ')
    .replace(/ x /g, ' \u00d7 ')
    // A figure and its unit stay on one line.
    .replace(/(\d) (V|A|W|Wh|Ah|K|m|h|VA|kW|kWh|%|\u00b0C|mm\u00b2)(?![\w\u00b2])/g, '$1\u00a0$2');

/** "154 V"; a sensible number of digits for reading, never the stored precision. */
export const withUnit = (value: number, unit: string | null, digits = 3) =>
  `${pretty(figure(value, Math.abs(value) >= 1000 ? 4 : digits))}${unit ? `\u00a0${unitText(unit)}` : ''}`;

/** A stored figure in the person's own unit: 3.66 m -> "12 ft". */
export const inUnits = (value: number, unit: string, units: Units, digits = 3) =>
  withUnit(toShown(value, unit, units), shownUnit(unit, units), digits);

const AWG = ['4/0', '3/0', '2/0', '1/0', '1', '2', '3', '4', '6', '8', '10', '12', '14', '16', '18', '20'];
const METRIC_SIZES = [0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120, 150, 185, 240];

/** "6mm2" -> "6 mm²"; in the other system than the person's, with the nearest size of theirs behind it. */
export function sizeText(size: string, units: Units = METRIC): string {
  const printed = unitText(size.replace(/(mm2|AWG)$/, '\u00a0$1'));
  if (size.endsWith(units.size) || units === METRIC) return printed;
  const area = area_mm2(size);
  const sizes = units.size === 'AWG' ? AWG.map((name) => `${name}AWG`) : METRIC_SIZES.map((mm2) => `${mm2}mm2`);
  const off = (other: string) => Math.abs(Math.log(area_mm2(other) / area));
  const nearest = sizes.reduce((best, other) => (off(other) < off(best) ? other : best));
  return `${printed} (\u2248 ${sizeText(nearest)})`;
}
