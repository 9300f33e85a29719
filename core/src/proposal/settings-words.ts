import { inUnits, type Units } from '../written/units';

/** What the settings of a device are called, and in which unit they are kept. */
const SETTING_NAMES: Record<string, [name: string, unit: string]> = {
  absorb_V: ['absorb', 'V'],
  absorb_min: ['absorption time', 'min'],
  tail_A: ['tail current', 'A'],
  float_V: ['float', 'V'],
  equalise_V: ['equalise', 'V'],
  equaliseEvery_d: ['equalise every', 'd'],
  comp_mV_K_cell: ['compensation a cell', 'mV/K'],
  maxCharge_A: ['charge limit', 'A'],
  lowTempCut_C: ['low-temperature cut-off', 'degC'],
  cutoff_V: ['cut-off', 'V'],
  restart_V: ['restart', 'V'],
  alarm_V: ['alarm', 'V'],
  lvd_V: ['load disconnect', 'V'],
  reconnect_V: ['reconnect', 'V'],
  capacity_Ah: ['capacity', 'Ah'],
  charged_V: ['charged voltage', 'V'],
  tail_pct: ['tail current', '%'],
  charged_min: ['charged for', 'min'],
  chargeEfficiency_pct: ['charge efficiency', '%'],
  peukert: ['exponent', ''],
  alarm_pct: ['alarm', '%'],
};
/** A setting in words. */
export const settingName = (setting: string) => SETTING_NAMES[setting]?.[0] ?? setting;
/** The unit of a setting; null where it has none. */
export const settingUnit = (setting: string) => SETTING_NAMES[setting]?.[1] ?? null;

/** A setting as it is read on a device; null where nobody read it. Nought volts of equalising is "off". */
export function settingText(setting: string, value: unknown, units: Units): string | null {
  if (value === null || value === undefined) return null;
  if (setting === 'equalise_V' && value === 0) return 'off';
  return typeof value === 'number' ? inUnits(value, settingUnit(setting), units, 4) : String(value);
}
