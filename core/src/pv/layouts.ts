import { check, sentenceOf } from '../rules/check';
import { CONSEQUENCE_ORDER, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { RULES } from '../rules/index';
import { withSystem, type Model } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change, PvArray } from '../system/schema';
import { shapeText, stringsOf } from './restring';
import { modulesOfArray } from './strings';

export interface LayoutShare {
  controllerId: string;
  series: number;
  parallel: number;
}

/** One way to group the modules over the controllers that are there. */
export interface Layout {
  controllers: LayoutShare[];
  /** Modules that this layout leaves lying. */
  unused: number;
  /** The worst verdict on array, controllers and charging with this layout, whether or not it was so before. */
  verdict: Verdict;
  /** The reason in a sentence. */
  why: string;
  changes: Change[];
  /** Findings that are over or tight with this layout and concern array, controller or bank. */
  findings: Finding[];
}

/** More modules than this are a different job: the number of groupings grows too fast to be read. */
export const MOST_MODULES = 48;
const MOST_LAYOUTS = 12;

/**
 * Every even grouping of `total` modules of the present type over the present controllers (one or two of them used at
 * a time), judged by the whole rule book, best first: least danger and damage, then fewest modules unused, then fewest
 * amps in the cable. Null where there is nothing to lay out.
 */
export function layouts(model: Model, total: number): Layout[] | null {
  const type = presentType(model);
  if (!type || !model.system.controllers?.length) return null;
  const count = Math.min(MOST_MODULES, Math.max(1, Math.floor(total)));
  return groupings(model, count)
    .map((shares) => judged(model, type, shares, count))
    .sort((x, y) => score(x) - score(y) || amps(x) - amps(y))
    .slice(0, MOST_LAYOUTS);
}

/** Every even grouping over one controller, or over two that together leave at most one module lying. */
function groupings(model: Model, count: number): LayoutShare[][] {
  const controllers = model.system.controllers ?? [];
  const shapes = shapesUpTo(count);
  const candidates: LayoutShare[][] = controllers.flatMap(({ id }) =>
    shapes.map(({ series, parallel }) => [{ controllerId: id, series, parallel }]),
  );
  for (let a = 0; a < controllers.length; a++)
    for (let b = a + 1; b < controllers.length; b++)
      for (const first of shapes)
        for (const second of shapes) {
          const used = first.series * first.parallel + second.series * second.parallel;
          // Two controllers are worth it only when together they leave at most one module lying.
          if (used > count || used < count - 1) continue;
          candidates.push([
            { controllerId: controllers[a]?.id ?? '', ...first },
            { controllerId: controllers[b]?.id ?? '', ...second },
          ]);
        }
  return candidates.filter((shares) => unusedOf(shares, count) < Math.max(1, count / 2));
}

/** The system with `count` modules laid out in some way that leaves none lying; lazily, one after the other. */
export function* arrangements(model: Model, count: number): Generator<Model> {
  const type = presentType(model);
  if (!type) return;
  for (const shares of groupings(model, count))
    if (unusedOf(shares, count) === 0)
      yield withSystem(model, mergeChanges(model.system, changesFor(model, type, shares)));
}

