import { arrayCurve } from '../pv/array-curve';
import { coldString_V, modulesOf } from '../pv/strings';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import type { ModuleType, PvArray } from '../system/schema';
import { down, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';

/** Current of a new module against those that stay, in a string; the book of practice asks for half the rule's spread. */
const MATCH = 0.05;

/** What a module must be that takes the place of one in a string (the first string, where none is named). */
export function moduleSpec(inputs: SpecInputs<'arrays'>, string = 0): SpecLine[] {
  const { model } = inputs;
  const array = inputs.part;
  const members = modulesOf(model.system, array.strings[string] ?? []);
  const old = members[0];
  if (!old) return [];
  const stay = members.slice(1);
  const imp = stay.length > 0 ? Math.min(...stay.map(({ imp_A }) => imp_A)) : old.imp_A;
  const others = array.strings
    .filter((_, i) => i !== string)
    .map((ids) => modulesOf(model.system, ids).reduce((sum, { vmp_V }) => sum + vmp_V, 0));
  const staying_V = stay.reduce((sum, { vmp_V }) => sum + vmp_V, 0);
  const lines: SpecLine[] = [
    line({
      field: 'imp_A',
      label: 'Current at maximum power (Imp), at least',
      test: 'least',
      value: up((1 - MATCH) * imp, 0.01),
      exact: (1 - MATCH) * imp,
      unit: 'A',
      rule: 'pv.series-match',
      why: [
        `the remaining modules have an Imp of ${figure(imp)} A; within ${100 * MATCH} %`,
        'aged modules lose 0.5 to 0.7 % a year: measure and match the measured value',
      ],
    }),
    line({
      field: 'imp_A',
      label: 'Current at maximum power (Imp), at most',
      test: 'most',
      value: down((1 + MATCH) * imp, 0.01),
      exact: (1 + MATCH) * imp,
      unit: 'A',
      rule: 'pv.series-match',
      why: ['the others hold back a stronger module: you pay for power you do not get'],
    }),
  ];
  if (others.length > 0) {
    const least = (1 - MATCH) * Math.max(...others) - staying_V;
    const most = (1 + MATCH) * Math.min(...others) - staying_V;
    const why = [`the other strings are at ${others.map((volts) => `${figure(volts)} V`).join(', ')}; within 5 %`];
    const base = { field: 'vmp_V', unit: 'V', rule: 'pv.parallel-match', why } as const;
    lines.push(
      line({
        ...base,
        label: 'Voltage at maximum power (Vmp), at least',
        test: 'least',
        value: up(least, 0.1),
        exact: least,
      }),
      line({
        ...base,
        label: 'Voltage at maximum power (Vmp), at most',
        test: 'most',
        value: down(most, 0.1),
        exact: most,
      }),
    );
  }
  lines.push(...coldLine(inputs, array, stay), ...fuseLine(inputs, array, string, old));
  if (old.length_mm && old.width_mm)
    lines.push(sizeLine('length_mm', 'Length', old.length_mm), sizeLine('width_mm', 'Width', old.width_mm));
  lines.push(
    eyes('Connectors of one make, or both halves replaced', 'mixed plugs get hot'),
    eyes('Clamps and holes fit the frame', 'same as the old one'),
  );
  return lines;
}

const sizeLine = (field: string, label: string, most: number): SpecLine =>
  line({
    field,
    label,
    test: 'most',
    value: most,
    exact: most,
    unit: 'mm',
    why: ['the space of the old one'],
    must: false,
  });

/** Voc that the coldest morning leaves for one module, by a planning coefficient where its own is not known. */
function coldLine({ model }: SpecInputs, array: PvArray, stay: readonly ModuleType[]): SpecLine[] {
  const controller = model.system.controllers?.find(({ id }) => id === array.controllerId);
  if (!controller) return [];
  const io = createLedger(model);
  const limit = 0.95 * io.need(`${controller.id}.maxPv_V`, controller.maxPv_V);
  const taken = stay.length > 0 ? coldString_V(io, stay) : 0;
  // A blank coefficient falls to the bands, which is what one would be judged by.
  const unit: ModuleType = { id: 'new', pmax_W: 1, voc_V: 1, isc_A: 1, vmp_V: 1, imp_A: 1 };
  const factor = coldString_V(io, [stay[0] ? { ...stay[0], voc_V: 1 } : unit]);
  const missing = [...io.missing].filter((path) => !path.startsWith('new.')).sort();
  const exact = missing.length > 0 ? null : (limit - taken) / factor;
  return [
    line({
      field: 'voc_V',
      label: 'Open-circuit voltage (Voc), at most',
      test: 'most',
      value: exact === null ? null : down(exact, 0.1),
      exact,
      unit: 'V',
      rule: 'pv.cold-voltage',
      why: [
        `${figure(limit)} V is 95 % of the controller's; the other modules reach ${figure(taken)} V on the coldest morning`,
        `1 V at 25 degC becomes ${figure(factor)} V then; check again with its own coefficient`,
      ],
      missing,
      assumed: [...io.assumed].filter((path) => !path.startsWith('new.')).sort(),
    }),
  ];
}

function fuseLine({ model }: SpecInputs, array: PvArray, string: number, old: ModuleType): SpecLine[] {
  const each = array.strings.map((ids) => Math.max(...modulesOf(model.system, ids).map(({ isc_A }) => isc_A)));
  const back = 1.25 * each.reduce((sum, amps, i) => (i === string ? sum : sum + amps), 0);
  const flows = array.stringFuse_A ?? back;
  if (flows === 0) return [];
  // Where the modules that stay do not stand it either, it is the strings that want fuses, not this module.
  const others = old.maxSeriesFuse_A ?? null;
  const unfused = others !== null && flows > others;
  const least = unfused ? others : Math.max(flows, others ?? 0);
  return [
    line({
      field: 'maxSeriesFuse_A',
      label: 'Maximum series fuse, at least',
      test: 'least',
      value: up(least, 0.5),
      exact: least,
      unit: 'A',
      rule: 'pv.string-protection',
      why: [
        array.stringFuse_A
          ? `the string's fuse is ${figure(array.stringFuse_A)} A`
          : `the other strings can push back 1.25 x ${figure(back / 1.25)} A = ${figure(back)} A`,
        ...(unfused ? [`the remaining modules allow ${figure(others)} A: fuse every string`] : []),
      ],
    }),
  ];
}

/** Watts of a string with one module changed, in full sun at 25 degC: what the mismatch costs. */
export function wattsWith(model: SpecInputs['model'], array: PvArray, string: number, module: ModuleType): number {
  const members = modulesOf(model.system, array.strings[string] ?? []);
  const standing = [module, ...members.slice(1)].map((one) => ({ module: one, cell_C: 25, irradiance_W_m2: 1000 }));
  return arrayCurve([standing]).best.p;
}
