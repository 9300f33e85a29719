import { cellsInSeries } from '../bank/bank';
import { chargingDevices, hasCharger, sourceOfCharger, type ChargingDevice } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { sharing } from '../bank/resistance';
import { behind } from './ac';
import { mainsSources } from '../system/model';
import { continuousDischarge_A } from './discharge';
import { inverterGroups, onRunOf } from './groups';
import { outputGroups, push_A } from '../pv/controllers';
import { modulesOf, stringImp_A, stringIscBifacial_A } from '../pv/strings';
import type { Ledger } from '../ledger/ledger';
import { bankAmps, converterMost_A, count, loadsOf, loadsOnOutput, running_VA, unit_W } from './loads';
import type { Charger, Load, ModuleType, Run } from '../system/schema';
import { atEnd, networkOf, touches } from '../conductors/network';

/** Strings that a pv run carries: those it names, else all of its array; from a combiner, those of its circuits. */
export function stringsOfRun(io: Ledger, run: Run, seen: readonly string[] = []): ModuleType[][] {
  const { system } = io.model;
  const array = atEnd(system.arrays, run);
  if (array)
    return array.strings
      .filter((_, i) => !run.strings || run.strings.includes(i))
      .map((string) => modulesOf(system, string));
  const combiner = atEnd(system.distribution, run);
  return (combiner?.circuits ?? [])
    .filter((id) => id !== run.id && !seen.includes(id))
    .flatMap((id) => {
      const circuit = system.runs?.find((other) => other.id === id);
      return circuit?.kind === 'pv' ? stringsOfRun(io, circuit, [...seen, run.id]) : [];
    });
}

/** Input volts that a dc-dc charger is designed for, a 12 V or a 24 V vehicle: by its plate, else by its alternator's. */
export const dcDcInput_V = (io: Ledger, charger: Charger) => {
  const source = sourceOfCharger(io.model.system, charger);
  const read = io.see(`${charger.id}.input_V`, charger.input_V) ?? source?.nominal_V;
  const volts = io.need(`${charger.id}.input_V`, read);
  return Number.isNaN(volts) ? volts : volts < 18 ? 12 : 24;
};

/**
 * What a dc-dc charger draws at its input, A.
 * @param output_A what it delivers: its plate for a cable, its setting where that is lower for the alternator
 */
export function dcDcInput_A(io: Ledger, charger: Charger, output_A = charger.max_A): number {
  const { bank } = io.model.system;
  if (!bank) io.miss('bank');
  const absorb = bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : Number.NaN;
  const efficiency = io.or(`${charger.id}.efficiency_pct`, charger.efficiency_pct, 88) / 100;
  return (output_A * absorb) / (dcDcInput_V(io, charger) * efficiency);
}

/** What flows through a run: towards the bank, and from it. */
interface Flow {
  sources: number;
  loads: number;
}
const NOTHING: Flow = { sources: 0, loads: 0 };
const added = (a: Flow, b: Flow): Flow => ({ sources: a.sources + b.sources, loads: a.loads + b.loads });

/** The current a run is designed for, A. Missing ends are noted and give NaN. */
export function design_A(io: Ledger, run: Run): number {
  if (run.kind === 'pv') {
    const strings = stringsOfRun(io, run);
    if (strings.length === 0) return io.need(`${run.id}.from`, null);
    return 1.25 * strings.reduce((sum, modules) => sum + stringIscBifacial_A(modules), 0);
  }
  if (run.kind === 'ac') return acDesign_A(io, run);
  const { system } = io.model;
  if (networkOf(system).isBatteryLink(run)) return linkDesign_A(io);
  const { sources, loads } = flowOf(io, run, []);
  return Math.max(sources, loads);
}

/** What one link of a bank carries: the continuous discharge by the string that works hardest, A. */
export function linkDesign_A(io: Ledger): number {
  const { bank } = io.model.system;
  if (!bank) return io.need('bank', null);
  return (continuousDischarge_A(io) * sharing(io, bank).worst) / bank.parallel;
}

