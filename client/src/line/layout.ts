import {
  bearsFuse,
  networkOf,
  eachPart,
  KIND_ORDER,
  KINDS,
  partTitle,
  same,
  worstFirst,
  type Finding,
  type PartKind,
  type PartOf,
  type Placed as PlacedPart,
  type System,
} from '@true-lantern/core';
import { METRIC, type Units } from '../data/units';
import { written } from '../kit/units';
import { strokeOf } from './facts';

/**
 * What a proposal does to a part: plain ink stays, the second ink is new or changed, gone is struck through. Off is what
 * does not run in the state that is looked at.
 */
export type Ink = 'plain' | 'new' | 'changed' | 'gone' | 'off';

interface Placed {
  y: number;
  height: number;
  /** Lanes are counted from the left of the gutter. */
  lane: number;
}
export interface Station extends Placed {
  type: 'station';
  id: string;
  title: string;
  fact: string;
  /** The fact before a proposal changed it. */
  was: string | null;
  ink: Ink;
  /** The finding that matters most; null where nothing has been judged. */
  worst: Finding | null;
  over: number;
}
export interface Cable extends Placed {
  type: 'cable';
  id: string;
  fact: string;
  was: string | null;
  label: string;
  ink: Ink;
  stroke: number;
  /** Null: none is asked for here. '?': one belongs here and was not seen. */
  fuse: string | null;
  worst: Finding | null;
}
/** What opens a cable, where it sits on it. */
export interface Lever extends Placed {
  type: 'lever';
  id: string;
  title: string;
  fact: string;
  ink: Ink;
  stroke: number;
  worst: Finding | null;
}
export interface Gap extends Placed {
  type: 'gap';
  id: string;
  text: string;
}
export interface Load extends Placed {
  type: 'load';
  id: string;
  title: string;
  fact: string;
  ink: Ink;
  worst: Finding | null;
}
export interface Bus extends Placed {
  type: 'bus';
  text: string;
}
export interface Sun extends Placed {
  type: 'sun';
  text: string;
}
export type LineRow = Station | Cable | Lever | Gap | Load | Bus | Sun;

/** A stretch of conductor that passes rows without stopping: from one height to another on a lane. */
export interface Stretch {
  lane: number;
  from: number;
  to: number;
  stroke: number;
  ink: Ink;
}
export interface LineLayout {
  rows: LineRow[];
  stretches: Stretch[];
  lanes: number;
  height: number;
}

export const HEIGHT = {
  sun: 56,
  station: 58,
  judged: 90,
  was: 21,
  cable: 48,
  lever: 48,
  gap: 48,
  load: 48,
  bus: 40,
} as const;
const THIN = 3;
const SWITCH_WORDS: Record<PartOf<'switches'>['kind'], string> = {
  isolator: 'Isolator',
  breaker: 'Breaker',
  'load-disconnect': 'Load disconnect',
  'ground-fault': 'Ground-fault device',
  plug: 'Plug',
  transfer: 'Transfer switch',
};

type Unplaced = LineRow extends infer R ? (R extends Placed ? Omit<R, keyof Placed> : never) : never;
type Branch = Unplaced[];

/**
 * The system as rows from the sun down to the loads. Branches that join at the bus run in lanes of their own. Pure:
 * the same system gives the same drawing on a phone, on paper and in a test.
 */
