import { bankRules } from './bank/bank';
import { bankHealthRules } from './bank/health';
import { bankLowRules } from './bank/low';
import { bankPlaceRules } from './bank/place';
import { bankStringRules } from './bank/strings';
import { bankUseRules } from './bank/use';
import { chargerRules } from './devices/charger';
import { curveRules } from './pv/curves';
import { dcRules } from './wires/dc-volts';
import { controllerRules } from './pv/controller';
import { energyRules } from './site/energy';
import { faultRules } from './wires/fault-current';
import { fusePlaceRules } from './wires/fuse-place';
import { fuseRules } from './wires/fuses';
import { inverterRules } from './devices/inverter';
import { loadRules } from './devices/loads';
import { pvRules } from './pv/pv';
import { pvStringRules } from './pv/strings';
import type { RuleId } from './ids';
import type { BearsOn, Rule } from './rule';
import { runRules } from './wires/runs';
import { siteRules } from './site/site';
import { switchRules } from './wires/switches';

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
export const ruleIds = (): RuleId[] => RULES.map(({ id }) => id);

const byId = new Map<RuleId, Rule<unknown>>(RULES.map((rule) => [rule.id, rule]));

/** A rule by its id. @throws Error for an id that is not in the book: a finding of ours always is */
export function ruleOf(id: RuleId): Rule<unknown> {
  const found = byId.get(id);
  if (!found) throw new Error(`no rule "${id}" in the book`);
  return found;
}
