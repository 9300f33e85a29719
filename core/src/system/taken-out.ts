import type { ListName } from '../parts/kinds';
import type { Change, System } from './schema';

/** The changes that take a part out with the cables at it; a board lets go of their circuits first. */
export function takenOut({ runs, distribution }: System, at: ListName, id: string): Change[] {
  const its = (runs ?? []).filter(({ from, to }) => from === id || to === id);
  const circuits = new Set(its.map((run) => run.id));
  return [
    ...(distribution ?? [])
      .filter((box) => box.circuits?.some((circuit) => circuits.has(circuit)))
      .map((box): Change => ({
        op: 'set',
        at: 'distribution',
        id: box.id,
        value: { circuits: box.circuits?.filter((circuit) => !circuits.has(circuit)) },
      })),
    ...its.map((run): Change => ({ op: 'remove', at: 'runs', id: run.id })),
    { op: 'remove', at, id },
  ];
}
