import { bankRules } from './bank';
import { bankHealthRules } from './bank-health';
import { bankLowRules } from './bank-low';
import { bankPlaceRules } from './bank-place';
import { bankStringRules } from './bank-strings';
import { bankUseRules } from './bank-use';
import { chargerRules } from './charger';
import { curveRules } from './curves';
import { dcRules } from './dc-volts';
import { controllerRules } from './controller';
import { energyRules } from './energy';
import { faultRules } from './fault-current';
import { fusePlaceRules } from './fuse-place';
import { fuseRules } from './fuses';
import { inverterRules } from './inverter';
import { loadRules } from './loads';
import { pvRules } from './pv';
import { pvStringRules } from './pv-strings';
import type { BearsOn, Rule } from './rule';
import { runRules } from './runs';
import { siteRules } from './site';
import { switchRules } from './switches';

/** The rule book, in the order in which the energy travels. */
export const RULES: readonly Rule<unknown>[] = [
  ...pvRules,
  ...pvStringRules,
  ...curveRules,
  ...controllerRules,
  ...bankRules,
  ...bankUseRules,
  ...bankLowRules,
  ...bankHealthRules,
  ...bankStringRules,
  ...bankPlaceRules,
  ...energyRules,
  ...inverterRules,
  ...chargerRules,
  ...loadRules,
  ...runRules,
  ...fuseRules,
  ...faultRules,
  ...dcRules,
  ...fusePlaceRules,
  ...switchRules,
  ...siteRules,
];

/** What is over by these is over because of how the modules are strung, whatever was found. */
export const LAYOUT_OWN: ReadonlySet<string> = new Set(
  [...pvRules, ...pvStringRules, ...curveRules].map(({ id }) => id).filter((id) => id !== 'pv.nameplate'),
);

/** The rules whose verdicts follow from something. */
export const rulesOn = (what: BearsOn): readonly Rule<unknown>[] =>
  RULES.filter(({ bearsOn }) => bearsOn.includes(what));

/** The ids of the rule book. */
export const ruleIds = (): string[] => RULES.map(({ id }) => id);

const byId = new Map(RULES.map((rule) => [rule.id, rule]));

/** A rule by its id. @throws Error for an id that is not in the book: a finding of ours always is */
export function ruleOf(id: string): Rule<unknown> {
  const found = byId.get(id);
  if (!found) throw new Error(`no rule "${id}" in the book`);
  return found;
}
