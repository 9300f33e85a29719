import type { Change } from '../system/schema';
import type { RuleId } from './ids';

export type Verdict = 'over' | 'tight' | 'unknown' | 'note' | 'holds';
export type Consequence = 'danger' | 'damage' | 'life' | 'outage' | 'loss';
/** `max`: demand must not exceed limit. `min`: demand is what is there and must reach limit. */
export type Sense = 'max' | 'min';

/** Dangers by what they do, the gravest first (engine, section 1). */
export type Gravity = 1 | 2 | 3 | 4 | 5;
/** A conductor or fuse above its limit by more than this is graver than one that is just above it. */
const FAR_ABOVE = 1.25;
/** Where a danger stands among dangers: where its rule puts it, else by how far it is above its limit. */
export const gravityOf = (ofRule: Gravity | undefined, use: number | null): Gravity =>
  ofRule ?? (use === null || use > FAR_ABOVE ? 4 : 5);

/** One thing that would make a finding hold, verified. */
export interface Remedy {
  title: string;
  /** What stays or comes with it, in a few words. */
  detail: string;
  /** The same changes that a proposal would hold. */
  changes: Change[];
  /** It holds back charging or hours: its price is energy. */
  limits?: 'charge' | 'hours';
}

/** What one rule says of one subject; the open format's own members. */
export interface Finding {
  rule: RuleId;
  subject: string;
  /** Tells two findings of one rule and subject apart; null where there is but one. */
  quantity: string | null;
  verdict: Verdict;
  consequence: Consequence;
  demand: number | null;
  limit: number | null;
  unit: string | null;
  sense: Sense;
  /** demand/limit (or limit/demand for `min`); null where the rule has no ratio. */
  use: number | null;
  /** Above this use the verdict is `tight`; null where the rule has no ratio. For drawing, not part of the open format. */
  tightAbove: number | null;
  /**
   * Of a danger its place among dangers, 1 first: cells; nothing that interrupts; shock and gas; a conductor or fuse far
   * above its limit; the rest. For the order in which a person reads, not part of the open format.
   */
  gravity?: Gravity;
  /** The calculation as a person would write it, a line each. */
  working: string[];
  /** Inputs that are assumed values, by path: `m1.betaVoc_pct_C`. */
  assumed: string[];
  /** Inputs without which there is no verdict, by path. */
  missing: string[];
  school?: string;
  cautions: string[];
  remedies: Remedy[];
}

/** Verdicts, the gravest first. */
export const VERDICT_ORDER: readonly Verdict[] = ['over', 'tight', 'unknown', 'note', 'holds'];
/** Consequences, the gravest first. */
export const CONSEQUENCE_ORDER: readonly Consequence[] = ['danger', 'damage', 'life', 'outage', 'loss'];

/** Ratios this close to a threshold are equal to it: the last bit of a division is no verdict. */
const EQUAL = 1e-9;
/** True where a use is beyond a threshold by more than the last bits. */
export const exceeds = (use: number, threshold: number) => use > threshold + EQUAL;

/** Use and verdict of a demand against its limit; `tightAbove` is the rule's T. Never NaN or infinite. */
export function judge(
  demand: number,
  limit: number,
  sense: Sense,
  tightAbove: number,
): { use: number | null; verdict: 'over' | 'tight' | 'holds' } {
  const [dividend, divisor] = sense === 'max' ? [demand, limit] : [limit, demand];
  if (divisor <= 0) return { use: null, verdict: dividend > 0 ? 'over' : 'holds' };
  const use = dividend / divisor;
  if (exceeds(use, 1)) return { use, verdict: 'over' };
  return { use, verdict: exceeds(use, tightAbove) ? 'tight' : 'holds' };
}

/** Devices that a short circuit of the bank may be too much for. */
export const isInterrupt = ({ rule, quantity }: Pick<Finding, 'rule' | 'quantity'>) =>
  rule === 'run.interrupt' || (rule === 'switch.rating' && quantity === 'interrupt');

/** Of some findings those that are over. */
export const overOf = (findings: readonly Finding[]) => findings.filter(({ verdict }) => verdict === 'over');

/** What tells a finding from every other of its system. */
export const keyOf = (finding: Pick<Finding, 'rule' | 'subject' | 'quantity'>) =>
  `${finding.rule}|${finding.subject}|${finding.quantity ?? ''}`;

/** The order of two texts by code unit: the same wherever it runs. */
export const codeUnits = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/** The order of the command line: rule, subject, quantity, by code unit. */
export const byName = (a: Finding, b: Finding) =>
  codeUnits(a.rule, b.rule) || codeUnits(a.subject, b.subject) || codeUnits(a.quantity ?? '', b.quantity ?? '');

/** The order in which a person should read: verdict, consequence, use. */
export const worstFirst = (a: Finding, b: Finding) =>
  VERDICT_ORDER.indexOf(a.verdict) - VERDICT_ORDER.indexOf(b.verdict) ||
  CONSEQUENCE_ORDER.indexOf(a.consequence) - CONSEQUENCE_ORDER.indexOf(b.consequence) ||
  (a.gravity ?? 5) - (b.gravity ?? 5) ||
  ranked(b) - ranked(a) ||
  byName(a, b);

/** Over without a ratio stands before what is just above its limit; a limit of nothing is exceeded beyond measure. */
const ranked = ({ use, verdict, limit }: Finding) =>
  use ?? (verdict !== 'over' ? 0 : limit === null ? FAR_ABOVE : Number.MAX_VALUE);
