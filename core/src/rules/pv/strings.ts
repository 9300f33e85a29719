import { touches } from '../../conductors/network';
import { ratingsSold, SOLD_V } from '../../conductors/fuses';
import { coldString_V, modulesOf, stringIsc_A, stringVmp_V } from '../../pv/strings';
import { restrung } from '../../pv/restring';
import { arraysOf, type Model } from '../../system/model';
import type { ModuleType, PvArray, Run, System } from '../../system/schema';
import { aFigure, apart, figure, round } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import { governing, rule, type Cure, type Ratio } from '../rule';
import { inEachString, isFuse, PV_FUSE_CARRIES, pvStringFuse_A } from '../wires/string-own';
import { arrayCases } from './pv';
import { raised } from '../../parts/said';

const spread_pct = (values: number[]) => {
  const largest = Math.max(...values);
  return largest > 0 ? (100 * (largest - Math.min(...values))) / largest : 0;
};
const matchRatio = (demand: number): Ratio => ({ demand, limit: 10, unit: '%', sense: 'max', tightAbove: 0.5 });

const seriesMatch = rule<PvArray>({
  id: 'pv.series-match',
  title: 'Module match in series',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) => arrayCases(model).filter(({ about }) => about.strings.some(({ length }) => length > 1)),
  evaluate(io, array) {
    const demand = Math.max(
      ...array.strings.map((string) => spread_pct(modulesOf(io.model.system, string).map(({ imp_A }) => imp_A))),
    );
    io.work(`spread of Imp within a string: ${figure(demand)} % of the largest`);
    return { ratio: matchRatio(demand) };
  },
  sentence: ({ demand }) =>
    `Modules in one string differ by ${round(demand ?? NaN)} % in current; the weakest limits the string.`,
  needs: 'Needs matched modules in a string: each type in its own strings, or on its own controller.',
});

/** A string where it hangs: its array, its place in it, its modules. */
interface Strung {
  array: PvArray;
  index: number;
  modules: ModuleType[];
}

const stringsOf = (system: System, array: PvArray): Strung[] =>
  array.strings.map((ids, index) => ({ array, index, modules: modulesOf(system, ids) }));

/** All strings that share an input with an array's, whatever array they were recorded in. */
const onSameInput = ({ system }: Pick<Model, 'system'>, array: PvArray): Strung[] =>
  (array.controllerId ? arraysOf(system, array.controllerId) : [array]).flatMap((one) => stringsOf(system, one));

/** What protects one string: its fuse, none, or nobody saw; and whether two records of it differ. */
export interface StringFuse {
  /** Its path, for what is missing. */
  path: string;
  /** Ratings recorded for it: none or several where records differ. */
  ratings: number[];
  /** A fuse is there whose rating was not read. */
  unread: boolean;
}

/** The first other than `none` of: the run that carries just this string, the array's stringProtection, its stringFuse_A. */
export function fuseOfString(
  { system }: Pick<Model, 'system'>,
  { array, index }: Pick<Strung, 'array' | 'index'>,
): StringFuse {
  const alone = (run: Run) =>
    run.kind === 'pv' &&
    touches(run, array.id) &&
    (run.strings ? run.strings.length === 1 && run.strings[0] === index : array.strings.length === 1);
  const own = (system.runs ?? []).filter(alone).map(({ id, protection }) => ({ path: `${id}.protection`, protection }));
  const said = [...own, { path: `${array.id}.stringProtection`, protection: array.stringProtection }].filter(
    ({ protection }) => isFuse(protection),
  );
  const rated = said.flatMap(({ protection }) => protection?.rating_A ?? []);
  const plain = array.stringFuse_A ? [array.stringFuse_A] : [];
  return {
    path: `${said[0]?.path ?? `${array.id}.stringProtection`}.rating_A`,
    ratings: [...rated, ...plain],
    unread: said.length > 0 && rated.length === 0 && plain.length === 0,
  };
}

