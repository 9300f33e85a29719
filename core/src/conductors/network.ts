import { chargesElsewhere, oncePer } from '../system/model';
import type { Run, System } from '../system/schema';

/**
 * How the direct-current runs hang together, seen from the bank. A run leads from its source end to its own end: the
 * device of its kind, whichever way its ends were written. The way leads on through distributions and through the posts
 * of a device (a controller wired to the inverter's), never through a converter, whose two sides are two systems. Runs of
 * kind pv and ac, and links between batteries, are no part of it.
 */
export interface Network {
  /** Runs from the bank to a part that it reaches (the bank itself: none), nearest the bank first; null: not reached. */
  feedersTo(partId: string): Run[] | null;
  /** Upstream feeders of a run, nearest the bank first; null where the bank does not feed it. */
  feedersOf(run: Run): Run[] | null;
  /** The converter that feeds a run which the bank does not, and the runs between the two; null: none does. */
  converterOf(run: Run): { id: string; out_V: number; way: Run[] } | null;
  /** Volts of that converter. */
  converterVolts(run: Run): number | null;
  /** Of a run of a converter or a charger: the bank's side is a converter's input and a charger's output. */
  side(run: Run): 'input' | 'output' | null;
  /** The device of its kind; of two loads or boards the one further from the bank. Null: none is named. */
  ownEnd(run: Run): string | null;
  /** The other end: the bank, a distribution, or a device on whose posts the run is tapped. Null: none is named. */
  sourceEnd(run: Run): string | null;
  /** Runs tapped from a part's posts. */
  tappedFrom(partId: string): readonly Run[];
  /** Fed from the posts of a device: neither from the bank nor from a distribution nor from a converter's output. */
  isTapped(run: Run): boolean;
  /** A link that joins the bank to a distribution is a run like any other; one between batteries is not. */
  isBatteryLink(run: Run): boolean;
}

/** The network of a system; kept with it, since nearly every rule of a cable asks. */
export const networkOf = oncePer(makeNetwork);

interface Reached {
  way: Run[];
  volts: number | null;
  converter: string | null;
}

/** The runs of the network, and what each of their ends is. */
interface Wires {
  bankId: string | undefined;
  boxes: ReadonlySet<string>;
  converters: ReadonlySet<string>;
  runs: readonly Run[];
  isBatteryLink(run: Run): boolean;
  /** Ends that may be a run's own, by run. */
  own: ReadonlyMap<Run, readonly string[]>;
  /** Runs that end at a part. */
  at: ReadonlyMap<string, readonly Run[]>;
}

/** Ends that are named. */
const ends = (run: Run): string[] => [run.from, run.to].flatMap((end) => (end ? [end] : []));

function wiresOf(system: System): Wires {
  const idsOf = (parts: readonly { id: string }[] | null | undefined) => new Set((parts ?? []).map(({ id }) => id));
  const boxes = idsOf(system.distribution);
  const converters = idsOf(system.converters);
  const loads = idsOf(system.loads);
  const ownChargers = idsOf(system.chargers);
  const devices: Partial<Record<Run['kind'], Set<string>>> = {
    'controller-battery': idsOf(system.controllers),
    'battery-inverter': idsOf(system.inverters),
    charger: new Set([...ownChargers, ...idsOf(system.inverters)]),
    converter: converters,
  };
  const bankId = system.bank?.id;
  const isBatteryLink = (run: Run) => run.kind === 'link' && !boxes.has(run.from ?? '') && !boxes.has(run.to ?? '');
  const runs = (system.runs ?? []).filter((run) => run.kind !== 'pv' && run.kind !== 'ac' && !isBatteryLink(run));
  const ownEnds = (run: Run): string[] => {
    const both = ends(run);
    const named = devices[run.kind];
    if (named) {
      const mine = both.filter((end) => named.has(end));
      // A charger's run between a charger and an inverter's posts is the charger's.
      const plain = run.kind === 'charger' ? mine.filter((end) => ownChargers.has(end)) : mine;
      return plain.length > 0 ? plain : mine;
    }
    const fed = both.filter((end) => loads.has(end));
    // Between a board and a device that is no load, the one further from the bank is fed by the other.
    return fed.length > 0
      ? fed
      : both.filter((end) => end !== bankId).sort((a, b) => Number(boxes.has(a)) - Number(boxes.has(b)));
  };
  const at = new Map<string, Run[]>();
  for (const run of runs) for (const end of ends(run)) at.set(end, [...(at.get(end) ?? []), run]);
  return { bankId, boxes, converters, runs, isBatteryLink, own: new Map(runs.map((run) => [run, ownEnds(run)])), at };
}

