import type { RuleId } from '../rules/ids';
import type { Reading } from '../system/schema';
import { LEAST_LIGHT_W_M2, LEAST_SHARE, type Conditions } from './conditions';
import type { FiguresAt } from './figures-at';
import { QUANTITIES, type Quantity } from './quantities';

/**
 * What a meter should read (docs/work-orders-and-readings.md): every row of practice D that applies, in the order of a walk, with
 * the band within which a reading says that all is well. The same model as everywhere, at the moment's conditions.
 */
export interface ExpectedTest {
  id: string;
  subject: string;
  position?: Position;
  quantity: Quantity;
  unit: string;
  /** Null where nothing that is recorded says: `cannotTell` says why. */
  expected: number | null;
  /** Two sigma; null: no bound on that side. */
  low: number | null;
  high: number | null;
  /** Anything below, or above, is right too; the bound is then what is expected. */
  bound?: 'most' | 'least';
  /** Why these conditions cannot discriminate: no reading is then right or wrong. */
  cannotTell?: string;
  how: string;
  tool: string;
  minutes: number;
  cautions: string[];
  /** Which rule judges the same thing by calculation. */
  rule?: RuleId;
  /** Work on AC and on earths, where the law asks for a licence. */
  licensed?: true;
}
export type Position = NonNullable<Reading['position']>;
/** True for the same place within a part; none is all of it. */
export const samePosition = (a: Reading['position'], b: Reading['position']): boolean =>
  JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** A row of practice D before its band is worked out. */
export interface Row {
  subject: string;
  position?: Position;
  quantity: Quantity;
  expected: number | null;
  /** At least so wide, below and above. */
  below: number;
  above: number;
  /** The same figure out of other conditions, for what their error makes of it; absent: they do not bear on it. */
  from?: (figures: FiguresAt) => number | undefined;
  /** Errors of its own beside the meter's and the conditions', two sigma. */
  own?: number[];
  /** `most`: anything below is right too; `least`: anything above. */
  bound?: 'most' | 'least';
  cannotTell?: string | null | false;
  how: string;
  tool: string;
  minutes: number;
  cautions?: string[];
  rule?: RuleId;
  licensed?: true;
}

/** The instrument for volts. */
export const VOLTMETER = 'voltmeter';
/** The instrument for direct current. */
export const CLAMP = 'DC clamp meter';

/** The root of the squares of the meter's error, the conditions' and the row's own; never narrower than the row. */
export function banded(row: Row, at: Conditions, others: readonly FiguresAt[]): ExpectedTest {
  const { expected, from, own = [], bound } = row;
  if (expected === null) return unbanded(row);
  const even = [(at.meter_pct / 100) * expected, ...own];
  const [down, up] = [[...even], [...even]];
  for (let pair = 0; pair < others.length && from; pair += 2) {
    const off = [others[pair], others[pair + 1]].map((figures) => {
      const value = figures ? from(figures) : undefined;
      return value === undefined || !Number.isFinite(value) ? 0 : value - expected;
    });
    // Each side by itself: a bank a little fuller than was thought holds its sun back, a little emptier changes nothing.
    down.push(Math.min(0, ...off));
    up.push(Math.max(0, ...off));
  }
  return {
    ...unbanded(row),
    expected,
    low: bound === 'most' ? null : expected - Math.max(row.below, bound ? 0 : Math.hypot(...down)),
    high: bound === 'least' ? null : expected + Math.max(row.above, bound ? 0 : Math.hypot(...up)),
  };
}

/** A row for which nothing recorded says what to expect: to be read all the same. */
function unbanded({
  subject,
  position,
  quantity,
  bound,
  cannotTell,
  how,
  tool,
  minutes,
  rule,
  ...row
}: Row): ExpectedTest {
  const where = position
    ? Object.entries(position)
        .map(([name, index]) => `.${name}${index}`)
        .join('')
    : '';
  return {
    id: `${subject}.${quantity}${where}`,
    subject,
    ...(position ? { position } : {}),
    quantity,
    unit: QUANTITIES[quantity][0],
    expected: null,
    low: null,
    high: null,
    ...(bound ? { bound } : {}),
    ...(cannotTell ? { cannotTell } : {}),
    how,
    tool,
    minutes,
    cautions: row.cautions ?? [],
    ...(rule ? { rule } : {}),
    ...(row.licensed ? { licensed: row.licensed } : {}),
  };
}

const DIM = `under ${LEAST_LIGHT_W_M2} W/m2 readings of an array mean little: wait for more light`;
const FEW =
  'under a tenth of its design current a voltage drop cannot be told from the meter\u2019s own error: increase the load';
/** Why a test of the sun tells nothing in little light; false where it does. */
export const dim = ({ irradiance_W_m2 }: Conditions) => irradiance_W_m2 < LEAST_LIGHT_W_M2 && DIM;
/** Why a drop tells nothing at little current; false where it does. */
export const few = ({ share }: Pick<Conditions, 'share'>) => share < LEAST_SHARE && FEW;
