import { area_mm2, AWG_SIZES, figure, METRIC_SIZES, type Write } from '@true-lantern/core';
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
    .replace(/(\d) (V|A|kA|W|Wh|Ah|K|m|h|VA|kW|kWh|%|cm\u00b2|\u00b0C|mm\u00b2)(?![\w\u00b2])/g, '$1\u00a0$2');

/** Five digits and more in groups of three, so that they are read at a glance: "11,117". */
export const inGroups = (text: string) =>
  text.replace(/\d{5,}(?![\d.]*\.)/g, (digits) => digits.replace(/\B(?=(\d{3})+$)/g, ','));

/** "154 V"; a sensible number of digits for reading, never the stored precision. */
export const withUnit = (value: number, unit: string | null, digits = 3) =>
  `${inGroups(pretty(figure(value, Math.abs(value) >= 1000 ? 4 : digits)))}${unit ? `\u00a0${unitText(unit)}` : ''}`;

/** A stored figure in the person's own unit: 3.66 m -> "12 ft". */
export const inUnits = (value: number, unit: string, units: Units, digits = 3) =>
  withUnit(toShown(value, unit, units), shownUnit(unit, units), digits);

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