/** Everything that is reached from a part, by the fewest runs; `output`: from a converter, on the side that it feeds. */
function spread(wires: Wires, start: string, reached: Map<string, Reached>, from: Reached, output: boolean): void {
  reached.set(start, from);
  const pending = [start];
  for (let here = pending.shift(); here !== undefined; here = pending.shift()) {
    const before = reached.get(here);
    for (const run of wires.at.get(here) ?? []) {
      const other = run.from === here ? run.to : run.from;
      if (!before || !other || reached.has(other) || other === wires.bankId) continue;
      const own = wires.own.get(run) ?? [];
      // The way never leads in at a run's own end and out at its source; but for the output of a converter.
      const outOfConverter = output && here === start && run.kind === 'converter';
      if (own.length > 0 && !own.includes(other) && !outOfConverter) continue;
      if (own.includes(here) && own.length === 1 && !outOfConverter) continue;
      reached.set(other, { ...before, way: [...before.way, run] });
      if (!wires.converters.has(other)) pending.push(other);
    }
  }
}

/** What the bank feeds, and what only a converter reaches and therefore feeds. */
function reachedBy(system: System, wires: Wires) {
  const fed = new Map<string, Reached>();
  if (wires.bankId !== undefined) spread(wires, wires.bankId, fed, { way: [], volts: null, converter: null }, false);
  const converted = new Map<string, Reached>();
  for (const { id, out_V } of system.converters ?? []) {
    const mine = new Map(fed);
    spread(wires, id, mine, { way: [], volts: out_V, converter: id }, true);
    for (const [part, way] of mine) if (!fed.has(part) || part === id) converted.set(part, way);
  }
  return { fed, converted };
}

/** A run's own end and the other: of two that may be its own, the one further from the bank. */
function splitsOf(wires: Wires, depth: (id: string) => number) {
  const split = (run: Run): { own: string | null; source: string | null } => {
    const [first, second] = wires.own.get(run) ?? [];
    if (first === undefined) {
      const [near, far] = ends(run).sort((a, b) => depth(a) - depth(b));
      return { own: far ?? null, source: near ?? null };
    }
    if (second === undefined) return { own: first, source: ends(run).find((end) => end !== first) ?? null };
    return depth(second) >= depth(first) ? { own: second, source: first } : { own: first, source: second };
  };
  const splits = new Map(wires.runs.map((run) => [run.id, split(run)]));
  return (run: Run) => splits.get(run.id) ?? { own: null, source: null };
}

function makeNetwork(system: System): Network {
  const wires = wiresOf(system);
  const { bankId, boxes, converters } = wires;
  const { fed, converted } = reachedBy(system, wires);
  const partsOf = splitsOf(
    wires,
    (id) => fed.get(id)?.way.length ?? (converted.has(id) ? 1e6 + (converted.get(id)?.way.length ?? 0) : Infinity),
  );
  const feedersOf = (run: Run): Run[] | null => {
    const { source } = partsOf(run);
    // A converter's own output run starts at the converter, which the bank reaches at its input: not the bank's.
    if (source === null || converters.has(source)) return null;
    const way = fed.get(source)?.way;
    return way && !way.some(({ id }) => id === run.id) ? way : null;
  };
  const converterOf = (run: Run) => {
    if (feedersOf(run)) return null;
    for (const end of ends(run)) {
      const found = converted.get(end);
      if (found?.converter && found.volts !== null && !found.way.some(({ id }) => id === run.id))
        return { id: found.converter, out_V: found.volts, way: found.way };
    }
    return null;
  };
  const tapped = new Map<string, Run[]>();
  for (const run of wires.runs) {
    const { source } = partsOf(run);
    if (source !== null && source !== bankId && !boxes.has(source))
      tapped.set(source, [...(tapped.get(source) ?? []), run]);
  }
  return {
    feedersTo: (partId) => fed.get(partId)?.way ?? null,
    feedersOf,
    converterOf,
    converterVolts: (run) => converterOf(run)?.out_V ?? null,
    side(run) {
      if (run.kind === 'converter') return feedersOf(run) ? 'input' : 'output';
      if (run.kind === 'charger') {
        const charger = atEnd(system.chargers, run);
        // What charges another battery draws on this one; on the mains it has but the one cable.
        if (charger && chargesElsewhere(system, charger))
          return charger.kind !== 'mains' && feedersOf(run) ? 'input' : 'output';
        return feedersOf(run) ? 'output' : 'input';
      }
      return null;
    },
    ownEnd: (run) => partsOf(run).own,
    sourceEnd: (run) => partsOf(run).source,
    tappedFrom: (partId) => tapped.get(partId) ?? [],
    isTapped: (run) => {
      const { source } = partsOf(run);
      return (
        source !== null && source !== bankId && !boxes.has(source) && !converters.has(source) && feedersOf(run) !== null
      );
    },
    isBatteryLink: wires.isBatteryLink,
  };
}

/** The part of a list at either end of a run. */
export function atEnd<P extends { id: string }>(parts: readonly P[] | null | undefined, run: Run): P | undefined {
  return (parts ?? []).find(({ id }) => id === run.from || id === run.to);
}

/** True where a run ends at a part. */
export const touches = (run: Run, id: string | undefined) => id !== undefined && (run.from === id || run.to === id);

/** A run that should have a fuse of its own; strings of modules, the mains and links between blocks are judged by other rules. */
export const bearsFuse = ({ kind }: Pick<Run, 'kind'>) => kind !== 'pv' && kind !== 'link' && kind !== 'ac';
