import type { Run, System } from '../system/schema';

/**
 * How the direct-current runs hang together, seen from the bank. Runs of kind pv and link are no part of it; the way
 * leads on through distributions only, never through a device.
 */
export interface Network {
  /** Runs from the bank to a distribution (or the bank itself: none), nearest the bank first. */
  feedersTo(partId: string): Run[] | null;
  /** Upstream feeders of a run, nearest the bank first; null where neither end is fed by the bank. */
  feedersOf(run: Run): Run[] | null;
  /** True where the run's upstream end is a converter's output or a distribution that it feeds: its volts. */
  converterVolts(run: Run): number | null;
  side(run: Run): 'input' | 'output' | null;
}

const networks = new WeakMap<System, Network>();

/** The network of a system; kept with it, since nearly every rule of a cable asks. Systems are never changed in place. */
export function networkOf(system: System): Network {
  const known = networks.get(system);
  if (known) return known;
  const made = makeNetwork(system);
  networks.set(system, made);
  return made;
}

function makeNetwork(system: System): Network {
  const boxes = new Set((system.distribution ?? []).map(({ id }) => id));
  const runs = (system.runs ?? []).filter(({ kind }) => kind !== 'pv' && kind !== 'link');
  const spread = (start: string): Map<string, Run[]> => {
    const paths = new Map<string, Run[]>([[start, []]]);
    const pending = [start];
    for (let at = pending.shift(); at !== undefined; at = pending.shift())
      for (const run of runs) {
        const other = run.from === at ? run.to : run.to === at ? run.from : null;
        if (!other || !boxes.has(other) || paths.has(other)) continue;
        paths.set(other, [...(paths.get(at) ?? []), run]);
        pending.push(other);
      }
    return paths;
  };
  const bankId = system.bank?.id;
  const fed = bankId === undefined ? new Map<string, Run[]>() : spread(bankId);
  // Distributions that a converter feeds: not fed by the bank directly, reached from the converter.
  const converted = new Map<string, number>();
  for (const { id, out_V } of system.converters ?? []) {
    converted.set(id, out_V);
    for (const box of spread(id).keys()) if (box !== id && !fed.has(box)) converted.set(box, out_V);
  }
  const feedersOf = (run: Run): Run[] | null => {
    const ways = [run.from, run.to].flatMap((end) => {
      const way = end ? fed.get(end) : undefined;
      return way && !way.includes(run) ? [way] : [];
    });
    return ways.sort((a, b) => a.length - b.length)[0] ?? null;
  };
  return {
    feedersTo: (partId) => fed.get(partId) ?? null,
    feedersOf,
    converterVolts(run) {
      if (feedersOf(run)) return null;
      for (const end of [run.from, run.to]) {
        const volts = end ? converted.get(end) : undefined;
        if (volts !== undefined) return volts;
      }
      return null;
    },
    // A converter's or charger's run that the bank reaches is: input of a converter, output of a charger.
    side(run) {
      if (run.kind === 'converter') return feedersOf(run) ? 'input' : 'output';
      if (run.kind === 'charger') return feedersOf(run) ? 'output' : 'input';
      return null;
    },
  };
}

/** The part of a list at either end of a run. */
export function atEnd<P extends { id: string }>(parts: readonly P[] | null | undefined, run: Run): P | undefined {
  return (parts ?? []).find(({ id }) => id === run.from || id === run.to);
}

export const touches = (run: Run, id: string | undefined) => id !== undefined && (run.from === id || run.to === id);

/** A run that should have a fuse of its own; strings of modules and links between blocks are judged by other rules. */
export const bearsFuse = ({ kind }: Pick<Run, 'kind'>) => kind !== 'pv' && kind !== 'link';
