import type { RowKind } from '@true-lantern/core';
import { CHEMISTRIES, MOUNTINGS, PROTECTION_TYPES, SPACES } from '@true-lantern/core';

/** How a field of a part is asked for and shown. What it may hold is the schema's business. */
export interface FieldSpec {
  /** Path in the part's body. */
  path: string;
  label: string;
  unit?: string;
  kind: 'number' | 'text' | 'choice' | 'flag' | 'size' | 'strings';
  choices?: readonly string[];
  /** Cannot be unknown: the part does not exist without it. */
  required?: boolean;
  hint?: string;
}

const n = (path: string, label: string, unit = '', required = false, hint?: string): FieldSpec => ({
  path,
  label,
  unit,
  kind: 'number',
  required,
  ...(hint ? { hint } : {}),
});
const t = (path: string, label: string, required = false): FieldSpec => ({ path, label, kind: 'text', required });
const c = (path: string, label: string, choices: readonly string[], required = false): FieldSpec => ({
  path,
  label,
  kind: 'choice',
  choices,
  required,
});
const f = (path: string, label: string): FieldSpec => ({ path, label, kind: 'flag' });

const settings = (prefix = 'settings'): FieldSpec[] => [
  n(`${prefix}.absorb_V`, 'Absorb, as set', 'V'),
  n(`${prefix}.float_V`, 'Float, as set', 'V'),
  n(`${prefix}.equalise_V`, 'Equalise, as set (0 is off)', 'V'),
  n(`${prefix}.maxCharge_A`, 'Charge limit, as set', 'A'),
];

