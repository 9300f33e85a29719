import { volts_V } from '../../power/under-load';
import { cellsInSeries } from '../../bank/bank';
import { half_V, sagBank_ohm } from '../../bank/resistance';
import { networkOf, touches } from '../../conductors/network';
import { apart, figure } from '../../ledger/figures';
import type { Ledger } from '../../ledger/ledger';
import { inverterEfficiency, loadsOf, low_V, running_W, surge_W } from '../../power/loads';
import type { Inverter } from '../../system/schema';
import { moreStrings } from '../cures/bank';
import { softStarts, takeTurns } from '../cures/devices';
import { jointsAway, sizeUp } from '../cures/wires';
import { surgeRating_W } from '../../power/discharge';
import { onRunOf } from '../../power/groups';
import { NOT_YET, rule } from '../rule';
import { path_ohm } from '../wires/run-limits';

import { groupCases, members } from './inverter-cases';

/** Volts at the inverter under load, the larger root of V = E - R P / V; no root: it collapses. */
export const sag = rule<Inverter>({
  id: 'system.sag',
  title: 'Voltage at the inverter under load',
  comesOf: 'run.drop',
  consequence: 'outage',
  sizeDoes: 'holds the inverter up',
  bearsOn: ['load', 'bank', 'cable'],
  curedByLimit: 'load',
  cases: (model) =>
    groupCases(model).flatMap(({ subject, about }) => [
      { subject, about, quantity: 'running' },
      { subject, about, quantity: 'surge' },
    ]),
  evaluate(io, inverter, quantity) {
    const { system } = io.model;
    const { bank } = system;
    if (!bank) io.miss('bank');
    const way_ohm = wayToInverter_ohm(io, inverter);
    const watts = drawn_W(io, inverter, quantity === 'surge' ? 'surge' : 'running');
    const limit = low_V(io, inverter) + (0.3 * io.need('system.nominal_V', system.nominal_V)) / 12;
    if (!bank || way_ohm === null) return { verdict: 'over' };
    const ohm = sagBank_ohm(io, bank, true) + way_ohm;
    const emf = cellsInSeries(io, bank) * half_V(bank);
    io.work(`half full ${figure(emf)} V, ${figure(ohm * 1000)} mohm to the inverter, ${figure(watts)} W from the bank`);
    const volts = volts_V(emf, ohm, watts);
    if (volts === null) {
      io.work('no stable voltage: it collapses');
      return { verdict: 'over', unit: 'V' };
    }
    io.work(`${figure(volts)} V at the inverter; cut-off and 0.3 V per 12 V: ${figure(limit)} V`);
    return { ratio: { demand: volts, limit, unit: 'V', sense: 'min', tightAbove: 0.97 } };
  },
  sentence({ demand, limit, quantity, verdict }) {
    const when = quantity === 'surge' ? 'At the hardest start' : 'With everything running';
    if (verdict === 'unknown') return `${when}, how far the voltage drops ${NOT_YET}`;
    if (demand === null) return `${when} the voltage collapses.`;
    const { there, allowed } = apart(demand, limit);
    return `${when} the inverter gets ${there} V; it needs ${allowed} V.`;
  },
  remedies(model, inverter) {
    const { system } = model;
    const run = (system.runs ?? []).find((one) => one.kind === 'battery-inverter' && touches(one, inverter.id));
    const way = run ? [...(networkOf(system).feedersOf(run) ?? []), run] : [];
    return [
      ...takeTurns(model, inverter),
      ...softStarts(model, inverter),
      ...way.flatMap((each) => [...jointsAway(each), ...sizeUp(model, each)]),
      ...(system.bank ? moreStrings(model, system.bank) : []),
    ];
  },
  needs: 'Needs a shorter or thicker cable to the bank, a stronger bank, a higher system voltage, or a smaller load.',
});

/**
 * Watts that an inverter takes from the bank with everything running, or at the hardest start: never more than it surges
 * with, where that is recorded. Above it the inverter gives up, and that is for `inverter.surge` to say.
 */
export const drawn_W = (io: Ledger, inverter: Inverter, when: 'running' | 'surge') => {
  const loads = loadsOf(io.model.system, inverter);
  if (when === 'running') return running_W(io, loads) / inverterEfficiency(io, inverter);
  const known = members(io.model, inverter).every(({ surge_W: rating }) => rating !== null && rating !== undefined);
  const most = known ? surgeRating_W(io, inverter) : Infinity;
  return Math.min(surge_W(io, loads), most) / inverterEfficiency(io, inverter);
};

/** Everything between the bank's posts and an inverter, ohm; null where the way is not recorded. */
export function wayToInverter_ohm(io: Ledger, inverter: Inverter): number | null {
  const { system } = io.model;
  const run = (system.runs ?? []).find((one) => one.kind === 'battery-inverter' && touches(one, inverter.id));
  const feeders = run ? networkOf(system).feedersOf(run) : null;
  if (!run || !feeders) {
    io.miss(`${inverter.id}.run`);
    return null;
  }
  // Of a group the first's own run carries its share; the bank and the feeders carry all of it.
  const all = members(io.model, inverter).reduce((sum, { continuous_W }) => sum + continuous_W, 0);
  const share = onRunOf(system, inverter).reduce((sum, { continuous_W }) => sum + continuous_W, 0) / all;
  return path_ohm(io, run, feeders, share);
}
