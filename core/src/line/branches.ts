import { networkOf } from '../conductors/network';
import { KIND_ORDER, KINDS, type PartKind } from '../parts/kinds';
import { eachPart, type PartOf } from '../system/parts';
import type { System } from '../system/schema';
import type { Describer } from './describe';
import type { Branch, Row } from './rows';

type Run = PartOf<'runs'>;

const placedOf = (system: System, kind: PartKind) => eachPart(system).filter((placed) => placed.kind === kind);

/** Everything that brings energy, kind by kind from the sun down, each on a branch of its own. */
export function branchesAbove(parts: Describer): Branch[] {
  const { system } = parts;
  const arrays = placedOf(system, 'arrays').flatMap((placed) => (placed.kind === 'arrays' ? [placed] : []));
  const branches = KIND_ORDER.flatMap((kind) => {
    const role = KINDS[kind].line;
    if (role.at !== 'source') return [];
    return placedOf(system, kind).map((placed): Branch => {
      const { id } = placed.part;
      const rows: Row[] = [
        ...arrays
          .filter(({ part }) => part.controllerId === id)
          .flatMap((array) => [
            parts.station(array),
            ...parts.runsOf(array.part.id, (run) => run.kind === 'pv', 'cable from the array: size?'),
          ]),
        ...combinersOf(parts, id),
        ...inputOf(parts, placed),
        parts.station(placed),
        ...parts.runsOf(id, (run) => run.kind === role.run && !isInput(system, run), role.gap),
      ];
      return { id, name: nameOf(rows, id), rows };
    });
  });
  const fed = new Set((system.controllers ?? []).map(({ id }) => id));
  const loose = arrays
    .filter(({ part: { controllerId } }) => !controllerId || !fed.has(controllerId))
    .map((array): Branch => {
      const rows: Row[] = [
        parts.station(array),
        { type: 'gap', id: `${array.part.id}.controllerId`, text: 'no controller chosen' },
      ];
      return { id: array.part.id, name: nameOf(rows, array.part.id), rows };
    });
  return [...branches, ...loose];
}

/** The runs of the side of a DC-DC charger that the bank does not reach: its input. */
const isInput = (system: System, run: Run) => run.kind === 'charger' && networkOf(system).side(run) === 'input';

/** Boards whose circuits come from arrays stand between these and the controller. */
function combinersOf(parts: Describer, controllerId: string): Row[] {
  const { system } = parts;
  const pv = (system.runs ?? []).filter(({ kind }) => kind === 'pv');
  return placedOf(system, 'distribution').flatMap((placed): Row[] => {
    const { id } = placed.part;
    const onward = pv.filter(({ from, to }) => [from, to].includes(id) && [from, to].includes(controllerId));
    return onward.length > 0 && !parts.drawn.has(id)
      ? [parts.station(placed), ...onward.filter((run) => !parts.drawn.has(run.id)).flatMap((run) => parts.cable(run))]
      : [];
  });
}

/** What a charger is fed from: its source or the battery at its other side, with the cable between. */
function inputOf(parts: Describer, placed: ReturnType<typeof placedOf>[number]): Row[] {
  if (placed.kind !== 'chargers') return [];
  const { system } = parts;
  const { id, sourceId } = placed.part;
  const input = parts.runsAt(id, (run) => isInput(system, run) || run.kind === 'ac');
  const ends = new Set([sourceId, ...input.flatMap(({ from, to }) => [from, to])]);
  const from = eachPart(system).filter(
    ({ kind, part }) => (kind === 'sources' || kind === 'otherBanks') && ends.has(part.id) && !parts.drawn.has(part.id),
  );
  return [...from.map((each) => parts.station(each)), ...input.flatMap((run) => parts.cable(run))];
}

/** The bank with its lead, hung between what charges and what draws. */
export function bankBranch(parts: Describer): Branch {
  const { system } = parts;
  const [placed] = placedOf(system, 'bank');
  if (!placed) return { id: 'bank', name: 'Bank', rows: [{ type: 'gap', id: 'bank', text: 'bank: not recorded' }] };
  const { id } = placed.part;
  const boxes = new Set((system.distribution ?? []).map((box) => box.id));
  const joins = (run: Run, at: string | null | undefined, other: string | null | undefined) =>
    at === id && boxes.has(other ?? '') && run.kind !== 'link' && feedsSources(system, other);
  const toBox = (system.runs ?? []).filter((run) => joins(run, run.from, run.to) || joins(run, run.to, run.from));
  const rows: Row[] = [...toBox.flatMap((run) => parts.cable(run)), parts.station(placed)];
  return { id, name: nameOf(rows, id), rows };
}

/** What draws, the boards, and what is left. */
export function branchesBelow(parts: Describer): Branch[] {
  const { system } = parts;
  const loads = system.loads ?? [];
  const branches: Branch[] = [];
  for (const kind of KIND_ORDER) {
    const role = KINDS[kind].line;
    if (role.at !== 'draws') continue;
    placedOf(system, kind).forEach((placed, i) => {
      const { id } = placed.part;
      const rows: Row[] = [
        ...parts.runsOf(id, (run) => run.kind === role.run, role.gap),
        parts.station(placed),
        ...loads
          .filter((load) => load.kind === 'ac' && (load.inverterId ? load.inverterId === id : i === 0))
          .map((load) => parts.load(load)),
      ];
      branches.push({ id, name: nameOf(rows, id), rows });
    });
  }
  for (const placed of placedOf(system, 'distribution'))
    if (placed.kind === 'distribution' && !parts.drawn.has(placed.part.id)) branches.push(boardBranch(parts, placed));
  const rest = (system.runs ?? []).filter(({ id }) => !parts.drawn.has(id));
  const direct: Row[] = rest.flatMap((run) => [...parts.cable(run), ...parts.loadAt(loads, run)]);
  const loose = loads.filter(({ id }) => !parts.drawn.has(id)).map((load) => parts.load(load));
  if (direct.length + loose.length > 0)
    branches.push({ id: 'rest', name: 'Other cables and loads', rows: [...direct, ...loose] });
  return branches;
}

function boardBranch(
  parts: Describer,
  placed: Extract<ReturnType<typeof placedOf>[number], { kind: 'distribution' }>,
): Branch {
  const { system } = parts;
  const { id, circuits: own } = placed.part;
  const undrawn = (system.runs ?? []).filter((run) => !parts.drawn.has(run.id));
  const circuits = undrawn.filter((run) => own?.includes(run.id) && run.kind !== 'link');
  const feeds = undrawn.filter((run) => (run.from === id || run.to === id) && !own?.includes(run.id));
  const rows: Row[] = [
    ...feeds.flatMap((run) => parts.cable(run)),
    parts.station(placed),
    ...circuits.flatMap((run) => [...parts.cable(run), ...parts.loadAt(system.loads ?? [], run)]),
  ];
  return { id, name: nameOf(rows, id), rows };
}

/** A distribution that sources or inverters join is the bus itself; one that only feeds loads hangs below it. */
const feedsSources = (system: System, boxId: string | null | undefined) =>
  (system.runs ?? []).some(
    ({ kind, from, to }) =>
      (kind === 'controller-battery' || kind === 'battery-inverter' || kind === 'charger') &&
      (from === boxId || to === boxId),
  );

const nameOf = (rows: readonly Row[], id: string): string => {
  const head = rows.find((row) => row.type === 'station' && row.id === id);
  return head && 'title' in head ? head.title : id;
};
