import {
  CHEMISTRIES,
  chargeOfRest,
  CONTROLLER_OUTPUT_A,
  figure,
  modelOf,
  runHours,
  sizeSold,
  type Chemistry,
  type Finding,
  type SystemFile,
  cellsOfSystem,
  cellsPerBlock,
  CHEMISTRY,
} from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';

/** A check without a site: a handful of numbers, the same rules. */
export interface QuickQuestion {
  id: 'cold' | 'cable' | 'sag' | 'controller' | 'rest';
  title: string;
  fields: (FieldSpec & { start?: unknown })[];
  /** The smallest system that these numbers make. */
  file(value: (path: string) => never): SystemFile;
  /** The rules that answer it. */
  rules: readonly Finding['rule'][];
  /** What is answered without a verdict, in sentences: the first is the one to read. */
  says?(value: (path: string) => never): string[];
  /** Fields that may stay empty. */
  optional?: readonly string[];
}

const n = (
  path: string,
  label: string,
  unit: string,
  start?: number,
  hint?: string,
): FieldSpec & { start?: unknown } => ({
  path,
  label,
  unit,
  kind: 'number',
  ...(start === undefined ? {} : { start }),
  ...(hint ? { hint } : {}),
});
/** What was filled in to make a whole part is marked as a guess: the site that comes of it must not take it for read. */
const base = (system: SystemFile['system'], guesses: readonly string[], site: object = {}): SystemFile => ({
  format: 'true-lantern',
  version: 1,
  site: { name: 'From a quick check', ...site },
  system,
  evidence: Object.fromEntries(guesses.map((path) => [path, { grade: 'assumed' }])),
});

