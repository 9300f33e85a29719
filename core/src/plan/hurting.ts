import { check } from '../rules/check';
import { keyOf, type Finding } from '../rules/finding';
import { RULES, ruleOf } from '../rules/index';
import type { Rule } from '../rules/rule';
import { type Model } from '../system/model';
import type { Settings } from '../system/schema';

/** What an interim limit is to hold off, and what a limit is. */

/** One limit under which a system may run until parts arrive. */
export interface InterimLimit {
  kind: 'load' | 'not-started' | 'charge' | 'volts';
  /** The inverter, the load, the charging device. */
  id: string;
  setting: keyof Settings | null;
  value: number | null;
  unit: string | null;
  text: string;
  /** True where the part is off for another reason: the limit is for when that is mended and new parts are not yet in. */
  whenBack?: boolean;
}

/** What follows from a finding that a limit is asked to hold off: not a shorter life, not a loss. */
export const LIMITED = new Set(['danger', 'damage', 'outage']);

/** True for a finding that is over, follows hard, and can be held off by some limit. */
export const hurts = (finding: Finding) =>
  finding.verdict === 'over' && LIMITED.has(finding.consequence) && ruleOf(finding.rule).curedByLimit !== false;

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
