import { c20_Ah } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../bank/chemistry';
import { delivered_A, missLooseArrays, outputGroups } from '../pv/controllers';
import type { Model } from '../system/model';
import type { Bank } from '../system/schema';
import { figure, round } from './figures';
import type { Ledger } from './ledger';
import { rule, type Candidate, type Case } from './rule';
import { CHARGER_A, sizeSold } from './sold';

const bankCase = ({ system }: Model): Case<Bank>[] =>
  system.bank ? [{ subject: system.bank.id, of: system.bank }] : [];

/** Amps of each mains, dc-dc or alternator charger and each inverter's charger, by its setting where that is lower. */
function chargerCurrents(io: Ledger): { id: string; label: string; amps: number; fromMains: boolean }[] {
  const { inverters, chargers } = io.model.system;
  const limited = (path: string, rated: number, set: number | null | undefined) =>
    Math.min(rated, io.see(`${path}.settings.maxCharge_A`, set) ?? Infinity);
  return [
    ...(chargers ?? []).map(({ id, label, kind, max_A, settings }) => ({
      id,
      label: label ?? id,
      amps: limited(id, io.need(`${id}.max_A`, max_A), settings?.maxCharge_A),
      fromMains: kind === 'mains',
    })),
    ...(inverters ?? []).flatMap(({ id, label, charger }) =>
      charger
        ? [
            {
              id,
              label: `${label ?? id}'s charger`,
              amps: limited(
                `${id}.charger`,
                io.need(`${id}.charger.max_A`, charger.max_A),
                charger.settings?.maxCharge_A,
              ),
              fromMains: true,
            },
          ]
        : [],
    ),
  ];
}

/** What all sources together can push into the bank at once, A. */
export function allCharging_A(io: Ledger): number {
  let sum = 0;
  missLooseArrays(io);
  for (const group of outputGroups(io.model.system)) if (group.arrays.length > 0) sum += delivered_A(io, group);
  for (const { label, amps } of chargerCurrents(io)) {
    io.work(`${label} adds ${figure(amps)} A`);
    sum += amps;
  }
  return sum;
}

const chargeMax = rule<Bank>({
  id: 'bank.charge-max',
  title: 'Most charge current',
  consequence: 'life',
  cautions: ['bankAmps'],
  cases: bankCase,
  evaluate(io, bank) {
    const lithium = isLithium(bank.chemistry);
    const demand = allCharging_A(io);
    const block = io.see(`${bank.id}.maxCharge_A`, bank.maxCharge_A) ?? null;
    let limit: number;
    if (block !== null) {
      limit = block * bank.parallel;
      io.work(`${bank.parallel} x ${figure(block)} A a block = ${figure(limit)} A`);
    } else if (lithium) limit = io.need(`${bank.id}.maxCharge_A`, null);
    else {
      const fraction = CHEMISTRY[bank.chemistry].chargeMax;
      limit = fraction * c20_Ah(io, bank);
      io.work(`${bank.chemistry}: at most ${fraction} of C20 = ${figure(limit)} A`);
    }
    io.work(`${figure(demand)} A against ${figure(limit)} A`);
    return {
      ratio: {
        demand,
        limit,
        unit: 'A',
        sense: 'max',
        tightAbove: 0.9,
        softened: io.flag(`${bank.id}.chargeLimited`, bank.chargeLimited),
      },
      consequence: lithium ? 'damage' : 'life',
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'The charge current that the bank allows was not read.'
      : `All sources together charge at ${round(demand ?? NaN)} A; the bank takes ${round(limit ?? NaN)} A.`,
  remedies: (model, _, { limit }) => (limit ? chargeLimits(model, 0.9 * limit) : []),
});

/** Hold the sources back by their own current settings until together they stay within `target_A`. */
function chargeLimits(model: Model, target_A: number): Candidate[] {
  const { controllers, chargers } = model.system;
  const single = (title: string, at: string, id: string, rated: number, path: Record<string, unknown>) => ({
    title,
    detail: `instead of ${round(rated)} A; a setting, nothing to buy`,
    changes: [{ op: 'set' as const, at, id, value: path }],
  });
  // The least that any one source must come down by is found by asking for the whole excess from it alone.
  return [
    ...(chargers ?? []).flatMap(({ id, label, max_A }) =>
      stepsBelow(max_A).map((amps) =>
        single(`Set ${label ?? id} to ${amps} A`, 'chargers', id, max_A, { settings: { maxCharge_A: amps } }),
      ),
    ),
    ...(controllers ?? []).flatMap(({ id, label, maxOutput_A }) =>
      stepsBelow(Math.min(maxOutput_A, target_A + 1e-9)).map((amps) =>
        single(`Set ${label ?? id} to ${amps} A`, 'controllers', id, maxOutput_A, { settings: { maxCharge_A: amps } }),
      ),
    ),
  ];
}

/** Current settings that devices offer, highest first, below `rated`. */
const stepsBelow = (rated: number) => CHARGER_A.filter((size) => size < rated).reverse();

const chargeMin = rule<Bank>({
  id: 'bank.charge-min',
  title: 'Enough charge current',
  consequence: 'life',
  cases: (model) => bankCase(model).filter(({ of }) => !isLithium(of.chemistry)),
  evaluate(io, bank) {
    // Three quarters of the plate's watts is what a good noon brings; the current must be there on ordinary days.
    const sources = chargerCurrents(io).filter(({ fromMains }) => fromMains);
    missLooseArrays(io);
    const solar = outputGroups(io.model.system)
      .filter(({ arrays }) => arrays.length > 0)
      .reduce((sum, group) => sum + delivered_A(io, group, 0.75), 0);
    for (const { label, amps } of sources) io.work(`${label}: ${figure(amps)} A`);
    io.work(`sun, at 0.75 of the push: ${figure(solar)} A`);
    const demand = Math.max(solar, ...sources.map(({ amps }) => amps));
    const school = io.see('schools.chargeMin', io.model.schools.chargeMin);
    const tubular = bank.chemistry === 'tubular';
    const fraction = tubular ? 0.1 : school ? (school === 'C10' ? 0.1 : 0.05) : CHEMISTRY[bank.chemistry].chargeMin;
    io.bySchool(tubular ? 'C10' : (school ?? `table (${fraction} of C20)`));
    const limit = fraction * c20_Ah(io, bank);
    io.work(`strongest source ${figure(demand)} A; wanted ${fraction} of C20 = ${figure(limit)} A`);
    return { ratio: { demand, limit, unit: 'A', sense: 'min', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'Whether anything charges the bank hard enough is not known.'
      : `The strongest source brings ${round(demand ?? NaN)} A; the bank wants ${round(limit ?? NaN)} A.`,
  remedies(model, _, { limit }) {
    const size = limit ? sizeSold(CHARGER_A, limit / 0.8) : undefined;
    if (!size) return [];
    return (model.system.chargers ?? [])
      .filter(({ kind }) => kind === 'mains')
      .map(({ id, label }) => ({
        title: `A ${size} A charger in place of ${label ?? id}`,
        detail: 'check its cable, fuse and the generator with it',
        changes: [{ op: 'set' as const, at: 'chargers', id, value: { max_A: size } }],
      }));
  },
});

export const bankRules = [chargeMax, chargeMin];
