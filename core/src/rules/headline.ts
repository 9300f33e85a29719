import type { Model } from '../system/model';
import { modelInState } from '../system/states';
import { check, sentenceOf } from './check';
import { CONSEQUENCE_ORDER, keyOf, overOf, VERDICT_ORDER, worstFirst, type Finding, type Verdict } from './finding';
import { lowered } from '../parts/said';

/**
 * The rule book's version: raised whenever a rule, a table or a sentence changes, so that what was worked out by an older
 * book is worked out anew and never shown as if it were of today.
 */
export const RULE_BOOK = 5;

/** What a site is about, in one sentence; `none` where there is nothing to judge yet. */
export interface Gist {
  verdict: Verdict | 'none';
  sentence: string;
  /** How many findings are over. */
  over: number;
}

/**
 * What a site is about: with everything on, or, where states are recorded, the worst of these. A system is used in its
 * states: a sun and an engine that never run together alarm nobody. What is not so in every state names the one it is in.
 * @param findings those of everything on
 */
export function worstGist(model: Model, findings: readonly Finding[]): Gist {
  const states = statesJudged(model);
  const [worst] = [...states].sort(byWorst);
  if (!worst) return gistOf(model, findings);
  const over = new Set(states.flatMap((one) => overOf(one.findings).map(keyOf))).size;
  const { sentence, verdict } = gistOf(worst.judged, worst.findings);
  const everywhere = states.every((one) => one.worst && worst.worst && keyOf(one.worst) === keyOf(worst.worst));
  return {
    verdict,
    over,
    sentence: everywhere || sentence === QUIET ? sentence : `${worst.label}: ${lowered(sentence)}`,
  };
}

/** The state in which a system is worst, with what was found in it; null where none is recorded. */
export const worstState = (model: Model): Pick<Judged, 'id' | 'judged' | 'findings'> | null =>
  [...statesJudged(model)].sort(byWorst)[0] ?? null;

interface Judged {
  id: string;
  label: string;
  judged: Model;
  findings: Finding[];
  worst: Finding | undefined;
}
const statesJudged = (model: Model): Judged[] =>
  (model.system.states ?? []).map(({ id, label }) => {
    const judged = modelInState(model, id);
    const findings = check(judged);
    return { id, label: label ?? id, judged, findings, worst: [...findings].sort(worstFirst)[0] };
  });
/** States of the same gravity stay in the order in which they are recorded. */
const byWorst = (a: Judged, b: Judged): number => {
  if (!a.worst || !b.worst) return Number(!a.worst) - Number(!b.worst);
  return rank(a.worst) - rank(b.worst) || overOf(b.findings).length - overOf(a.findings).length;
};

/** By verdict, then consequence: how much use there is in it is no graver kind. */
const rank = ({ verdict, consequence }: Finding) =>
  VERDICT_ORDER.indexOf(verdict) * CONSEQUENCE_ORDER.length + CONSEQUENCE_ORDER.indexOf(consequence);

/** Of a site where nothing is over. */
const QUIET = 'Nothing is over.';

/** The worst finding by verdict and consequence, and how many are over. */
export function gistOf(model: Model, findings: readonly Finding[]): Gist {
  const [worst] = [...findings].sort(worstFirst);
  const over = findings.filter(({ verdict }) => verdict === 'over').length;
  if (!worst) return { verdict: 'none', sentence: QUIET, over };
  const quiet = worst.verdict === 'holds' || worst.verdict === 'note';
  return { verdict: worst.verdict, sentence: quiet ? QUIET : sentenceOf(model, worst), over };
}
