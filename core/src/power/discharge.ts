import type { Ledger } from '../ledger/ledger';
import type { Load } from '../system/schema';
import { dc_W, dcLoads, inverterEfficiency, loadsOf, low_V, running_W, together } from './loads';

/** Amperes drawn from the bank. */

const nominal = (io: Ledger) => io.need('system.nominal_V', io.model.system.nominal_V);

/** Peak running of all DC loads. */
export const dcRunning_A = (io: Ledger) => {
  const loads = dcLoads(io.model.system);
  return loads.length === 0 ? 0 : together(io, loads, (load) => dc_W(io, load)) / nominal(io);
};

/** Every inverter at its rating, and the DC loads that may run together. */
export function continuousDischarge_A(io: Ledger): number {
  const inverters = (io.model.system.inverters ?? []).reduce(
    (sum, inverter) => sum + inverter.continuous_W / (inverterEfficiency(io, inverter) * low_V(io, inverter)),
    0,
  );
  return inverters + dcRunning_A(io);
}

/** What the loads really ask for at most: peak running through the inverters, and the DC loads. */
export function runningDischarge_A(io: Ledger): number {
  const { system } = io.model;
  const inverters = (system.inverters ?? []).reduce(
    (sum, inverter) =>
      sum + running_W(io, loadsOf(system, inverter)) / (inverterEfficiency(io, inverter) * low_V(io, inverter)),
    0,
  );
  return inverters + dcRunning_A(io);
}

const hasPeak = ({ recordedPeak_W }: Load) => recordedPeak_W !== null && recordedPeak_W !== undefined;

/** The recorded peaks, A; null where none was recorded. */
export function recordedDischarge_A(io: Ledger): number | null {
  const { system } = io.model;
  if (!(system.loads ?? []).some(hasPeak)) return null;
  let sum = 0;
  for (const inverter of system.inverters ?? []) {
    const watts = loadsOf(system, inverter).reduce((total, { recordedPeak_W }) => total + (recordedPeak_W ?? 0), 0);
    if (watts > 0) sum += watts / (inverterEfficiency(io, inverter) * low_V(io, inverter));
  }
  const dc = dcLoads(system).reduce((total, { recordedPeak_W }) => total + (recordedPeak_W ?? 0), 0);
  return dc > 0 ? sum + dc / nominal(io) : sum;
}

/** An inverter's or all inverters' surge rating, A. */
export const surgeDischarge_A = (io: Ledger) =>
  (io.model.system.inverters ?? []).reduce(
    (sum, inverter) =>
      sum +
      io.need(`${inverter.id}.surge_W`, inverter.surge_W) / (inverterEfficiency(io, inverter) * low_V(io, inverter)),
    0,
  );
