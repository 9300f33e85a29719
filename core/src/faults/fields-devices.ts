import { WARM_C } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import { design_A, impOfRun_A } from '../power/design';
import { controllers_W, low_V, start_W, unit_W } from '../power/loads';
import { volts_V } from '../power/under-load';
import { drawn_W, wayToInverter_ohm } from '../rules/devices/sag';
import { devices_ohm, runBothWays_ohm } from '../rules/wires/run-limits';
import { mainsSources } from '../system/model';
import type { BankNow } from './altered';
import type { Asked } from './asked';
import type { Tools } from './engine';
import { fieldOf, FACTOR, scalar, type Field } from './field';
import { MASK, type Place } from './grid';
import type { State } from './state';

/** A good joint and what it warms by at its full current; as `expect` has them. */
const GOOD_JOINT_MOHM = 0.1;
const GOOD_RISE_K = 5;
const RISE_POWER = 1.8;

/** Readings of a cable. */
export function runField({ model, grid, altered }: Tools, asked: Asked, state: State): Field | null {
  const { quantity, at, currentKnown } = asked;
  const run = model.system.runs?.find(({ id }) => id === asked.subject);
  if (!run) return null;
  const io = altered.of(state);
  const now = io.model.system.runs?.find(({ id }) => id === run.id) ?? run;
  const design = run.kind === 'pv' ? impOfRun_A(createLedger(model), run) : design_A(createLedger(model), run);
  const amps = at.current_A === undefined ? at.share * design : Math.abs(at.current_A);
  const share = at.current_A === undefined ? at.share : amps / design;
  const joint_ohm = state.runs?.[run.id]?.ohm ?? 0;
  if (quantity === 'drop_V') {
    const mu = amps * (runBothWays_ohm(io, now, WARM_C, true) + devices_ohm(io, now) + joint_ohm);
    // Half of 20 to 30 % and 10 mV; where the current was not written down, half of it may not have flowed.
    return scalar(grid, mu, (currentKnown ? 0.125 : 0.3) * mu + 0.005);
  }
  if (quantity === 'joint_mohm')
    return joint_ohm > 0
      ? scalar(grid, GOOD_JOINT_MOHM + 1000 * joint_ohm, 0.1, 'ratio')
      : scalar(grid, GOOD_JOINT_MOHM, 0.4, 'most');
  if (quantity === 'jointRise_K') {
    const good = Math.max(0.5, GOOD_RISE_K * share ** RISE_POWER);
    return joint_ohm > 0
      ? scalar(grid, good * Math.min(12, 2 + 4 * Math.log10(1 + 1000 * joint_ohm)), 0.6, 'ratio')
      : scalar(grid, good, 0.5, 'most');
  }
  return null;
}

/** Readings of the whole site. */
export function siteField({ model, grid, altered }: Tools, asked: Asked, state: State): Field | null {
  if (asked.quantity === 'frameEarth_ohm') return scalar(grid, 0.2, 0.5, 'most');
  if (asked.quantity !== 'parasitic_A') return null;
  const known_W = controllers_W(createLedger(model));
  const bankAt = altered.bank({}, asked.at);
  return fieldOf(grid, 0, ({ soc }) => {
    const bank = bankAt(soc);
    const mu = bank ? ((Number.isFinite(known_W) ? known_W : 0) + (state.drain_W ?? 0)) / bank.rest_V : NaN;
    return { mu, sigma: 0.1 * mu + 0.02 };
  });
}

/** Readings of an inverter. */
export function inverterField({ model, grid, altered }: Tools, asked: Asked, state: State): Field | null {
  const { quantity, subject, at } = asked;
  const io = altered.of(state);
  const inverter = io.model.system.inverters?.find(({ id }) => id === subject);
  if (!inverter) return null;
  const own = state.inverters?.[subject];
  const twelves = (model.system.nominal_V ?? 12) / 12;
  const supply_V = inverter.ac_V ?? mainsSources(model.system).find(({ ac_V }) => ac_V)?.ac_V ?? null;
  const bankAt = altered.bank(state, at);
  const overBank = (mask: number, figure: (bank: BankNow, place: Place) => number, sigma: (mu: number) => number) =>
    fieldOf(grid, mask, (place) => {
      const bank = bankAt(place.soc);
      const mu = bank ? figure(bank, place) : NaN;
      return { mu, sigma: sigma(mu) };
    });
  switch (quantity) {
    case 'idle_A':
      return inverter.idle_W
        ? overBank(
            MASK.soc,
            (bank) => (inverter.idle_W ?? NaN) / bank.rest_V,
            (mu) => 0.1 * mu + 0.05,
          )
        : null;
    case 'ac_V':
      return supply_V === null || inverter.waveform === 'modified' ? null : scalar(grid, supply_V, 0.025 * supply_V);
    case 'ac_Hz':
      return inverter.ac_Hz ? scalar(grid, inverter.ac_Hz, 0.0025 * inverter.ac_Hz) : null;
    case 'cutoff_V': {
      const read = inverter.settings?.cutoff_V ?? inverter.lowCutoff_V;
      return read === null || read === undefined
        ? null
        : scalar(grid, low_V(io, inverter) + (own?.cutoff_V ?? 0), 0.05 * twelves);
    }
    case 'neutralEarth_ohm':
      return own?.bond_ohm ? scalar(grid, own.bond_ohm, FACTOR, 'ratio') : scalar(grid, 1, FACTOR, 'most');
    case 'minDc_V':
    case 'dc_V': {
      const way = wayToInverter_ohm(io, inverter);
      if (way === null || !Number.isFinite(way)) return null;
      const more = altered.added(state, 'battery-inverter', subject);
      const path = way + more.own_ohm + more.shared_ohm;
      const watts = quantity === 'minDc_V' ? drawn_W(io, inverter, 'surge') : 0;
      return overBank(
        MASK.soc | MASK.ohm,
        (bank, { ohm }) => {
          if (state.bank?.tripped) return 0;
          const internal = bank.resistance_ohm * ohm;
          // A start that no voltage satisfies pulls it down to half.
          if (quantity === 'minDc_V') return volts_V(bank.rest_V, internal + path, watts) ?? bank.rest_V / 2;
          return bank.rest_V - Math.abs(at.current_A ?? 0) * (internal + path);
        },
        () => 0.05 * twelves,
      );
    }
    default:
      return null;
  }
}

/** Readings of a load. */
export function loadField({ grid, altered, model }: Tools, asked: Asked, state: State): Field | null {
  const load = model.system.loads?.find(({ id }) => id === asked.subject);
  if (!load) return null;
  if (asked.quantity === 'running_W') return scalar(grid, unit_W(load), 0.1 * unit_W(load) + 1);
  if (asked.quantity !== 'start_A') return null;
  const io = altered.of(state);
  const now = io.model.system.loads?.find(({ id }) => id === load.id) ?? load;
  const feeds = model.system.inverters?.find(({ id }) => id === load.inverterId) ?? model.system.inverters?.[0];
  const volts =
    load.kind === 'ac'
      ? (feeds?.ac_V ?? mainsSources(model.system).find(({ ac_V }) => ac_V)?.ac_V)
      : model.system.nominal_V;
  if (!volts) return null;
  const mu = start_W(io, now) / volts;
  return scalar(grid, mu, 0.1 * mu + 0.1);
}