export function layoutLine(
  system: System,
  findings: readonly Finding[],
  siteFact: string,
  base?: System,
  units: Units = METRIC,
  off: ReadonlySet<string> = new Set(),
): LineLayout {
  const parts = new Describer(system, findings, base, units, off);
  const above = branchesAbove(system, parts);
  parts.downwards = true;
  const below = branchesBelow(system, parts);
  const lanes = Math.max(1, above.length, below.length);
  const rows: LineRow[] = [];
  const stretches: Stretch[] = [];
  let y = 0;
  const place = (row: Unplaced, lane: number) => {
    const height = row.type === 'station' ? stationHeight(row) : HEIGHT[row.type];
    rows.push({ ...row, y, height, lane });
    y += height;
  };
  place({ type: 'sun', text: siteFact }, 0);
  const starts = above.map((branch, lane) => {
    const start = y;
    branch.forEach((row) => place(row, lane));
    return { start, end: y, stroke: lastStroke(branch), ink: lastInk(branch) };
  });
  const busTop = y;
  place({ type: 'bus', text: system.nominal_V ? `${system.nominal_V} V bus` : 'bus: volts?' }, 0);
  const busMiddle = busTop + HEIGHT.bus / 2;
  starts.forEach(({ end, stroke, ink }, lane) => stretches.push({ lane, from: end, to: busMiddle, stroke, ink }));

  // The branch that is listed last reaches down past the others: it takes the lane furthest left.
  below.forEach((branch, i) => {
    const lane = below.length - 1 - i;
    stretches.push({ lane, from: busMiddle, to: y, stroke: firstStroke(branch), ink: firstInk(branch) });
    branch.forEach((row) => place(row, lane));
  });
  for (const row of parts.gone()) place(row, 0);
  return { rows, stretches, lanes, height: y };
}

/** A station with a verdict takes a third line: word, figures and wick. */
export const isJudged = ({ worst }: Pick<Station, 'worst'>) => worst !== null;

/** What a proposal changed stands struck through on a line of its own. */
const stationHeight = (row: Pick<Station, 'worst' | 'was'>) =>
  (isJudged(row) ? HEIGHT.judged : HEIGHT.station) + (row.was ? HEIGHT.was : 0);

const strokeAt = (row: Unplaced | undefined) => (row && 'stroke' in row ? row.stroke : THIN);
const firstStroke = (branch: Branch) => strokeAt(branch[0]);
const lastStroke = (branch: Branch) => strokeAt(branch.at(-1));
const inkOf = (row: Unplaced | undefined): Ink => (row && 'ink' in row ? row.ink : 'plain');
const firstInk = (branch: Branch) => inkOf(branch[0]);
const lastInk = (branch: Branch) => inkOf(branch.at(-1));

/** Everything that brings energy, kind by kind from the sun down, each on a branch of its own. */
function branchesAbove(system: System, parts: Describer): Branch[] {
  const arrays = eachPart(system).filter((placed) => placed.kind === 'arrays');
  const branches = KIND_ORDER.flatMap((kind) => {
    const role = KINDS[kind].line;
    if (role.at !== 'source') return [];
    return placedOf(system, kind).map((placed): Branch => [
      ...arrays
        .filter(({ part }) => part.controllerId === placed.part.id)
        .flatMap((array) => [
          parts.station(array),
          ...parts.runsOf(array.part.id, (run) => run.kind === 'pv', 'cable from the array: size?'),
        ]),
      parts.station(placed),
      ...parts.runsOf(placed.part.id, (run) => run.kind === role.run, role.gap),
    ]);
  });
  const fed = new Set((system.controllers ?? []).map(({ id }) => id));
  const loose = arrays
    .filter(({ part: { controllerId } }) => !controllerId || !fed.has(controllerId))
    .map((array): Branch => [
      parts.station(array),
      { type: 'gap', id: `${array.part.id}.controllerId`, text: 'which controller?' },
    ]);
  return [...branches, ...loose];
}

const placedOf = (system: System, kind: PartKind) => eachPart(system).filter((placed) => placed.kind === kind);

/** The bank, what draws, the boards, and what is left. */
function branchesBelow(system: System, parts: Describer): Branch[] {
  const loads = system.loads ?? [];
  const branches: Branch[] = [bankBranch(system, parts)];
  for (const kind of KIND_ORDER) {
    const role = KINDS[kind].line;
    if (role.at !== 'draws') continue;
    placedOf(system, kind).forEach((placed, i) =>
      branches.push([
        ...parts.runsOf(placed.part.id, (run) => run.kind === role.run, role.gap),
        parts.station(placed),
        ...loads
          .filter((load) => load.kind === 'ac' && (load.inverterId ? load.inverterId === placed.part.id : i === 0))
          .map((load) => parts.load(load)),
      ]),
    );
  }
  for (const placed of eachPart(system))
    if (placed.kind === 'distribution') branches.push(boardBranch(system, placed, parts));
  const rest = (system.runs ?? []).filter(({ id }) => !parts.drawn.has(id));
  const direct: Branch = rest.flatMap((run) => [...parts.cable(run), ...parts.loadAt(loads, run)]);
  const loose = loads.filter(({ id }) => !parts.drawn.has(id)).map((load) => parts.load(load));
  if (direct.length + loose.length > 0) branches.push([...direct, ...loose]);
  return branches;
}