/** The module type that most of the arrays are made of, with the number that is there now. */
export function presentModules(model: Model): { type: string; count: number } | null {
  const counts = new Map<string, number>();
  for (const array of model.system.arrays ?? [])
    for (const { id } of modulesOfArray(model.system, array)) counts.set(id, (counts.get(id) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return most ? { type: most[0], count: most[1] } : null;
}

const presentType = (model: Model) => presentModules(model)?.type ?? model.system.moduleTypes?.[0]?.id;
const unusedOf = (shares: LayoutShare[], count: number) =>
  count - shares.reduce((sum, { series, parallel }) => sum + series * parallel, 0);
const amps = ({ controllers }: Layout) => Math.max(...controllers.map(({ parallel }) => parallel));

function shapesUpTo(count: number): { series: number; parallel: number }[] {
  const shapes = [];
  for (let series = 1; series <= count; series++)
    for (let parallel = 1; series * parallel <= count; parallel++) shapes.push({ series, parallel });
  return shapes;
}

/** Verdict first, then consequence, then modules unused. */
function score({ verdict, findings, unused }: Layout): number {
  const rank = verdict === 'over' ? 100 : verdict === 'unknown' ? 60 : verdict === 'tight' ? 30 : 0;
  const overs = findings.filter((finding) => finding.verdict === 'over');
  const gravity = (finding: Finding) => CONSEQUENCE_ORDER.length - CONSEQUENCE_ORDER.indexOf(finding.consequence);
  return rank + 20 * Math.max(0, ...overs.map(gravity)) + 4 * unused;
}

/** What a layout bears on. */
const LAYOUT_RULES = RULES.filter(({ id }) => /^(pv|controller)\.|^bank\.charge/.test(id));

function judged(model: Model, type: string, shares: LayoutShare[], count: number): Layout {
  const changes = changesFor(model, type, shares);
  const after = withSystem(model, mergeChanges(model.system, changes));
  const findings = check(after, LAYOUT_RULES)
    .filter(({ verdict }) => verdict === 'over' || verdict === 'tight' || verdict === 'unknown')
    .sort(worstFirst);
  const worst = findings[0];
  const unused = unusedOf(shares, count);
  const left = unused > 0 ? ` ${unused} left over.` : '';
  return {
    controllers: shares,
    unused,
    verdict: worst?.verdict ?? 'holds',
    why: `${worst ? sentenceOf(after, worst) : 'Array, controller and charging hold.'}${left}`,
    changes,
    findings,
  };
}

/** The first array of each controller takes the new strings; other arrays of the controllers used are emptied into it. */
function changesFor(model: Model, type: string, shares: LayoutShare[]): Change[] {
  const arrays = model.system.arrays ?? [];
  const changes: Change[] = [];
  for (const { controllerId, series, parallel } of shares) {
    const strings = stringsOf(type, series, parallel);
    const [first, ...others] = arrays.filter((array) => array.controllerId === controllerId);
    if (first) changes.push({ op: 'set', at: 'arrays', id: first.id, value: { strings } });
    else changes.push({ op: 'add', at: 'arrays', value: newArray(arrays[0], controllerId, strings) });
    changes.push(...others.flatMap((array) => removal(model, array)));
  }
  const used = new Set(shares.map(({ controllerId }) => controllerId));
  const idle = arrays.filter(({ controllerId }) => controllerId && !used.has(controllerId));
  return [...changes, ...idle.flatMap((array) => removal(model, array))];
}

function newArray(like: PvArray | undefined, controllerId: string, strings: string[][]) {
  const { tilt_deg, azimuth_deg, mounting } = like ?? {};
  return { id: `array-${controllerId}`, label: 'New array', strings, tilt_deg, azimuth_deg, mounting, controllerId };
}

/** An array goes together with the cables that led from it. */
function removal(model: Model, { id }: PvArray): Change[] {
  const runs = (model.system.runs ?? []).filter(({ from, to }) => from === id || to === id);
  const circuits = new Set(runs.map((run) => run.id));
  return [
    ...(model.system.distribution ?? [])
      .filter((box) => box.circuits?.some((run) => circuits.has(run)))
      .map((box) => ({
        op: 'set' as const,
        at: 'distribution',
        id: box.id,
        value: { circuits: box.circuits?.filter((run) => !circuits.has(run)) },
      })),
    ...runs.map((run) => ({ op: 'remove' as const, at: 'runs', id: run.id })),
    { op: 'remove', at: 'arrays', id },
  ];
}

/** "2 in series, 3 strings on Brackwell T60-150" */
export const layoutTitle = (model: Model, { controllers }: Layout) =>
  controllers
    .map(({ controllerId, series, parallel }) => {
      const controller = model.system.controllers?.find(({ id }) => id === controllerId);
      const several = (model.system.controllers ?? []).length > 1;
      return `${shapeText(series, parallel)}${several ? ` on ${controller?.label ?? controllerId}` : ''}`;
    })
    .join('; ');
