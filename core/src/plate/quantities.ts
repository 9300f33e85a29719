/** Figures with their units in a line of a plate (docs/plates.md), wherever and however they were printed. */

/** What a unit measures, and what one of it is in the unit of the format. */
export type Measure = 'V' | 'A' | 'W' | 'VA' | 'Ah' | 'Wh' | 'Hz' | 'mm' | 'kg' | 'pct_C' | 'C' | 'h' | '';

/** One figure of a line. */
export interface Figure {
  value: number;
  measure: Measure;
  /** Where it begins and ends in the line. */
  at: number;
  end: number;
  /** A letter was read as a digit: to be asked about. */
  mended: boolean;
  /** Both ends, where it is a range. */
  to?: number;
}

const UNITS: readonly (readonly [pattern: RegExp, measure: Measure, times: number])[] = [
  [/^%\s?\/\s?(?:\u00b0\s?C|deg ?C|C|K)(?![a-z])/i, 'pct_C', 1],
  [/^m(?:Ah|AH)(?![a-z])/, 'Ah', 0.001],
  [/^A\s?\.?h(?:rs?)?(?![a-z])/i, 'Ah', 1],
  [/^kW\s?\.?h(?![a-z])/i, 'Wh', 1000],
  [/^W\s?\.?h(?![a-z])/i, 'Wh', 1],
  [/^kVA(?![a-z])/i, 'VA', 1000],
  [/^VA(?!\s?[dc]\b)(?![a-z])/i, 'VA', 1],
  [/^kW[pc]?(?![a-z])/i, 'W', 1000],
  [/^W(?:p|c|att|atts|atios|attpeak)?(?![a-z])/i, 'W', 1],
  [/^mA(?![a-z])/, 'A', 0.001],
  [/^A(?:mps?|mp\u00e8res?|mperes?|dc|ac)?(?![a-z])/i, 'A', 1],
  [/^mV(?![a-z])/, 'V', 0.001],
  [/^kV(?![a-z])/, 'V', 1000],
  [/^V(?:olts?|dc|ac|cc|ca|oltios)?(?![a-z])/i, 'V', 1],
  [/^Hz(?![a-z])/i, 'Hz', 1],
  [/^mm(?![a-z0-9])/i, 'mm', 1],
  [/^cm(?![a-z0-9])/i, 'mm', 10],
  [/^m(?![a-z0-9\u00b2])/, 'mm', 1000],
  [/^k{1,2}gs?(?![a-z])/i, 'kg', 1],
  [/^lbs?(?![a-z])/i, 'kg', 0.453592],
  [/^(?:\u00b0\s?C|\u00baC|deg\s?C)/i, 'C', 1],
  [/^(?:hrs?|hours?|h|Std|heures?|horas?)(?![a-z])/i, 'h', 1],
];

const DIGIT_LIKE: Readonly<Record<string, string>> = { O: '0', o: '0', l: '1', I: '1', '|': '1', S: '5', B: '8' };
const NUMBER = /(?<![A-Za-z0-9.,])[+-]?[0-9OolISB|]*[0-9][0-9OolISB|]*(?:[.,][0-9OolISB|]+)*/g;

/** Every figure of a line, in its order. */
export function figuresIn(line: string): Figure[] {
  const figures: Figure[] = [];
  for (const match of line.matchAll(NUMBER)) {
    // A letter at the end is a unit's or a word's own.
    const raw = match[0].replace(/[OolISB|]+$/, (tail) =>
      /^[0O]+$/.test(tail) && /\d$/.test(match[0].slice(0, -tail.length)) ? tail : '',
    );
    const digits = [...raw].map((letter) => DIGIT_LIKE[letter] ?? letter).join('');
    const value = valueOf(digits);
    if (value === null) continue;
    const end = match.index + raw.length;
    const gap = /^[\s]*/.exec(line.slice(end))?.[0].length ?? 0;
    const rest = line.slice(end + gap);
    const unit = UNITS.find(([pattern]) => pattern.test(rest));
    const found: Figure = {
      value: unit ? Number((value * unit[2]).toPrecision(9)) : value,
      measure: unit?.[1] ?? '',
      at: match.index,
      end: end + gap + (unit ? (unit[0].exec(rest)?.[0].length ?? 0) : 0),
      mended: digits !== raw,
    };
    const last = figures.at(-1);
    const between = last ? line.slice(last.end, found.at) : '';
    // "10.5-15.5 V", "12 ... 24 V", "18 to 32 V": one range, in the unit of its end.
    if (
      last &&
      /^\s*(?:-|\u2013|~|\.\.+|\u2026|to|bis|\u00e0|a)\s*$/i.test(between) &&
      (last.measure === found.measure || last.measure === '')
    ) {
      figures[figures.length - 1] = {
        ...last,
        measure: found.measure,
        to: found.value,
        end: found.end,
        mended: last.mended || found.mended,
      };
      continue;
    }
    figures.push(found);
  }
  return figures;
}

/** A number with points or commas, by what they can be: the last of both kinds, or a lone one not before just three digits. */
function valueOf(text: string): number | null {
  const sign = text.startsWith('-') ? -1 : 1;
  const plain = text.replace(/^[+-]/, '');
  const marks = [...plain.matchAll(/[.,]/g)];
  const last = marks.at(-1);
  if (!last) return sign * Number(plain);
  const tail = plain.slice(last.index + 1);
  const both = new Set(marks.map(([mark]) => mark)).size === 2;
  const head = plain.slice(0, last.index).replace(/[.,]/g, '');
  // "1,500" groups; "0,500" and "38,43" do not; "12.345" is left as it stands.
  const groups = !both && (marks.length > 1 || (last[0] === ',' && tail.length === 3 && /^[1-9]\d{0,2}$/.test(head)));
  const value = Number(groups ? `${head}${tail}` : `${head}.${tail}`);
  return Number.isFinite(value) ? sign * value : null;
}
