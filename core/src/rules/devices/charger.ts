import { charger_A, everyCharger, type ChargingDevice } from '../../bank/charging';
import { isLithium } from '../../chemistry/chemistry';
import { apart, figure } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import { GENERATOR_SHARE, onlySourcesOf } from '../../power/ac';
import { alternatorDraw_A, alternatorLimit_A, alternators, type OnAlternator } from '../../power/alternators';
import { charger_VA } from '../../power/design';
import { inverterGroups } from '../../power/groups';
import { loadsOf, running_VA } from '../../power/loads';
import { chargesElsewhere, mainsSources, type Model, withChanges } from '../../system/model';

import type { Change, Charger, Load, Source, System } from '../../system/schema';
import { needsProfile, profileOutcome, profileSentence } from '../pv/controller';
import { partName } from '../../conductors/names';
import { chargeLimits } from '../cures/bank';
import { judge } from '../finding';
import { NOT_YET, governing, rule, type Cure, type Case, type Rule } from '../rule';
import { CHARGER_A } from '../cures/sold';
import { raised } from '../../parts/said';

const chargerCases = (model: Model): Case<Charger>[] =>
  (model.system.chargers ?? []).map((charger) => ({ subject: charger.id, about: charger }));

const chargerProfile = rule<Charger>({
  id: 'charger.profile',
  title: 'Charging profile',
  consequence: 'life',
  bearsOn: ['charge'],
  cases: (model) => chargerCases(model).filter(({ about }) => about.kind !== 'alternator-direct'),
  evaluate(io, charger) {
    const { id, profiles, settings, output_V } = charger;
    const { system } = io.model;
    if (!chargesElsewhere(system, charger)) return profileOutcome(io, id, profiles, settings);
    io.work(`for a ${figure(output_V ?? NaN)} V battery on a system of ${figure(system.nominal_V ?? NaN)} V`);
    return { verdict: 'note' };
  },
  sentence: ({ verdict, subject }, model) =>
    verdict === 'note'
      ? `${raised(partName(model, subject))} charges another battery, so it is not counted for this bank.`
      : profileSentence('charger', verdict),
  needs: needsProfile,
});

const chargerLoop = rule<Charger>({
  id: 'charger.loop',
  title: 'Charger on its own bank',
  consequence: 'loss',
  bearsOn: ['charge'],
  cautions: ['chargerLoop'],
  cases: (model) =>
    chargerCases(model).filter(({ about }) => about.kind === 'mains' && about.onInverterOutput === true),
  evaluate: () => ({ verdict: 'over' }),
  sentence: () => 'A mains charger plugged into the inverter only drains the bank.',
  remedies: (_, { id }) => [
    {
      title: 'Unplug it from the inverter',
      detail: 'plug it into the generator or the inlet; nothing to buy',
      changes: [{ op: 'set', at: 'chargers', id, value: { onInverterOutput: false } }],
    },
  ],
  needs:
    'Needs the charger unplugged from the inverter and the socket labelled. It must run only from a generator or inlet.',
});

/** What charges from an inlet or a generator: not what hangs on the inverter that the bank itself feeds. */
const chargersOf = (system: System, source: Source): ChargingDevice[] =>
  everyCharger(system).filter((device) => {
    if (device.occasion !== 'mains') return false;
    if (device.at !== 'chargers') return true;
    return !device.part.onInverterOutput && (!device.part.sourceId || device.part.sourceId === source.id);
  });
const passing = (system: System) => inverterGroups(system).filter(({ first }) => first.transfer === 'built-in');
const aloneOn = (system: System, source: Source): Load[] =>
  (system.loads ?? []).filter(
    (load) => load.kind === 'ac' && onlySourcesOf(system, load)?.some(({ id }) => id === source.id),
  );

