import { freeId } from './free-id';
import { inOrder, rewiredOnRoofs } from './on-roofs';
import type { Change, PvArray, System } from './schema';
import { takenOut } from './taken-out';

/**
 * An array with other strings: its cables follow them, and the shade that was noted stays with its modules, read off
 * string by string, and so does their place on a roof; a module that comes stands in the light.
 */
export function rewired(system: System, array: PvArray, strings: string[][]): Change[] {
  const light = array.shade?.flatMap((shares, s) => (array.strings[s] ?? []).map((_, m) => shares?.[m] ?? 1));
  const shade = light && { shade: strings.map((string) => string.map(() => light.shift() ?? 1)) };
  return [
    ...stringRuns(system, array, strings.length),
    { op: 'set', at: 'arrays', id: array.id, value: { strings, ...shade } },
    ...rewiredOnRoofs(system, inOrder(array, strings)),
  ];
}

/**
 * The cables of single strings follow their strings: one of a string that goes is taken out, and a string that comes
 * gets a cable and a way in the combiner like its neighbour's. A cable that named no string would be taken to carry the
 * whole array, and the combiner would count every string once for each of them.
 */
export function stringRuns(system: System, array: PvArray, count: number): Change[] {
  const own = (system.runs ?? []).filter(
    (run) => run.kind === 'pv' && run.strings && (run.from === array.id || run.to === array.id),
  );
  const last = own.filter(({ strings }) => strings?.some((index) => index < count)).at(-1);
  if (!last) return own.flatMap(({ id }) => takenOut(system, 'runs', id));
  const more = Array.from({ length: Math.max(0, count - array.strings.length) }, (_, i) => array.strings.length + i);
  const onItsOwn = last.strings?.length === 1;
  const kept = own.flatMap((run): Change[] => {
    const before = run.strings ?? [];
    const strings = [...before.filter((index) => index < count), ...(run.id === last.id && !onItsOwn ? more : [])];
    if (strings.length === 0) return takenOut(system, 'runs', run.id);
    return strings.join() === before.join() ? [] : [{ op: 'set', at: 'runs', id: run.id, value: { strings } }];
  });
  if (!onItsOwn || more.length === 0) return kept;
  const added = more.map((index) => ({ id: freeId({ system }, `${last.id}-string-${index + 1}`), index }));
  const box = system.distribution?.find(({ circuits }) => circuits?.includes(last.id));
  const ways: Change[] = box
    ? [
        {
          op: 'set',
          at: 'distribution',
          id: box.id,
          value: { circuits: [...(box.circuits ?? []), ...added.map(({ id }) => id)] },
        },
      ]
    : [];
  const label = (index: number) => `String ${index + 1}${array.label ? ` of ${array.label}` : ''}`;
  return [
    ...kept,
    ...added.map(({ id, index }): Change => ({
      op: 'add',
      at: 'runs',
      value: { ...structuredClone(last), id, label: label(index), strings: [index], notes: null },
    })),
    ...ways,
  ];
}
