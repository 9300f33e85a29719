import type { Model } from '../system/model';
import type { Reading } from '../system/schema';
import { CONDITIONS } from './conditions';
import { expectedTests, judgeReading, type Judgement } from './expect';
import { isQuantity } from './quantities';
import { conditionsAsked, positionWords } from './readings';

/** Charges of the bank that a reading may have been taken at, where nobody was on a visit to say which. */
const CHARGES = [0.15, 0.4, 0.7, 1];

/**
 * A reading that belongs to no visit, judged by the conditions it was kept with: outside where it is outside whatever the
 * bank held, inside where it is inside whatever it held, and otherwise not to be told. Null where nothing is expected of
 * it, or where what it is worth nothing without (its light, its current, its rest) was not kept.
 */
export function judgedAlone(model: Model, reading: Reading): Judgement | null {
  const { subject, quantity, position, conditions, meter_pct, value } = reading;
  if (!isQuantity(quantity)) return null;
  const asked = conditionsAsked(quantity).filter((name) => name !== 'cell_C');
  if (asked.some((name) => conditions?.[name] === null || conditions?.[name] === undefined)) return null;
  const tests = CHARGES.flatMap((soc) => {
    const conditionsThen = {
      irradiance_W_m2: conditions?.irradiance_W_m2 ?? CONDITIONS.irradiance_W_m2,
      irradianceBy: conditions?.irradianceBy ?? 'sky',
      cell_C: conditions?.cell_C ?? null,
      ambient_C: conditions?.ambient_C ?? conditions?.cell_C ?? CONDITIONS.ambient_C,
      soc,
      ...(typeof conditions?.current_A === 'number' ? { current_A: conditions.current_A } : {}),
      meter_pct: meter_pct ?? CONDITIONS.meter_pct,
    };
    const test = expectedTests(model, conditionsThen, (one) => one === quantity).tests.find(
      (one) =>
        one.subject === subject && one.quantity === quantity && positionWords(one.position) === positionWords(position),
    );
    return test ? [test] : [];
  });
  if (tests.length === 0) return null;
  const results = tests.map((test) => judgeReading(test, value));
  if (results.every((one) => one === 'inside')) return 'inside';
  // Between two charges lies every other: outside is what no charge from empty to full explains.
  const below = tests.every(({ low, cannotTell }) => !cannotTell && low !== null && value < low);
  const above = tests.every(({ high, cannotTell }) => !cannotTell && high !== null && value > high);
  return below || above ? 'outside' : 'cannot-tell';
}
