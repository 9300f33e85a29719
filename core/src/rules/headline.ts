import type { Model } from '../system/model';
import { sentenceOf } from './check';
import { worstFirst, type Finding, type Verdict } from './finding';

/**
 * The rule book's version: raised whenever a rule, a table or a sentence changes, so that what was worked out by an older
 * book is worked out anew and never shown as if it were of today.
 */
export const RULE_BOOK = 1;

/** What a site is about, in one sentence; `none` where there is nothing to judge yet. */
export interface Gist {
  verdict: Verdict | 'none';
  sentence: string;
  /** How many findings are over. */
  over: number;
}

/** The worst finding by verdict and consequence, and how many are over. */
export function gistOf(model: Model, findings: readonly Finding[]): Gist {
  const [worst] = [...findings].sort(worstFirst);
  const over = findings.filter(({ verdict }) => verdict === 'over').length;
  if (!worst) return { verdict: 'none', sentence: 'Nothing is over.', over };
  const quiet = worst.verdict === 'holds' || worst.verdict === 'note';
  return { verdict: worst.verdict, sentence: quiet ? 'Nothing is over.' : sentenceOf(model, worst), over };
}
