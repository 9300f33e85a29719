import type { RuleId } from '../rules/ids';
import { area_mm2 } from '../conductors/sizes';

/**
 * One line of the least specification of a part: what the sheet of its successor must state (Practice, B). Every line
 * names the rule it comes from, so that nobody has to believe it.
 */
export interface SpecLine {
  /** Where the figure stands in the part (`maxPv_V`, `charger.max_A`); null: only eyes can tell, yes or no. */
  field: string | null;
  label: string;
  test: 'least' | 'most' | 'one-of' | 'includes' | 'size' | 'true' | 'false' | 'eyes';
  /** What to ask for: rounded to what is sold, towards the safe side. Null where it cannot be said. */
  value: number | string | null;
  /** As computed, before rounding. */
  exact: number | null;
  /** The words that serve, for `one-of` and `includes`. */
  words: string[];
  unit: string | null;
  /** The rule whose verdict it rests on; null: practice. */
  rule: RuleId | null;
  /** The working, or the reason in a sentence. */
  why: string[];
  /** Paths of what must be known first. */
  missing: string[];
  /** Paths of guesses and defaults that it rests on. */
  assumed: string[];
  /** False: recommended; a successor without it is not ruled out. */
  must: boolean;
}

export type LineVerdict = 'pass' | 'fail' | 'not-stated';

const EMPTY = { exact: null, words: [], unit: null, rule: null, missing: [], assumed: [], must: true };

/** A line from its members; the rest stands at nothing. */
export const line = (
  given: Pick<SpecLine, 'field' | 'label' | 'test' | 'value' | 'why'> & Partial<SpecLine>,
): SpecLine => ({ ...EMPTY, ...given });

/** What only eyes can tell. */
export const eyes = (label: string, why: string): SpecLine =>
  line({ field: null, label, test: 'eyes', value: null, why: [why] });

/**
 * One figure of a sheet against its line. A blank is never a pass; a line that itself rests on something unknown
 * passes nothing.
 */
export function judgeLine(spec: SpecLine, stated: unknown): LineVerdict {
  if (spec.missing.length > 0) return 'not-stated';
  if (stated === null || stated === undefined || stated === '') return 'not-stated';
  const verdict = (good: boolean): LineVerdict => (good ? 'pass' : 'fail');
  switch (spec.test) {
    case 'least':
      return typeof stated === 'number' && typeof spec.value === 'number'
        ? verdict(stated >= spec.value - 1e-9 || (spec.exact !== null && stated >= spec.exact - 1e-9))
        : 'not-stated';
    case 'most':
      return typeof stated === 'number' && typeof spec.value === 'number'
        ? verdict(stated <= spec.value + 1e-9 || (spec.exact !== null && stated <= spec.exact + 1e-9))
        : 'not-stated';
    case 'one-of':
      return verdict(spec.words.includes(String(stated)));
    case 'includes':
      return Array.isArray(stated) ? verdict(stated.some((word) => spec.words.includes(String(word)))) : 'not-stated';
    case 'size':
      return typeof stated === 'string' && typeof spec.value === 'string'
        ? verdict(area_mm2(stated) >= area_mm2(spec.value) - 1e-9)
        : 'not-stated';
    case 'true':
    case 'eyes':
      return typeof stated === 'boolean' ? verdict(stated) : 'not-stated';
    case 'false':
      return typeof stated === 'boolean' ? verdict(!stated) : 'not-stated';
  }
}
