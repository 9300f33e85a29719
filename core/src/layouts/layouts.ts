import { kept } from '../numeric/kept';
import { check, sentenceOf } from '../rules/check';
import { CONSEQUENCE_ORDER, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { rulesOn } from '../rules/index';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change, Controller, PvArray } from '../system/schema';
import { takenOut } from '../system/taken-out';
import { arrayCurve } from '../pv/curve';
import { groupings, isEven, type Block, type Share } from './groupings';
import { shapeText } from '../pv/restring';
import { modulesOf, modulesOfArray, stringImp_A } from '../pv/strings';

/** Equal strings on a controller; a controller with strings of two lengths has two of these. */
export interface LayoutShare {
  controllerId: string;
  /** Modules in each string, and how many strings. */
  series: number;
  parallel: number;
  /** The type of its modules, where there are several. */
  type?: string;
}

/** One way to group the modules over the controllers. */
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
  /** Full sun on it as it was shaded, W at the modules: what is lost to shade, mismatch and modules left lying shows here. */
  watts: number;
  /** Of what the modules in it would give each by itself in full light. */
  shadeLoss_pct: number;
  /** Largest current in a PV cable, A. */
  amps: number;
  /** Of controllers that are added; null where a price is not known. */
  cost: number | null;
}

/** A module as it stands: its type, and the share of the light that it was seen to get. */
export interface Pooled {
  type: string;
  light: number;
}

/** More modules than this are a different job: the number of groupings grows too fast to be read. */
export const MOST_MODULES = 48;
const MOST_LAYOUTS = 12;
/** So many of the best by their strings alone are judged by all that a layout bears on. */
const MOST_JUDGED = 48;

/** The modules as they stand, with more of the commonest type in full light (or fewer: the first ones). */
export function poolOf(model: Model, total?: number): Pooled[] {
  const pool = (model.system.arrays ?? []).flatMap(({ strings, shade }) =>
    strings.flatMap((string, s) => string.map((type, m) => ({ type, light: shade?.[s]?.[m] ?? 1 }))),
  );
  const count = Math.min(MOST_MODULES, Math.max(1, Math.floor(total ?? pool.length)));
  const type = presentModules(model)?.type ?? model.system.moduleTypes?.[0]?.id;
  while (type && pool.length < count) pool.push({ type, light: 1 });
  return pool.slice(0, count);
}

/**
 * Every way to group modules over the present controllers (and one more of those offered), judged by the rule book,
 * best first: least danger and damage, then fewest modules unused, then most watts under the shade that was noted, then
 * fewest amps in a cable, then least cost. Null where there is nothing to lay out.
 */
export function layouts(
  model: Model,
  modules: number | readonly Pooled[],
  offered: readonly ShelfItem[] = [],
  progress: (share: number) => void = () => undefined,
): Layout[] | null {
  const pool = typeof modules === 'number' ? poolOf(model, modules) : modules.slice(0, MOST_MODULES);
  const present = model.system.controllers ?? [];
  if (pool.length === 0 || (present.length === 0 && offered.length === 0)) return null;
  const lists = [...(present.length > 0 ? [null] : []), ...offered];
  const all = lists.flatMap((item, i) => shortlist(model, pool, item, (share) => progress((i + share) / lists.length)));
  // Within half a per cent of the best two layouts give the same: counted in steps of that, so that the order is one.
  const step = 0.005 * Math.max(1, ...all.map(({ watts }) => watts));
  const bucket = ({ watts }: Layout) => Math.round(watts / step);
  return all
    .sort(
      (a, b) =>
        score(a) - score(b) ||
        bucket(b) - bucket(a) ||
        a.amps - b.amps ||
        (a.cost ?? Infinity) - (b.cost ?? Infinity) ||
        strings(a) - strings(b) ||
        byText(JSON.stringify(a.controllers), JSON.stringify(b.controllers)),
    )
    .slice(0, MOST_LAYOUTS);
}

