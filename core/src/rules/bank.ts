import { c20_Ah } from '../bank/bank';
import { chargingDevices } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { delivered_A, missLooseArrays, outputGroups } from '../pv/controllers';
import type { Model } from '../system/model';
import type { Bank } from '../system/schema';
import { figure, round } from '../ledger/figures';
import type { Ledger } from '../ledger/ledger';
import { rule, type Candidate, type Case } from './rule';
import { CHARGER_A, sizeSold } from './sold';

const bankCase = ({ system }: Model): Case<Bank>[] =>
  system.bank ? [{ subject: system.bank.id, about: system.bank }] : [];

/** Amps of each charger and each inverter's charger, by its setting where that is lower. */
const chargerCurrents = (io: Ledger): { name: string; amps: number; fromMains: boolean }[] =>
  chargingDevices(io.model.system)
    .filter(({ occasion }) => occasion !== 'sun')
    .map(({ name, path, rating_A, settings, occasion }) => {
      const set = io.see(`${path}.settings.maxCharge_A`, settings?.maxCharge_A);
      return {
        name,
        amps: Math.min(io.need(`${path}.max_A`, rating_A), set ?? Infinity),
        fromMains: occasion === 'mains',
      };
    });

/** What all sources together can push into the bank at once, A. */
export function allCharging_A(io: Ledger): number {
  let sum = 0;
  missLooseArrays(io);
  for (const group of outputGroups(io.model.system)) if (group.arrays.length > 0) sum += delivered_A(io, group);
  for (const { name, amps } of chargerCurrents(io)) {
    io.work(`${name} adds ${figure(amps)} A`);
    sum += amps;
  }
  return sum;
}

const chargeMax = rule<Bank>({
  id: 'bank.charge-max',
  title: 'Most charge current',
  consequence: 'life',
  bearsOn: ['charge', 'strings', 'bank'],
  curedByLimit: 'charge',
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

/** Each source held back by its own current setting, as far as any single one must come down. */
const chargeLimits = ({ system }: Model, target_A: number): Candidate[] =>
  chargingDevices(system).flatMap(({ name, occasion, rating_A, set }) =>
    // The sun's share is its controller's, whatever the plate of the controller says.
    rating_A === null
      ? []
      : stepsBelow(occasion === 'sun' ? Math.min(rating_A, target_A + 1e-9) : rating_A).map((amps) => ({
          title: `Set ${name} to ${amps} A`,
          detail: `instead of ${round(rating_A)} A; a setting, nothing to buy`,
          changes: [set({ maxCharge_A: amps })],
        })),
  );

/** Current settings that devices offer, highest first, below `rated`. */
const stepsBelow = (rated: number) => CHARGER_A.filter((size) => size < rated).reverse();

const chargeMin = rule<Bank>({
  id: 'bank.charge-min',
  title: 'Enough charge current',
  consequence: 'life',
  bearsOn: ['charge', 'strings'],
  school: 'chargeMin',
  cases: (model) => bankCase(model).filter(({ about }) => !isLithium(about.chemistry)),
  evaluate(io, bank) {
    // Three quarters of the plate's watts is what a good noon brings; the current must be there on ordinary days.
    const sources = chargerCurrents(io).filter(({ fromMains }) => fromMains);
    missLooseArrays(io);
    const solar = outputGroups(io.model.system)
      .filter(({ arrays }) => arrays.length > 0)
      .reduce((sum, group) => sum + delivered_A(io, group, 0.75), 0);
    for (const { name, amps } of sources) io.work(`${name}: ${figure(amps)} A`);
    io.work(`sun, at 0.75 of the push: ${figure(solar)} A`);
    const demand = Math.max(solar, ...sources.map(({ amps }) => amps));
    const school = io.see('schools.chargeMin', io.model.schools.chargeMin);
    const { alwaysC10, chargeMin: table } = CHEMISTRY[bank.chemistry];
    const fraction = alwaysC10 || school === 'C10' ? 0.1 : school === 'C20' ? 0.05 : table;
    io.bySchool(alwaysC10 ? 'C10' : (school ?? `table (${fraction} of C20)`));
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
