import { top_V } from '../bank/bank';
import { figure, round } from '../ledger/figures';
import { count, unit_W } from '../power/loads';
import type { Converter, Load } from '../system/schema';
import { NOT_YET, rule, type Rule } from './rule';

const loadWindow = rule<Load>({
  id: 'load.window',
  title: "Load stands the bank's volts",
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
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `Whether the load stands the bank's volts ${NOT_YET}`
      : `Charging reaches ${round(demand ?? NaN)} V; this load stands ${round(limit ?? NaN)} V.`,
});

const converterCapacity = rule<Converter>({
  id: 'converter.capacity',
  title: 'Converter feeds its loads',
  consequence: 'outage',
  bearsOn: ['load'],
  cases: ({ system }) => (system.converters ?? []).map((converter) => ({ subject: converter.id, about: converter })),
  evaluate(io, { id, out_V, max_A }) {
    const loads = (io.model.system.loads ?? []).filter(({ kind, converterId }) => kind === 'dc' && converterId === id);
    const watts = loads.reduce((sum, load) => sum + unit_W(load) * count(io, load), 0);
    io.work(`${figure(watts)} W / ${figure(out_V)} V = ${figure(watts / out_V)} A`);
    return { ratio: { demand: watts / out_V, limit: max_A, unit: 'A', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit }) =>
    `Its loads ask ${round(demand ?? NaN)} A of a converter for ${round(limit ?? NaN)} A.`,
});

export const loadRules: Rule<unknown>[] = [loadWindow, converterCapacity];