const byText = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
const strings = ({ controllers }: Layout) => controllers.reduce((sum, { parallel }) => sum + parallel, 0);

/** The best groupings over the present controllers, or over these with one more, fully judged. */
function shortlist(
  model: Model,
  pool: readonly Pooled[],
  item: ShelfItem | null,
  progress: (share: number) => void,
): Layout[] {
  const base = item ? withController(model, item) : model;
  const ids = (base.system.controllers ?? []).map(({ id }) => id);
  const rough = kept<string, number>(Infinity);
  const roughly = ({ controllerId, block }: Share) =>
    rough(`${controllerId} ${block.type} ${block.lengths.join()}`, () => roughScore(base, { controllerId, block }));
  const counts = new Map<string, number>();
  for (const { type } of pool) counts.set(type, (counts.get(type) ?? 0) + 1);
  const best: { shares: Share[]; score: number }[] = [];
  for (const shares of groupings(ids, counts)) {
    // With one more controller only what uses it is new.
    if (item && !shares.some(({ controllerId }) => controllerId === ADDED_ID)) continue;
    const used = shares.reduce((sum, { block }) => sum + block.size, 0);
    const worst = Math.max(...shares.map(roughly));
    const uneven = shares.some(({ block }) => !isEven(block));
    best.push({ shares, score: worst + 4 * (pool.length - used) + (uneven ? 1 : 0) + 0.01 * shares.length });
    if (best.length > 4 * MOST_JUDGED) keepBest(best);
  }
  keepBest(best);
  return best.map(({ shares }, i) => {
    progress(i / best.length);
    return judged(base, model, shares, pool, item);
  });
}

function keepBest(list: { score: number }[]): void {
  list.sort((a, b) => a.score - b.score);
  list.length = Math.min(list.length, MOST_JUDGED);
}

/** Rules of the strings alone that cost no curve: enough to tell which groupings deserve the whole book. */
const ROUGH_RULES = rulesOn('strings').filter(({ notRoughly }) => !notRoughly);

function roughScore(model: Model, share: Share): number {
  const { system } = model;
  const controller = system.controllers?.find(({ id }) => id === share.controllerId);
  const array = arrayOf(model, share, typesOf(share.block, system.arrays ?? []));
  if (!controller) return Infinity;
  const alone = withSystem(model, {
    ...system,
    arrays: [array],
    controllers: [{ ...controller, outputGroup: null }],
    runs: [],
  });
  return gravityOf(check(alone, ROUGH_RULES));
}

/** Types string by string; a mixed block takes them as they stand. */
function typesOf({ type, lengths }: Block, arrays: readonly PvArray[]): string[][] {
  const standing = arrays.flatMap((array) => array.strings.flat());
  let at = 0;
  return lengths.map((length) => Array.from({ length }, () => type ?? standing[at++] ?? standing[0] ?? ''));
}

const arrayOf = (model: Model, { controllerId }: Share, types: string[][]): PvArray =>
  newArray(model.system.arrays?.[0], controllerId, types);