/** A run's device with what is tapped from its posts; a board's circuits. */
function flowOf(io: Ledger, run: Run, seen: readonly string[]): Flow {
  const { system } = io.model;
  const network = networkOf(system);
  const own = network.ownEnd(run);
  const box = (system.distribution ?? []).find(({ id }) => id === own);
  if (box && (run.kind === 'dc-load' || run.kind === 'link')) return throughBox(io, box, [...seen, run.id]);
  const input =
    (run.kind === 'converter' || run.kind === 'charger') &&
    network.side(run) === (run.kind === 'converter' ? 'output' : 'input');
  const mine = ownFlow(io, run);
  // What is tapped hangs on the side that the bank feeds.
  if (!own || input) return mine;
  return network
    .tappedFrom(own)
    .filter(({ id }) => id !== run.id && !seen.includes(id))
    .reduce((sum, each) => added(sum, flowOf(io, each, [...seen, run.id])), mine);
}

/** What a run's own device brings or takes, A. */
function ownFlow(io: Ledger, run: Run): Flow {
  const { system } = io.model;
  const network = networkOf(system);
  const lost = (end: string): Flow => ({ sources: io.need(`${run.id}.${end}`, null), loads: Number.NaN });
  switch (run.kind) {
    case 'controller-battery': {
      const controller = atEnd(system.controllers, run);
      const group = outputGroups(system).find(({ members }) => controller && members.includes(controller));
      if (!group || !controller) return lost('from');
      const sources = Math.min(group.first.maxOutput_A, push_A(io, group));
      const onOutput = loadsOnOutput(system, controller.id);
      return { sources, loads: onOutput.reduce((sum, load) => sum + load_A(io, load, null), 0) };
    }
    case 'battery-inverter': {
      const inverter = atEnd(system.inverters, run);
      if (!inverter) return lost('to');
      return onRunOf(system, inverter).reduce<Flow>(
        (sum, one) =>
          added(sum, {
            sources: hasCharger(one) ? io.need(`${one.id}.charger.max_A`, one.charger?.max_A) : 0,
            loads: bankAmps(io, one, one.continuous_W),
          }),
        NOTHING,
      );
    }
    case 'charger': {
      const charger = atEnd(system.chargers, run);
      if (charger) {
        const input = charger.kind === 'dc-dc' && network.side(run) === 'input';
        return { sources: input ? dcDcInput_A(io, charger) : charger.max_A, loads: 0 };
      }
      const inside = chargingDevices(system).find(({ at, id }) => at === 'inverters' && touches(run, id));
      return inside ? { sources: io.need(`${inside.path}.max_A`, inside.rating_A), loads: 0 } : lost('from');
    }
    case 'converter': {
      const converter = atEnd(system.converters, run);
      if (!converter) return lost('to');
      const amps = converterMost_A(io, converter);
      if (network.side(run) === 'output') return { sources: amps, loads: 0 };
      const efficiency = io.or(`${converter.id}.efficiency_pct`, converter.efficiency_pct, 92) / 100;
      return { sources: 0, loads: (amps * converter.out_V) / (converter.in_V * efficiency) };
    }
    default: {
      const load = (system.loads ?? []).find(({ id }) => id === network.ownEnd(run));
      return load ? { sources: 0, loads: load_A(io, load, network.converterVolts(run)) } : lost('to');
    }
  }
}

/** What a run's own device charges with, A: what others draw from its posts is not what it misreads the bank by. */
export const charging_A = (io: Ledger, run: Run): number => ownFlow(io, run).sources;

/** What a DC load draws, A: a load of constant power most when the bank is lowest; behind a converter its volts stand still. */
export function load_A(io: Ledger, load: Load, converted_V: number | null, watts = unit_W(load)): number {
  const constant = load.type === 'electronic' || load.type === 'compressor';
  const nominal = () => io.need('system.nominal_V', io.model.system.nominal_V) * (constant ? 0.875 : 1);
  return (watts * count(io, load)) / (converted_V ?? nominal());
}

