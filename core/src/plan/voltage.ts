import { top_V } from '../bank/bank';
import { dcDcInput_V, design_A } from '../power/design';
import { area_mm2 } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import { CHARGER_A, sizeSold } from '../rules/cures/sold';
import { inputsOfKind } from '../successor/in-its-place';
import { cableSpec } from '../successor/wires';
import { type Model, withChanges } from '../system/model';

import type { Change, Charger, Converter, Run, System } from '../system/schema';
import { judged, type PartVerdict } from './parts-after';
import {
  bankValue,
  controllerChanges,
  fuseChanges,
  inverterChanges,
  loadChanges,
  settingChanges,
  sizedControllers,
  stringChanges,
  toOrder,
} from './voltage-parts';
import { partTitle } from '../conductors/names';

/** What a step up in voltage replaces, reconfigures and saves. */
export interface VoltageChange {
  from_V: number;
  to_V: number;
  changes: Change[];
  parts: PartVerdict[];
  currents: CurrentChange[];
  /** Copper that the DC cables need at the least, kg, at the old and at the new voltage. */
  copper_kg: { before: number; after: number };
  missing: string[];
}
/** The current of one cable before and after, A. */
export interface CurrentChange {
  id: string;
  label: string;
  before_A: number | null;
  after_A: number | null;
  /** The least size that the rules ask for. */
  sizeBefore: string | null;
  sizeAfter: string | null;
}

/** Steps that are sold. */
export const VOLTAGES = [12, 24, 48] as const;
/** Up to so many watts a voltage is commonly kept (the job, schools). */
const UP_TO_W: readonly (readonly [volts: number, watts: number])[] = [
  [12, 1500],
  [24, 4000],
];
/** The voltage that the inverters' rating speaks for; the one that is there, where it is enough. */
export function voltageFor({ system }: Model): number | null {
  if (!system.nominal_V) return null;
  const watts = (system.inverters ?? []).reduce((sum, { continuous_W }) => sum + continuous_W, 0);
  const wanted = UP_TO_W.find(([, most]) => watts <= most)?.[0] ?? 48;
  return Math.max(system.nominal_V, wanted);
}

const COPPER_KG_M_MM2 = 8.96e-3;

/** True where there is a step up to be taken. */
export const canRaise = ({ system: { bank, nominal_V } }: Model) =>
  Boolean(bank && nominal_V && VOLTAGES.some((volts) => volts > nominal_V));

/** The whole system at a higher voltage. Null where there is no bank, or no step up to it. */
export function raiseVoltage(model: Model, to_V: number): VoltageChange | null {
  const { system } = model;
  const { bank, nominal_V: from_V } = system;
  if (!bank || !from_V || to_V <= from_V) return null;
  const factor = to_V / from_V;
  const parts: PartVerdict[] = [];
  // The bank and the settings first: what becomes of every device is read off the system that has them.
  const changes: Change[] = [
    { op: 'set', at: 'bank', id: bank.id, value: bankValue(bank, to_V, parts) },
    ...settingChanges(system, factor),
  ];
  const based = withNominal(model, changes, to_V);
  changes.push(
    ...(system.controllers ?? []).flatMap((controller) => controllerChanges(based, controller, factor, parts)),
    ...(system.inverters ?? []).flatMap((inverter) => inverterChanges(based, inverter, factor, parts)),
    ...(system.chargers ?? []).map((charger) => chargerChange(model, charger, to_V, parts)),
    ...(system.converters ?? []).map((converter) => converterChange(system, converter, to_V, parts)),
    ...loadChanges(based, from_V, to_V, parts),
  );
  changes.push(...stringChanges(withNominal(model, changes, to_V), parts));
  const replaced = new Set(parts.filter(({ verdict: what }) => what === 'replace').map(({ id }) => id));
  changes.push(...sizedControllers(withNominal(model, changes, to_V), replaced));
  const devices = withNominal(model, changes, to_V);
  changes.push(...fuseChanges(devices, parts));
  const after = withNominal(model, changes, to_V);
  parts.push(...besides(system, from_V, to_V));
  // Whatever the bank's volts rest on, its verdicts rest on too.
  const io = createLedger(after);
  if (after.system.bank) top_V(io, after.system.bank);
  const currents = currentsOf(model, after);
  const mass_kg = (which: 'sizeBefore' | 'sizeAfter') => copper_kg(system, currents, which);
  return {
    from_V,
    to_V,
    changes: [...changes, ...nominalChange(to_V)],
    parts,
    currents,
    copper_kg: { before: mass_kg('sizeBefore'), after: mass_kg('sizeAfter') },
    missing: [...io.missing].sort(),
  };
}

