import { kept } from '../numeric/kept';
import { shapeText } from '../pv/restring';
import { modulesOf, stringImp_A } from '../pv/strings';
import { check } from '../rules/check';
import { CONSEQUENCE_ORDER, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { RULES, rulesOn } from '../rules/index';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model, withChanges, faultsOfChanges } from '../system/model';
import type { Change, Controller, PvArray } from '../system/schema';
import { arrivalOf, type Arrival } from './arrive';
import { groupings, isEven, type Block, type Share } from './groupings';
import { changesFor, fusesFor, newArray, placed, type PlacedShare, type StringFuses } from './place';
import { MOST_MODULES, poolOf, type Pooled } from './pool';
import { ADDED_ID, largerOf, oneMore, type Bought } from './offered';
import { causedBy, compareCounts, gravity, losses, whyOf, type Caused } from './rank';
import { partTitle } from '../conductors/names';

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
  /** Findings that are over, tight or unknown with this layout and concern array, controller, cables or bank. */
  findings: Finding[];
  /** Over because of this layout, the gravest first. */
  overs: Finding[];
  /** It puts more volts into a controller than that stands: shown last, to say why not. */
  onVolts: boolean;
  /** String fuses that the count of strings asks for; in the changes. */
  fuses: StringFuses[];
  /** Full sun on it as it was shaded, W as they arrive at the bank: clipped, less cable and efficiency, pwm by its amperes. */
  watts: number;
  /** Of what the modules in it would give each by itself in full light. */
  shadeLoss_pct: number;
  /** Largest current in a PV cable, A. */
  amps: number;
  /** Of controllers that are added; null where a price is not known. */
  cost: number | null;
}

const MOST_LAYOUTS = 12;
/** So many of the best by their strings alone are judged by all that a layout bears on. */
const MOST_JUDGED = 40;

/**
 * Every way to group modules over the present controllers (and one more of those offered), judged by the rule book,
 * best first: by what the layout itself turns over, the gravest first; then fewest modules lying, losses, unknowns and
 * close calls, most watts that arrive, fewest amps in a cable, least cost. What is over on volts stands last, and where
 * nothing else is left there is no layout. Null where there is nothing to lay out.
 */
export function layouts(
  model: Model,
  modules: number | readonly Pooled[],
  offered: readonly ShelfItem[] = [],
  progress: (share: number) => void = () => undefined,
  larger: string | null = null,
): Layout[] | null {
  const pool = typeof modules === 'number' ? poolOf(model, modules) : modules.slice(0, MOST_MODULES);
  const present = model.system.controllers ?? [];
  if (pool.length === 0 || (present.length === 0 && offered.length === 0)) return null;
  const found = check(model, LAYOUT_RULES);
  const grown = larger === null ? null : largerOf(model, larger, pool);
  const lists = [
    ...(present.length > 0 ? [null] : []),
    ...offered.map((item) => oneMore(model, item)),
    ...(grown ? [grown] : []),
  ];
  const all = lists.flatMap((bought, i) =>
    shortlist({ model, found, pool, bought }, (share) => progress((i + share) / lists.length)),
  );
  // Within half a per cent of the best two layouts give the same: counted in steps of that, so that the order is one.
  const step = 0.005 * Math.max(1, ...all.map(({ layout }) => layout.watts));
  const bucket = ({ watts }: Layout) => Math.round(watts / step);
  const sorted = all
    .sort(
      (one, other) =>
        compareCounts(gravity(one.caused), gravity(other.caused)) ||
        one.layout.unused - other.layout.unused ||
        losses(one.caused) - losses(other.caused) ||
        one.caused.unknown - other.caused.unknown ||
        one.caused.tight - other.caused.tight ||
        bucket(other.layout) - bucket(one.layout) ||
        one.layout.amps - other.layout.amps ||
        (one.layout.cost ?? Infinity) - (other.layout.cost ?? Infinity) ||
        strings(one.layout) - strings(other.layout) ||
        byText(JSON.stringify(one.layout.controllers), JSON.stringify(other.layout.controllers)),
    )
    .map(({ layout }) => layout);
  if (sorted.every(({ onVolts }) => onVolts)) return [];
  return sorted.slice(0, MOST_LAYOUTS).filter(({ changes }) => faultsOfChanges(model, changes).length === 0);
}

const byText = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
const strings = ({ controllers }: Layout) => controllers.reduce((sum, { parallel }) => sum + parallel, 0);

/** What layouts are asked of. */
interface Asked {
  model: Model;
  /** The system as found, by the same rules. */
  found: readonly Finding[];
  pool: readonly Pooled[];
  /** One more controller, or a larger one; null: over the present ones. */
  bought: Bought | null;
}
interface Ranked {
  layout: Layout;
  caused: Caused;
}

