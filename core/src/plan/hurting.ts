import type { RuleId } from '../rules/ids';
import { check } from '../rules/check';
import { keyOf, worstFirst, type Finding } from '../rules/finding';
import { RULES, ruleOf } from '../rules/index';
import type { Rule } from '../rules/rule';
import { type Model } from '../system/model';
import type { Settings } from '../system/schema';

/** What an interim limit is to hold off, and what a limit is. */

/** One limit under which a system may run until parts arrive. */
export interface InterimLimit {
  kind: 'load' | 'not-started' | 'charge' | 'volts' | 'strings' | 'modules';
  /** The inverter, the load, the charging device, the array. */
  id: string;
  setting: keyof Settings | null;
  value: number | null;
  unit: string | null;
  /** The rule that binds: what turns over with a little more, or was over before. */
  rule: RuleId | null;
  text: string;
  /** True where the part is off for another reason: the limit is for when that is mended and new parts are not yet in. */
  whenBack?: boolean;
}

/** What follows from a finding that is held off until parts arrive. What goes dark by itself or loses energy harms nobody. */
const LIMITED = new Set(['danger', 'damage']);
/** What is said to stay open: an outage as well. */
export const SAID = new Set(['danger', 'damage', 'outage']);

const asked = (among: ReadonlySet<string>) => (finding: Finding) =>
  finding.verdict === 'over' && among.has(finding.consequence) && ruleOf(finding.rule).curedByLimit !== false;

/** True for a finding that is over, hurts somebody or something, and can be held off by some limit. */
export const hurts = asked(LIMITED);
/** True for one that is told as left open where it stays. */
export const staysOpen = asked(SAID);

/** The gravest of what hurts in one system and not in another, by its rule; null where there is none. */
export const bindingIn = (there: readonly Finding[], here: readonly Finding[]): RuleId | null => {
  const known = hurtingIn(here);
  return there.filter((finding) => hurts(finding) && !known.has(keyOf(finding))).sort(worstFirst)[0]?.rule ?? null;
};

/** Rules that less load cures. */
export const LOAD_RULES = RULES.filter(({ curedByLimit }) => curedByLimit === 'load');

/** Rules that less charge cures. */
export const CHARGE_RULES = RULES.filter(({ curedByLimit }) => curedByLimit === 'charge');

/** Keys of what hurts among some rules. */
export const hurtingIn = (findings: readonly Finding[]) => new Set(findings.filter(hurts).map(keyOf));

/** The same of a model, by the whole rule book or by some rules. */
export const hurting = (model: Model, some?: readonly Rule<unknown>[]) => hurtingIn(check(model, some));

/** True where a change cures something that hurt and hurts nothing new. */
export function helps(before: Set<string>, after: Set<string>): boolean {
  return after.size < before.size && [...after].every((key) => before.has(key));
}