function bankBranch(system: System, parts: Describer): Branch {
  const [placed] = placedOf(system, 'bank');
  if (!placed) return [{ type: 'gap', id: 'bank', text: 'bank: not recorded' }];
  const { id } = placed.part;
  const boxes = new Set((system.distribution ?? []).map((box) => box.id));
  const joins = (run: Run, at: string | null | undefined, other: string | null | undefined) =>
    at === id && boxes.has(other ?? '') && run.kind !== 'link' && feedsSources(system, other);
  const toBox = (system.runs ?? []).filter((run) => joins(run, run.from, run.to) || joins(run, run.to, run.from));
  return [...toBox.flatMap((run) => parts.cable(run)), parts.station(placed)];
}

function boardBranch(system: System, placed: Extract<PlacedPart, { kind: 'distribution' }>, parts: Describer): Branch {
  const { id: boxId, circuits: own } = placed.part;
  const undrawn = (system.runs ?? []).filter(({ id }) => !parts.drawn.has(id));
  const circuits = undrawn.filter(({ id, kind }) => own?.includes(id) && kind !== 'link');
  const feeds = undrawn.filter(({ id, from, to }) => (from === boxId || to === boxId) && !own?.includes(id));
  return [
    ...feeds.flatMap((run) => parts.cable(run)),
    parts.station(placed),
    ...circuits.flatMap((run) => [...parts.cable(run), ...parts.loadAt(system.loads ?? [], run)]),
  ];
}

/** A distribution that sources or inverters join is the bus itself; one that only feeds loads hangs below it. */
const feedsSources = (system: System, boxId: string | null | undefined) =>
  (system.runs ?? []).some(
    ({ kind, from, to }) =>
      (kind === 'controller-battery' || kind === 'battery-inverter' || kind === 'charger') &&
      (from === boxId || to === boxId),
  );

type Run = PartOf<'runs'>;
type LoadPart = PartOf<'loads'>;

/** Turns parts into rows, remembering what has been drawn and how it differs from the system as found. */
class Describer {
  readonly drawn = new Set<string>();
  private readonly before: Map<string, PlacedPart> | null;
  private readonly now: Map<string, PlacedPart>;
  /** Below the bus a cable's near end is drawn first; above it, last. */
  downwards = false;

  constructor(
    private readonly system: System,
    private readonly findings: readonly Finding[],
    private readonly base: System | undefined,
    private readonly units: Units,
    private readonly off: ReadonlySet<string>,
  ) {
    const byId = (system: System) => new Map(eachPart(system).map((placed) => [placed.part.id, placed]));
    this.before = base ? byId(base) : null;
    this.now = byId(system);
  }

  station(placed: PlacedPart): Omit<Station, keyof Placed> {
    const { kind, part } = placed;
    const about = this.about(part.id);
    const fact = this.fact(part.id, factOf(placed, this.system, this.units));
    return {
      type: 'station',
      id: part.id,
      title: partTitle(this.system, part.id) ?? KINDS[kind].word,
      fact,
      was: this.factBefore(part.id, fact),
      ink: this.ink(part.id),
      worst: about[0] ?? null,
      over: about.filter(({ verdict }) => verdict === 'over').length,
    };
  }

  /** A cable with what opens it, each at the end where it sits. */
  cable(run: Run): Branch {
    const device = networkOf(this.system).ownEnd(run);
    const farther = (part: PartOf<'switches'>) =>
      part.end !== undefined && part.end !== null && run[part.end] === device;
    const levers = (this.system.switches ?? []).filter(({ runId }) => runId === run.id);
    const near = levers.filter((part) => !farther(part)).map((part) => this.lever(part, run));
    const far = levers.filter(farther).map((part) => this.lever(part, run));
    const cable = this.cableAlone(run);
    return this.downwards ? [...near, cable, ...far] : [...far, cable, ...near];
  }