/** The best groupings over the present controllers, or over these with one more, fully judged. */
function shortlist(asked: Asked, progress: (share: number) => void): Ranked[] {
  const { model, pool, bought } = asked;
  const base = bought ? withChanges(model, bought.changes) : model;
  const ids = (base.system.controllers ?? []).map(({ id }) => id);
  const rough = kept<string, number>(Infinity);
  const roughly = ({ controllerId, block }: Share) =>
    rough(`${controllerId} ${block.type} ${block.lengths.join()}`, () => roughScore(base, { controllerId, block }));
  const counts = new Map<string, number>();
  for (const { type } of pool) counts.set(type, (counts.get(type) ?? 0) + 1);
  const best: { shares: Share[]; score: number }[] = [];
  for (const shares of groupings(ids, counts)) {
    // With another controller only what uses it is new.
    if (bought && !shares.some(({ controllerId }) => controllerId === bought.controllerId)) continue;
    const used = shares.reduce((sum, { block }) => sum + block.size, 0);
    const worst = Math.max(...shares.map(roughly));
    const uneven = shares.some(({ block }) => !isEven(block));
    best.push({ shares, score: worst + 4 * (pool.length - used) + (uneven ? 1 : 0) + 0.01 * shares.length });
    if (best.length > 4 * MOST_JUDGED) keepBest(best);
  }
  keepBest(best);
  return best.map(({ shares }, i) => {
    progress(i / best.length);
    return judged(asked, base, shares);
  });
}

function keepBest(list: { score: number }[]): void {
  list.sort((a, b) => a.score - b.score);
  list.length = Math.min(list.length, MOST_JUDGED);
}

/** Rules of the strings alone that cost no curve: enough to tell which groupings deserve the whole book. */
const ROUGH_RULES = rulesOn('strings').filter(({ notRoughly }) => !notRoughly);
/** Beside what strings bear on: what carries the current that they bring. */
const BEARS: ReadonlySet<string> = new Set(['strings', 'cable', 'fuse', 'charge']);
const VERDICT_RULES = new Set(rulesOn('strings').map(({ id }) => id));
const STRING_RULES = RULES.filter(({ id }) => id === 'pv.string-protection');

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

const gravityOf = (findings: readonly Finding[]): number => {
  const worst = [...findings].sort(worstFirst)[0]?.verdict;
  const rank = worst === 'over' ? 100 : worst === 'unknown' ? 60 : worst === 'tight' ? 30 : 0;
  // Of two that are over alike the one that is further over is worse: 960 V into a 200 V controller is no near miss.
  const gravity = ({ consequence, use }: Finding) =>
    20 * (CONSEQUENCE_ORDER.length - CONSEQUENCE_ORDER.indexOf(consequence)) + Math.min(15, 4 * ((use ?? 1) - 1));
  return rank + Math.max(0, ...findings.filter(({ verdict }) => verdict === 'over').map(gravity));
};

/** What a layout bears on: array, controllers, charging, and the cables and fuses that carry it. */
const LAYOUT_RULES = RULES.filter(({ bearsOn }) => bearsOn.some((what) => BEARS.has(what)));

