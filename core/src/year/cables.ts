import type { Ledger } from '../ledger/ledger';
import { modulesOf, stringImp_A } from '../pv/strings';
import { runBothWays_ohm } from '../rules/wires/run-limits';
import type { Controller, PvArray, Run, System } from '../system/schema';

/** What the cables on either side of a controller lose over the year. */

/**
 * The resistance by which the square of the array's whole current is lost in its pv runs. A run carries its strings' share
 * of Imp; behind a combiner all its strings as if lit alike, each array bearing its part.
 */
export function pvCable_ohm(io: Ledger, array: PvArray, imp_A: readonly number[]): number {
  const { system } = io.model;
  const own = imp_A.reduce((sum, amps) => sum + amps, 0);
  if (own <= 0) return 0;
  const pv = (system.runs ?? []).filter(({ kind }) => kind === 'pv');
  const ends = ({ from, to }: Run) => [from, to];
  const mine = pv.filter((run) => ends(run).includes(array.id));
  const carried = (run: Run) =>
    (run.strings?.length ? run.strings : imp_A.map((_, s) => s)).reduce((sum, s) => sum + (imp_A[s] ?? 0), 0);
  let ohm = 0;
  for (const run of mine) ohm += runBothWays_ohm(io, run, WARM_C, true) * (carried(run) / own) ** 2;
  const boards = new Set((system.distribution ?? []).map(({ id }) => id));
  for (const board of new Set(mine.flatMap(ends).filter((end) => end && boards.has(end)))) {
    // What arrives at the board, of this array and of all.
    const here = mine.filter((run) => ends(run).includes(board)).reduce((sum, run) => sum + carried(run), 0);
    const all = pv.filter((run) => ends(run).includes(board)).reduce((sum, run) => sum + impInto(system, run), 0);
    const onward = pv.filter(
      (run) => ends(run).includes(board) && !(system.arrays ?? []).some(({ id }) => ends(run).includes(id)),
    );
    for (const run of onward)
      ohm += (runBothWays_ohm(io, run, WARM_C, true) * all * here) / own ** 2 / onward.length ** 2;
  }
  return ohm;
}

const WARM_C = 50;

/** Imp of the strings that a run brings from its array, A; a run between board and controller brings none of its own. */
function impInto(system: System, { from, to, strings }: Run): number {
  const array = (system.arrays ?? []).find(({ id }) => id === from || id === to);
  return (array?.strings ?? [])
    .filter((_, s) => !strings?.length || strings.includes(s))
    .reduce((sum, string) => sum + stringImp_A(modulesOf(system, string)), 0);
}

/** Both ways of a controller's first run to the bank, ohm; not recorded, it loses nothing. */
export function outputCable_ohm(io: Ledger, { runs }: System, { id }: Controller): number {
  const run = (runs ?? []).find(({ kind, from, to }) => kind === 'controller-battery' && (from === id || to === id));
  return run ? runBothWays_ohm(io, run, WARM_C, true) : 0;
}
