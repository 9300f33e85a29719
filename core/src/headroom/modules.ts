import type { RuleId } from '../rules/ids';
import { blocksOf, isEven, type Block } from '../layouts/groupings';
import { MOST_MODULES, presentModules } from '../layouts/pool';
import { stringsInto } from '../layouts/place';
import { check } from '../rules/check';
import { keyOf, worstFirst, type Finding } from '../rules/finding';
import { rulesOn } from '../rules/index';
import type { Rule } from '../rules/rule';
import { harmed } from '../rules/cures/worse';
import { withSystem, type Model, withChanges } from '../system/model';
import type { Change, PvArray } from '../system/schema';
import { takenOut } from '../system/taken-out';

/** How many more modules of the present type go on, in the best layout over the present controllers. */

/** How many more modules go in, and what gives out first. */
export interface ModulesRoom {
  /** More modules of the present type with nothing newly over or worse; null where there is nothing to lay out. */
  extra: number | null;
  /** What the best layout of one more runs into. */
  rule: RuleId | null;
  subject: string | null;
  /** Once that is mended, where it was over already: the next to give out. */
  once: { extra: number; rule: RuleId | null; subject: string | null } | null;
}

/** After so many counts in a row that cannot be laid out, larger ones are not tried. */
const ENOUGH_FAILED = 5;
/** So many ways of a count are judged by the whole book: those on one controller first. */
const MOST_WAYS = 40;

/**
 * How many more modules fit, and what gives out first.
 * @param progress share done, 0 to 1
 */
export function modulesRoom(
  model: Model,
  found: Finding[] = check(model),
  progress: (share: number) => void = () => undefined,
): ModulesRoom {
  const present = presentModules(model);
  if (!present || !model.system.controllers?.length) return { extra: null, rule: null, subject: null, once: null };
  const inputs = inputsOf(model, present.type, found);
  const most = MOST_MODULES - present.count;
  const first = largest(model, present.type, inputs, found, new Set(), most, progress);
  const key = first.reason && keyOf(first.reason);
  const overAlready = key !== null && found.some((one) => one.verdict === 'over' && keyOf(one) === key);
  // What was over already limits to nothing; what comes after it is said as well, on the condition that it is mended.
  const next = overAlready ? largest(model, present.type, inputs, found, new Set([key]), most, () => undefined) : null;
  return { ...named(first), once: next && named(next) };
}

interface Room {
  extra: number;
  reason: Finding | null;
}
const named = ({ extra, reason }: Room) => ({ extra, rule: reason?.rule ?? null, subject: reason?.subject ?? null });

/** A controller with what of the present type stands on it, and the strings that it could take. */
interface Input {
  id: string;
  arrays: PvArray[];
  count: number;
  /** What strings of a shape harm on this controller, as far as that can be told of it alone. */
  harms(block: Block): Finding[];
}

function inputsOf(model: Model, type: string, found: readonly Finding[]): Input[] {
  const arrays = model.system.arrays ?? [];
  return (model.system.controllers ?? []).map(({ id }): Input => {
    // Arrays of another type stay as they are.
    const own = arrays.filter(
      ({ controllerId, strings }) => controllerId === id && strings.flat().every((each) => each === type),
    );
    const known = new Map<string, Finding[]>();
    const harms = (block: Block): Finding[] => {
      const key = block.lengths.join();
      const before = known.get(key);
      if (before !== undefined) return before;
      const changed = withChanges(model, relaid(model, [{ input: { arrays: own, id }, block }]));
      const alone = withSystem(changed, {
        ...changed.system,
        arrays: (changed.system.arrays ?? []).filter(({ controllerId }) => controllerId === id),
        runs: [],
        switches: [],
        distribution: [],
      });
      const harm = harmed(found, check(alone, ALONE_RULES));
      known.set(key, harm);
      return harm;
    };
    return { id, arrays: own, count: own.flatMap(({ strings }) => strings.flat()).length, harms };
  });
}

/** Rules of one input's strings that cost no curve: over there, over in every layout that has them. */
const ALONE_RULES = rulesOn('strings').filter(({ notRoughly, bearsOn }) => !notRoughly && !bearsOn.includes('charge'));
const PV_RULES = rulesOn('strings');

interface Laid {
  input: Pick<Input, 'id' | 'arrays'>;
  block: Block;
}

