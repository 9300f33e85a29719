/**
 * How wide a text is going to be, so that a drawing can be laid out before anything is on a screen: advance widths of the
 * shipped typeface's boldest cut, in ems, by groups of alike signs, each group at its widest. Never too narrow, hence a
 * figure that fits by it fits on the glass.
 */
const GROUPS: readonly [signs: string, ems: number][] = [
  ["'j", 0.28],
  ['., \u00a0\u00b7', 0.33],
  ['il|', 0.36],
  ['()-ft', 0.41],
  ['rI\u00b0\u00b2/', 0.47],
  ['csz\u2248\u00d7Lavyx', 0.58],
  ['FJ<>ehnuko\u2212+', 0.6],
  ['\u2265Ebdgpq', 0.62],
  // Figures are tabular: all of one width.
  ['0123456789', 0.65],
  ['SZTPBCRVK', 0.68],
  ['YUADHX', 0.71],
  ['GNOQw', 0.78],
  ['MWm%', 1],
];
const EMS = new Map(GROUPS.flatMap(([signs, ems]) => [...signs].map((sign) => [sign, ems] as const)));
const OTHER = 0.75;

/** Width of a text in px, at a size in px. */
export const widthOf = (text: string, size: number): number =>
  [...text].reduce((sum, sign) => sum + (EMS.get(sign) ?? OTHER), 0) * size;

/** Lines that a text takes in a width; words are never parted, what is joined by a hard space neither. */
export const linesOf = (text: string, size: number, width: number): number => brokenInto(text, size, width).length;

/** The text of each of these lines; at least one. */
export function brokenInto(text: string, size: number, width: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(' ')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && widthOf(longer, size) > width) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return [...lines, line];
}
