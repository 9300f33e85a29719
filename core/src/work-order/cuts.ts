import type { Run, System } from '../system/schema';
import type { PartWork } from './difference';

/** One cable to be cut: every conductor of it alike. */
export interface Cut {
  run: string;
  size: string;
  material: 'copper' | 'aluminium' | 'cca';
  /** Plus and minus; on the mains line and neutral. */
  poles: number;
  perPole: number;
  oneWay_m: number;
  /** Of each conductor. */
  cut_m: number;
  lugs: number;
  insulation_C: number | null;
  colourNote: string;
  /** Pieces of heat-shrink, one a lug. */
  sleeve: number;
}
/** What is fetched for all cuts of one cable. */
export interface Coil {
  size: string;
  material: Cut['material'];
  total_m: number;
  coil_m: number;
  count: number;
  offcut_m: number;
}

/** A tenth to spare, up to the next tenth of a metre (docs/work-orders-and-readings.md); products carry noise in their last bits. */
const SPARE = 1.1;
const EDGE = 1e-6;
const POLES = 2;
/** What is cut for a way, m: with the spare, in whole tenths. */
export const cutOf_m = (oneWay_m: number) => Math.ceil(oneWay_m * SPARE * 10 - EDGE) / 10;

/** Conductors of a run: so many a pole, there and back. */
export const conductorsOf = ({ perPole }: Pick<Run, 'perPole'>) => POLES * (perPole ?? 1);

/** The pieces of cable that an order wants cut. */
export function cutsOf(works: readonly PartWork[], after: System): Cut[] {
  const runs = works.flatMap(({ cut, is }) => (cut && is?.kind === 'runs' ? [is.part] : []));
  return runs.map((run) => {
    // Leads that share a current are cut alike, whatever their way: the longest of them counts.
    const alike = runs.filter((other) => side(other) !== null && side(other) === side(run) && other.kind === run.kind);
    const longest = alongside(run, after)
      ? Math.max(run.length_m, ...alike.map(({ length_m }) => length_m))
      : run.length_m;
    const conductors = conductorsOf(run);
    return {
      run: run.id,
      size: run.size,
      material: run.material ?? 'copper',
      poles: POLES,
      perPole: run.perPole ?? 1,
      oneWay_m: run.length_m,
      cut_m: cutOf_m(longest),
      lugs: 2 * conductors,
      insulation_C: run.insulation_C ?? null,
      colourNote: colour(run),
      sleeve: 2 * conductors,
    };
  });
}

/** Both ends, in one order: two leads between the same posts. */
const side = ({ from, to }: Run) => (from && to ? [from, to].sort().join(' ') : null);
/** A battery lead: from the bank, or between batteries. */
const alongside = ({ kind, from, to }: Run, { bank }: System) =>
  kind !== 'pv' && kind !== 'ac' && (kind === 'link' || from === bank?.id || to === bank?.id);

function colour({ kind, perPole }: Run): string {
  if (kind === 'ac') return 'by the local code; a licensed person';
  const several = (perPole ?? 1) > 1 ? `; ${perPole} a pole, all ${2 * (perPole ?? 1)} of equal length` : '';
  return `${kind === 'pv' ? 'solar cable, double insulated, positive and negative marked at both ends' : 'positive red, negative black, marked at both ends'}${several}`;
}

const COILS_M = [10, 25, 50, 100] as const;
const LARGEST_M = 100;
const tenths = (metres: number) => Math.round(metres * 10) / 10;

/** The smallest coil that serves, a size; of more than the largest holds as many as it takes without joining two. */
export function coilsOf(cuts: readonly Cut[]): Coil[] {
  const groups = new Map<string, Cut[]>();
  for (const cut of cuts) {
    const key = `${cut.size} ${cut.material}`;
    groups.set(key, [...(groups.get(key) ?? []), cut]);
  }
  return [...groups.values()].flatMap((group): Coil[] => {
    const [first] = group;
    if (!first) return [];
    const pieces = group.flatMap(({ cut_m, poles, perPole }) => Array.from({ length: poles * perPole }, () => cut_m));
    const total_m = tenths(pieces.reduce((sum, piece) => sum + piece, 0));
    const coil_m = COILS_M.find((metres) => metres >= total_m - EDGE) ?? LARGEST_M;
    const count = coilsNeeded(pieces, coil_m);
    const { size, material } = first;
    return [{ size, material, total_m, coil_m, count, offcut_m: tenths(Math.max(0, count * coil_m - total_m)) }];
  });
}

/** First fit, longest first: a conductor is of one piece, unless it is longer than any coil is sold. */
function coilsNeeded(pieces: readonly number[], coil_m: number): number {
  const left: number[] = [];
  let drums = 0;
  for (const piece of [...pieces].sort((a, b) => b - a)) {
    if (piece > coil_m) {
      drums += Math.ceil(piece / coil_m - EDGE);
      continue;
    }
    const at = left.findIndex((rest) => rest >= piece - EDGE);
    if (at < 0) left.push(coil_m - piece);
    else left[at] = (left[at] ?? 0) - piece;
  }
  return left.length + drums;
}