/** VA that inverters take of a source: what they charge with and what they pass on, by the limit that is set on them. */
function inverterPart_VA(io: Ledger, source: Source, volts: number): number {
  const { system } = io.model;
  const chargers = chargersOf(system, source);
  return inverterGroups(system).reduce((sum, { first, members }) => {
    const charging = chargers
      .filter(({ at, id }) => at === 'inverters' && members.some((one) => one.id === id))
      .reduce((total, device) => total + charger_VA(io, device, charger_A(io, device)), 0);
    const running = first.transfer === 'built-in' ? running_VA(io, loadsOf(system, first)) : 0;
    const part = charging + running;
    const limits = members.map(({ id, inputLimit_A }) => io.see(`${id}.inputLimit_A`, inputLimit_A));
    // One of a group without a limit takes what it wants.
    if (limits.some((limit) => limit === null || limit === undefined) || part === 0) return sum + part;
    const limit = limits.reduce<number>((total, amps) => total + (amps ?? 0), 0) * volts;
    const assist = members.every((one) => io.flag(`${one.id}.assist`, one.assist));
    const taken = assist ? Math.min(part, limit) : Math.max(Math.min(part, limit), running);
    if (taken < part)
      io.work(
        `input limited to ${figure(limit)} VA of ${figure(part)} VA: ${assist ? 'the rest comes from the bank' : 'its charger steps back'}`,
      );
    return sum + taken;
  }, 0);
}

/** All that is asked of an inlet or a generator at once, VA. */
function asked_VA(io: Ledger, source: Source): number {
  const { system } = io.model;
  const volts = io.or(`${source.id}.ac_V`, source.ac_V, 230);
  const chargers = chargersOf(system, source)
    .filter(({ at }) => at === 'chargers')
    .reduce((sum, device) => sum + charger_VA(io, device, charger_A(io, device)), 0);
  return inverterPart_VA(io, source, volts) + chargers + running_VA(io, aloneOn(system, source));
}