const parallelMatch = rule<PvArray[]>({
  id: 'pv.parallel-match',
  title: 'String match in parallel',
  consequence: 'loss',
  gravity: 2,
  bearsOn: ['strings'],
  cases({ system }) {
    const inputs = new Map<string, PvArray[]>();
    for (const array of system.arrays ?? []) {
      const key = array.controllerId ?? `array ${array.id}`;
      inputs.set(key, [...(inputs.get(key) ?? []), array]);
    }
    return [...inputs.entries()].flatMap(([key, arrays]) => {
      const count = arrays.reduce((sum, { strings }) => sum + strings.length, 0);
      const [only] = arrays;
      if (count < 2 || !only) return [];
      return [{ subject: arrays.length === 1 ? only.id : key, about: arrays }];
    });
  },
  evaluate(io, arrays) {
    const { system } = io.model;
    const strings = arrays.flatMap((array) => stringsOf(system, array));
    const volts = strings.map(({ modules }) => stringVmp_V(modules));
    const demand = spread_pct(volts);
    io.work(`string Vmp: ${volts.map((v) => figure(v)).join(', ')} V; spread ${figure(demand)} %`);
    // Strings far apart feed each other in every light: where one has no fuse that stops it, it burns.
    const unguarded = demand > UNLIKE_PCT && strings.some((string) => unguardedVerdict(io.model, string) !== 'holds');
    if (unguarded) io.work('so far apart that the higher strings feed the lower one, and nothing protects it');
    return { ratio: matchRatio(demand), ...(unguarded ? { consequence: 'danger' as const } : {}) };
  },
  sentence({ demand, limit }) {
    const { there } = apart(demand, limit);
    return `Strings in parallel differ by ${there} % in voltage; the lower one pulls the others down.`;
  },
  remedies: ({ system }, arrays) =>
    arrays.length === 1
      ? arrays.flatMap((array) => [...restrung(system, array, 'shorter'), ...restrung(system, array, 'longer')])
      : [],
  needs: 'Needs strings of similar voltage on one input; different ones each need their own controller.',
});
/** Percent; planning value. */
const UNLIKE_PCT = 25;

/** Whether a string without a fuse stands what the others on its input can push back; by a ledger of its own. */
function unguardedVerdict(model: Model, string: Strung): 'over' | 'unknown' | 'holds' {
  const { ratings, unread } = fuseOfString(model, string);
  if (unread || ratings.length > 0) return 'holds';
  const io = createLedger(model);
  const { demand, limit } = backfeed(io, string);
  if (io.missing.size > 0) return 'unknown';
  return demand > limit * (1 + 1e-9) ? 'over' : 'holds';
}

/** What flows back into a faulty string against the series fuse that its modules allow, A. */
function backfeed(io: Ledger, string: Strung): { demand: number; limit: number } {
  const all = onSameInput(io.model, string.array);
  const own = stringIsc_A(string.modules);
  const sum = all.reduce((total, { modules }) => total + stringIsc_A(modules), 0);
  const back = 1.25 * (sum - own);
  const limit = Math.min(
    ...string.modules.map(({ id, maxSeriesFuse_A }) => io.need(`${id}.maxSeriesFuse_A`, maxSeriesFuse_A)),
  );
  const { ratings, unread, path } = fuseOfString(io.model, string);
  // Two records that differ: the worse counts, and here that is the larger.
  const fuse = unread ? io.need(path, null) : ratings.length > 0 ? Math.max(...ratings) : Infinity;
  io.work(
    `1.25 x (${figure(sum)} - ${figure(own)}) A = ${figure(back)} A back into a faulty string${Number.isFinite(fuse) ? `, at most its fuse of ${figure(fuse)} A` : ', no string fuse'}`,
  );
  io.work(`its modules allow a series fuse of ${figure(limit)} A`);
  return { demand: Number.isNaN(fuse) ? fuse : Math.min(back, fuse), limit };
}

/**
 * Reverse current into a faulty string, or the fuse that stops it (IEC 62548 clause on string overcurrent protection).
 * All strings on one controller input count, whatever array they were recorded in: they are joined there.
 */
