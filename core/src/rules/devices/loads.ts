import { top_V } from '../../bank/bank';
import { apart, figure } from '../../ledger/figures';
import { acRootsOf } from '../../power/ac';
import { mainsSources } from '../../system/model';
import { load_A } from '../../power/design';
import { converterMost_A, count, loadsOnOutput, start_W, SURGE, together, unit_W } from '../../power/loads';
import type { Controller, Converter, Load } from '../../system/schema';
import { partName } from '../../conductors/names';
import { lowerVolts } from '../cures/bank';
import { largerPart } from '../cures/devices';
import { NOT_YET, rule, type Rule } from '../rule';
import { CHARGER_A } from '../cures/sold';

const loadWindow = rule<Load>({
  id: 'load.window',
  title: 'Load voltage',
  consequence: 'damage',
  bearsOn: [],
  cases: ({ system }) =>
    (system.loads ?? [])
      .filter(({ kind, max_V }) => kind === 'dc' && max_V !== null && max_V !== undefined)
      .map((load) => ({ subject: load.id, about: load })),
  evaluate(io, load) {
    const { bank, converters } = io.model.system;
    const converter = converters?.find(({ id }) => id === load.converterId);
    const demand = converter ? converter.out_V : bank ? top_V(io, bank) : io.need('bank', null);
    const limit = io.need(`${load.id}.max_V`, load.max_V);
    io.work(`${figure(demand)} V on a load for ${figure(limit)} V`);
    return { ratio: { demand, limit, unit: 'V', sense: 'max', tightAbove: 1 } };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `Whether ${what} can take the bank voltage ${NOT_YET}`;
    const { there, allowed } = apart(demand, limit);
    return `Charging reaches ${there} V; ${what} is rated for ${allowed} V.`;
  },
  remedies: lowerVolts,
  needs: 'Needs a voltage stabiliser, or a load rated for the voltage of a full bank.',
});

const converterCapacity = rule<Converter>({
  id: 'converter.capacity',
  title: 'Converter load',
  consequence: 'outage',
  bearsOn: ['load'],
  cases: ({ system }) => (system.converters ?? []).map((converter) => ({ subject: converter.id, about: converter })),
  evaluate(io, converter) {
    const { id, out_V } = converter;
    const loads = (io.model.system.loads ?? []).filter(({ kind, converterId }) => kind === 'dc' && converterId === id);
    const watts = loads.reduce((sum, load) => sum + unit_W(load) * count(io, load), 0);
    io.work(`${figure(watts)} W / ${figure(out_V)} V = ${figure(watts / out_V)} A`);
    return {
      ratio: {
        demand: watts / out_V,
        limit: converterMost_A(io, converter),
        unit: 'A',
        sense: 'max',
        tightAbove: 0.8,
      },
    };
  },
  sentence({ demand, limit, subject }, model) {
    const { there, allowed } = apart(demand, limit);
    return `Its loads draw ${there} A from ${partName(model, subject)}, which is rated for ${allowed} A.`;
  },
  remedies: (model, { id, quantity }, { demand }) =>
    largerPart(
      'converters',
      id,
      'max_A',
      demand === null ? null : demand / 0.8 / (quantity ?? 1),
      CHARGER_A,
      (amps) => ({
        title: `A converter of ${amps} A in place of ${partName(model, id)}`,
        detail: 'its cables and fuses were checked with it',
      }),
    ),
});

const unserved = rule<Load>({
  id: 'load.unserved',
  title: 'Supply of the load',
  consequence: 'outage',
  bearsOn: [],
  curedByLimit: false,
  cases: ({ system }) =>
    (system.loads ?? [])
      .filter((load) => load.kind === 'ac' && (system.inverters ?? []).length === 0 && !load.inverterId)
      .map((load) => ({ subject: load.id, about: load })),
  evaluate(io, load) {
    const { system } = io.model;
    const roots = acRootsOf(system, load.id);
    if (mainsSources(system).some(({ id }) => roots.includes(id))) return null;
    io.work('an AC load, no inverter, and no mains cable to it from an inlet or a generator');
    return { verdict: 'over' };
  },
  sentence: ({ subject }, model) =>
    `Nothing feeds ${partName(model, subject)}: it runs on AC, and there is no inverter.`,
  needs: 'Needs an inverter (Plan, add an inverter), or a mains cable to it from the inlet or generator.',
});

/** Loads on a controller's own output; what a motor takes when it starts counts, since its switch is electronic. */
const loadOutput = rule<Controller>({
  id: 'controller.load-output',
  title: 'Load output current',
  consequence: 'damage',
  bearsOn: ['load'],
  curedByLimit: 'load',
  cases: ({ system }) =>
    (system.controllers ?? [])
      .filter(({ id }) => loadsOnOutput(system, id).length > 0)
      .map((controller) => ({ subject: controller.id, about: controller })),
  evaluate(io, controller) {
    const loads = loadsOnOutput(io.model.system, controller.id);
    const running = together(io, loads, (load) => load_A(io, { ...load, quantity: 1 }, null));
    const starts = loads.map((load) => {
      const peak = start_W(io, load, ({ type }) => (type === 'pump' || type === 'universal' ? SURGE[type] : 1));
      return Math.max(0, load_A(io, { ...load, quantity: 1 }, null, peak) - load_A(io, { ...load, quantity: 1 }, null));
    });
    const demand = running + Math.max(0, ...starts);
    io.work(`running together ${figure(running)} A, with the hardest start ${figure(demand)} A`);
    const limit = io.need(`${controller.id}.loadOutput_A`, controller.loadOutput_A);
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 1 } };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `The rating of the load output of ${what} is not recorded.`;
    const { there, allowed } = apart(demand, limit);
    return `The load output of ${what} carries ${there} A; it is rated for ${allowed} A.`;
  },
  needs: 'Needs its largest loads on the busbar with their own fused cable, or on a relay that the output switches.',
});

/** Rules of loads and converters. */
export const loadRules: Rule<unknown>[] = [loadWindow, unserved, loadOutput, converterCapacity];
