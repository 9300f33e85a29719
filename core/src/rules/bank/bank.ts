import { c20_Ah } from '../../bank/bank';
import { chargingDevices } from '../../bank/charging';
import { CHEMISTRY, isLithium } from '../../chemistry/chemistry';
import type { Model } from '../../system/model';
import { type Bank } from '../../system/schema';
import { allCharging_A, chargerCurrents, sun_A, type Charging } from '../../power/charging';
import { aFigure, apart, figure } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import { chargeLimits } from '../cures/bank';
import { moreModules } from '../cures/devices';
import { rule, type Cure, type Case } from '../rule';
import { CHARGER_A } from '../cures/sold';
import { raised, said } from '../../parts/said';

const MOST_SIZES = 4;

const bankCase = ({ system }: Model): Case<Bank>[] =>
  system.bank ? [{ subject: system.bank.id, about: system.bank }] : [];

const chargeMax = rule<Bank>({
  id: 'bank.charge-max',
  letOff: 'the bank itself limits its charge current',
  title: 'Maximum charge current',
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
      io.work(`${said(bank.chemistry)}: at most ${fraction} of C20 = ${figure(limit)} A`);
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
      ? "The bank's maximum charge current is not recorded."
      : `All chargers together deliver ${apart(demand, limit).there} A; this bank allows ${apart(demand, limit).allowed} A.`,
  remedies: (model, _, { limit }) => (limit ? withinCharge(model, 0.9 * limit) : []),
});

/** Charging brought down by settings to what a bank takes, A. */
export const withinCharge = (model: Model, most_A: number): Cure[] =>
  chargeLimits(model, (changed) => allCharging_A(createLedger(changed)) <= most_A * (1 + 1e-9));

/** What the least of a lead bank's charging should be, A. */
function wantedCharge_A(io: Ledger, bank: Bank): number {
  const school = io.see('schools.chargeMin', io.model.schools.chargeMin);
  const { alwaysC10, chargeMin: table } = CHEMISTRY[bank.chemistry];
  const fraction = alwaysC10 || school === 'C10' ? 0.1 : school === 'C20' ? 0.05 : table;
  io.bySchool(alwaysC10 ? 'C10' : (school ?? `table (${fraction} of C20)`));
  const limit = fraction * c20_Ah(io, bank);
  io.work(`needed ${fraction} of C20 = ${figure(limit)} A`);
  return limit;
}

const chargeMin = rule<Bank>({
  id: 'bank.charge-min',
  title: 'Minimum charge current',
  consequence: 'life',
  bearsOn: ['charge', 'strings'],
  school: 'chargeMin',
  cases: (model) =>
    bankCase(model)
      .filter(({ about }) => !isLithium(about.chemistry))
      .flatMap(({ subject, about }) => [
        { subject, about },
        ...chargingDevices(model.system)
          .filter(({ occasion }) => occasion === 'mains')
          .map(({ id }) => ({ subject, about, quantity: id })),
      ]),
  evaluate(io, bank, quantity) {
    // Three quarters of the plate's watts is what a good noon brings; the current must be there on ordinary days.
    const all = chargerCurrents(io);
    const sources = all.filter(({ fromMains }) => fromMains);
    const solar = sun_A(io, 0.75);
    const strongest = sources.reduce<Charging | null>(
      (best, each) => (best && best.amps >= each.amps ? best : each),
      null,
    );
    const ratio = { unit: 'A', sense: 'min', tightAbove: 0.8 } as const;
    if (quantity !== undefined) {
      const own = sources.find(({ id }) => id === quantity);
      if (!own || (own === strongest && own.amps > solar)) return null;
      const limit = wantedCharge_A(io, bank);
      if (own.amps >= limit * (1 - 1e-9)) return null;
      io.work(`${own.name}: ${figure(own.amps)} A, ${figure(limit - own.amps)} A too little on its own`);
      const alone =
        (io.model.system.arrays ?? []).length === 0 &&
        own.occasions.some((occasion) => !all.some((other) => other !== own && other.occasions.includes(occasion)));
      if (alone) io.work('nothing else charges at the same time');
      return { ratio: { ...ratio, demand: own.amps, limit }, ...(alone ? {} : { overIs: 'note' as const }) };
    }
    for (const { name, amps } of sources) io.work(`${name}: ${figure(amps)} A`);
    io.work(`sun, at 0.75 of the array's current: ${figure(solar)} A`);
    const demand = Math.max(solar, strongest?.amps ?? 0);
    const limit = wantedCharge_A(io, bank);
    io.work(`strongest source ${figure(demand)} A`);
    return { ratio: { ...ratio, demand, limit } };
  },
  sentence({ demand, limit, verdict, quantity }, model) {
    if (verdict === 'unknown') return 'Whether anything charges the bank fast enough is not known yet.';
    const who = chargingDevices(model.system).find(({ id }) => id === quantity)?.name;
    const { there, allowed } = apart(demand, limit);
    return who
      ? `${who} alone delivers ${there} A; this bank needs at least ${allowed} A.`
      : `The strongest charger delivers ${there} A; this bank needs at least ${allowed} A.`;
  },
  remedies(model, _, { limit, quantity }) {
    const sizes = CHARGER_A.filter((amps) => amps >= (limit ?? Infinity) / 0.8 - 1e-9).slice(0, MOST_SIZES);
    const mains = chargingDevices(model.system).filter(
      ({ occasion, id }) => occasion === 'mains' && (quantity === null || quantity === id),
    );
    return [
      // Held back by a setting: let go of it first.
      ...mains.flatMap(({ name, settings, rating_A, set }) =>
        settings?.maxCharge_A && rating_A && settings.maxCharge_A < rating_A
          ? [
              {
                title: `Let ${name} charge with its ${figure(rating_A)} A`,
                detail: `it is set to ${figure(settings.maxCharge_A)} A; a setting, nothing to buy`,
                changes: [set({ maxCharge_A: rating_A })],
              },
            ]
          : [],
      ),
      ...mains.flatMap(({ name, rate }) =>
        sizes.map((amps) => ({
          title: `${raised(aFigure(String(amps)))} A charger in place of ${name}`,
          detail: 'its cable, fuse and supply were checked with it',
          changes: [rate(amps)],
        })),
      ),
      ...(quantity === null ? (model.system.arrays ?? []).flatMap((array) => moreModules(model, array)) : []),
    ];
  },
  needs: ({ limit, tightAbove }) =>
    `Needs a source of ${figure((limit ?? 0) / (tightAbove ?? 1), 2)} A: a larger charger with the generator, cable and fuse for it, or more modules.`,
});

/** Rules of a bank's charging. */
export const bankRules = [chargeMax, chargeMin];
