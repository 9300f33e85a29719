import { cellsInSeries } from '../bank/bank';
import { chargingDevices } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { sharing } from '../bank/resistance';
import { continuousDischarge_A } from './discharge';
import { outputGroups, push_A } from '../pv/controllers';
import { modulesOf, stringImp_A, stringIscBifacial_A } from '../pv/strings';
import type { Ledger } from '../ledger/ledger';
import { inverterEfficiency, low_V, unit_W, count } from './loads';
import type { Charger, ModuleType, Run } from '../system/schema';
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
      const circuit = system.runs?.find((candidate) => candidate.id === id);
      return circuit?.kind === 'pv' ? stringsOfRun(io, circuit, [...seen, run.id]) : [];
    });
}

/** Input volts that a dc-dc charger is designed for: a 12 V or a 24 V vehicle. */
export const dcDcInput_V = (io: Ledger, { id, input_V }: Charger) => {
  const volts = io.need(`${id}.input_V`, input_V);
  return Number.isNaN(volts) ? volts : volts < 18 ? 12 : 24;
};
export function dcDcInput_A(io: Ledger, charger: Charger): number {
  const { bank } = io.model.system;
  if (!bank) io.miss('bank');
  const absorb = bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].absorb_V : Number.NaN;
  const efficiency = io.or(`${charger.id}.efficiency_pct`, charger.efficiency_pct, 88) / 100;
  return (charger.max_A * absorb) / (dcDcInput_V(io, charger) * efficiency);
}

/** The current a run is designed for, A. Missing ends are noted and give NaN. */
export function design_A(io: Ledger, run: Run, seen: readonly string[] = []): number {
  const { system } = io.model;
  const network = networkOf(system);
  const lost = (end: string) => io.need(`${run.id}.${end}`, null);
  switch (run.kind) {
    case 'pv': {
      const strings = stringsOfRun(io, run);
      if (strings.length === 0) return lost('from');
      return 1.25 * strings.reduce((sum, modules) => sum + stringIscBifacial_A(modules), 0);
    }
    case 'controller-battery': {
      const controller = atEnd(system.controllers, run);
      const group = outputGroups(system).find(({ members }) => controller && members.includes(controller));
      if (!group) return lost('from');
      return Math.min(group.first.maxOutput_A, push_A(io, group));
    }
    case 'battery-inverter': {
      const inverter = atEnd(system.inverters, run);
      if (!inverter) return lost('to');
      return inverter.continuous_W / (inverterEfficiency(io, inverter) * low_V(io, inverter));
    }
    case 'charger': {
      const charger = atEnd(system.chargers, run);
      if (charger)
        return charger.kind === 'dc-dc' && network.side(run) === 'input' ? dcDcInput_A(io, charger) : charger.max_A;
      const inside = chargingDevices(system).find(({ at, id }) => at === 'inverters' && touches(run, id));
      return inside ? io.need(`${inside.path}.max_A`, inside.rating_A) : lost('from');
    }
    case 'converter': {
      const converter = atEnd(system.converters, run);
      if (!converter) return lost('to');
      if (network.side(run) === 'output') return converter.max_A;
      const efficiency = io.or(`${converter.id}.efficiency_pct`, converter.efficiency_pct, 92) / 100;
      return (converter.max_A * converter.out_V) / (converter.in_V * efficiency);
    }
    case 'dc-load': {
      const load = atEnd(system.loads, run);
      if (load) {
        const nominal = io.need('system.nominal_V', system.nominal_V);
        const converted = network.converterVolts(run);
        const constant = load.type === 'electronic' || load.type === 'compressor';
        // A constant-power load draws most when the bank is lowest; behind a converter its volts stand still.
        const volts = converted ?? (constant ? 0.875 * nominal : nominal);
        return (unit_W(load) * count(io, load)) / volts;
      }
      // Of two distributions the one further from the bank is fed by this run.
      const boxes = (system.distribution ?? []).filter(({ id }) => id === run.from || id === run.to);
      const depth = (id: string) => network.feedersTo(id)?.length ?? Infinity;
      const box = boxes.sort((a, b) => depth(b.id) - depth(a.id))[0];
      if (!box || seen.includes(run.id)) return lost('to');
      const { sources, loads } = throughBox(io, box, [...seen, run.id]);
      return Math.max(sources, loads);
    }
    case 'link': {
      const { bank } = system;
      if (!bank) return io.need('bank', null);
      return (continuousDischarge_A(io) * sharing(io, bank).worst) / bank.parallel;
    }
  }
}

/** What a distribution's sources bring and its loads take, A. */
export function throughBox(
  io: Ledger,
  box: { circuits?: readonly string[] | null },
  seen: readonly string[] = [],
): { sources: number; loads: number } {
  const { system } = io.model;
  const network = networkOf(system);
  let sources = 0;
  let loads = 0;
  for (const id of box.circuits ?? []) {
    const circuit = system.runs?.find((run) => run.id === id);
    if (!circuit || seen.includes(id)) continue;
    const amps = design_A(io, circuit, seen);
    const brings =
      circuit.kind === 'controller-battery' ||
      circuit.kind === 'pv' ||
      circuit.kind === 'charger' ||
      (circuit.kind === 'converter' && network.side(circuit) === 'output');
    if (brings) sources += amps;
    else loads += amps;
  }
  return { sources, loads };
}

/** Current for the drop of a pv run: what flows at full power, not what must be withstood. */
export const impOfRun_A = (io: Ledger, run: Run) =>
  stringsOfRun(io, run).reduce((sum, modules) => sum + stringImp_A(modules), 0);
