import type { ListName } from '../parts/kinds';
import { rewiredOnRoofs } from './on-roofs';
import type { Change, System } from './schema';

/** The changes that take a part out with the cables at it and what opens those; boards and states let go of them first. */
export function takenOut(system: System, at: ListName, id: string): Change[] {
  const { runs, distribution, switches, states } = system;
  const its = (runs ?? []).filter(({ from, to }) => from === id || to === id);
  const circuits = new Set(its.map((run) => run.id));
  const onThem = (switches ?? []).filter(({ runId }) => circuits.has(runId) || (at === 'runs' && runId === id));
  const gone = new Set([id, ...circuits, ...onThem.map((one) => one.id)]);
  return [
    ...(distribution ?? [])
      .filter((box) => box.circuits?.some((circuit) => circuits.has(circuit)))
      .map((box): Change => ({
        op: 'set',
        at: 'distribution',
        id: box.id,
        value: { circuits: box.circuits?.filter((circuit) => !circuits.has(circuit)) },
      })),
    ...(states ?? [])
      .filter(({ off }) => off?.some((named) => gone.has(named)))
      .map((state): Change => ({
        op: 'set',
        at: 'states',
        id: state.id,
        value: { off: state.off?.filter((named) => !gone.has(named)) },
      })),
    ...onThem.map((one): Change => ({ op: 'remove', at: 'switches', id: one.id })),
    ...its.map((run): Change => ({ op: 'remove', at: 'runs', id: run.id })),
    ...(at === 'arrays' ? rewiredOnRoofs(system, (wired) => (wired.arrayId === id ? null : wired)) : []),
    { op: 'remove', at, id },
  ];
}