const stringProtection = rule<PvArray>({
  id: 'pv.string-protection',
  title: 'String protection',
  consequence: 'danger',
  gravity: 2,
  bearsOn: ['strings', 'fuse'],
  notRoughly: true,
  cautions: ['panelsLive', 'dcRated'],
  cases: (model) =>
    arrayCases(model).flatMap(({ subject, about }) => {
      if (onSameInput(model, about).length < 2) return [];
      const fused = stringsOf(model.system, about).some((string) => {
        const { ratings, unread } = fuseOfString(model, string);
        return unread || ratings.length > 0;
      });
      return [{ subject, about, quantity: 'backfeed' }, ...(fused ? [{ subject, about, quantity: 'blow' }] : [])];
    }),
  evaluate(io, array, quantity) {
    const base = { unit: 'A', sense: 'max', tightAbove: 1 } as const;
    const strings = stringsOf(io.model.system, array);
    if (quantity === 'backfeed')
      return { ratio: governing(strings.map((string) => ({ ...base, ...backfeed(io, string) }))) };
    const blows = strings.flatMap((string) => {
      const { ratings, unread, path } = fuseOfString(io.model, string);
      if (unread) io.miss(path);
      if (ratings.length === 0) return [];
      const fuse = Math.min(...ratings);
      const carry = PV_FUSE_CARRIES * stringIsc_A(string.modules);
      io.work(`string fuse ${figure(fuse)} A: should carry 1.5 x Isc = ${figure(carry)} A`);
      return [{ ...base, demand: carry, limit: fuse }];
    });
    return blows.length > 0
      ? { ratio: governing(blows), consequence: 'outage' }
      : { verdict: 'over', consequence: 'outage' };
  },
  sentence({ demand, limit, verdict, quantity }) {
    const { there, allowed } = apart(demand, limit);
    if (quantity === 'blow')
      return verdict === 'unknown'
        ? 'The rating of a string fuse is not recorded.'
        : verdict === 'holds'
          ? 'The string fuses can carry full sun.'
          : `${raised(aFigure(allowed))} A string fuse may blow in full sun; it should be ${there} A.`;
    if (verdict === 'unknown')
      return 'The maximum series fuse of these modules, or the string protection, is not recorded.';
    if (verdict === 'holds') return 'A faulty string is protected from the others.';
    return `A faulty string can receive ${there} A from the others; its limit is ${allowed} A.`;
  },
  remedies(model, array, { quantity }) {
    const { system } = model;
    const strings = stringsOf(system, array);
    const size = pvStringFuse_A(strings.map(({ modules }) => modules));
    return [
      ...(size ? [pvFuses(array, strings.length, size)] : []),
      ...stringBreakers(model, array, strings),
      ...(quantity === 'backfeed' ? restrung(system, array, 'longer') : []),
    ];
  },
  needs: "Needs fuses above the string's current and within the modules' limit, or fewer strings on the input.",
});

/** A fuse of its own class in each string, in a holder that cannot be touched: 10 x 38 mm, for 1000 V DC. */
const pvFuses = (array: PvArray, count: number, rating_A: number): Cure => ({
  title: `${raised(aFigure(String(rating_A)))} A PV fuse in each string`,
  detail: `${count} ${count === 1 ? 'string' : 'strings'}; 10 x 38 mm, ${SOLD_V.pv} V DC, in touch-proof holders`,
  changes: [inEachString(array.id, 'pv', rating_A, SOLD_V.pv)],
});

/** DC breakers of the panel kind reach so many volts. */
const BREAKER_V = 125;
/** A DC breaker in each string, where the cold string stays below what they are made for. */
function stringBreakers(model: Model, array: PvArray, strings: readonly Strung[]): Cure[] {
  const io = createLedger(model);
  const cold_V = Math.max(...strings.map(({ modules }) => coldString_V(io, modules)));
  const least = PV_FUSE_CARRIES * Math.max(...strings.map(({ modules }) => stringIsc_A(modules)));
  const rating_A = ratingsSold('breaker').find((amps) => amps >= least - 1e-9);
  if (!(cold_V <= BREAKER_V) || !rating_A) return [];
  return [
    {
      title: `A DC breaker of ${rating_A} A in each string`,
      detail: `for ${BREAKER_V} V DC, not polarised; each string then has its own switch`,
      changes: [inEachString(array.id, 'breaker', rating_A, BREAKER_V)],
    },
  ];
}

/** Rules of strings among each other. */
export const pvStringRules = [seriesMatch, parallelMatch, stringProtection];
