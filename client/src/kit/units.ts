import { figure } from '@true-lantern/core';

/** As printed on the screen: true minus, degree sign, superscript. Stored and computed names stay plain. */
export const unitText = (unit: string) =>
  unit.replace(/degC/g, '\u00b0C').replace(/mm2/g, 'mm\u00b2').replace(/cm2/g, 'cm\u00b2').replace(/^deg$/, '\u00b0');

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

/** "6mm2" -> "6 mm²", "2/0AWG" -> "2/0 AWG" */
export const sizeText = (size: string) => unitText(size.replace(/(mm2|AWG)$/, '\u00a0$1'));
