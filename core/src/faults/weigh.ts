import { elementAt } from '../numeric/element';
import { kept } from '../numeric/kept';
import { samePosition } from '../readings/row';
import type { Read } from './asked';
import { CAUSES, causeOf } from './causes';
import type { Candidate, Complaint } from './causes/cause';
import { logDensity, type Field } from './field';
import { gainSigma, gridOf, SOC_FULL, type Grid } from './grid';
import type { Engine } from './engine';
import { createPredictor, maskOf, type Predictor } from './predict';
import { both, type State } from './state';

/** Every cause weighed against all readings together (docs/faults.md). */

/** A cause at one place, or two at once, with its chance. */
export interface Weighed {
  candidate: Candidate;
  /** The second of two at once. */
  and?: Candidate;
  probability: number;
  /** The same before it is calibrated: what can hurt is looked for in this. */
  plain: number;
  /** What it was before anything was read. */
  before: number;
  /** The likeliest of its sizes; null where it has none. */
  size: number | null;
  state: State;
}
/** All causes weighed, the likeliest first, with what they were weighed in. */
export interface Weighing {
  ranked: Weighed[];
  reads: readonly Read[];
  unused: Read[];
  grid: Grid;
  predictor: Predictor;
  /** How likely each cell of the grid is under a cause. */
  cellsOf(weighed: Weighed): Float64Array;
}

/** A complaint that fits makes a cause so many times as likely. */
const COMPLAINT = 3;
/** So many of the likeliest are tried two by two. */
const PAIRED = 6;

interface Scored {
  candidate: Candidate;
  /** Natural logarithms: of its weight before, of its evidence over all sizes, of that of its best size. */
  prior: number;
  evidence: number;
  best: number;
  size: number | null;
  state: State;
}

/**
 * @param engine of the system as found
 * @param soc charge that somebody counted; null: nobody did
 */
export function weigh(
  engine: Engine,
  given: readonly Read[],
  { complaint, soc = null }: { complaint?: Complaint | undefined; soc?: number | null } = {},
): Weighing {
  const { model } = engine;
  const coarsest = Math.max(0.01, ...given.map(({ at }) => gainSigma(at.irradianceBy)));
  const grid = gridOf(
    given.reduce((mask, read) => mask | maskOf(model, read), 0),
    coarsest,
  );
  const predictor = createPredictor(engine, grid);
  const base = given.map((read) => predictor.field(read, {}));
  const reads = given.filter((_, i) => base[i]);
  const unused = given.filter((_, i) => !base[i]);
  const plain = createPlain(
    grid,
    reads,
    base.filter((field): field is Field => field !== null),
    soc,
  );
  const candidates = candidatesOf(engine, reads);
  const scored = candidates.map((candidate) => scoreOf(plain, predictor, candidate, complaint, candidates));
  const singles = scored.map((one): [Scored, Scored | null, number] => [one, null, one.prior + one.evidence]);
  const all = [...singles, ...pairsOf(plain, predictor, scored)];
  const before = scored.reduce((total, { prior }) => total + Math.exp(prior), 0);
  const top = Math.max(...all.map(([, , log]) => log));
  const sum = all.reduce((total, [, , log]) => total + Math.exp(log - top), 0);
  const weighed = all.map(([one, other, log]): Weighed => ({
    candidate: one.candidate,
    ...(other ? { and: other.candidate } : {}),
    probability: Math.exp(log - top) / sum,
    plain: Math.exp(log - top) / sum,
    before: (Math.exp(one.prior) / before) * (other ? Math.exp(other.prior) / before : 1),
    size: one.size,
    state: other ? both(one.state, other.state) : one.state,
  }));
  const ranked = (reads.length > 0 ? calibrated(weighed) : weighed).sort(
    (a, b) => b.probability - a.probability || nameOf(a).localeCompare(nameOf(b)),
  );
  return {
    ranked,
    reads,
    unused,
    grid,
    predictor,
    cellsOf: (weighed) => plain.cells(predictor, weighed.state, [weighed.candidate, weighed.and]),
  };
}

/**
 * Chances as often right as they say. Weighed as the book has it they are too modest: of what is said with 45 %, two thirds
 * are so (docs/faults.md), since a technician reads what bears on the fault, and its bands are wider than a good meter
 * errs. Raised to a power, cause by cause at its part, whatever its places are; with nothing read they are left.
 */
function calibrated(weighed: readonly Weighed[]): Weighed[] {
  const keyOf = ({ candidate: { code, subject } }: Weighed) => `${code} ${subject}`;
  const sums = new Map<string, number>();
  for (const one of weighed) sums.set(keyOf(one), (sums.get(keyOf(one)) ?? 0) + one.probability);
  const whole = [...sums.values()].reduce((sum, chance) => sum + chance ** SHARPER, 0);
  return weighed.map((one) => {
    const chance = sums.get(keyOf(one)) ?? 0;
    return chance > 0 ? { ...one, probability: (one.probability / chance) * (chance ** SHARPER / whole) } : one;
  });
}
/** Two sets of cases apart from each other say so: Brier's score .138 at 1.35 and .126 at 1.6 over 300, .119 and .113 over 260 (docs/faults.md). */
const SHARPER = 1.6;

