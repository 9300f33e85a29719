import type { Change } from '../system/schema';
import type { Model } from '../system/model';
import type { CautionId } from './cautions';
import type { Consequence, Finding, Gravity, Sense, Verdict } from './finding';
import type { RuleId } from './ids';
import type { Ledger } from '../ledger/ledger';

/** One thing a rule judges: a part (or a part and one of its quantities). */
export interface Case<T> {
  subject: string;
  quantity?: string;
  about: T;
}

/** A demand against a limit in one unit. */
export interface Ratio {
  demand: number;
  limit: number;
  unit: string;
  sense: Sense;
  /** The last column of the rule book: above it the verdict is `tight`. */
  tightAbove: number;
  /** Over is reported as tight. */
  softened?: boolean;
}

export type Outcome = (
  | {
      ratio: Ratio;
      /** Over whatever the ratio says (an AC breaker on DC). */
      forced?: 'over';
      /** A rule whose "over" is advice. */
      overIs?: 'note';
    }
  | {
      verdict: Exclude<Verdict, 'unknown'>;
      /** Unit to print where the ratio that belongs there cannot be formed. */
      unit?: string;
    }
) & { consequence?: Consequence };

/** A change that may cure; it is verified before it is offered. */
export interface Cure {
  title: string;
  detail: string;
  changes: Change[];
  /** Cures by letting off: over becomes tight, since what it puts in stands before the rest. */
  eases?: true;
  /** Looked at only where nothing simpler cures. */
  last?: true;
  /** It holds back charging or hours: what that costs in energy is computed, and it stands after every other. */
  limits?: 'charge' | 'hours';
  /** `keyOf` a finding that may turn over by it, since it cures a graver one: its detail says what is left off. */
  allows?: string;
}

/** What of a system a rule's verdict follows from. */
export type BearsOn = 'load' | 'charge' | 'strings' | 'bank' | 'energy' | 'place' | 'cable' | 'fuse';

/**
 * A rule of the book. Add one by writing it in its family's file and naming it in `index.ts`; the check, the command
 * line, the screens and the reports all read that list.
 */
export interface Rule<T> {
  id: RuleId;
  title: string;
  consequence: Consequence;
  /** Where it stands among dangers, where its use does not say; by its rule, or by the finding. */
  gravity?: Gravity | ((finding: Finding) => Gravity | undefined);
  /** Of a rule that a larger cable cures: what the size then does ("carries its current"). */
  sizeDoes?: string;
  /** What a change must touch for this rule to be worth asking again. */
  bearsOn: readonly BearsOn[];
  /** The question among the schools by whose answer it judges: its path in `schools`. */
  school?: string | ((model: Model, finding: Finding) => string | null);
  /**
   * Which limit may cure it until parts arrive: watts at once, charging amperes; `false`: none, since energy and
   * endurance are what a limit is bought with. Where nothing is said, leaving the part off.
   */
  curedByLimit?: 'load' | 'charge' | false;
  /**
   * Left out where thousands of groupings are looked through: it reads curves, or it is cured by fuses rather than by
   * another grouping.
   */
  notRoughly?: true;
  /** Where a cable at its subject is over by that rule, the cable is the root of this finding too. */
  comesOf?: RuleId;
  cautions?: CautionId[];
  /** Where the rule applies; no case, no finding. */
  cases(model: Model): Case<T>[];
  /** Null where it turns out not to apply. Missing inputs are noted by the ledger and make the verdict `unknown`. */
  evaluate(io: Ledger, about: T, quantity: string | undefined): Outcome | null;
  /** The finding in one plain sentence, with its figures. */
  sentence(finding: Finding, model: Model): string;
  /** Why it is tight and not over where its figures alone would be: said behind the sentence. */
  letOff?: string | ((finding: Finding, model: Model) => string);
  /** What would be needed where nothing that is offered fixes it; where nothing is said, its two figures speak. */
  needs?: string | ((finding: Finding, model: Model) => string);
  /** What people do or leave until it is repaired, where no limit of a device holds it off: one sentence. */
  untilThen?: string;
  /** Changes that may cure it, smallest first; each is verified before anyone sees it. */
  remedies?(model: Model, about: T, finding: Finding): Cure[];
}

/** How a sentence ends whose figures are missing. */
export const NOT_YET = 'is not known yet.';

/** Keeps the type of the cases inside a rule, and lets rules of different cases stand in one list. */
export function rule<T>(definition: Rule<T>): Rule<unknown> {
  return definition;
}

/** The worst by use of several bounds, so that the governing pair is the one reported. */
export function governing(bounds: Ratio[]): Ratio {
  const useOf = ({ demand, limit, sense }: Ratio) => {
    const [dividend, divisor] = sense === 'max' ? [demand, limit] : [limit, demand];
    return divisor > 0 ? dividend / divisor : dividend > 0 ? Infinity : 0;
  };
  return bounds.reduce((worst, bound) => (useOf(bound) > useOf(worst) ? bound : worst));
}