/** What a distribution's sources bring and its loads take, A: its circuits, and what else starts from it. */
export function throughBox(
  io: Ledger,
  box: { id: string; circuits?: readonly string[] | null | undefined },
  seen: readonly string[] = [],
): Flow {
  const { system } = io.model;
  const network = networkOf(system);
  const feeds = (run: Run) =>
    run.kind === 'converter' ? network.side(run) === 'output' : network.ownEnd(run) === box.id;
  let sum = NOTHING;
  for (const run of system.runs ?? []) {
    const listed = box.circuits?.includes(run.id) ?? false;
    const starts = touches(run, box.id) && run.kind !== 'pv' && run.kind !== 'ac' && !feeds(run);
    if (seen.includes(run.id) || !(listed || starts)) continue;
    // The run that joins it to the bank, or a combiner to its controller, is neither source nor load.
    if (network.ownEnd(run) === box.id && network.feedersOf(run) !== null) continue;
    if (run.kind === 'pv' && atEnd(system.controllers, run)) continue;
    sum = added(sum, run.kind === 'pv' ? { sources: design_A(io, run), loads: 0 } : flowOf(io, run, seen));
  }
  return sum;
}

/** What the loads and chargers behind a run of the mains draw at once, VA. */
export function acDrawn_VA(io: Ledger, run: Run): number {
  const { system } = io.model;
  const reached = new Set(behind(system, run));
  const loads = (system.loads ?? []).filter(({ id, kind }) => kind === 'ac' && reached.has(id));
  const chargers = chargingDevices(system).filter(({ id, occasion }) => occasion === 'mains' && reached.has(id));
  const passed = inverterGroups(system)
    .filter(({ first, members }) => first.transfer === 'built-in' && members.some(({ id }) => reached.has(id)))
    .flatMap(({ first }) => loadsOf(system, first));
  return (
    running_VA(io, [...new Set([...loads, ...passed])]) +
    chargers.reduce((sum, device) => sum + charger_VA(io, device), 0)
  );
}

/**
 * VA of a charger on the mains.
 * @param output_A what it delivers; absent: its plate, as a cable has to expect
 */
export function charger_VA(
  io: Ledger,
  { path, rating_A, efficiency_pct, powerFactor }: ChargingDevice,
  output_A?: number,
): number {
  const { bank } = io.model.system;
  const absorb = bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : io.need('bank', null);
  const share =
    (io.or(`${path}.efficiency_pct`, efficiency_pct, 88) / 100) * io.or(`${path}.powerFactor`, powerFactor, 0.95);
  return ((output_A ?? io.need(`${path}.max_A`, rating_A)) * absorb) / share;
}

/** Volts of the mains at a run: of the source at its end, else of the first; 230 V where nobody said. */
export function acVolts(io: Ledger, run: Run): number {
  const source = atEnd(mainsSources(io.model.system), run) ?? mainsSources(io.model.system)[0];
  return source ? io.or(`${source.id}.ac_V`, source.ac_V, 230) : 230;
}

function acDesign_A(io: Ledger, run: Run): number {
  const { system } = io.model;
  const volts = acVolts(io, run);
  const drawn = acDrawn_VA(io, run) / volts;
  const inverter = (system.inverters ?? []).find(({ id }) => id === run.from);
  const source = mainsSources(system).find(({ id }) => id === run.from);
  let least = 0;
  if (inverter)
    least = (io.see(`${inverter.id}.continuous_VA`, inverter.continuous_VA) ?? inverter.continuous_W) / volts;
  else if (source?.kind === 'inlet') least = io.need(`${source.id}.inlet_A`, source.inlet_A);
  else if (source) least = io.need(`${source.id}.power_W`, source.power_W) / volts;
  const amps = Math.max(drawn, least);
  const rating =
    run.protection?.type === 'none' ? null : io.see(`${run.id}.protection.rating_A`, run.protection?.rating_A);
  return rating ? Math.min(amps, rating) : amps;
}

/** Current for the drop of a pv run: what flows at full power, not what must be withstood. */
export const impOfRun_A = (io: Ledger, run: Run) =>
  stringsOfRun(io, run).reduce((sum, modules) => sum + stringImp_A(modules), 0);
