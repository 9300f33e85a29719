import { modulesOf, modulesOfArray, stringIsc_A, stringVmp_V } from '../pv/strings';
import { restrung } from '../pv/restring';
import type { PvArray } from '../system/schema';
import { figure, round } from '../ledger/figures';
import { governing, rule, type Ratio } from './rule';
import { PV_FUSE_A, sizeSold } from './sold';
import { arrayCases } from './pv';

const spread_pct = (values: number[]) => {
  const largest = Math.max(...values);
  return largest > 0 ? (100 * (largest - Math.min(...values))) / largest : 0;
};
const matchRatio = (demand: number): Ratio => ({ demand, limit: 10, unit: '%', sense: 'max', tightAbove: 0.5 });

const seriesMatch = rule<PvArray>({
  id: 'pv.series-match',
  title: 'Modules in series alike',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) => arrayCases(model).filter(({ about }) => about.strings.some(({ length }) => length > 1)),
  evaluate(io, array) {
    const demand = Math.max(
      ...array.strings.map((string) => spread_pct(modulesOf(io.model.system, string).map(({ imp_A }) => imp_A))),
    );
    io.work(`spread of Imp within a string: ${figure(demand)} % of the largest`);
    return { ratio: matchRatio(demand) };
  },
  sentence: ({ demand }) =>
    `Modules in one string differ by ${round(demand ?? NaN)} % in current; the weakest sets the pace.`,
});

const parallelMatch = rule<PvArray>({
  id: 'pv.parallel-match',
  title: 'Strings in parallel alike',
  consequence: 'loss',
  bearsOn: ['strings'],
  cases: (model) => arrayCases(model).filter(({ about }) => about.strings.length > 1),
  evaluate(io, array) {
    const volts = array.strings.map((string) => stringVmp_V(modulesOf(io.model.system, string)));
    const demand = spread_pct(volts);
    io.work(`string Vmp: ${volts.map((v) => figure(v)).join(', ')} V; spread ${figure(demand)} %`);
    return { ratio: matchRatio(demand) };
  },
  sentence: ({ demand }) =>
    `Strings in parallel differ by ${round(demand ?? NaN)} % in volts; the lower one drags the rest.`,
});

/**
 * Reverse current into a faulty string, or the fuse that stops it (IEC 62548 clause on string overcurrent
 * protection). Judged array by array: arrays joined on one controller input count apart, as the open format
 * describes them; join such strings in one array to have them judged together.
 */
const stringProtection = rule<PvArray>({
  id: 'pv.string-protection',
  title: 'Protection of the strings',
  consequence: 'danger',
  bearsOn: ['strings', 'fuse'],
  notRoughly: true,
  cautions: ['panelsLive', 'dcRated'],
  cases: (model) => arrayCases(model).filter(({ about }) => about.strings.length > 1),
  evaluate(io, array) {
    const { system } = io.model;
    const currents = array.strings.map((string) => stringIsc_A(modulesOf(system, string)));
    const seriesFuse = Math.min(
      ...modulesOfArray(system, array).map(({ id, maxSeriesFuse_A }) =>
        io.need(`${id}.maxSeriesFuse_A`, maxSeriesFuse_A),
      ),
    );
    const base = { unit: 'A', sense: 'max', tightAbove: 1 } as const;
    const fuse = io.see(`${array.id}.stringFuse_A`, array.stringFuse_A);
    if (fuse === null || fuse === undefined) {
      const sum = currents.reduce((total, current) => total + current, 0);
      const demand = 1.25 * (sum - Math.min(...currents));
      io.work(
        `no string fuse: 1.25 x (${figure(sum)} - ${figure(Math.min(...currents))}) A = ${figure(demand)} A back into a faulty string`,
      );
      io.work(`modules allow a series fuse of ${figure(seriesFuse)} A`);
      return { ratio: { ...base, demand, limit: seriesFuse } };
    }
    const carry = 1.5 * Math.max(...currents);
    io.work(`string fuse ${figure(fuse)} A: must carry 1.5 x ${figure(Math.max(...currents))} = ${figure(carry)} A`);
    io.work(`and not exceed the modules' ${figure(seriesFuse)} A`);
    return {
      ratio: governing([
        { ...base, demand: carry, limit: fuse },
        { ...base, demand: fuse, limit: seriesFuse },
      ]),
    };
  },
  sentence({ demand, limit, verdict }) {
    if (verdict === 'unknown') return 'The series fuse that these modules allow was not read.';
    if (verdict === 'holds') return 'A faulty string is protected from the others.';
    return `A faulty string can be fed ${round(demand ?? NaN)} A; its limit is ${round(limit ?? NaN)} A.`;
  },
  remedies(model, array) {
    const { system } = model;
    const carry = 1.5 * Math.max(...array.strings.map((string) => stringIsc_A(modulesOf(system, string))));
    const size = sizeSold(PV_FUSE_A, carry);
    return [
      ...(size
        ? [
            {
              title: `A ${size} A PV fuse in each string`,
              detail: `${array.strings.length} strings, fuses rated for DC at the cold voltage`,
              changes: [{ op: 'set' as const, at: 'arrays', id: array.id, value: { stringFuse_A: size } }],
            },
          ]
        : []),
      ...restrung(array, 'longer'),
    ];
  },
});

export const pvStringRules = [seriesMatch, parallelMatch, stringProtection];
