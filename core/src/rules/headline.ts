import type { Model } from '../system/model';
import { modelInState } from '../system/states';
import { check, sentenceOf } from './check';
import { CONSEQUENCE_ORDER, VERDICT_ORDER, worstFirst, type Finding, type Verdict } from './finding';
import { lowered } from '../parts/said';

/**
 * The rule book's version: raised whenever a rule, a table or a sentence changes, so that what was worked out by an older
 * book is worked out anew and never shown as if it were of today.
 */
export const RULE_BOOK = 3;

/** What a site is about, in one sentence; `none` where there is nothing to judge yet. */
export interface Gist {
  verdict: Verdict | 'none';
  sentence: string;
  /** How many findings are over. */
  over: number;
}

/**
 * What a site is about with everything on and in each of its states: the worst of all. What is worse in a state names it.
 * @param findings those of everything on
 */
export function worstGist(model: Model, findings: readonly Finding[]): Gist {
  const all = gistOf(model, findings);
  const [worst] = [...findings].sort(worstFirst);
  const inStates = (model.system.states ?? []).map((state) => {
    const judged = modelInState(model, state.id);
    const found = check(judged);
    return { state, gist: gistOf(judged, found), worst: [...found].sort(worstFirst)[0] };
  });
  const graver = inStates
    .filter((one) => one.worst && (!worst || rank(one.worst) < rank(worst)))
    .sort((a, b) => (a.worst && b.worst ? worstFirst(a.worst, b.worst) : 0))[0];
  if (!graver) return all;
  const { sentence, ...rest } = graver.gist;
  return { ...rest, sentence: `${graver.state.label}: ${lowered(sentence)}` };
}

/** By verdict, then consequence: how much use there is in it is no graver kind. */
const rank = ({ verdict, consequence }: Finding) =>
  VERDICT_ORDER.indexOf(verdict) * CONSEQUENCE_ORDER.length + CONSEQUENCE_ORDER.indexOf(consequence);

/** The worst finding by verdict and consequence, and how many are over. */
export function gistOf(model: Model, findings: readonly Finding[]): Gist {
  const [worst] = [...findings].sort(worstFirst);
  const over = findings.filter(({ verdict }) => verdict === 'over').length;
  if (!worst) return { verdict: 'none', sentence: 'Nothing is over.', over };
  const quiet = worst.verdict === 'holds' || worst.verdict === 'note';
  return { verdict: worst.verdict, sentence: quiet ? 'Nothing is over.' : sentenceOf(model, worst), over };
}