const nameOf = ({ candidate: { code, subject, position }, and }: Weighed) =>
  `${code} ${subject} ${JSON.stringify(position ?? null)} ${and ? `${and.code} ${and.subject}` : ''}`;

/** Where each cause may be in this system, with one misread a reading. */
function candidatesOf({ model, charging }: Engine, reads: readonly Read[]): Candidate[] {
  const at =
    reads.find(({ subject }) => model.system.controllers?.some(({ id }) => id === subject))?.at ?? reads[0]?.at;
  const now_A = (id: string) => (at ? charging.now_A(id, { at }) : null);
  return [
    ...CAUSES.flatMap((cause) => cause.candidates(model, now_A)),
    ...reads.map(({ id }): Candidate => ({
      code: 'misread',
      subject: id,
      sizes: [{ size: null, state: {} }],
      misread: id,
    })),
  ];
}

/** Readings under no fault, over the grid. */
interface Plain {
  /** Log evidence of a state, and of a reading taken for misread. */
  evidence(predictor: Predictor, state: State, candidates: readonly (Candidate | null | undefined)[]): number;
  cells(predictor: Predictor, state: State, candidates: readonly (Candidate | null | undefined)[]): Float64Array;
}

function createPlain(grid: Grid, reads: readonly Read[], base: readonly Field[], counted: number | null): Plain {
  const own = reads.map((read, r) => densities(elementAt(base, r), read.value));
  const sum = new Float64Array(grid.cells);
  own.forEach((log, r) => add(sum, log, grid.at(elementAt(base, r).mask)));
  const bySoc = kept<string, Float64Array>(Infinity);
  const weightsOf = (soc: Candidate['soc']): Float64Array =>
    bySoc(JSON.stringify(soc ?? null), () => socWeights(grid, soc, counted));
  const logs = (predictor: Predictor, state: State, candidates: readonly (Candidate | null | undefined)[]) => {
    const misread = new Set(candidates.flatMap((one) => (one?.misread ? [one.misread] : [])));
    let even = 0;
    let varied: Float64Array | null = null;
    reads.forEach((read, r) => {
      const field = predictor.field(read, state) ?? elementAt(base, r);
      const before = elementAt(base, r);
      const wrong = misread.has(read.id);
      if (field === before && !wrong) return;
      const log = wrong ? misreadDensities(field, read.value) : densities(field, read.value);
      const was = elementAt(own, r);
      if (field.mask === 0 && before.mask === 0) even += (log[0] ?? 0) - (was[0] ?? 0);
      else {
        varied ??= Float64Array.from(sum);
        const [to, from] = [grid.at(field.mask), grid.at(before.mask)];
        for (let k = 0; k < grid.cells; k++)
          varied[k] = (varied[k] ?? 0) + (log[to[k] ?? 0] ?? 0) - (was[from[k] ?? 0] ?? 0);
      }
    });
    return { even, varied: varied ?? sum };
  };
  const socOf = (candidates: readonly (Candidate | null | undefined)[]) => candidates.find((one) => one?.soc)?.soc;
  const plainEvidence = kept<string, number>(Infinity);
  const evidenceOf = (predictor: Predictor, state: State, candidates: readonly (Candidate | null | undefined)[]) => {
    const { even, varied } = logs(predictor, state, candidates);
    const soc = socOf(candidates);
    if (varied !== sum) return even + logSum(varied, weightsOf(soc));
    return even + plainEvidence(JSON.stringify(soc ?? null), () => logSum(sum, weightsOf(soc)));
  };
  // Modules of a kind in a string, and strings that nothing tells apart, are one state: weighed once.
  const once = kept<string, number>(Infinity);
  return {
    evidence: (predictor, state, candidates) =>
      once(JSON.stringify([state, socOf(candidates), candidates.flatMap((one) => one?.misread ?? [])]), () =>
        evidenceOf(predictor, state, candidates),
      ),
    cells(predictor, state, candidates) {
      const { varied } = logs(predictor, state, candidates);
      const weights = weightsOf(socOf(candidates));
      const top = varied.reduce((most, log, k) => ((weights[k] ?? 0) > 0 ? Math.max(most, log) : most), -Infinity);
      const cells = varied.map((log, k) => (weights[k] ?? 0) * Math.exp(log - top));
      const whole = cells.reduce((all, one) => all + one, 0);
      return cells.map((one) => one / whole);
    },
  };
}

