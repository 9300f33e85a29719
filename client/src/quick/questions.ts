import { CHEMISTRIES, type SystemFile } from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';

/** A check without a site: a handful of numbers, the same rules. */
export interface QuickQuestion {
  id: 'cold' | 'cable' | 'sag';
  title: string;
  fields: (FieldSpec & { start?: unknown })[];
  /** The smallest system that these numbers make. */
  file(value: (path: string) => never): SystemFile;
  /** The rules that answer it. */
  rules: readonly string[];
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

export const QUICK: readonly QuickQuestion[] = [
  {
    id: 'cold',
    title: 'Cold volts',
    fields: [
      n('voc', 'Module, open circuit', 'V'),
      n('series', 'Modules in series', ''),
      n('low', 'Record low', 'degC'),
      n('max', 'Controller stands', 'V'),
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
    title: 'Drop and fuse',
    fields: [
      n('volts', 'System voltage', 'V', 12),
      n('amps', 'Current', 'A'),
      n('length', 'Length, one way, along the cable', 'm'),
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
      n('volts', 'Volts of one battery', 'V', 12),
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
];
