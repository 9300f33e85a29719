import { groupOf, inverterGroups } from './groups';
import type { Ledger } from '../ledger/ledger';
import type { Inverter, Load } from '../system/schema';
import { bankAmps, dc_W, dcLoads, loadsOf, running_W, surge_W, together } from './loads';

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
    (sum, inverter) => sum + bankAmps(io, inverter, inverter.continuous_W),
    0,
  );
  return inverters + dcRunning_A(io);
}

/** What the loads really ask for at most: peak running through the inverters, and the DC loads. */
export function runningDischarge_A(io: Ledger): number {
  const { system } = io.model;
  const inverters = inverterGroups(system).reduce(
    (sum, { first }) => sum + bankAmps(io, first, running_W(io, loadsOf(system, first))),
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
  for (const { first } of inverterGroups(system)) {
    const watts = loadsOf(system, first).reduce((total, { recordedPeak_W }) => total + (recordedPeak_W ?? 0), 0);
    if (watts > 0) sum += bankAmps(io, first, watts);
  }
  const dc = dcLoads(system).reduce((total, { recordedPeak_W }) => total + (recordedPeak_W ?? 0), 0);
  return dc > 0 ? sum + dc / nominal(io) : sum;
}

/** Surge rating of an inverter, or of all that work in its group, W. */
export const surgeRating_W = (io: Ledger, inverter: Inverter) =>
  groupOf(io.model.system, inverter).members.reduce(
    (sum, { id, surge_W: rating }) => sum + io.need(`${id}.surge_W`, rating),
    0,
  );

/**
 * The hardest start through the inverters, A: of the loads that are recorded, never above what the inverter gives; an
 * inverter without any load is taken at its surge rating.
 */
export const surgeDischarge_A = (io: Ledger) =>
  inverterGroups(io.model.system).reduce((sum, { first }) => {
    const loads = loadsOf(io.model.system, first);
    // Where the start is known and the rating is not, the start counts: nothing is missing for it.
    const known = groupOf(io.model.system, first).members.every(
      ({ surge_W: watts }) => watts !== null && watts !== undefined,
    );
    const asked = loads.length > 0 ? surge_W(io, loads) : Infinity;
    const watts = loads.length > 0 && !known ? asked : Math.min(asked, surgeRating_W(io, first));
    return sum + bankAmps(io, first, watts);
  }, 0);