/** The changes that string so many modules anew on some controllers; what stands on the others stays. */
function relaid(model: Model, laid: readonly Laid[]): Change[] {
  return laid.flatMap(({ input, block }) => {
    const [first, ...others] = input.arrays;
    const strings = block.lengths.map((length) => Array.from({ length }, () => ({ type: block.type ?? '', light: 1 })));
    return [
      ...stringsInto(model, { controllerId: input.id, strings }, first),
      ...others.flatMap(({ id }) => takenOut(model.system, 'arrays', id)),
    ];
  });
}

/** The largest number more for which some layout harms nothing, apart from what is set aside. */
function largest(
  model: Model,
  type: string,
  inputs: readonly Input[],
  found: readonly Finding[],
  aside: ReadonlySet<string>,
  most: number,
  progress: (share: number) => void,
): Room {
  let extra = 0;
  let failed: Finding[][] = [];
  for (let more = 1; more <= most && failed.length < ENOUGH_FAILED; more++) {
    progress(more / most);
    const least = leastHarm(model, type, inputs, found, aside, more);
    if (least?.length === 0) {
      extra = more;
      failed = [];
    } else failed.push(least ?? []);
  }
  // A count that cannot be strung evenly fails of itself: the reason is that of the count that failed by least.
  const nearest = failed.filter(({ length }) => length > 0).sort((a, b) => a.length - b.length)[0];
  return { extra, reason: nearest?.sort(worstFirst)[0] ?? null };
}

/**
 * What is harmed; and where clipping is allowed, the watts that a controller takes by its sheet: the school lets its amperes
 * go, not that.
 */
function stopped(model: Model, found: readonly Finding[], after: readonly Finding[]): Finding[] {
  const harms = harmed(found, after);
  if (model.schools.controllerOutput !== 'clip') return harms;
  const before = new Map(found.map((finding) => [keyOf(finding), finding.use ?? 0]));
  const watts = after.filter(
    (finding) =>
      finding.rule === 'pv.power' &&
      finding.verdict !== 'over' &&
      (finding.use ?? 0) > Math.max(1, before.get(keyOf(finding)) ?? 0),
  );
  return [...harms, ...watts];
}

function leastHarm(
  model: Model,
  type: string,
  inputs: readonly Input[],
  found: readonly Finding[],
  aside: ReadonlySet<string>,
  more: number,
): Finding[] | null {
  const harms = (changed: Model, rules?: readonly Rule<unknown>[]) =>
    stopped(model, found, check(changed, rules)).filter((finding) => !aside.has(keyOf(finding)));
  let least: Finding[] | null = null;
  for (const laid of waysOf(inputs, type, more, aside)) {
    const changed = withChanges(model, relaid(model, laid));
    // Most fail at the strings themselves; the rest of the book is asked only of those that do not.
    const atStrings = harms(changed, PV_RULES);
    const over = atStrings.length > 0 ? atStrings : harms(changed);
    if (!least || over.length < least.length) least = over;
    if (over.length === 0) break;
  }
  return least;
}

/** Even strings of the modules on one controller or two, with so many more; what cannot be borne alone is left out. */
function waysOf(inputs: readonly Input[], type: string, more: number, aside: ReadonlySet<string>): Laid[][] {
  const shapes = (size: number) => (size > 0 ? blocksOf(type, size).filter(isEven) : []);
  const borne = (input: Input, size: number) =>
    shapes(size)
      .filter((block) => input.harms(block).every((finding) => aside.has(keyOf(finding))))
      .map((block): Laid => ({ input, block }));
  const one = inputs.flatMap((input) => borne(input, input.count + more).map((laid) => [laid]));
  const two = inputs.flatMap((a, i) =>
    inputs.slice(i + 1).flatMap((b) => {
      const total = a.count + b.count + more;
      return Array.from({ length: total - 1 }, (_, k) => k + 1).flatMap((size) => {
        const first = borne(a, size);
        return first.length === 0 ? [] : first.flatMap((x) => borne(b, total - size).map((y) => [x, y]));
      });
    }),
  );
  const ways = [...one, ...two];
  // Nothing that can be borne: the plain ways are judged all the same, for the reason.
  const judged =
    ways.length > 0 ? ways : inputs.flatMap((input) => shapes(input.count + more).map((block) => [{ input, block }]));
  return judged.slice(0, MOST_WAYS);
}
