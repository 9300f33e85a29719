import type { RuleId } from '../ids';
import { hasCharger } from '../../bank/charging';
import { harvest_Wh, occupied } from '../../power/energy';
import { apart, figure, round } from '../../ledger/figures';
import type { Ledger } from '../../ledger/ledger';
import { derating, idle_Wh, loadsOf, running_VA, running_W, surge_W } from '../../power/loads';
import type { Inverter, Load } from '../../system/schema';
import { needsProfile, profileOutcome, profileSentence, voltageWindow, windowSentence } from '../pv/controller';
import { lowerVolts } from '../cures/bank';
import { largerInverter, setPart, softInTurn, softStarts, takeTurns } from '../cures/devices';
import { hoursBehind } from '../../power/hours-behind';
import { partName } from '../../conductors/names';
import { NOT_YET, rule, type Rule } from '../rule';
import { PRECHARGE_UF_W } from '../tables';
import { cases, groupCases, having, members } from './inverter-cases';
import { sag } from './sag';

const rated = (
  id: RuleId,
  title: string,
  tightAbove: number,
  unit: string,
  demandOf: (io: Ledger, loads: Load[]) => number,
  rating: (io: Ledger, inverter: Inverter) => number,
  words: string,
) =>
  rule<Inverter>({
    id,
    title,
    consequence: 'outage',
    bearsOn: ['load'],
    curedByLimit: 'load',
    cases: groupCases,
    evaluate(io, inverter) {
      const demand = demandOf(io, loadsOf(io.model.system, inverter));
      // Each at its own derating: the sheets of two need not agree on their heat.
      const limit = members(io.model, inverter).reduce((sum, one) => {
        const plate = rating(io, one);
        const share = derating(io, one);
        io.work(
          `rating ${figure(plate)} ${unit} x ${figure(share)} for heat and height = ${figure(plate * share)} ${unit}`,
        );
        return sum + plate * share;
      }, 0);
      io.work(`needed ${figure(demand)} ${unit}`);
      return { ratio: { demand, limit, unit, sense: 'max', tightAbove } };
    },
    sentence({ demand, limit, verdict, subject }, model) {
      const what = partName(model, subject);
      if (verdict === 'unknown') return `Whether ${what} stands ${words} ${NOT_YET}`;
      const { there, allowed } = apart(demand, limit);
      return `${words.charAt(0).toUpperCase()}${words.slice(1)}: ${there} ${unit} on ${what}, which delivers ${allowed} ${unit}.`;
    },
    // A habit and a soft start cost nothing or little: a larger inverter asks for cables, fuse and bank as well.
    remedies: (model, inverter, { demand, limit, use }) => [
      ...takeTurns(model, inverter),
      ...(tightAbove === SURGE_TIGHT ? [...softStarts(model, inverter), ...softInTurn(model, inverter)] : []),
      ...largerInverter(model, inverter, growth(inverter, unit, demand, limit, tightAbove, use)),
    ],
  });

/** What the plate must say at the least for the heat that takes the same share of it. */
const growth = (
  { continuous_W, continuous_VA, surge_W: peak }: Inverter,
  unit: string,
  demand: number | null,
  limit: number | null,
  tightAbove: number,
  use: number | null,
): { W?: number; VA?: number; surge_W?: number } => {
  if (!demand || !limit || !use) return {};
  const times = use / tightAbove;
  return tightAbove === SURGE_TIGHT
    ? { surge_W: (peak ?? 0) * times }
    : unit === 'VA'
      ? { VA: (continuous_VA ?? 0) * times }
      : { W: continuous_W * times };
};
const SURGE_TIGHT = 0.9;

const continuous = rated(
  'inverter.continuous',
  'Running load',
  0.8,
  'W',
  running_W,
  (_, { continuous_W }) => continuous_W,
  'peak running',
);
const apparent = rated(
  'inverter.apparent',
  'Apparent power (VA)',
  0.8,
  'VA',
  running_VA,
  (io, { id, continuous_VA }) => io.need(`${id}.continuous_VA`, continuous_VA),
  'peak running with power factor',
);
const surge = rated(
  'inverter.surge',
  'Starting load',
  0.9,
  'W',
  surge_W,
  (io, inverter) => io.need(`${inverter.id}.surge_W`, inverter.surge_W),
  'the hardest start',
);