/** A charger for the new volts; the vehicle keeps its own: what comes there is a charger from those to the new ones. */
function chargerChange(model: Model, charger: Charger, to_V: number, parts: PartVerdict[]): Change {
  const { system } = model;
  const from_V = system.nominal_V ?? to_V;
  const vehicle_V = charger.kind === 'mains' ? null : dcDcInput_V(createLedger(model), charger);
  parts.push(
    judged(
      charger.id,
      'replace',
      vehicle_V
        ? `A DC-DC charger from ${Number.isNaN(vehicle_V) ? "the vehicle's voltage" : `${vehicle_V} V`} to ${to_V} V with the same power. The vehicle system stays as it is.`
        : `A charger for ${from_V} V; one for ${to_V} V with the same power delivers half the current or less.`,
    ),
  );
  return {
    op: 'set',
    at: 'chargers',
    id: charger.id,
    value: {
      label: toOrder(partTitle(system, charger.id) ?? 'Charger', to_V),
      ...(charger.output_V ? { output_V: to_V } : {}),
      max_A: sizeSold(CHARGER_A, (charger.max_A * from_V) / to_V) ?? (charger.max_A * from_V) / to_V,
      ...(vehicle_V && !Number.isNaN(vehicle_V) ? { kind: 'dc-dc', input_V: vehicle_V } : {}),
    },
  };
}

/** A converter with the same output. */
function converterChange(system: System, converter: Converter, to_V: number, parts: PartVerdict[]): Change {
  parts.push(
    judged(converter.id, 'replace', `Its input is ${converter.in_V} V; one for ${to_V} V with the same output.`),
  );
  return {
    op: 'set',
    at: 'converters',
    id: converter.id,
    value: { in_V: to_V, label: toOrder(partTitle(system, converter.id) ?? 'Converter', to_V) },
  };
}

/** What does not change with the volts, or only has to be told of them. */
function besides(system: System, from_V: number, to_V: number): PartVerdict[] {
  const parts: PartVerdict[] = [];
  for (const { id } of system.sources ?? []) parts.push(judged(id, 'keep', 'AC stays as it is.'));
  if (system.monitor)
    parts.push(
      judged(system.monitor.id, 'keep-reset', `It must work at ${to_V} V. Set capacity and charged voltage again.`),
    );
  for (const { id, circuits } of system.distribution ?? []) {
    const kinds = (circuits ?? []).map((circuit) => system.runs?.find((run) => run.id === circuit)?.kind);
    // A combiner of the modules never sees the bank.
    if (kinds.length > 0 && kinds.every((kind) => kind === 'pv')) {
      parts.push(judged(id, 'keep', 'Joins the modules; the bank voltage does not reach it.'));
      continue;
    }
    parts.push(
      judged(
        id,
        'reconfigure',
        `Check its label: is it rated for ${to_V} V DC? Loads for ${from_V} V go behind the converter.`,
      ),
    );
  }
  return parts;
}

/** What each run carries before and after, A, and the thinnest conductor for either. */
function currentsOf(before: Model, after: Model): CurrentChange[] {
  const amps = (model: Model, run: Run) => known(design_A(createLedger(model), run));
  return (before.system.runs ?? [])
    .filter(({ kind }) => kind !== 'pv' && kind !== 'link')
    .map((run) => ({
      id: run.id,
      label: partTitle(before.system, run.id) ?? '',
      before_A: amps(before, run),
      after_A: amps(after, after.system.runs?.find(({ id }) => id === run.id) ?? run),
      sizeBefore: leastSize(before, run.id),
      sizeAfter: leastSize(after, run.id),
    }));
}

/** Both ways, of the runs whose sizes are known before and after. */
function copper_kg(system: System, currents: readonly CurrentChange[], which: 'sizeBefore' | 'sizeAfter'): number {
  return currents.reduce((sum, one) => {
    const run = system.runs?.find(({ id }) => id === one.id);
    const sold = one[which];
    return run && sold && one.sizeBefore && one.sizeAfter
      ? sum + 2 * run.length_m * (run.perPole ?? 1) * area_mm2(sold) * COPPER_KG_M_MM2
      : sum;
  }, 0);
}

const known = (value: number) => (Number.isFinite(value) ? value : null);
const nominalChange = (to_V: number): Change[] => [{ op: 'set', at: 'system', value: { nominal_V: to_V } }];
const withNominal = (model: Model, changes: readonly Change[], to_V: number): Model =>
  withChanges(model, [...changes, ...nominalChange(to_V)]);

const leastSize = (model: Model, id: string): string | null => {
  const inputs = inputsOfKind(model, id, 'runs');
  const sizes = inputs
    ? cableSpec(inputs).filter(({ field, value }) => field === 'size' && typeof value === 'string')
    : [];
  return (sizes[0]?.value as string | undefined) ?? null;
};
