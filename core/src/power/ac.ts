import { mainsSources } from '../system/model';
import type { Load, Run, Source, System } from '../system/schema';

/** A generator gives so much of its rating for hours (engine, section 5). */
export const GENERATOR_SHARE = 0.8;

/** The mains side: runs of kind `ac`, written from source to load. */

const acRuns = ({ runs }: System) => (runs ?? []).filter(({ kind }) => kind === 'ac');

/** Ids of the parts from which the `ac` runs that lead to a part start; empty where none leads there. */
export function acRootsOf(system: System, id: string): string[] {
  const roots = new Set<string>();
  const seen = new Set([id]);
  const pending = [id];
  for (let at = pending.pop(); at !== undefined; at = pending.pop()) {
    const into = acRuns(system).filter(({ to }) => to === at);
    if (into.length === 0 && at !== id) roots.add(at);
    for (const { from } of into)
      if (from && !seen.has(from)) {
        seen.add(from);
        // An inverter is a source of its own, whatever feeds its input.
        if ((system.inverters ?? []).some((inverter) => inverter.id === from)) roots.add(from);
        else pending.push(from);
      }
  }
  return [...roots];
}

/** The inlets and generators that alone feed a load; null where an inverter has part in it, or nothing is recorded. */
export function onlySourcesOf(system: System, load: Load): Source[] | null {
  if (load.inverterId) return null;
  const roots = acRootsOf(system, load.id);
  const sources = mainsSources(system).filter(({ id }) => roots.includes(id));
  return roots.length > 0 && sources.length === roots.length ? sources : null;
}

/** Ids of everything that a run leads to, boards passed through. */
export function behind(system: System, run: Run): string[] {
  const boxes = new Set((system.distribution ?? []).map(({ id }) => id));
  const reached = new Set<string>();
  const pending = run.to ? [run.to] : [];
  for (let at = pending.pop(); at !== undefined; at = pending.pop()) {
    if (reached.has(at)) continue;
    reached.add(at);
    if (boxes.has(at)) pending.push(...acRuns(system).flatMap(({ from, to }) => (from === at && to ? [to] : [])));
  }
  return [...reached];
}