const waveform = rule<Inverter>({
  id: 'inverter.waveform',
  title: 'Waveform',
  consequence: 'damage',
  bearsOn: [],
  cases: having(
    (inverter, { system }) =>
      inverter.waveform !== 'sine' && loadsOf(system, inverter).some(({ needsSine }) => needsSine),
  ),
  evaluate(io, inverter) {
    const needing = loadsOf(io.model.system, inverter).filter(({ needsSine }) => needsSine);
    io.work(`needs a pure sine wave: ${needing.map(({ label }) => label).join(', ')}`);
    if (!inverter.waveform) io.miss(`${inverter.id}.waveform`);
    return { verdict: 'over' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Whether this inverter gives a pure sine wave is not recorded.'
      : 'A load that needs a pure sine wave runs on a modified wave.',
  remedies: (_, { id }) => [
    {
      title: 'A pure sine inverter of the same rating',
      detail: 'check its surge and its idle draw',
      changes: [{ op: 'set', at: 'inverters', id, value: { waveform: 'sine' } }],
    },
  ],
});

const window = rule<Inverter>({
  id: 'inverter.voltage-window',
  title: 'Inverter battery voltage',
  consequence: 'damage',
  bearsOn: [],
  cases,
  evaluate: (io, { id, minDc_V, maxDc_V }) =>
    voltageWindow(io, id, { path: 'minDc_V', value: minDc_V }, { path: 'maxDc_V', value: maxDc_V }),
  sentence: windowSentence,
  remedies: (model, _, { sense }) => (sense === 'max' ? lowerVolts(model) : []),
  needs: ({ sense }) =>
    sense === 'max'
      ? 'Needs an inverter rated for the highest bus voltage, or chargers that can be set lower.'
      : "Needs an inverter that works down to the bank's cut-off voltage; otherwise the rest of the charge cannot be used.",
});

const profile = rule<Inverter>({
  id: 'inverter.profile',
  title: 'Charging profile',
  consequence: 'life',
  bearsOn: ['charge'],
  cases: having(hasCharger),
  evaluate: (io, { id, charger }) => profileOutcome(io, `${id}.charger`, charger?.profiles, charger?.settings),
  sentence: ({ verdict }) => profileSentence('inverter-charger', verdict),
  needs: needsProfile,
});

const idle = rule<Inverter>({
  id: 'inverter.idle',
  title: 'Idle draw',
  consequence: 'loss',
  bearsOn: ['energy'],
  cases: (model) => ((model.system.arrays ?? []).length > 0 ? groupCases(model) : []),
  evaluate(io, inverter) {
    const wh = members(io.model, inverter).reduce((sum, one) => sum + idle_Wh(io, one), 0);
    const harvest = harvest_Wh(io);
    const months = occupied(io);
    const mean = months.reduce((sum, month) => sum + (harvest[month - 1] ?? 0), 0) / months.length;
    io.work(`idle ${figure(wh)} Wh a day of a mean harvest of ${figure(mean)} Wh`);
    if (mean <= 0) return { verdict: wh > 0 ? 'over' : 'holds' };
    return { ratio: { demand: (100 * wh) / mean, limit: 20, unit: '%', sense: 'max', tightAbove: 0.5 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? `What the inverter's idle draw costs ${NOT_YET}`
      : demand === null
        ? 'It draws power even when idle, and there is no sun to replace it.'
        : `The inverter's idle draw takes ${round(demand)} % of the solar yield.`,
  remedies: (model, inverter, { use, tightAbove }) => {
    const hours = Math.floor(((inverter.idleHours_d ?? 24) * (tightAbove ?? 1)) / (use ?? 1) + 1e-9);
    // Never fewer than what hangs on it runs: a fridge is not served by an inverter that is off.
    return use && hours >= Math.max(1, hoursBehind(model.system, inverter))
      ? [
          {
            title: `Switch it on for no more than ${hours} h a day`,
            detail: 'a switch by the door, or its search mode; loads that run day and night should be DC',
            changes: [setPart('inverters', inverter.id, { idleHours_d: hours })],
            limits: 'hours' as const,
          },
        ]
      : [];
  },
  needs: 'Needs a smaller inverter, one with a lower idle draw, or its loads on DC.',
});

const feed = rule<Inverter>({
  id: 'inverter.feed',
  title: 'Supply of a building',
  consequence: 'danger',
  gravity: 2,
  bearsOn: [],
  cautions: ['backfeed', 'codes'],
  cases: having(({ feeds, transfer }) => feeds === 'building' && (transfer === 'none' || !transfer)),
  evaluate(io, { id, transfer }) {
    if (!transfer) io.miss(`${id}.transfer`);
    return { verdict: 'over' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Nobody has checked how the inverter is isolated from other supplies.'
      : 'The inverter feeds a building with nothing to keep two supplies apart.',
  needs:
    'Needs a licensed person, and a transfer switch that cannot connect both supplies at once. Until then it feeds nothing in the building.',
});

const precharge = rule<Inverter>({
  id: 'inverter.precharge',
  title: 'Pre-charge',
  consequence: 'damage',
  bearsOn: [],
  cautions: ['inrush'],
  cases: having(({ continuous_W, precharge: there }) => continuous_W > 1000 && !there),
  evaluate(io, { continuous_W }) {
    const volts = io.model.system.nominal_V;
    if (volts) {
      const farads = (PRECHARGE_UF_W.find(([upTo]) => volts <= upTo)?.[1] ?? 1.5) * continuous_W * 1e-6;
      io.work(
        `R = ${figure(volts)} V / 1 A = ${figure(volts)} ohm; wait 5 x R x ${figure(farads * 1000)} mF = ${figure(5 * volts * farads)} s`,
      );
    }
    return { verdict: 'note' };
  },
  sentence: () => "Pre-charge this inverter's capacitors before closing the main switch.",
});

/** Rules of inverters. */
export const inverterRules: Rule<unknown>[] = [
  continuous,
  apparent,
  surge,
  waveform,
  window,
  profile,
  idle,
  feed,
  precharge,
  sag,
];
