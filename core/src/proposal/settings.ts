import { settingSheets, type ChargingDevice } from '../bank/charging';
import { CHEMISTRY, CONVERSION } from '../chemistry/chemistry';
import type { Settings, System } from '../system/schema';

/** One line of the settings sheet: a device, a setting, what it is and what it becomes, in volts at this bank. */
export interface SettingLine {
  /** The device; `inv.charger` is the charger inside an inverter. */
  id: string;
  setting: keyof Settings | MonitorSetting;
  before: number | null;
  after: number;
  unit: string;
  /** Either way. */
  tolerance: number;
  why: string;
}

/** What a counter of ampere-hours is told; the open format keeps none of these. */
export type MonitorSetting =
  | 'capacity_Ah'
  | 'charged_V'
  | 'tail_pct'
  | 'charged_min'
  | 'chargeEfficiency_pct'
  | 'peukert'
  | 'alarm_pct';

interface Target {
  setting: keyof Settings;
  /** Volts per cell, or the figure itself. */
  perCell?: number;
  value?: number;
  unit: string;
  /** Volts per cell, or the unit's own. */
  tolerance: number;
  why: string;
}

const LFP = CHEMISTRY[CONVERSION];
/** What charges a lithium iron bank (Practice, A; volts per cell at the posts). */
const CHARGING: readonly Target[] = [
  {
    setting: 'absorb_V',
    perCell: LFP.absorb_V,
    unit: 'V',
    tolerance: 0.0125,
    why: 'full at this; below the protection\u2019s high trip',
  },
  {
    setting: 'absorb_min',
    value: 30,
    unit: 'min',
    tolerance: 15,
    why: 'ends by time or tail current; lithium needs no long absorption',
  },
  {
    setting: 'float_V',
    perCell: LFP.float_V ?? 3.375,
    unit: 'V',
    tolerance: 0.0125,
    why: 'rests here and supplies the loads without further charging',
  },
  { setting: 'equalise_V', value: 0, unit: 'V', tolerance: 0, why: 'off: equalising drives cells past their limit' },
  {
    setting: 'comp_mV_K_cell',
    value: 0,
    unit: 'mV/K',
    tolerance: 0,
    why: 'off: lithium needs the same voltage warm and cold',
  },
  {
    setting: 'lowTempCut_C',
    value: 5,
    unit: 'degC',
    tolerance: 1,
    why: 'no charge below this at the cells; resume at 8',
  },
];
/** What draws on it. The restart lies above the rested volts of an empty cell, or the inverter hunts. */
const DRAWING: readonly Target[] = [
  {
    setting: 'cutoff_V',
    perCell: LFP.cutoff_V,
    unit: 'V',
    tolerance: 0.025,
    why: 'above the protection\u2019s low trip, after 5 to 10 s',
  },
  {
    setting: 'restart_V',
    perCell: 3.3,
    unit: 'V',
    tolerance: 0.025,
    why: 'an empty cell recovers to 3.20 at rest; lower, and it cycles on and off',
  },
  { setting: 'alarm_V', perCell: 3.1, unit: 'V', tolerance: 0.025, why: 'time to act before the cut-off' },
];

/** Low-priority loads that a controller or a relay sheds, where one was found that does. */
const SHEDDING: readonly Target[] = [
  {
    setting: 'lvd_V',
    perCell: 3.1,
    unit: 'V',
    tolerance: 0.025,
    why: 'low-priority loads off before the inverter cuts off',
  },
  { setting: 'reconnect_V', perCell: 3.3, unit: 'V', tolerance: 0.025, why: 'back on only when well recharged' },
];

/** A shunt's own settings (Practice, A): capacity as labelled and healthy, charged volts .2 per 12 V under absorb. */
export function monitorSettings(system: System, cells: number): SettingLine[] {
  const { bank, monitor } = system;
  if (!bank || !monitor || !(cells > 0)) return [];
  const line = (setting: MonitorSetting, after: number, unit: string, tolerance: number, why: string): SettingLine => ({
    id: monitor.id,
    setting,
    before: null,
    after: hundredths(after),
    unit,
    tolerance: hundredths(tolerance),
    why,
  });
  const capacity = (bank.blockCapacity_Ah * bank.parallel * (bank.health_pct ?? 100)) / 100;
  return [
    line('capacity_Ah', capacity, 'Ah', 0, 'the label times the health; set again when measured'),
    line(
      'charged_V',
      cells * LFP.absorb_V - 0.05 * cells,
      'V',
      0.0125 * cells,
      '0.2 V per 12 V under absorb, or it never counts as full',
    ),
    line('tail_pct', 4, '%', 1, 'of the capacity: below it, at the charged volts, it is full'),
    line('charged_min', 3, 'min', 2, 'a passing cloud must not count as full'),
    line('chargeEfficiency_pct', 99, '%', 1, 'lithium gives back nearly all ampere-hours'),
    line('peukert', 1.04, '', 0.01, 'lead-acid values count down too fast'),
    line('alarm_pct', 20, '%', 5, 'starts the generator; voltage only as backup'),
  ];
}

/** The sheet for a lithium iron bank of so many cells in series: every device that charges or cuts off, each setting. */
export function lfpSettings(system: System, cells: number, skip: ReadonlySet<string>): SettingLine[] {
  const lines = (id: string, targets: readonly Target[], found: Settings | null | undefined): SettingLine[] =>
    targets.map(({ setting, perCell, value, unit, tolerance, why }) => ({
      id,
      setting,
      before: (found?.[setting] as number | null | undefined) ?? null,
      after: hundredths(perCell === undefined ? (value ?? 0) : perCell * cells),
      unit,
      tolerance: hundredths(perCell === undefined ? tolerance : tolerance * cells),
      why,
    }));
  // A cold cut only where something measures the cells: a sensor, or a setting that was read off the device.
  const sensed = (charges: ChargingDevice, found: Settings | null) =>
    (charges.at === 'controllers' && charges.part.temperatureSensor === true) ||
    (found?.lowTempCut_C !== null && found?.lowTempCut_C !== undefined);
  const charging = (charges: ChargingDevice, found: Settings | null) =>
    CHARGING.filter(({ setting }) => setting !== 'lowTempCut_C' || sensed(charges, found));
  return settingSheets(system).flatMap(({ id, settings, charges, cutsOff }) =>
    skip.has(id)
      ? []
      : [
          ...(charges
            ? lines(
                charges.path,
                settings?.lvd_V ? [...charging(charges, settings), ...SHEDDING] : charging(charges, settings),
                settings,
              )
            : []),
          ...(cutsOff && !charges ? lines(id, DRAWING, settings) : []),
        ],
  );
}

const hundredths = (value: number) => Math.round(value * 100) / 100;

/** One setting that a proposal changes on one device. */
export interface SettingChange {
  /** The device; `inv.charger` is the charger inside an inverter. */
  id: string;
  device: string;
  setting: keyof Settings;
  before: number | string | null;
  after: number | string;
}

/** Settings that differ between two systems, device by device. What is no longer set is no setting to make. */
export function settingChanges(before: System, after: System): SettingChange[] {
  const idOf = (path: string) => path.replace(/\.settings$/, '');
  const old = new Map(settingSheets(before).map(({ path, settings }) => [path, settings]));
  return settingSheets(after).flatMap(({ path, name, settings }) =>
    (Object.entries(settings ?? {}) as [keyof Settings, number | string | null][]).flatMap(([setting, value]) => {
      const was = old.get(path)?.[setting] ?? null;
      return value === null || was === value
        ? []
        : [{ id: idOf(path), device: name, setting, before: was, after: value }];
    }),
  );
}