/** Weight of each cell with the charge as a cause has it. */
function socWeights(grid: Grid, soc: Candidate['soc'], counted: number | null): Float64Array {
  const full = grid.soc.length > 2 ? SOC_FULL.length : 1;
  const open = grid.soc.length - full;
  const each = grid.soc.map((share, i) => {
    // Counted by a shunt it is near that; it may still be wrong.
    const near = counted === null ? 1 : 0.05 + Math.exp(-0.5 * ((share - counted) / 0.07) ** 2);
    if (soc === 'full') return i >= open ? near : 0;
    if (soc === undefined || grid.soc.length <= 2) return i < open ? near : 0;
    return share >= soc[0] - 1e-9 && share <= soc[1] + 1e-9 ? near : 0;
  });
  // Of a full bank the counted charge says little, of an open one it says where: each by itself sums to 1, but for the count.
  const most = counted === null ? each.reduce((sum, one) => sum + one, 0) : grid.soc.length / 3;
  return grid.weight.map((weight, k) => (weight * (each[grid.socOf[k] ?? 0] ?? 0)) / most);
}

const densities = (field: Field, value: number) => field.mu.map((_, index) => logDensity(field, index, value));

/** How a meter is misread: a decimal place, the sign, other terminals, or anything at all. */
function misreadDensities(field: Field, value: number): Float64Array {
  const ways: readonly [share: number, factor: number][] = [
    [0.25, 10],
    [0.25, 0.1],
    [0.2, -1],
  ];
  const range = 4 * Math.max(Math.abs(value), ...field.mu.map(Math.abs), 20 * Math.max(...field.sigma));
  return field.mu.map((mu, index) => {
    const sigma = field.sigma[index] ?? NaN;
    // A ratio has no sign, and its range is a few powers of ten.
    const anything = 0.3 / (field.scale === 'plain' ? range : 8);
    const known = ways.reduce((sum, [share, factor]) => {
      if (field.scale !== 'plain' && factor < 0) return sum;
      const one: Field = {
        ...field,
        mu: Float64Array.of(mu * factor),
        sigma: Float64Array.of(field.scale === 'plain' ? sigma * Math.abs(factor) : sigma),
      };
      return sum + share * Math.exp(logDensity(one, 0, value));
    }, anything);
    return Math.log(known);
  });
}

function add(sum: Float64Array, log: Float64Array, at: Int32Array): void {
  for (let k = 0; k < sum.length; k++) sum[k] = (sum[k] ?? 0) + (log[at[k] ?? 0] ?? 0);
}

/** Logarithm of a weighted sum of exponentials. */
function logSum(logs: Float64Array, weights: Float64Array): number {
  let top = -Infinity;
  for (let k = 0; k < logs.length; k++) if ((weights[k] ?? 0) > 0) top = Math.max(top, logs[k] ?? -Infinity);
  let sum = 0;
  for (let k = 0; k < logs.length; k++) {
    const weight = weights[k] ?? 0;
    if (weight > 0) sum += weight * Math.exp((logs[k] ?? -Infinity) - top);
  }
  return top + Math.log(sum);
}

function scoreOf(
  plain: Plain,
  predictor: Predictor,
  candidate: Candidate,
  complaint: Complaint | undefined,
  all: readonly Candidate[],
): Scored {
  const cause = causeOf(candidate.code);
  const places = all.filter(({ code }) => code === candidate.code).length;
  const fits = complaint !== undefined && cause.complaints.includes(complaint) ? COMPLAINT : 1;
  const prior = Math.log((cause.prior * fits) / places);
  let [best, which] = [-Infinity, 0];
  const each = candidate.sizes.map(({ state }, i) => {
    const log = plain.evidence(predictor, state, [candidate]);
    if (log > best) [best, which] = [log, i];
    return log;
  });
  const evidence = best + Math.log(each.reduce((sum, log) => sum + Math.exp(log - best), 0) / each.length);
  const chosen = candidate.sizes[which];
  return { candidate, prior, evidence, best, size: chosen?.size ?? null, state: chosen?.state ?? {} };
}

/** The likeliest two by two: as likely before as each by itself, times the other. */
function pairsOf(plain: Plain, predictor: Predictor, scored: readonly Scored[]): [Scored, Scored, number][] {
  const whole = Math.log(CAUSES.reduce((sum, { prior }) => sum + prior, 0));
  const likeliest = scored
    .filter(({ candidate: { code } }) => code !== 'nothing-wrong')
    .sort((a, b) => b.prior + b.evidence - a.prior - a.evidence)
    .slice(0, PAIRED);
  return likeliest.flatMap((one, i) =>
    likeliest.slice(i + 1).flatMap((other): [Scored, Scored, number][] => {
      if (samePlace(one.candidate, other.candidate)) return [];
      const log = plain.evidence(predictor, both(one.state, other.state), [one.candidate, other.candidate]);
      // What its sizes cost each of them by itself.
      const sizes = one.evidence - one.best + other.evidence - other.best;
      return [[one, other, one.prior + other.prior - whole + log + sizes]];
    }),
  );
}

const samePlace = (a: Candidate, b: Candidate) =>
  a.code === b.code && a.subject === b.subject && samePosition(a.position, b.position);