const chargerInput = rule<Source>({
  id: 'charger.input',
  title: 'Generator or inlet load',
  consequence: 'outage',
  bearsOn: ['load', 'charge'],
  curedByLimit: 'charge',
  cases: ({ system }) =>
    mainsSources(system)
      .filter(
        (source) =>
          chargersOf(system, source).length > 0 || passing(system).length > 0 || aloneOn(system, source).length > 0,
      )
      .map((source) => ({ subject: source.id, about: source })),
  evaluate(io, source) {
    const volts = io.or(`${source.id}.ac_V`, source.ac_V, 230);
    const va = asked_VA(io, source);
    const base = { sense: 'max', tightAbove: 0.8 } as const;
    const power = source.kind === 'generator' ? io.need(`${source.id}.power_W`, source.power_W) : source.power_W;
    io.work(`chargers and loads passed through: ${figure(va)} VA`);
    const watts = { ...base, demand: va, unit: 'VA', limit: GENERATOR_SHARE * (power ?? Number.NaN) };
    if (source.kind === 'generator') return { ratio: watts };
    const amps = va / volts;
    const inlet = { ...base, demand: amps, unit: 'A', limit: io.need(`${source.id}.inlet_A`, source.inlet_A) };
    const ratio = power ? governing([watts, inlet]) : inlet;
    // What passes through steps back by a limit that every such inverter has: without it, nobody knows.
    if (judge(ratio.demand, ratio.limit, ratio.sense, ratio.tightAbove).verdict === 'over')
      for (const { id, inputLimit_A } of passing(io.model.system).flatMap(({ members }) => members))
        if (inputLimit_A === null || inputLimit_A === undefined) io.miss(`${id}.inputLimit_A`);
    return { ratio };
  },
  sentence({ demand, limit, unit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `Whether ${what} can supply the charging ${NOT_YET}`;
    const { there, allowed } = apart(demand, limit);
    return `The chargers need ${there} ${unit} from ${what}, which delivers ${allowed} ${unit}.`;
  },
  remedies: (model, source, { limit, unit }) => {
    const most = SOURCE_TIGHT * (limit ?? 0);
    const asked = (changed: Model) => {
      const io = createLedger(changed);
      const va = asked_VA(io, source);
      return (unit === 'A' ? va / io.or(`${source.id}.ac_V`, source.ac_V, 230) : va) <= most * (1 + 1e-9);
    };
    return limit ? [...inputLimits(model, asked), ...chargeLimits(model, asked)] : [];
  },
});
const SOURCE_TIGHT = 0.8;

/** The AC input limit of inverters that have one, turned down to what the source gives: the charger steps back first. */
function inputLimits(model: Model, holds: (changed: Model) => boolean): Cure[] {
  const limited = (model.system.inverters ?? []).filter(({ inputLimit_A }) => inputLimit_A);
  const most = Math.max(0, ...limited.map(({ inputLimit_A }) => inputLimit_A ?? 0));
  for (let amps = Math.ceil(most) - 1; amps >= 1; amps--) {
    const changes = limited.map(({ id, inputLimit_A }): Change => ({
      op: 'set',
      at: 'inverters',
      id,
      value: { inputLimit_A: Math.min(inputLimit_A ?? amps, amps) },
    }));
    if (holds(withChanges(model, changes)))
      return [
        {
          title: `AC input limit of ${limited.map(({ id }) => partName(model, id)).join(', ')} at ${amps} A`,
          // The year does not follow an input limit, so its price is said and not counted.
          detail: `instead of ${figure(most)} A; a setting, nothing to buy; charging is slower while loads run`,
          changes,
        },
      ];
  }
  return [];
}

/** Straight onto lithium, nothing holds the alternator back: it gives all it has until it burns. */
const unheld = (system: System, { chargers }: OnAlternator) =>
  Boolean(system.bank && isLithium(system.bank.chemistry)) &&
  chargers.some(({ kind, externallyRegulated }) => kind === 'alternator-direct' && !externallyRegulated);

const alternator = rule<OnAlternator>({
  id: 'alternator.load',
  title: 'Alternator load',
  consequence: 'damage',
  bearsOn: ['charge'],
  curedByLimit: 'charge',
  cases: ({ system }) =>
    alternators(system).map((on) => ({ subject: on.source?.id ?? on.chargers[0]?.id ?? '', about: on })),
  evaluate(io, on) {
    if (unheld(io.model.system, on)) {
      io.work('an alternator connected directly to lithium, without external regulation');
      return { verdict: 'over' };
    }
    const demand = alternatorDraw_A(io, on);
    const limit = alternatorLimit_A(io, on);
    io.work(
      `together ${figure(demand)} A; for long an alternator gives 60 % of its rating less the vehicle's own 25 A: ${figure(limit)} A`,
    );
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence({ demand, limit, verdict }) {
    if (verdict === 'unknown') return `How much the alternator must deliver ${NOT_YET}`;
    if (demand === null) return 'The alternator charges lithium directly, with nothing to limit it.';
    const { there, allowed } = apart(demand, limit);
    return `The charging draws ${there} A; this alternator delivers ${allowed} A continuously.`;
  },
  remedies(model, on, { limit, demand }) {
    const most = SOURCE_TIGHT * (limit ?? 0);
    const settable = demand === null ? [] : chargeLimits(model, (changed) => drawOf(changed, on) <= most * (1 + 1e-9));
    // A DC-DC charger takes what it is made for and no more; smaller ones stand in for what cannot be set.
    const smaller = on.chargers.flatMap(({ id, kind, max_A }) =>
      [...CHARGER_A]
        .reverse()
        .filter((amps) => amps <= max_A && (kind === 'alternator-direct' || amps < max_A))
        .map((amps): Cure => ({
          title: `A DC-DC charger of ${amps} A in place of ${partName(model, id)}`,
          detail: 'fused at both ends, switched on by the running engine',
          changes: [
            {
              op: 'set',
              at: 'chargers',
              id,
              value: {
                kind: 'dc-dc',
                max_A: amps,
                ...(kind === 'alternator-direct'
                  ? { externallyRegulated: null, profiles: PROGRAMMABLE, input_V: on.source?.nominal_V ?? 12 }
                  : {}),
              },
            },
          ],
        })),
    );
    return [...settable, ...smaller];
  },
  needs: 'Needs external regulation of the alternator, or a DC-DC charger within its continuous output.',
});
/** What one is sold with that can be set: every chemistry's own profile, by `custom` if not by name. */
const PROGRAMMABLE = ['flooded', 'agm', 'gel', 'lfp', 'custom'];
const drawOf = (model: Model, on: OnAlternator) => {
  const now = alternators(model.system).find(
    ({ source, chargers }) => source?.id === on.source?.id && chargers[0]?.id === on.chargers[0]?.id,
  );
  return now ? alternatorDraw_A(createLedger(model), now) : 0;
};

/** Rules of chargers, generators, inlets and alternators. */
export const chargerRules: Rule<unknown>[] = [chargerProfile, chargerLoop, chargerInput, alternator];
