import type { Run, System } from '../system/schema';
import { networkOf } from './network';

/** A cable that must be there, since what it joins is, and that nobody has recorded yet. */
export interface WantedCable {
  kind: Run['kind'];
  from: string;
  to: string;
}

/**
 * Cables that the parts of a system imply and that are not recorded, from the sun down: array to controller, controller,
 * chargers and inverters to the bank (or to the board that is its bus), converters, boards, loads. Which ends they join is
 * inferred from what is there: an inference to be confirmed by who stands before it, never recorded by itself.
 */
export function cablesWanted(system: System): WantedCable[] {
  const runs = system.runs ?? [];
  const network = networkOf(system);
  const has = (id: string, kinds: readonly Run['kind'][]) =>
    runs.some(({ kind, from, to }) => kinds.includes(kind) && (from === id || to === id));
  const hub = busOf(system);
  const wanted: WantedCable[] = [];
  for (const { id, controllerId } of system.arrays ?? [])
    if (controllerId && !has(id, ['pv'])) wanted.push({ kind: 'pv', from: id, to: controllerId });
  if (hub === null) return wanted;
  for (const { id } of system.controllers ?? [])
    if (!has(id, ['controller-battery'])) wanted.push({ kind: 'controller-battery', from: id, to: hub });
  for (const { id, kind, sourceId } of system.chargers ?? []) {
    const side = (which: 'input' | 'output') =>
      runs.some((run) => run.kind === 'charger' && [run.from, run.to].includes(id) && network.side(run) === which);
    const starter = sourceId ?? system.otherBanks?.find(({ role }) => role === 'starter')?.id ?? alternatorOf(system);
    if (kind === 'dc-dc' && starter && !side('input')) wanted.push({ kind: 'charger', from: starter, to: id });
    if (!side('output')) wanted.push({ kind: 'charger', from: id, to: hub });
  }
  for (const { id } of system.inverters ?? [])
    if (!has(id, ['battery-inverter'])) wanted.push({ kind: 'battery-inverter', from: hub, to: id });
  for (const { id } of system.converters ?? [])
    if (!has(id, ['converter'])) wanted.push({ kind: 'converter', from: hub, to: id });
  for (const { id, circuits } of system.distribution ?? []) {
    const combiner = runs.some(({ id: run, kind }) => kind === 'pv' && circuits?.includes(run));
    if (id !== hub && !combiner && !has(id, ['dc-load', 'link'])) wanted.push({ kind: 'dc-load', from: hub, to: id });
  }
  const boards = (system.distribution ?? []).filter(({ id }) => id !== hub);
  for (const { id, kind, converterId, controllerId } of system.loads ?? [])
    if (kind === 'dc' && !converterId && !controllerId && !has(id, ['dc-load', 'link']))
      wanted.push({ kind: 'dc-load', from: boards.length === 1 && boards[0] ? boards[0].id : hub, to: id });
  return wanted;
}

const alternatorOf = ({ sources }: System) => sources?.find(({ kind }) => kind === 'alternator')?.id ?? null;

/** Where everything joins: the board that sources and the bank share, else the bank itself. Null: neither is there. */
function busOf({ bank, distribution, runs }: System): string | null {
  const ends = (id: string) => (runs ?? []).filter(({ from, to }) => from === id || to === id);
  const bus = (distribution ?? []).find(
    ({ id }) =>
      ends(id).some(({ from, to }) => from === bank?.id || to === bank?.id) &&
      ends(id).some(({ kind }) => kind === 'controller-battery' || kind === 'battery-inverter' || kind === 'charger'),
  );
  return bus?.id ?? bank?.id ?? null;
}