/** Fields by kind, in the order in which the checks need them. */
export const FIELDS: Partial<Record<RowKind, FieldSpec[]>> = {
  moduleTypes: [
    t('label', 'Name'),
    n('pmax_W', 'Power', 'W', true),
    n('voc_V', 'Open-circuit voltage', 'V', true),
    n('isc_A', 'Short-circuit current', 'A', true),
    n('vmp_V', 'Voltage at full power', 'V', true),
    n('imp_A', 'Current at full power', 'A', true),
    n('betaVoc_pct_C', 'Voc coefficient', '%/K', false, 'usually minus 0.25 to minus 0.35'),
    n('cells', 'Cells printed'),
    n('maxSeriesFuse_A', 'Largest series fuse', 'A'),
    n('maxSystem_V', 'Largest system voltage', 'V'),
    n('alphaIsc_pct_C', 'Isc coefficient', '%/K'),
    n('gammaPmax_pct_C', 'Power coefficient', '%/K'),
    n('noct_C', 'NOCT', 'degC'),
    f('halfCut', 'Half-cut cells'),
    f('bifacial', 'Bifacial'),
  ],
  arrays: [
    t('label', 'Name'),
    { path: 'strings', label: 'Modules in series x strings', kind: 'strings', required: true },
    n('stringFuse_A', 'Fuse in each string', 'A'),
    n('tilt_deg', 'Tilt', 'deg'),
    n('azimuth_deg', 'Faces (180 is south)', 'deg'),
    c('mounting', 'Mounting', MOUNTINGS),
  ],
  controllers: [
    t('label', 'Name'),
    c('type', 'Kind', ['mppt', 'pwm'], true),
    n('maxPv_V', 'Highest PV voltage', 'V'),
    n('maxOutput_A', 'Output', 'A', true),
    n('maxPv_A', 'Highest PV current', 'A'),
    n('minBattery_V', 'Battery voltage, lowest', 'V'),
    n('maxBattery_V', 'Battery voltage, highest', 'V'),
    f('limitsOutput', 'Limits its own output'),
    n('startAbove_V', 'Starts above the battery by', 'V'),
    f('temperatureSensor', 'Temperature sensor'),
    ...settings(),
    n('selfUse_W', 'Own use', 'W'),
  ],
  bank: [
    t('label', 'Name'),
    c('chemistry', 'Chemistry', CHEMISTRIES, true),
    n('block_V', 'Volts of one block', 'V', true),
    n('blockCapacity_Ah', 'Capacity of one block', 'Ah', true),
    n('series', 'Blocks in series', '', true),
    n('parallel', 'Strings in parallel', '', true),
    n('rate_h', 'Capacity is at the rate of', 'h'),
    n('age_y', 'Age', 'y'),
    n('health_pct', 'Health', '%'),
    n('maxCharge_A', 'Largest charge, a block', 'A'),
    n('maxDischarge_A', 'Largest discharge, a block', 'A'),
    c('tapping', 'Tapped', ['same-end', 'opposite-ends', 'busbar']),
    c('place.space', 'Stands in', SPACES),
    n('place.min_C', 'Coldest there', 'degC'),
    n('place.max_C', 'Hottest there', 'degC'),
    n('place.ventArea_cm2', 'Area of one vent', 'cm2'),
    f('chargeLimited', 'Charge is limited by the bank itself'),
    f('fusedStrings', 'Each string fused'),
  ],
  inverters: [
    t('label', 'Name'),
    n('continuous_W', 'Power', 'W', true),
    n('surge_W', 'Surge', 'W'),
    c('waveform', 'Wave', ['sine', 'modified']),
    n('lowCutoff_V', 'Low cut-off', 'V'),
    n('minDc_V', 'Lowest DC voltage', 'V'),
    n('maxDc_V', 'Highest DC voltage', 'V'),
    n('idle_W', 'Idle draw', 'W'),
    n('efficiency_pct', 'Efficiency', '%'),
    c('transfer', 'Transfer switch', ['none', 'built-in', 'external']),
    n('charger.max_A', 'Charger in it', 'A'),
    ...settings('charger.settings'),
  ],
  chargers: [
    t('label', 'Name'),
    c('kind', 'Kind', ['mains', 'dc-dc', 'alternator-direct'], true),
    n('max_A', 'Output', 'A', true),
    n('efficiency_pct', 'Efficiency', '%'),
    n('powerFactor', 'Power factor'),
    f('onInverterOutput', 'Plugged into the inverter'),
    ...settings(),
  ],
  sources: [
    t('label', 'Name'),
    c('kind', 'Kind', ['generator', 'inlet'], true),
    n('power_W', 'Power', 'W'),
    n('inlet_A', 'Inlet', 'A'),
    n('ac_V', 'Voltage', 'V'),
  ],
  converters: [
    t('label', 'Name'),
    n('in_V', 'In', 'V', true),
    n('out_V', 'Out', 'V', true),
    n('max_A', 'Output', 'A', true),
    n('efficiency_pct', 'Efficiency', '%'),
  ],
  loads: [
    t('label', 'Name', true),
    c('kind', 'Runs on', ['ac', 'dc'], true),
    n('power_W', 'Power', 'W', true),
    n('quantity', 'How many'),
    n('hours_d', 'Hours a day', 'h', true),
    n('winterHours_d', 'Hours a day in winter', 'h'),
    n('surge_W', 'Surge', 'W'),
    n('powerFactor', 'Power factor'),
    c('overlap', 'Runs', ['base', 'may', 'alone']),
    n('max_V', 'Highest voltage it stands', 'V'),
    f('needsSine', 'Needs a true sine'),
  ],
  runs: [
    t('label', 'Name'),
    n('length_m', 'Length, one way, along the cable', 'm', true),
    { path: 'size', label: 'Size', kind: 'size', required: true, hint: '16 mm2, or 2/0 AWG' },
    c('protection.type', 'Fuse or breaker', PROTECTION_TYPES),
    n('protection.rating_A', 'Its rating', 'A'),
    n('protection.voltage_V', 'Its DC voltage', 'V'),
    n('protection.fromSource_m', 'From the source', 'm'),
    f('protection.dcRated', 'Rated for DC'),
    c('material', 'Material', ['copper', 'aluminium', 'cca']),
    n('perPole', 'Conductors a pole'),
    n('insulation_C', 'Insulation', 'degC'),
    n('ambient_C', 'Air around it', 'degC'),
    n('joints', 'Joints'),
  ],
  distribution: [t('label', 'Name'), n('slots', 'Slots'), n('rating_A', 'Rating', 'A')],
  monitor: [t('label', 'Name'), n('shunt_A', 'Shunt', 'A')],
  site: [
    t('name', 'Name', true),
    n('recordLow_C', 'Record low', 'degC'),
    n('recordHigh_C', 'Record high', 'degC'),
    n('elevation_m', 'Elevation', 'm'),
    n('latitude_deg', 'Latitude', 'deg'),
    n('longitude_deg', 'Longitude', 'deg'),
  ],
  system: [n('nominal_V', 'System voltage', 'V')],
};

export const KIND_WORDS: Partial<Record<RowKind, string>> = {
  moduleTypes: 'Module',
  arrays: 'Array',
  controllers: 'Controller',
  bank: 'Bank',
  inverters: 'Inverter',
  chargers: 'Charger',
  sources: 'Source',
  converters: 'Converter',
  loads: 'Load',
  runs: 'Cable',
  distribution: 'Distribution',
  monitor: 'Monitor',
  site: 'Site',
  system: 'System',
};

/** The spec of a field of one kind. */
export const fieldSpec = (kind: RowKind, path: string) => FIELDS[kind]?.find((spec) => spec.path === path);