  private lever(part: PartOf<'switches'>, run: Run): Omit<Lever, keyof Placed> {
    this.drawn.add(part.id);
    const fact = KINDS.switches.fact(part, this.system, written(this.units));
    return {
      type: 'lever',
      id: part.id,
      title: partTitle(this.system, part.id) ?? SWITCH_WORDS[part.kind],
      // Unnamed it is called what it is: that need not be said twice.
      fact: this.fact(part.id, part.label ? fact : fact.split(' \u00b7 ').slice(1).join(' \u00b7 ')),
      ink: this.ink(part.id),
      stroke: strokeOf(run.size, run.perPole ?? 1),
      worst: this.about(part.id)[0] ?? null,
    };
  }

  private cableAlone(run: Run): Omit<Cable, keyof Placed> {
    const fact = KINDS.runs.fact(run, this.system, written(this.units));
    const { protection } = run;
    const type = protection?.type;
    const fuse =
      type === 'none' ? null : protection?.rating_A ? String(protection.rating_A) : type || bearsFuse(run) ? '?' : null;
    this.drawn.add(run.id);
    return {
      type: 'cable',
      id: run.id,
      fact,
      was: this.factBefore(run.id, fact),
      label: run.label ?? '',
      ink: this.ink(run.id),
      stroke: strokeOf(run.size, run.perPole ?? 1),
      fuse,
      worst: this.about(run.id)[0] ?? null,
    };
  }

  load(load: LoadPart): Omit<Load, keyof Placed> {
    this.drawn.add(load.id);
    return {
      type: 'load',
      id: load.id,
      title: load.label,
      fact: this.fact(load.id, KINDS.loads.fact(load, this.system, written(this.units))),
      ink: this.ink(load.id),
      worst: this.about(load.id)[0] ?? null,
    };
  }

  loadAt(loads: LoadPart[], { from, to }: Run) {
    return loads.filter(({ id }) => (id === to || id === from) && !this.drawn.has(id)).map((load) => this.load(load));
  }

  /** The runs of one kind at a part, or a gap where there should be one. */
  runsOf(id: string, wanted: (run: Run) => boolean, gap: string): Branch {
    const runs = (this.system.runs ?? []).filter(
      (run) => wanted(run) && (run.from === id || run.to === id) && !this.drawn.has(run.id),
    );
    return runs.length > 0 ? runs.flatMap((run) => this.cable(run)) : [{ type: 'gap', id: `${id}.run`, text: gap }];
  }

  /** Parts that a proposal takes out. */
  gone(): Branch {
    if (!this.base) return [];
    // Modules are told by the arrays that they are in.
    return eachPart(this.base)
      .filter(({ part, kind }) => !this.now.has(part.id) && kind !== 'moduleTypes')
      .map(({ kind, part }) => ({
        type: 'station',
        id: part.id,
        title: (this.base && partTitle(this.base, part.id)) ?? KINDS[kind].word,
        fact: 'taken out',
        was: null,
        ink: 'gone',
        worst: null,
        over: 0,
      }));
  }

  private about(id: string) {
    return this.findings.filter(({ subject, verdict }) => subject === id && verdict !== 'note').sort(worstFirst);
  }

  private fact(id: string, text: string): string {
    return this.off.has(id) ? `off \u00b7 ${text}` : text;
  }

  private ink(id: string): Ink {
    if (this.off.has(id)) return 'off';
    if (!this.before) return 'plain';
    const old = this.before.get(id);
    if (!old) return 'new';
    return same(old.part, this.now.get(id)?.part) ? 'plain' : 'changed';
  }

  private factBefore(id: string, fact: string): string | null {
    const old = this.before?.get(id);
    if (!old || !this.base) return null;
    const text = factOf(old, this.base, this.units);
    return text !== fact ? text : null;
  }
}

/** A part's figures in a line, as its kind has them. */
const factOf = (placed: PlacedPart, system: System, units: Units): string =>
  // The fact of a kind takes a part of that kind; the compiler cannot pair the two through an index.
  (KINDS[placed.kind].fact as (part: PlacedPart['part'], among: System, write: ReturnType<typeof written>) => string)(
    placed.part,
    system,
    written(units),
  );
