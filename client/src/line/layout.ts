import { eachPart, same, type Finding, type System, worstFirst } from '@true-lantern/core';
import { METRIC, type Units } from '../data/units';
import {
  arrayFact,
  bankFact,
  boxFact,
  chargerFact,
  controllerFact,
  inverterFact,
  loadFact,
  runFact,
  strokeOf,
} from './facts';

/** What a proposal does to a part: plain ink stays, the second ink is new or changed, gone is struck through. */
export type Ink = 'plain' | 'new' | 'changed' | 'gone';

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
export type LineRow = Station | Cable | Gap | Load | Bus | Sun;

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

export const HEIGHT = { sun: 56, station: 58, judged: 90, was: 21, cable: 48, gap: 48, load: 48, bus: 40 } as const;
const THIN = 3;

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
): LineLayout {
  const parts = new Describer(system, findings, base, units);
  const above = branchesAbove(system, parts);
  const below = branchesBelow(system, parts);
  const lanes = Math.max(1, above.length, below.length);
  const rows: LineRow[] = [];
  const stretches: Stretch[] = [];
  let y = 0;
  const place = (row: Unplaced, lane: number) => {
    const height = row.type === 'station' ? stationHeight(row) : HEIGHT[row.type];
    rows.push({ ...row, y, height, lane } as LineRow);
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

const cables = (branch: Branch) => branch.filter((row): row is Omit<Cable, keyof Placed> => row.type === 'cable');
const firstStroke = (branch: Branch) => (branch[0]?.type === 'cable' ? branch[0].stroke : THIN);
const lastStroke = (branch: Branch) =>
  branch.at(-1)?.type === 'cable' ? (cables(branch).at(-1)?.stroke ?? THIN) : THIN;
const inkOf = (row: Unplaced | undefined): Ink => (row && 'ink' in row ? row.ink : 'plain');
const firstInk = (branch: Branch) => inkOf(branch[0]);
const lastInk = (branch: Branch) => inkOf(branch.at(-1));

function branchesAbove(system: System, parts: Describer): Branch[] {
  const arrays = system.arrays ?? [];
  const fed = new Set((system.controllers ?? []).map(({ id }) => id));
  const branches: Branch[] = (system.controllers ?? []).map((controller) => [
    ...arrays
      .filter(({ controllerId }) => controllerId === controller.id)
      .flatMap((array) => [
        parts.station(array.id, array.label ?? 'Array', arrayFact(system, array)),
        ...parts.runsOf(array.id, (run) => run.kind === 'pv', 'cable from the array: size?'),
      ]),
    parts.station(controller.id, controller.label ?? 'Controller', controllerFact(controller)),
    ...parts.runsOf(controller.id, (run) => run.kind === 'controller-battery', 'cable to the bank: size?'),
  ]);
  for (const array of arrays.filter(({ controllerId }) => !controllerId || !fed.has(controllerId)))
    branches.push([
      parts.station(array.id, array.label ?? 'Array', arrayFact(system, array)),
      { type: 'gap', id: `${array.id}.controllerId`, text: 'which controller?' },
    ]);
  for (const charger of system.chargers ?? [])
    branches.push([
      parts.station(charger.id, charger.label ?? 'Charger', chargerFact(charger)),
      ...parts.runsOf(charger.id, (run) => run.kind === 'charger', 'cable to the bank: size?'),
    ]);
  return branches;
}

function branchesBelow(system: System, parts: Describer): Branch[] {
  const branches: Branch[] = [];
  const { bank } = system;
  const boxes = system.distribution ?? [];
  if (bank) {
    const toBox = (system.runs ?? []).filter(
      ({ from, to, kind }) =>
        kind !== 'link' &&
        ((from === bank.id && boxes.some(({ id }) => id === to) && feedsSources(system, to)) ||
          (to === bank.id && boxes.some(({ id }) => id === from) && feedsSources(system, from))),
    );
    branches.push([
      ...toBox.map((run) => parts.cable(run)),
      parts.station(bank.id, bank.label ?? 'Bank', bankFact(bank)),
    ]);
  } else branches.push([{ type: 'gap', id: 'bank', text: 'bank: not recorded' }]);

  const loads = system.loads ?? [];
  for (const [i, inverter] of (system.inverters ?? []).entries())
    branches.push([
      ...parts.runsOf(inverter.id, (run) => run.kind === 'battery-inverter', 'cable to the inverter: size?'),
      parts.station(inverter.id, inverter.label ?? 'Inverter', inverterFact(inverter)),
      ...loads
        .filter(({ kind, inverterId }) => kind === 'ac' && (inverterId ? inverterId === inverter.id : i === 0))
        .map((load) => parts.load(load)),
    ]);

  const drawn = parts.drawn;
  for (const box of boxes) {
    const circuits = (system.runs ?? []).filter(
      ({ id, kind }) => box.circuits?.includes(id) && kind !== 'link' && !drawn.has(id),
    );
    const feeds = (system.runs ?? []).filter(
      ({ id, from, to }) => (from === box.id || to === box.id) && !box.circuits?.includes(id) && !drawn.has(id),
    );
    branches.push([
      ...feeds.map((run) => parts.cable(run)),
      parts.station(box.id, box.label ?? 'Distribution', boxFact(box)),
      ...circuits.flatMap((run) => [parts.cable(run), ...parts.loadAt(loads, run)]),
    ]);
  }
  const rest = (system.runs ?? []).filter(({ id }) => !drawn.has(id));
  const direct: Branch = rest.flatMap((run) => [parts.cable(run), ...parts.loadAt(loads, run)]);
  const loose = loads.filter(({ id }) => !drawn.has(id)).map((load) => parts.load(load));
  if (direct.length + loose.length > 0) branches.push([...direct, ...loose]);
  return branches;
}

/** A distribution that sources or inverters join is the bus itself; one that only feeds loads hangs below it. */
const feedsSources = (system: System, boxId: string | null | undefined) =>
  (system.runs ?? []).some(
    ({ kind, from, to }) =>
      (kind === 'controller-battery' || kind === 'battery-inverter' || kind === 'charger') &&
      (from === boxId || to === boxId),
  );

type Run = NonNullable<System['runs']>[number];
type LoadPart = NonNullable<System['loads']>[number];

/** Turns parts into rows, remembering what has been drawn and how it differs from the system as found. */
class Describer {
  readonly drawn = new Set<string>();
  private readonly before: Map<string, object> | null;

  constructor(
    private readonly system: System,
    private readonly findings: readonly Finding[],
    private readonly base: System | undefined,
    private readonly units: Units,
  ) {
    this.before = base ? new Map(eachPart(base).map(({ part }) => [part.id, part])) : null;
  }

  station(id: string, title: string, fact: string): Omit<Station, keyof Placed> {
    const about = this.about(id);
    return {
      type: 'station',
      id,
      title,
      fact,
      was: this.factBefore(id, fact),
      ink: this.ink(id),
      worst: about[0] ?? null,
      over: about.filter(({ verdict }) => verdict === 'over').length,
    };
  }

  cable(run: Run): Omit<Cable, keyof Placed> {
    const fact = runFact(run, this.units);
    const { protection } = run;
    const type = protection?.type;
    const onSource = run.kind !== 'pv' && run.kind !== 'link';
    const fuse =
      type === 'none' ? null : protection?.rating_A ? String(protection.rating_A) : type || onSource ? '?' : null;
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
      fact: loadFact(load),
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
    return runs.length > 0 ? runs.map((run) => this.cable(run)) : [{ type: 'gap', id: `${id}.run`, text: gap }];
  }

  /** Parts that a proposal takes out. */
  gone(): Branch {
    if (!this.base) return [];
    const now = new Set(eachPart(this.system).map(({ part }) => part.id));
    return eachPart(this.base)
      .filter(({ part, kind }) => !now.has(part.id) && kind !== 'moduleTypes' && kind !== 'sources')
      .map(({ part }) => ({
        type: 'station',
        id: part.id,
        title: part.label ?? part.id,
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

  private ink(id: string): Ink {
    if (!this.before) return 'plain';
    const old = this.before.get(id);
    if (!old) return 'new';
    const now = eachPart(this.system).find(({ part }) => part.id === id)?.part;
    return same(old, now) ? 'plain' : 'changed';
  }

  private factBefore(id: string, fact: string): string | null {
    const old = this.before?.get(id);
    if (!old || !this.base) return null;
    const placed = eachPart(this.base).find(({ part }) => part.id === id);
    const text =
      placed?.kind === 'arrays'
        ? arrayFact(this.base, old as never)
        : placed?.kind === 'controllers'
          ? controllerFact(old as never)
          : placed?.kind === 'bank'
            ? bankFact(old as never)
            : placed?.kind === 'inverters'
              ? inverterFact(old as never)
              : placed?.kind === 'chargers'
                ? chargerFact(old as never)
                : placed?.kind === 'runs'
                  ? runFact(old as never, this.units)
                  : null;
    return text !== null && text !== fact ? text : null;
  }
}
