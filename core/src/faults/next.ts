import type { Conditions } from '../readings/conditions';
import { samePosition, type ExpectedTest } from '../readings/row';
import type { Asked } from './asked';
import type { Field } from './field';
import { ALL, onePlace, type Grid, type Place } from './grid';
import type { Engine } from './engine';
import { createPredictor, type Predictor } from './predict';
import type { Weighed, Weighing } from './weigh';

/** What to read next: how much each reading that is still open would tell, by the minute. */

/** A reading that can be taken. */
export interface Next {
  quantity: Asked['quantity'];
  subject: string;
  position?: Asked['position'];
  tool: string;
  minutes: number;
  how: string;
  cautions: string[];
  licensed?: true;
  /** Expected information about the cause, bits; never below 0. */
  gain_bits: number;
  gain_per_min: number;
  /** What the likeliest causes would show there, the likeliest first. */
  means: { cause: Weighed; expected: number }[];
}

/** So many causes are told apart, and so many places of the grid stand for what is not known. */
const CAUSES_TOLD = 14;
const PLACES = 10;
const FEWEST = 4;
/** Causes below this are left to themselves. */
const LEAST = 0.003;
/** What could show a misread value is read once more where a misreading is as likely as this. */
const AGAIN = 0.05;

/** What can be read at a system, and under which conditions it would be. */
export interface CanRead {
  at: Conditions;
  tests: readonly ExpectedTest[];
}
/** A test as a reading that is asked for. */
export const askedOf = ({ subject, quantity, position }: ExpectedTest, at: Conditions): Asked => ({
  subject,
  quantity,
  position,
  at,
  currentKnown: true,
});

/** Everything that can still be read, what tells most by the minute first. */
export function nextReadings(engine: Engine, weighing: Weighing, { at, tests }: CanRead): Next[] {
  const { told, share } = toldApart(weighing);
  if (told.length < 2) return [];
  const predictors = told.map((cause) => createPredictor(engine, sampled(weighing, cause)));
  return tests
    .flatMap((test): Next[] => {
      const asked = askedOf(test, at);
      if (isRead(weighing, asked)) return [];
      const spreads = spreadsOf(predictors, told, asked);
      if (!spreads) return [];
      const gain_bits = informationOf(spreads, share);
      return [
        {
          quantity: test.quantity,
          subject: test.subject,
          ...(test.position ? { position: test.position } : {}),
          tool: test.tool,
          minutes: test.minutes,
          how: test.how,
          cautions: test.cautions,
          ...(test.licensed ? { licensed: test.licensed } : {}),
          gain_bits,
          gain_per_min: gain_bits / Math.max(1, test.minutes),
          means: told.map((cause, c) => ({ cause, expected: spreads[c]?.shown ?? NaN })),
        },
      ];
    })
    .sort((a, b) => b.gain_per_min - a.gain_per_min);
}

/** True where it was read already and nothing says that it was misread. */
const isRead = ({ reads, ranked }: Weighing, { subject, quantity, position }: Asked): boolean =>
  reads.some(
    (read) =>
      read.subject === subject &&
      read.quantity === quantity &&
      samePosition(read.position, position) &&
      !ranked.some(({ candidate, probability }) => candidate.misread === read.id && probability > AGAIN),
  );

/** The causes worth telling apart, with their shares of the whole among themselves. */
function toldApart({ ranked }: Weighing): { told: Weighed[]; share: number[] } {
  // Two at once are told by what tells the first.
  const singles = ranked.filter(({ and }) => !and);
  const likely = singles.filter(({ probability }) => probability >= LEAST).slice(0, CAUSES_TOLD);
  // Where one stands alone it is still held against the next ones.
  const told = likely.length >= FEWEST ? likely : singles.slice(0, FEWEST);
  const sum = told.reduce((all, { probability }) => all + probability, 0);
  return { told, share: told.map(({ probability }) => probability / sum) };
}

/** A grid of a few places, as likely as a cause leaves them: evenly along the cells' running sum. */
function sampled(weighing: Weighing, cause: Weighed): Grid {
  const { grid } = weighing;
  const cells = weighing.cellsOf(cause);
  const places: Place[] = [];
  let sum = 0;
  let k = 0;
  for (let i = 0; i < PLACES; i++) {
    const until = (i + 0.5) / PLACES;
    while (k < cells.length - 1 && sum + (cells[k] ?? 0) < until) sum += cells[k++] ?? 0;
    places.push(spread(grid.valuesAt(ALL, k), grid, i));
  }
  return {
    ...grid,
    size: (mask) => (mask === 0 ? 1 : PLACES),
    valuesAt: (_, index) => places[index] ?? grid.valuesAt(ALL, 0),
  };
}
/** What no reading has told yet may be anything: spread over its range, each axis in another order. */
function spread(place: Place, grid: Grid, i: number): Place {
  const part = (step: number) => ((i * step + 3) % PLACES) / (PLACES - 1);
  return {
    gain: grid.gain.length > 1 ? place.gain : 3 * (part(3) - 0.5),
    cell_K: grid.cell.length > 1 ? place.cell_K : 4.9 * (part(7) - 0.5),
    soc: grid.soc.length > 2 || place.soc > 0.95 ? place.soc : 0.2 + 0.75 * part(9),
    ohm: grid.ohm.length > 1 ? place.ohm : 0.75 + 0.58 * part(1),
    load_A: grid.load.length > 1 ? place.load_A : 5 * part(7),
  };
}

