import type { Model } from '../system/model';
import { bankRows, otherBankRows } from './bank-rows';
import { CELL_ERROR_K, CONDITIONS, LIGHT_ERROR, SOC_ERROR, type Conditions } from './conditions';
import { chargerRows, inverterRows, siteRows } from './device-rows';
import { figuresAt } from './figures-at';
import { arrayRows, controllerRows } from './pv-rows';
import type { Quantity } from './quantities';
import { banded, type ExpectedTest } from './row';
import type { Kept } from './sun-at';
import { runRows } from './wire-rows';

/**
 * All tests of a system, in the order of a walk from the sun down. What cannot be computed since something was not read
 * is left out here and named in `left`.
 * @param wants of which quantities; what nobody wants is not worked out
 * @param only about one part; null: all
 * @param kept from one call to the next about the same model, under other conditions
 */
export function expectedTests(
  model: Model,
  conditions: Partial<Conditions> = {},
  wants: (quantity: Quantity) => boolean = () => true,
  only: string | null = null,
  kept: Kept = new Map(),
): { tests: ExpectedTest[]; left: { subject: string; missing: string[] }[] } {
  const at: Conditions = { ...CONDITIONS, ...conditions };
  const figures = figuresAt(model, at, kept, only);
  const asked = (...parts: ({ id: string } | null | undefined)[]) =>
    only === null || parts.some((part) => part?.id === only);
  const { bank, monitor, controllers } = model.system;
  const others = variations(at).map((changed) => figuresAt(model, changed, kept, only));
  const rows = [
    ...(model.system.arrays ?? []).flatMap((array) => arrayRows(model, array, figures, at, wants)),
    ...((['pv_V', 'pv_A', 'out_A'] as const).some(wants) && asked(...(controllers ?? []))
      ? controllerRows(model, figures, at)
      : []),
    ...(model.system.runs ?? []).flatMap((run) => runRows(model, run, figures)),
    ...(bank && asked(bank, monitor) ? bankRows(model, bank, figures, at) : []),
    ...otherBankRows(model.system),
    ...inverterRows(model, figures),
    ...chargerRows(model, figures),
    ...siteRows(model, figures),
  ];
  const tests = rows
    .filter(
      ({ expected, quantity, subject }) =>
        (expected === null || Number.isFinite(expected)) && wants(quantity) && (only === null || subject === only),
    )
    .map((row) => banded(row, at, others));
  const told = new Set(tests.map(({ subject }) => subject));
  const left = [...figures.missing].flatMap(([subject, missing]) =>
    told.has(subject) &&
    rows.every((row) => row.subject !== subject || row.expected === null || Number.isFinite(row.expected))
      ? []
      : [{ subject: subject === 'controllers' ? 'site' : subject, missing: [...new Set(missing)] }],
  );
  return { tests, left };
}

/** The conditions with each of their errors, up and down: a pair for each. */
function variations(at: Conditions): Conditions[] {
  const light = LIGHT_ERROR[at.irradianceBy];
  const shifted = (change: Partial<Conditions>): Conditions => ({ ...at, ...change });
  // Air and cells are read by themselves: where the cells' own temperature is known the air moves the bank alone.
  const cells = (by: number) => (at.cell_C === null ? {} : { cell_C: at.cell_C + by });
  return [
    shifted({ irradiance_W_m2: at.irradiance_W_m2 * (1 + light) }),
    shifted({ irradiance_W_m2: at.irradiance_W_m2 * (1 - light) }),
    shifted({ ambient_C: at.ambient_C + CELL_ERROR_K, ...cells(CELL_ERROR_K) }),
    shifted({ ambient_C: at.ambient_C - CELL_ERROR_K, ...cells(-CELL_ERROR_K) }),
    shifted({ soc: Math.min(1, at.soc + SOC_ERROR) }),
    shifted({ soc: Math.max(0, at.soc - SOC_ERROR) }),
  ];
}

/** What a reading says of its test: a shape and a word, never a colour alone. */
export type Judgement = 'inside' | 'outside' | 'cannot-tell';
/** Within its band, outside, or not to be told. */
export function judgeReading(
  { low, high, cannotTell }: Pick<ExpectedTest, 'low' | 'high' | 'cannotTell'>,
  value: number,
): Judgement {
  if (cannotTell) return 'cannot-tell';
  return (low !== null && value < low) || (high !== null && value > high) ? 'outside' : 'inside';
}
