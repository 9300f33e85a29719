import {
  figure,
  titleOf,
  type Aspect,
  type Specification,
  type SpecLine,
  type Verdict,
  type LineVerdict,
  lowered,
} from '@true-lantern/core';
import { unitText } from '../ui/units';

const TESTS: Record<SpecLine['test'], string> = {
  least: 'at least ',
  most: 'at most ',
  'one-of': '',
  includes: '',
  size: 'at least ',
  true: '',
  false: '',
  eyes: '',
};

/** "at least 75 V", "16 mm2", "yes". */
export function wanted({ test, value, unit, missing }: SpecLine): string {
  if (missing.length > 0) return 'unknown';
  if (test === 'true' || test === 'false' || test === 'eyes') return 'yes';
  if (value === null) return 'unknown';
  const text = typeof value === 'number' ? figure(value, 5) : value.replace(/(\d)(mm2|AWG)/g, '$1 $2');
  // "PV voltage, at least" says it once.
  return unitText(`${TESTS[test]}${text}${unit ? ` ${unit}` : ''}`);
}

/** What passes, exactly: a sheet may lie between what is computed and what is commonly sold. */
export function asked(line: SpecLine): string {
  const { test, exact, unit } = line;
  if (exact === null || line.missing.length > 0 || (test !== 'least' && test !== 'most')) return wanted(line);
  const step = 10 ** (Math.floor(Math.log10(Math.max(1e-6, Math.abs(exact)))) - 2);
  const rounded = (test === 'least' ? Math.ceil(exact / step - 1e-9) : Math.floor(exact / step + 1e-9)) * step;
  return unitText(`${TESTS[test]}${figure(rounded, 4)}${unit ? ` ${unit}` : ''}`);
}

/** A label without what its figure says again. */
export const plainLabel = ({ label }: SpecLine) =>
  label.replace(/,? (at least|at most|no higher than|up to|down to battery volts of|for)$/, '');

/** The rule that asks for a line of a specification; what no rule asks for is practice. */
export const ruleName = ({ rule }: SpecLine) => (rule ? lowered(titleOf({ rule })) : 'practice');

/** Mark and word for how a part meets a line of a specification. */
export const LINE_VERDICTS: Record<LineVerdict, [mark: Verdict, word: string]> = {
  pass: ['holds', 'passes'],
  fail: ['over', 'fails'],
  'not-stated': ['unknown', 'not stated'],
};

/** What of a part is specified, in a word. */
export const ASPECT_WORDS: Record<Aspect, string> = {
  part: 'the whole part',
  cable: 'its conductor',
  fuse: 'its fuse or breaker',
  module: 'one module of it',
};

/** The heading of a specification, by the part that is to be replaced. */
export const specTitle = (name: string, { aspect }: Pick<Specification, 'aspect'>) =>
  aspect === 'part'
    ? `Replacing ${name}`
    : aspect === 'module'
      ? `A module of ${name}`
      : `${aspect === 'fuse' ? 'Fuse of' : 'Cable:'} ${name}`;