interface Spread {
  mean: number;
  sigma: number;
  /** In the reading's own unit. */
  shown: number;
}

/** What each cause would show, as a mean and a spread; by their logarithms where a bound or a ratio is among them. */
function spreadsOf(predictors: readonly Predictor[], told: readonly Weighed[], asked: Asked): Spread[] | null {
  const fields = predictors.map((predictor, c) => predictor.field(asked, told[c]?.state ?? {}));
  if (fields.some((field) => !field)) return null;
  const byRatio = fields.some((field) => field && field.scale !== 'plain');
  return fields.map((field) => spreadOf(field as Field, byRatio));
}

function spreadOf({ mu, sigma, scale }: Field, byRatio: boolean): Spread {
  const n = mu.length;
  const own = (value: number) => (byRatio ? Math.log(Math.max(1e-6, Math.abs(value))) : value);
  // Within its bound anything is right: somewhere below it, or above.
  const off = scale === 'most' ? -0.7 : scale === 'least' ? 1.5 : 0;
  let mean = 0;
  let shown = 0;
  for (let i = 0; i < n; i++) {
    mean += (own(mu[i] ?? NaN) + off) / n;
    shown += (mu[i] ?? NaN) / n;
  }
  let square = 0;
  for (let i = 0; i < n; i++) {
    const s = sigma[i] ?? NaN;
    const each = byRatio && scale === 'plain' ? s / Math.max(1e-6, Math.abs(mu[i] ?? NaN)) : s;
    square += (each * each + (own(mu[i] ?? NaN) + off - mean) ** 2) / n;
  }
  return { mean, sigma: Math.sqrt(square), shown };
}

/** Nodes and weights of Gauss and Hermite for nine points, for a normal spread. */
const NODES: readonly (readonly [z: number, weight: number])[] = [
  [-4.5127459, 2.2345844e-5],
  [-3.205429, 2.7891413e-3],
  [-2.076848, 4.9916407e-2],
  [-1.0232557, 0.2440975],
  [0, 0.40634921],
  [1.0232557, 0.2440975],
  [2.076848, 4.9916407e-2],
  [3.205429, 2.7891413e-3],
  [4.5127459, 2.2345844e-5],
];

/** Mutual information of a reading and the cause, bits. */
function informationOf(spreads: readonly Spread[], share: readonly number[]): number {
  const density = ({ mean, sigma }: Spread, x: number) => Math.exp(-0.5 * ((x - mean) / sigma) ** 2) / sigma;
  let bits = 0;
  spreads.forEach((own, c) => {
    for (const [z, weight] of NODES) {
      const x = own.mean + z * own.sigma;
      const here = density(own, x);
      const all = spreads.reduce((sum, other, o) => sum + (share[o] ?? 0) * density(other, x), 0);
      if (here > 0 && all > 0) bits += (share[c] ?? 0) * weight * Math.log2(here / all);
    }
  });
  return Number.isFinite(bits) ? Math.max(0, bits) : 0;
}

/** Causes that no reading tells apart here: within one sigma in all that can be read. Each group with two and more. */
export function alikeCauses(engine: Engine, weighing: Weighing, { at, tests }: CanRead): Weighed[][] {
  const { told } = toldApart(weighing);
  const predictor = createPredictor(engine, onePlace(MIDDLE));
  const rows = tests.map((test) => askedOf(test, at));
  const same = (a: Weighed, b: Weighed) =>
    // A full bank is the same system in another moment; a misread value is told by reading it again.
    (a.candidate.soc === 'full') === (b.candidate.soc === 'full') &&
    !a.candidate.misread &&
    !b.candidate.misread &&
    rows.every((row) => {
      const [one, other] = [predictor.field(row, a.state), predictor.field(row, b.state)];
      if (!one || !other) return one === other;
      if (one === other) return true;
      if (one.scale !== other.scale) return false;
      const [x, y, s] = [one.mu[0] ?? 0, other.mu[0] ?? 0, one.sigma[0] ?? 0];
      return one.scale === 'plain' ? Math.abs(x - y) <= s : Math.abs(Math.log(Math.abs(x / y))) <= s;
    });
  const groups: Weighed[][] = [];
  for (const cause of told) {
    const group = groups.find(([first]) => first && same(first, cause));
    if (group) group.push(cause);
    else groups.push([cause]);
  }
  return groups.filter(({ length }) => length > 1);
}

const MIDDLE: Place = { gain: 0, cell_K: 0, soc: 0.7, ohm: 1, load_A: 2.5 };
