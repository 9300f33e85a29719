import { cellsInSeries } from '../bank/bank';
import { chargingDevices } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { figure, round } from '../ledger/figures';
import type { Ledger } from '../ledger/ledger';
import { dcDcInput_A } from '../power/design';
import { loadsOf, running_VA } from '../power/loads';
import type { Model } from '../system/model';
import type { Charger, Source, System } from '../system/schema';
import { profileOutcome, profileSentence } from './controller';
import { NOT_YET, governing, rule, type Case, type Rule } from './rule';

const chargerCases = (model: Model): Case<Charger>[] =>
  (model.system.chargers ?? []).map((charger) => ({ subject: charger.id, about: charger }));

const chargerProfile = rule<Charger>({
  id: 'charger.profile',
  title: "Charger's profile",
  consequence: 'life',
  bearsOn: ['charge'],
  cases: (model) => chargerCases(model).filter(({ about }) => about.kind !== 'alternator-direct'),
  evaluate: (io, { id, profiles, settings }) => profileOutcome(io, id, profiles, settings),
  sentence: ({ verdict }) => profileSentence('charger', verdict),
});

const chargerLoop = rule<Charger>({
  id: 'charger.loop',
  title: 'Charger fed by its own bank',
  consequence: 'loss',
  bearsOn: ['charge'],
  cautions: ['chargerLoop'],
  cases: (model) =>
    chargerCases(model).filter(({ about }) => about.kind === 'mains' && about.onInverterOutput === true),
  evaluate: () => ({ verdict: 'over' }),
  sentence: () => 'A mains charger on the inverter only drains the bank.',
  remedies: (_, { id }) => [
    {
      title: 'Take it off the inverter',
      detail: 'onto the generator or the inlet',
      changes: [{ op: 'set', at: 'chargers', id, value: { onInverterOutput: false } }],
    },
  ],
});

/** What draws its charging from a generator or an inlet: not what hangs on the inverter that the bank itself feeds. */
const fromSource = (system: System) =>
  chargingDevices(system).filter(
    (device) => device.occasion === 'mains' && !(device.at === 'chargers' && device.part.onInverterOutput),
  );

/** VA of all mains charging, and of what the transfer switch passes on. */
function inputVA(io: Ledger): number {
  const { system } = io.model;
  const { bank } = system;
  const absorb = bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : io.need('bank', null);
  let sum = 0;
  for (const { path, rating_A, efficiency_pct, powerFactor } of fromSource(system)) {
    const share =
      (io.or(`${path}.efficiency_pct`, efficiency_pct, 88) / 100) * io.or(`${path}.powerFactor`, powerFactor, 0.95);
    sum += (io.need(`${path}.max_A`, rating_A) * absorb) / share;
  }
  for (const inverter of system.inverters ?? [])
    if (inverter.transfer === 'built-in') sum += running_VA(io, loadsOf(system, inverter));
  return sum;
}
const drawsFromSource = ({ system }: Model) =>
  fromSource(system).length > 0 || (system.inverters ?? []).some(({ transfer }) => transfer === 'built-in');

const chargerInput = rule<Source>({
  id: 'charger.input',
  title: 'Generator or inlet carries the charging',
  consequence: 'outage',
  bearsOn: ['load', 'charge'],
  curedByLimit: 'charge',
  cases: (model) =>
    drawsFromSource(model) ? (model.system.sources ?? []).map((source) => ({ subject: source.id, about: source })) : [],
  evaluate(io, source) {
    const va = inputVA(io);
    const base = { sense: 'max', tightAbove: 0.8 } as const;
    const watts = {
      ...base,
      demand: va,
      unit: 'VA',
      limit:
        0.8 *
        (source.kind === 'generator'
          ? io.need(`${source.id}.power_W`, source.power_W)
          : (source.power_W ?? Number.NaN)),
    };
    io.work(`chargers and what passes through: ${figure(va)} VA`);
    if (source.kind === 'generator') return { ratio: watts };
    const amps = va / io.or(`${source.id}.ac_V`, source.ac_V, 230);
    const inlet = { ...base, demand: amps, unit: 'A', limit: io.need(`${source.id}.inlet_A`, source.inlet_A) };
    return { ratio: source.power_W ? governing([watts, inlet]) : inlet };
  },
  sentence: ({ demand, limit, unit, verdict }) =>
    verdict === 'unknown'
      ? `Whether the source carries the charging ${NOT_YET}`
      : `Charging asks ${round(demand ?? NaN)} ${unit} of a source good for ${round(limit ?? NaN)} ${unit}.`,
});

const alternator = rule<Charger>({
  id: 'alternator.load',
  title: 'Alternator stands the charging',
  consequence: 'damage',
  bearsOn: ['charge'],
  curedByLimit: 'charge',
  cases: ({ system }) =>
    (system.chargers ?? [])
      .filter(
        ({ kind, externallyRegulated }) =>
          kind === 'dc-dc' ||
          (kind === 'alternator-direct' && !externallyRegulated && system.bank && isLithium(system.bank.chemistry)),
      )
      .map((charger) => ({ subject: charger.id, about: charger })),
  evaluate(io, charger) {
    if (charger.kind === 'alternator-direct') return { verdict: 'over' };
    const demand = dcDcInput_A(io, charger);
    const limit = Math.max(0, 0.6 * io.need(`${charger.id}.alternator_A`, charger.alternator_A) - 25);
    io.work(
      `dc-dc input ${figure(demand)} A; for long an alternator gives 60 % of its rating less the vehicle's own 25 A: ${figure(limit)} A`,
    );
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `What the alternator must give ${NOT_YET}`
      : demand === null
        ? 'An alternator straight onto lithium, with nothing to hold it back.'
        : `${round(demand)} A asked of an alternator good for ${round(limit ?? NaN)} A.`,
});

export const chargerRules: Rule<unknown>[] = [chargerProfile, chargerLoop, chargerInput, alternator];
