import { lightSteps } from '../roof/kept-hours';
import type { Model } from '../system/model';
import { CAUTIONS, cautionApplies } from './cautions';
import { byName, gravityOf, judge, type Finding } from './finding';
import { RULES, ruleOf } from './index';
import { createLedger } from '../ledger/ledger';
import type { Case, Rule } from './rule';

/** Every finding of the rule book for one system, sorted by rule, subject, quantity. Remedies are left empty. */
export function check(model: Model, rules: readonly Rule<unknown>[] = RULES): Finding[] {
  return [...caseByCase(model, rules)].filter((finding) => finding !== null).sort(byName);
}

/** Case by case what is found; null where a rule says nothing. */
function* caseByCase(model: Model, rules: readonly Rule<unknown>[]): Generator<Finding | null, void> {
  for (const rule of rules) for (const item of rule.cases(model)) yield evaluate(model, rule, item);
}

/**
 * A check in steps, for a screen that must stay awake meanwhile: what takes long in it (light on a roof, curves) is kept,
 * and the engine has compiled the rest, so that the check itself is then quick. A step a roof, then a step a case.
 */
export function* checkSteps(model: Model): Generator<unknown, void> {
  yield* lightSteps(model);
  yield* caseByCase(model, RULES);
}

/** One sentence that says what a finding means, with its figures. */
export function sentenceOf(model: Model, finding: Finding): string {
  const { sentence, letOff } = ruleOf(finding.rule);
  const plain = sentence(finding, model);
  const said = plain.charAt(0).toUpperCase() + plain.slice(1);
  // What is let off is never worded as over.
  if (!letOff || finding.verdict !== 'tight' || finding.demand === null || (finding.use ?? 2) <= 1) return said;
  const why = typeof letOff === 'function' ? letOff(finding, model) : letOff;
  return `${said.replace(/\.$/, '')}: ${why}.`;
}
/** What a rule is called. */
export const titleOf = (finding: Pick<Finding, 'rule'>) => ruleOf(finding.rule).title;

function evaluate(model: Model, rule: Rule<unknown>, item: Case<unknown>): Finding | null {
  const io = createLedger(model);
  const outcome = rule.evaluate(io, item.about, item.quantity);
  // A pump straight from its array is a site too: what needs a bank says nothing where there is none.
  if (!outcome || io.missing.has('bank')) return null;
  const given = 'ratio' in outcome ? outcome.ratio : null;
  // A figure that has no end (something divided by a nought that was recorded) judges nothing: towards unknown.
  const endless = given !== null && !(Number.isFinite(given.demand) && Number.isFinite(given.limit));
  const ratio = endless ? { ...given, demand: 0, limit: 0 } : given;
  const unknown = io.missing.size > 0 || endless;
  const judged = ratio && !unknown ? judge(ratio.demand, ratio.limit, ratio.sense, ratio.tightAbove) : null;
  const plain = 'verdict' in outcome ? outcome.verdict : (outcome.forced ?? judged?.verdict ?? 'unknown');
  const advice = 'overIs' in outcome ? outcome.overIs : undefined;
  const spared = plain === 'over' ? (advice ?? (ratio?.softened ? 'tight' : plain)) : plain;
  const finding: Finding = {
    rule: rule.id,
    subject: item.subject,
    quantity: item.quantity ?? null,
    verdict: unknown ? 'unknown' : spared,
    consequence: outcome.consequence ?? rule.consequence,
    demand: judged && ratio ? ratio.demand : null,
    limit: judged && ratio ? ratio.limit : null,
    unit: unknown ? null : (ratio?.unit ?? ('unit' in outcome ? (outcome.unit ?? null) : null)),
    sense: ratio?.sense ?? 'max',
    use: judged && Number.isFinite(judged.use) ? judged.use : null,
    tightAbove: ratio?.tightAbove ?? null,
    working: [...io.working],
    assumed: [...io.assumed].sort(),
    missing: [...io.missing].sort(),
    ...(io.schoolUsed === undefined ? {} : { school: io.schoolUsed }),
    cautions: (rule.cautions ?? []).filter((id) => cautionApplies(id, model.system.bank)).map((id) => CAUTIONS[id]),
    remedies: [],
  };
  if (finding.consequence !== 'danger') return finding;
  const place = typeof rule.gravity === 'function' ? rule.gravity(finding) : rule.gravity;
  return { ...finding, gravity: gravityOf(place, finding.use) };
}