function judged({ model: found, found: before, pool, bought }: Asked, base: Model, shares: Share[]): Ranked {
  const ways = [placed(shares, pool), ...(pool.some(({ light }) => light < 1) ? [placed(shares, pool, true)] : [])];
  const [way = [], arrival = NOTHING] = ways
    .map((one): [PlacedShare[], Arrival] => [one, arrivalOf(base, one)])
    .reduce((best, next) => (next[1].watts > best[1].watts * 1.001 ? next : best));
  const strung = [...(bought?.changes ?? []), ...changesFor(base, way)];
  const plain = withChanges(found, strung);
  const { fuses, changes: fused } = fusesFor(plain, unprotected(check(plain, STRING_RULES)));
  const changes = [...strung, ...fused];
  const after = fused.length > 0 ? withChanges(found, changes) : plain;
  const findings = check(after, LAYOUT_RULES);
  const caused = causedBy(before, findings, VERDICT_RULES);
  const notable = findings
    .filter(({ verdict }) => verdict === 'over' || verdict === 'tight' || verdict === 'unknown')
    .sort(worstFirst);
  const worst = notable.find(({ rule }) => VERDICT_RULES.has(rule));
  const inUse = way.flatMap(({ strings: each }) => each.flat());
  const alone = inUse.reduce((sum, { type }) => sum + aloneOf(base, type), 0);
  const several = new Set(pool.map(({ type }) => type)).size > 1;
  const lost = alone > 0 ? 100 * (1 - arrival.atModules_W / alone) : 0;
  return {
    caused,
    layout: {
      controllers: shares.flatMap(({ controllerId, block }) =>
        [...new Set(block.lengths)].map((series) => ({
          controllerId,
          series,
          parallel: block.lengths.filter((length) => length === series).length,
          ...(several ? { type: block.type ?? 'mixed' } : {}),
        })),
      ),
      unused: pool.length - inUse.length,
      verdict: caused.overs.length > 0 ? 'over' : (worst?.verdict ?? 'holds'),
      why: [
        whyOf(
          after,
          caused,
          notable.filter(({ rule }) => VERDICT_RULES.has(rule)),
        ),
        ...fuses.map(({ count, rating_A }) => `With a ${rating_A} A fuse in each of ${count} strings.`),
        ...(lost > 1 ? [`Shade and mismatch take ${Math.round(lost)} %.`] : []),
        ...lyingText(after, pool, inUse),
      ].join(' '),
      changes,
      findings: notable,
      overs: caused.overs,
      onVolts: caused.onVolts,
      fuses,
      watts: arrival.watts,
      shadeLoss_pct: Math.max(0, lost),
      amps: Math.max(...way.map((share) => amps_A(base, share))),
      cost: bought ? bought.cost : 0,
    },
  };
}
const NOTHING: Arrival = { watts: 0, atModules_W: 0 };

/** What a module gives by itself in full light, W: asked for every module of every layout, worked out once a plate. */
const byItself = kept<string, number>(200);
const aloneOf = (model: Model, type: string): number =>
  byItself(
    JSON.stringify(modulesOf(model.system, [type])),
    () => arrivalOf(model, [{ controllerId: '', strings: [[{ type, light: 1 }]] }]).atModules_W,
  );

/** Arrays whose strings could be fed more than their modules stand. */
const unprotected = (findings: readonly Finding[]) =>
  findings
    .filter(({ quantity, verdict }) => quantity === 'backfeed' && verdict === 'over')
    .map(({ subject }) => subject);

/** "1 left over.", or how many of which type. */
function lyingText({ system }: Model, pool: readonly Pooled[], inUse: readonly Pooled[]): string[] {
  if (pool.length === inUse.length) return [];
  const types = [...new Set(pool.map(({ type }) => type))];
  const count = (list: readonly Pooled[], type: string) => list.filter((one) => one.type === type).length;
  if (types.length === 1) return [`${pool.length - inUse.length} left over.`];
  return types.flatMap((type) => {
    const left = count(pool, type) - count(inUse, type);
    const label = partTitle(system, type) ?? type;
    return left > 0 ? [`${left} of ${label} left over.`] : [];
  });
}

const amps_A = ({ system }: Model, { strings: each }: PlacedShare) =>
  each.reduce(
    (sum, string) =>
      sum +
      stringImp_A(
        modulesOf(
          system,
          string.map(({ type }) => type),
        ),
      ),
    0,
  );

/** "2 in series, 3 strings on Brackwell T60-150" */
export function layoutTitle(model: Model, { controllers, changes }: Pick<Layout, 'controllers' | 'changes'>): string {
  const added = changes.find(({ op, at }) => op === 'add' && at === 'controllers')?.value as Controller | undefined;
  const several =
    (model.system.controllers ?? []).length + (added ? 1 : 0) > 1 || changes.some(({ at }) => at === 'controllers');
  const grown = changes.find(({ op, at }) => op === 'set' && at === 'controllers');
  const grown_A = (grown?.value as Partial<Controller> | undefined)?.maxOutput_A;
  const nameOf = (id: string) =>
    id === grown?.id && grown_A
      ? `a larger ${partTitle(model.system, id) ?? id}, ${grown_A} A`
      : id === ADDED_ID
        ? `one more ${added?.label ?? 'controller'}`
        : (partTitle(model.system, id) ?? id);
  return [...new Set(controllers.map(({ controllerId }) => controllerId))]
    .map((id) => {
      const shares = controllers.filter(({ controllerId }) => controllerId === id);
      const [{ type } = {}] = shares;
      const label = type && (partTitle(model.system, type) ?? type);
      const which = type === 'mixed' ? ', mixed as they are' : label ? ` of ${label}` : '';
      const shape = shares.map(({ series, parallel }) => shapeText(series, parallel)).join(' beside ');
      return `${shape}${which}${several ? ` on ${nameOf(id)}` : ''}`;
    })
    .join('; ');
}