/** The system with modules laid out in some even way that leaves none lying; lazily, one after the other. */
export function* arrangements(model: Model, count: number): Generator<Model> {
  const type = presentType(model);
  if (!type) return;
  const pool = Array.from({ length: count }, () => ({ type, light: 1 }));
  const ids = (model.system.controllers ?? []).map(({ id }) => id);
  for (const shares of groupings(ids, new Map([[type, count]]), { even: true, most: 2 })) {
    if (shares.reduce((sum, { block }) => sum + block.size, 0) < count) continue;
    yield withSystem(model, mergeChanges(model.system, changesFor(model, placed(shares, pool))));
  }
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

const gravityOf = (findings: readonly Finding[]): number => {
  const worst = [...findings].sort(worstFirst)[0]?.verdict;
  const rank = worst === 'over' ? 100 : worst === 'unknown' ? 60 : worst === 'tight' ? 30 : 0;
  // Of two that are over alike the one that is further over is worse: 960 V into a 200 V controller is no near miss.
  const gravity = ({ consequence, use }: Finding) =>
    20 * (CONSEQUENCE_ORDER.length - CONSEQUENCE_ORDER.indexOf(consequence)) + Math.min(15, 4 * ((use ?? 1) - 1));
  return rank + Math.max(0, ...findings.filter(({ verdict }) => verdict === 'over').map(gravity));
};

/** Verdict first, then consequence and how far over, then modules unused. */
const score = ({ findings, unused }: Layout) => gravityOf(findings) + 4 * unused;

/** What a layout bears on. */
const LAYOUT_RULES = rulesOn('strings');

/** Strings of one controller with the modules that stand in them. */
interface PlacedShare {
  controllerId: string;
  strings: Pooled[][];
}

/**
 * Which module stands where: modules of a type in the order in which they stand, or the shaded ones last, so that they
 * share a string or a controller of their own.
 */
function placed(shares: readonly Share[], pool: readonly Pooled[], shadedLast = false): PlacedShare[] {
  const order = shadedLast ? [...pool].sort((a, b) => b.light - a.light) : [...pool];
  const take = (type: string | null): Pooled => {
    const at = type === null ? 0 : order.findIndex((one) => one.type === type);
    return order.splice(Math.max(0, at), 1)[0] ?? { type: type ?? '', light: 1 };
  };
  return shares.map(({ controllerId, block: { type, lengths } }) => ({
    controllerId,
    strings: lengths.map((length) => Array.from({ length }, () => take(type))),
  }));
}

const SUN_W_M2 = 1000;
const CELL_C = 45;

/** Best points of all its arrays in full sun as they are shaded, W. */
function wattsOf(model: Model, shares: readonly PlacedShare[]): number {
  return shares.reduce(
    (sum, { strings: each }) =>
      sum +
      arrayCurve(
        each.map((string) =>
          string.flatMap(({ type, light }) =>
            modulesOf(model.system, [type]).map((module) => ({
              module,
              cell_C: CELL_C,
              irradiance_W_m2: SUN_W_M2 * light,
            })),
          ),
        ),
      ).best.p,
    0,
  );
}

function judged(base: Model, found: Model, shares: Share[], pool: readonly Pooled[], item: ShelfItem | null): Layout {
  const ways = [placed(shares, pool), ...(pool.some(({ light }) => light < 1) ? [placed(shares, pool, true)] : [])];
  const [way = [], watts = 0] = ways
    .map((one): [PlacedShare[], number] => [one, wattsOf(base, one)])
    .reduce((best, next) => (next[1] > best[1] * 1.001 ? next : best));
  const changes = [...(item ? [addController(found, item)] : []), ...changesFor(base, way)];
  const after = withSystem(found, mergeChanges(found.system, changes));
  const findings = check(after, LAYOUT_RULES)
    .filter(({ verdict }) => verdict === 'over' || verdict === 'tight' || verdict === 'unknown')
    .sort(worstFirst);
  const worst = findings[0];
  const unused = pool.length - shares.reduce((sum, { block }) => sum + block.size, 0);
  const inUse = way.flatMap(({ strings: each }) => each.flat());
  const alone = inUse.reduce(
    (sum, one) => sum + wattsOf(base, [{ controllerId: '', strings: [[{ ...one, light: 1 }]] }]),
    0,
  );
  const several = new Set(pool.map(({ type }) => type)).size > 1;
  const lost = alone > 0 ? 100 * (1 - watts / alone) : 0;
  const left = unused > 0 ? ` ${unused} left over.` : '';
  return {
    controllers: shares.flatMap(({ controllerId, block }) =>
      [...new Set(block.lengths)].map((series) => ({
        controllerId,
        series,
        parallel: block.lengths.filter((length) => length === series).length,
        ...(several ? { type: block.type ?? 'mixed' } : {}),
      })),
    ),
    unused,
    verdict: worst?.verdict ?? 'holds',
    why: `${worst ? sentenceOf(after, worst) : 'Array, controller and charging hold.'}${lost > 1 ? ` Shade and mismatch take ${Math.round(lost)} %.` : ''}${left}`,
    changes,
    findings,
    watts,
    shadeLoss_pct: Math.max(0, lost),
    amps: Math.max(
      ...way.map(({ strings: each }) =>
        each.reduce(
          (sum, string) =>
            sum +
            stringImp_A(
              modulesOf(
                base.system,
                string.map(({ type }) => type),
              ),
            ),
          0,
        ),
      ),
    ),
    cost: item ? (item.price ?? null) : 0,
  };
}

const ADDED_ID = 'added-controller';
const addController = (model: Model, { label, body }: ShelfItem): Change => ({
  op: 'add',
  at: 'controllers',
  // Set as the one that is there: two sources on one bank must agree.
  value: { ...body, label, id: ADDED_ID, settings: model.system.controllers?.[0]?.settings ?? null },
});
const withController = (model: Model, item: ShelfItem): Model =>
  withSystem(model, mergeChanges(model.system, [addController(model, item)]));

/** The first array of each controller takes the new strings; other arrays of the controllers used are emptied into it. */
function changesFor(model: Model, shares: readonly PlacedShare[]): Change[] {
  const arrays = model.system.arrays ?? [];
  const changes: Change[] = [];
  for (const { controllerId, strings: each } of shares) {
    const types = each.map((string) => string.map(({ type }) => type));
    const shade = each.some((string) => string.some(({ light }) => light < 1))
      ? each.map((string) => string.map(({ light }) => light))
      : null;
    const [first, ...others] = arrays.filter((array) => array.controllerId === controllerId);
    if (first)
      changes.push({
        op: 'set',
        at: 'arrays',
        id: first.id,
        value: { strings: types, ...(shade || first.shade ? { shade } : {}) },
      });
    else
      changes.push({
        op: 'add',
        at: 'arrays',
        value: { ...newArray(arrays[0], controllerId, types), ...(shade ? { shade } : {}) },
      });
    changes.push(...others.flatMap((array) => takenOut(model.system, 'arrays', array.id)));
  }
  const used = new Set(shares.map(({ controllerId }) => controllerId));
  const idle = arrays.filter(({ controllerId }) => controllerId && !used.has(controllerId));
  return [...changes, ...idle.flatMap((array) => takenOut(model.system, 'arrays', array.id))];
}

function newArray(like: PvArray | undefined, controllerId: string, strings: string[][]): PvArray {
  const { tilt_deg, azimuth_deg, mounting } = like ?? {};
  return { id: `array-${controllerId}`, label: 'New array', strings, tilt_deg, azimuth_deg, mounting, controllerId };
}

/** "2 in series, 3 strings on Brackwell T60-150" */
export function layoutTitle(model: Model, { controllers, changes }: Pick<Layout, 'controllers' | 'changes'>): string {
  const added = changes.find(({ op, at }) => op === 'add' && at === 'controllers')?.value as Controller | undefined;
  const several = (model.system.controllers ?? []).length + (added ? 1 : 0) > 1;
  const nameOf = (id: string) =>
    id === ADDED_ID
      ? `one more ${added?.label ?? 'controller'}`
      : (model.system.controllers?.find((one) => one.id === id)?.label ?? id);
  return [...new Set(controllers.map(({ controllerId }) => controllerId))]
    .map((id) => {
      const shares = controllers.filter(({ controllerId }) => controllerId === id);
      const [{ type } = {}] = shares;
      const label = type && (model.system.moduleTypes?.find((one) => one.id === type)?.label ?? type);
      const which = type === 'mixed' ? ', mixed as they stand' : label ? ` of ${label}` : '';
      const shape = shares.map(({ series, parallel }) => shapeText(series, parallel)).join(' beside ');
      return `${shape}${which}${several ? ` on ${nameOf(id)}` : ''}`;
    })
    .join('; ');
}
