import { sentenceOf } from '../rules/check';
import { CONSEQUENCE_ORDER, keyOf, worstFirst, type Finding } from '../rules/finding';
import { LAYOUT_OWN } from '../rules/index';
import { harmed } from '../rules/cures/worse';
import type { Model } from '../system/model';

/** How layouts are put in order: by what each of them causes itself, the gravest first. */

/** Findings of a layout, told apart by whose fault they are. */
export interface Caused {
  /** Over because the modules are strung so: of array and input, or over or worse than as found. Worst first. */
  overs: Finding[];
  /** Over as found, and no worse: whatever the layout. */
  already: Finding[];
  /** It puts more volts into an input than that stands: never the first of any list. */
  onVolts: boolean;
  unknown: number;
  tight: number;
}

/** @param ofArrays rules of array, controllers and charging: what else is over as found is told elsewhere */
export function causedBy(found: readonly Finding[], after: readonly Finding[], ofArrays: ReadonlySet<string>): Caused {
  const harm = new Set(harmed(found, after).map(keyOf));
  const own = (finding: Finding) => LAYOUT_OWN.has(finding.rule) || harm.has(keyOf(finding));
  const over = after.filter(({ verdict }) => verdict === 'over').sort(worstFirst);
  const overs = over.filter(own);
  const count = (verdict: Finding['verdict']) =>
    after.filter((finding) => finding.verdict === verdict && LAYOUT_OWN.has(finding.rule)).length;
  return {
    overs,
    already: over.filter((finding) => !own(finding) && ofArrays.has(finding.rule)),
    onVolts: overs.some(({ rule }) => rule === COLD),
    unknown: count('unknown'),
    tight: count('tight'),
  };
}
const COLD = 'pv.cold-voltage';

/** Losses that the watts which arrive have in them already: clipped, dropped along the cable, thrown away by pwm. */
const IN_THE_WATTS = new Set(['pv.output-current', 'pv.power', 'pv.pwm-waste', 'run.drop']);

/**
 * Counts of what is over, gravest first, to be compared one after the other. A loss that is in the watts already is no
 * reason to leave a module lying; unlike strings, and an array that a hot day stops, are.
 */
export const gravity = ({ overs, onVolts }: Caused): number[] => [
  onVolts ? 1 : 0,
  ...CONSEQUENCE_ORDER.map(
    (consequence) =>
      overs.filter((one) => one.consequence === consequence && (consequence !== 'loss' || !IN_THE_WATTS.has(one.rule)))
        .length,
  ),
];
/** How many of what a layout turns over only loses energy. */
export const losses = ({ overs }: Caused) => overs.filter(({ consequence }) => consequence === 'loss').length;

/** Orders two lists of counts: the first that differs decides, fewer first. */
export function compareCounts(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const difference = (a[i] ?? 0) - (b[i] ?? 0);
    if (difference !== 0) return difference;
  }
  return 0;
}

/** Every over of a layout in its sentences; where nothing is over, the worst of the rest. */
export function whyOf(after: Model, { overs, already }: Caused, rest: readonly Finding[]): string {
  if (overs.length + already.length > 0)
    return [
      ...overs.map((finding) => sentenceOf(after, finding)),
      ...already.map((finding) => `Already over: ${sentenceOf(after, finding)}`),
    ].join(' ');
  const [worst] = [...rest].sort(worstFirst);
  return worst ? sentenceOf(after, worst) : 'Array, controller and charging are OK.';
}