/** The questions of the quick entry, in the order in which they are asked. */
export const QUICK: readonly QuickQuestion[] = [
  {
    id: 'cold',
    title: 'Cold voltage',
    fields: [
      n('voc', 'Module, open circuit', 'V'),
      n('series', 'Modules in series', ''),
      n('low', 'Record low', 'degC'),
      n('max', 'Controller maximum', 'V'),
      n('beta', 'Voc coefficient', '%/K', -0.3, 'usually minus 0.25 to minus 0.35'),
    ],
    rules: ['pv.cold-voltage'],
    file(value) {
      const voc: number = value('voc');
      // Only the open-circuit voltage is judged; the rest of the plate is what such a module has.
      const plate = { isc_A: 9, imp_A: 8.4, vmp_V: voc * 0.82, pmax_W: voc * 0.82 * 8.4 };
      return base(
        {
          moduleTypes: [{ id: 'module', voc_V: voc, betaVoc_pct_C: value('beta'), ...plate }],
          arrays: [
            {
              id: 'array',
              strings: [Array.from({ length: value('series') }, () => 'module')],
              controllerId: 'controller',
            },
          ],
          controllers: [{ id: 'controller', type: 'mppt', maxPv_V: value('max'), maxOutput_A: 60 }],
        },
        ['module.isc_A', 'module.imp_A', 'module.vmp_V', 'module.pmax_W', 'controller.type', 'controller.maxOutput_A'],
        { recordLow_C: value('low') },
      );
    },
  },
  {
    id: 'cable',
    title: 'Voltage drop and fuse',
    fields: [
      n('volts', 'System voltage', 'V', 12),
      n('amps', 'Current', 'A'),
      n('length', 'One-way length, along the cable', 'm'),
      { path: 'size', label: 'Size', kind: 'size' },
      n('fuse', 'Fuse', 'A'),
    ],
    rules: ['run.drop', 'run.ampacity', 'run.fuse-protects', 'run.fuse-carries'],
    file(value) {
      const [volts, amps, fuse]: number[] = [value('volts'), value('amps'), value('fuse')];
      return base(
        {
          nominal_V: volts ?? 0,
          distribution: [{ id: 'board', label: 'Board' }],
          loads: [{ id: 'load', label: 'Load', kind: 'dc', power_W: (volts ?? 0) * (amps ?? 0), hours_d: 0 }],
          runs: [
            {
              id: 'cable',
              label: 'The cable',
              kind: 'dc-load',
              from: 'board',
              to: 'load',
              length_m: value('length'),
              size: value('size'),
              ...(fuse === undefined || fuse === null ? {} : { protection: { type: 'blade', rating_A: fuse } }),
            },
          ],
        },
        ['load.power_W', 'load.hours_d', 'cable.protection.type'],
      );
    },
  },
  {
    id: 'sag',
    title: 'Sag',
    fields: [
      { path: 'chemistry', label: 'Chemistry', kind: 'choice', choices: CHEMISTRIES },
      n('volts', 'Voltage of one battery', 'V', 12),
      n('ah', 'Capacity of one battery', 'Ah'),
      n('series', 'In series', '', 1),
      n('parallel', 'Strings', '', 1),
      n('watts', 'Load on the inverter', 'W'),
      n('length', 'Cable, one way', 'm'),
      { path: 'size', label: 'Size', kind: 'size' },
    ],
    rules: ['system.sag', 'bank.discharge', 'run.drop', 'run.ampacity'],
    file(value) {
      const volts: number = value('volts');
      const series: number = value('series');
      const watts: number = value('watts');
      return base(
        {
          nominal_V: volts * series,
          bank: {
            id: 'bank',
            chemistry: value('chemistry'),
            block_V: volts,
            blockCapacity_Ah: value('ah'),
            series,
            parallel: value('parallel'),
            tapping: 'busbar',
            link: { length_m: 0.3, size: '35mm2' },
            place: { min_C: 10 },
          },
          inverters: [{ id: 'inverter', continuous_W: watts, waveform: 'sine' }],
          loads: [
            { id: 'load', label: 'Load', kind: 'ac', type: 'resistive', power_W: watts, hours_d: 0, overlap: 'base' },
          ],
          runs: [
            {
              id: 'cable',
              label: 'The cable',
              kind: 'battery-inverter',
              from: 'bank',
              to: 'inverter',
              length_m: value('length'),
              size: value('size'),
            },
          ],
        },
        [
          'bank.tapping',
          'bank.link.length_m',
          'bank.link.size',
          'bank.place.min_C',
          'inverter.continuous_W',
          'inverter.waveform',
          'load.power_W',
          'load.hours_d',
        ],
      );
    },
  },
  {
    id: 'controller',
    title: 'Controller',
    fields: [
      n('watts', 'Modules together', 'W'),
      n('volts', 'System voltage', 'V', 12),
      n('amps', 'Controller', 'A', undefined, 'its output current; leave empty if not chosen yet'),
    ],
    optional: ['amps'],
    rules: ['pv.output-current'],
    says(value) {
      const [watts, volts, amps]: (number | null)[] = [value('watts'), value('volts'), value('amps')];
      const push = (watts ?? 0) / (volts ?? 1);
      const of = (school: string, wanted: number) => {
        const size = sizeSold(CONTROLLER_OUTPUT_A, wanted / TIGHT);
        const there = amps ? `; ${figure(amps)} A ${amps >= wanted - 1e-9 ? 'is enough' : 'is too little'}` : '';
        return `${school}: ${figure(wanted, 3)} A${size ? `, a controller of ${size} A` : ', more than one controller'}${there}.`;
      };
      return [
        `${figure(watts ?? 0)} W / ${figure(volts ?? 0)} V = ${figure(push, 3)} A.`,
        of('Plain', push),
        of('With a margin of a quarter', MARGIN * push),
        `Where clipping is allowed: ${figure(CLIP * push, 3)} A is what the array mostly delivers; only if the controller limits its own output.`,
      ];
    },
    file(value) {
      const [watts, volts]: number[] = [value('watts'), value('volts')];
      const amps: number | null = value('amps');
      const push = (watts ?? 0) / (volts ?? 1);
      return base(
        {
          nominal_V: volts ?? 0,
          moduleTypes: [{ id: 'module', pmax_W: watts ?? 0, ...PLATE }],
          arrays: [{ id: 'array', strings: [['module']], controllerId: 'controller' }],
          controllers: [
            {
              id: 'controller',
              type: 'mppt',
              maxOutput_A: amps ?? sizeSold(CONTROLLER_OUTPUT_A, push / TIGHT) ?? 120,
            },
          ],
        },
        [
          'module.voc_V',
          'module.isc_A',
          'module.imp_A',
          'module.vmp_V',
          'controller.type',
          ...(amps ? [] : ['controller.maxOutput_A']),
        ],
      );
    },
  },
  {
    id: 'rest',
    title: 'Rest voltage and run time',
    fields: [
      { path: 'chemistry', label: 'Chemistry', kind: 'choice', choices: CHEMISTRIES },
      n('volts', 'Bank', 'V', 12, 'its label: 12, 24 or 48'),
      n('ah', 'Capacity of the bank', 'Ah'),
      n('rest', 'Resting voltage', 'V', undefined, 'at the posts, no charging and no load'),
      n('rested', 'Rest time', 'h', undefined, 'at least 4 h; 12 h after charging'),
      n('cell', 'Cell temperature', 'degC', 20),
      n('watts', 'A load', 'W', undefined, 'to work out the run time'),
    ],
    optional: ['rested', 'watts'],
    rules: [],
    says(value) {
      const chemistry: Chemistry = value('chemistry');
      const [volts, rest, rested_h, cell_C, watts]: (number | null)[] = [
        value('volts'),
        value('rest'),
        value('rested'),
        value('cell'),
        value('watts'),
      ];
      const model = modelOf(this.file(value));
      const cells = cellsOfSystem(volts ?? 0, chemistry);
      const state = chargeOfRest({ chemistry, cells, volts: rest ?? 0, rested_h, cell_C });
      if (!state) return ['This voltage does not fit the bank. Check the label and the meter.'];
      const pct = (share: number) => Math.round(100 * share);
      const band = `${pct(state.low)} to ${pct(state.high)} % full`;
      const hours = (from: number) => (watts ? runHours(model, watts, { ac: false, from }).hours : null);
      const [least, most] = [hours(state.low), hours(state.high)];
      return [
        state.best === null ? `${band}(voltage tells no more).` : `About ${pct(state.best)} %; ${band}.`,
        ...(least !== null && most !== null
          ? [
              `${figure(watts ?? 0)} W runs ${figure(least, 2)} to ${figure(most, 2)} h to the usual depth of discharge.`,
            ]
          : []),
        ...state.notes.map((note) => `${note.charAt(0).toUpperCase()}${note.slice(1)}.`),
      ];
    },
    file(value) {
      const [volts, ah, cell]: (number | null)[] = [value('volts'), value('ah'), value('cell')];
      const chemistry: Chemistry = value('chemistry');
      const nominal = volts ?? 12;
      const { step12_V, nominal_V } = CHEMISTRY[chemistry];
      // Where 12 V is no whole number of cells the bank is described cell by cell.
      const whole = cellsPerBlock({ chemistry, block_V: step12_V }).cells !== null;
      const block_V = whole ? step12_V : nominal_V;
      const series = whole ? Math.round(nominal / 12) : cellsOfSystem(nominal, chemistry);
      return base(
        {
          nominal_V: nominal,
          bank: {
            id: 'bank',
            chemistry,
            block_V,
            blockCapacity_Ah: ah ?? 0,
            series: Math.max(1, series),
            parallel: 1,
            place: { min_C: cell ?? 20 },
          },
        },
        ['bank.block_V', 'bank.series', 'bank.parallel', 'bank.place.min_C'],
      );
    },
  },
];

const MARGIN = 1.25;
/** A controller is held at so much of its output; and what an array mostly gives of its plate (the engine, section 6). */
const TIGHT = 0.95;
const CLIP = 0.75;
/** The rest of a plate that only watts are asked of. */
const PLATE = { voc_V: 40, isc_A: 9, vmp_V: 33, imp_A: 8.4 };
