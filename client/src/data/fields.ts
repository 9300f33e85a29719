import type { PartKind, RowKind } from '@true-lantern/core';
import {
  CHEMISTRIES,
  LOAD_TYPES,
  MOUNTINGS,
  OBSERVED,
  PROFILES,
  PROTECTION_TYPES,
  RUN_KINDS,
  SPACES,
} from '@true-lantern/core';

/** How a field of a part is asked for and shown. What it may hold is the schema's business. */
export interface FieldSpec {
  /** Path in the part's body. */
  path: string;
  label: string;
  unit?: string;
  kind:
    | 'number'
    | 'text'
    | 'choice'
    | 'choices'
    | 'flag'
    | 'size'
    | 'strings'
    | 'part'
    | 'parts'
    | 'months'
    | 'indices'
    | 'climate'
    | 'horizon';
  choices?: readonly string[];
  /** Which kinds of part a reference may lead to. */
  of?: readonly PartKind[];
  /** Cannot be unknown: the part does not exist without it. */
  required?: boolean;
  /** Asked when the part is added; the rest can wait. */
  first?: boolean;
  hint?: string;
}

type More = Pick<FieldSpec, 'required' | 'first' | 'hint'>;
const MUST: More = { required: true, first: true };
const FIRST: More = { first: true };

const n = (path: string, label: string, unit = '', more: More = {}): FieldSpec => ({
  path,
  label,
  unit,
  kind: 'number',
  ...more,
});
const t = (path: string, label: string, more: More = {}): FieldSpec => ({ path, label, kind: 'text', ...more });
const c = (path: string, label: string, choices: readonly string[], more: More = {}): FieldSpec => ({
  path,
  label,
  kind: 'choice',
  choices,
  ...more,
});
const f = (path: string, label: string, more: More = {}): FieldSpec => ({ path, label, kind: 'flag', ...more });
const to = (path: string, label: string, of: readonly PartKind[], more: More = {}): FieldSpec => ({
  path,
  label,
  kind: 'part',
  of,
  ...more,
});
const name = t('label', 'Name', FIRST);

const settings = (prefix = 'settings'): FieldSpec[] => [
  n(`${prefix}.absorb_V`, 'Absorb, as set', 'V'),
  n(`${prefix}.absorb_min`, 'Absorb time', 'min'),
  n(`${prefix}.tail_A`, 'Tail current', 'A'),
  n(`${prefix}.float_V`, 'Float, as set', 'V'),
  n(`${prefix}.equalise_V`, 'Equalise, as set (0 is off)', 'V'),
  n(`${prefix}.equaliseEvery_d`, 'Equalise every', 'd'),
  n(`${prefix}.comp_mV_K_cell`, 'Compensation', 'mV/K cell'),
  n(`${prefix}.maxCharge_A`, 'Charge limit, as set', 'A'),
  n(`${prefix}.lowTempCut_C`, 'Cold cut', 'degC'),
  t(`${prefix}.firmware`, 'Firmware'),
];
const cutoffs = (prefix = 'settings'): FieldSpec[] => [
  n(`${prefix}.cutoff_V`, 'Cut-off, as set', 'V'),
  n(`${prefix}.restart_V`, 'Restart, as set', 'V'),
  n(`${prefix}.alarm_V`, 'Alarm, as set', 'V'),
];
const protection = (prefix: string, where: string): FieldSpec[] => [
  c(`${prefix}.type`, `Fuse or breaker${where}`, PROTECTION_TYPES, prefix === 'protection' ? FIRST : {}),
  n(`${prefix}.rating_A`, `Its rating${where}`, 'A', prefix === 'protection' ? FIRST : {}),
  n(`${prefix}.voltage_V`, `Its DC voltage${where}`, 'V'),
  n(`${prefix}.interrupt_A`, `Breaks at most${where}`, 'A'),
  n(`${prefix}.fromSource_m`, `From the source${where}`, 'm'),
  f(`${prefix}.dcRated`, `Rated for DC${where}`),
  f(`${prefix}.polarised`, `Polarised${where}`),
];
const ANY_END: readonly PartKind[] = [
  'arrays',
  'controllers',
  'bank',
  'inverters',
  'chargers',
  'converters',
  'distribution',
  'loads',
];

/** Fields by kind, in the order in which the checks need them. */
export const FIELDS: Partial<Record<RowKind, FieldSpec[]>> = {
  moduleTypes: [
    name,
    n('pmax_W', 'Power', 'W', MUST),
    n('voc_V', 'Open-circuit voltage', 'V', MUST),
    n('isc_A', 'Short-circuit current', 'A', MUST),
    n('vmp_V', 'Voltage at full power', 'V', MUST),
    n('imp_A', 'Current at full power', 'A', MUST),
    n('betaVoc_pct_C', 'Voc coefficient', '%/K', { first: true, hint: 'usually minus 0.25 to minus 0.35' }),
    n('cells', 'Cells printed'),
    n('maxSeriesFuse_A', 'Largest series fuse', 'A', FIRST),
    n('maxSystem_V', 'Largest system voltage', 'V'),
    n('alphaIsc_pct_C', 'Isc coefficient', '%/K'),
    n('gammaPmax_pct_C', 'Power coefficient', '%/K'),
    n('noct_C', 'NOCT', 'degC'),
    n('bypassDiodes', 'Bypass diodes'),
    f('halfCut', 'Half-cut cells'),
    f('bifacial', 'Bifacial'),
    n('length_mm', 'Length', 'mm'),
    n('width_mm', 'Width', 'mm'),
    n('mass_kg', 'Mass', 'kg'),
  ],
  arrays: [
    name,
    { path: 'strings', label: 'Modules in series x strings', kind: 'strings', ...MUST },
    to('controllerId', 'Feeds', ['controllers'], FIRST),
    n('stringFuse_A', 'Fuse in each string', 'A'),
    n('tilt_deg', 'Tilt', 'deg'),
    n('azimuth_deg', 'Faces (180 is south)', 'deg'),
    c('mounting', 'Mounting', MOUNTINGS),
  ],
  controllers: [
    name,
    c('type', 'Kind', ['mppt', 'pwm'], MUST),
    n('maxPv_V', 'Highest PV voltage', 'V', FIRST),
    n('maxOutput_A', 'Output', 'A', MUST),
    n('maxPv_A', 'Highest PV current', 'A', FIRST),
    n('minBattery_V', 'Battery voltage, lowest', 'V'),
    n('maxBattery_V', 'Battery voltage, highest', 'V'),
    { path: 'profiles', label: 'Charging profiles', kind: 'choices', choices: PROFILES },
    f('limitsOutput', 'Limits its own output'),
    n('maxPv_W.12', 'Array watts at 12 V', 'W'),
    n('maxPv_W.24', 'Array watts at 24 V', 'W'),
    n('maxPv_W.48', 'Array watts at 48 V', 'W'),
    n('startAbove_V', 'Starts above the battery by', 'V'),
    f('temperatureSensor', 'Temperature sensor'),
    ...settings(),
    n('settings.lvd_V', 'Load disconnect, as set', 'V'),
    n('settings.reconnect_V', 'Load reconnect, as set', 'V'),
    n('efficiency_pct', 'Efficiency', '%'),
    n('selfUse_W', 'Own use', 'W'),
    t('outputGroup', 'Shares its output with (group)'),
  ],
  bank: [
    name,
    c('chemistry', 'Chemistry', CHEMISTRIES, MUST),
    n('block_V', 'Volts of one block', 'V', MUST),
    n('blockCapacity_Ah', 'Capacity of one block', 'Ah', MUST),
    n('series', 'Blocks in series', '', MUST),
    n('parallel', 'Strings in parallel', '', MUST),
    n('rate_h', 'Capacity is at the rate of', 'h'),
    n('cells', 'Cells in a block'),
    n('age_y', 'Age', 'y', FIRST),
    n('health_pct', 'Health', '%'),
    n('ageSpread_months', 'Oldest to newest block', 'months'),
    f('mixedChemistry', 'Mixed chemistries'),
    n('maxCharge_A', 'Largest charge, a block', 'A'),
    n('maxDischarge_A', 'Largest discharge, a block', 'A'),
    n('peakDischarge_A', 'Peak discharge, a block', 'A'),
    n('peak_s', 'Peak lasts', 's'),
    n('internal_mohm', 'Resistance, a block', 'mohm'),
    n('maxSeries', 'Most in series'),
    n('maxParallel', 'Most in parallel'),
    c('tapping', 'Tapped', ['same-end', 'opposite-ends', 'busbar']),
    n('link.length_m', 'Link between blocks, one way', 'm'),
    { path: 'link.size', label: 'Link size', kind: 'size' },
    f('fusedStrings', 'Each string fused'),
    f('chargeLimited', 'Charge is limited by the bank itself'),
    f('lowTemperatureProtection', 'Stops charging when cold'),
    f('heated', 'Heated'),
    f('salvaged', 'Salvaged'),
    n('fullDensity_kg_L', 'Density when full', 'kg/L'),
    n('protection.lowTrip_V_cell', 'Protection trips low, a cell', 'V'),
    n('protection.highTrip_V_cell', 'Protection trips high, a cell', 'V'),
    f('protection.alarmLine', 'Alarm line'),
    t('protection.comms', 'Communication'),
    t('protection.wake', 'Wakes by'),
    c('place.space', 'Stands in', SPACES),
    n('place.min_C', 'Coldest there', 'degC'),
    n('place.max_C', 'Hottest there', 'degC'),
    n('place.ventArea_cm2', 'Area of one vent', 'cm2'),
    n('place.length_mm', 'Bay length', 'mm'),
    n('place.width_mm', 'Bay width', 'mm'),
    n('place.height_mm', 'Bay height', 'mm'),
    n('place.maxMass_kg', 'Floor bears', 'kg'),
    n('block.length_mm', 'Block length', 'mm'),
    n('block.width_mm', 'Block width', 'mm'),
    n('block.height_mm', 'Block height', 'mm'),
    n('block.mass_kg', 'Block mass', 'kg'),
  ],
  otherBanks: [
    c('role', 'For', ['starter', 'thruster', 'generator', 'other'], MUST),
    c('chemistry', 'Chemistry', CHEMISTRIES, MUST),
    n('nominal_V', 'Voltage', 'V', MUST),
    c('joinedBy', 'Joined by', ['none', 'relay', 'diode', 'switch', 'dc-dc'], FIRST),
  ],
  inverters: [
    name,
    n('continuous_W', 'Power', 'W', MUST),
    n('continuous_VA', 'Apparent power', 'VA'),
    n('surge_W', 'Surge', 'W', FIRST),
    n('surge_s', 'Surge lasts', 's'),
    c('waveform', 'Wave', ['sine', 'modified'], FIRST),
    n('lowCutoff_V', 'Low cut-off', 'V'),
    n('minDc_V', 'Lowest DC voltage', 'V'),
    n('maxDc_V', 'Highest DC voltage', 'V'),
    n('idle_W', 'Idle draw', 'W'),
    n('idleHours_d', 'Switched on', 'h a day'),
    n('efficiency_pct', 'Efficiency', '%'),
    n('ratedAt_C', 'Rated at', 'degC'),
    c('feeds', 'Feeds', ['sockets', 'panel', 'building']),
    c('transfer', 'Transfer switch', ['none', 'built-in', 'external']),
    c('neutralBond', 'Neutral bond', ['fixed', 'switched', 'none']),
    f('precharge', 'Pre-charge'),
    ...cutoffs(),
    n('charger.max_A', 'Charger in it', 'A'),
    n('charger.efficiency_pct', 'Its efficiency', '%'),
    n('charger.powerFactor', 'Its power factor'),
    { path: 'charger.profiles', label: 'Its charging profiles', kind: 'choices', choices: PROFILES },
    ...settings('charger.settings'),
  ],
  chargers: [
    name,
    c('kind', 'Kind', ['mains', 'dc-dc', 'alternator-direct'], MUST),
    n('max_A', 'Output', 'A', MUST),
    n('input_V', 'Input', 'V'),
    { path: 'profiles', label: 'Charging profiles', kind: 'choices', choices: PROFILES },
    n('efficiency_pct', 'Efficiency', '%'),
    n('powerFactor', 'Power factor'),
    n('alternator_A', 'Alternator', 'A'),
    f('externallyRegulated', 'Alternator regulated from outside'),
    f('onInverterOutput', 'Plugged into the inverter'),
    ...settings(),
  ],
  sources: [
    name,
    c('kind', 'Kind', ['generator', 'inlet'], MUST),
    n('power_W', 'Power', 'W', FIRST),
    n('inlet_A', 'Inlet', 'A'),
    n('ac_V', 'Voltage', 'V'),
  ],
  converters: [
    name,
    n('in_V', 'In', 'V', MUST),
    n('out_V', 'Out', 'V', MUST),
    n('max_A', 'Output', 'A', MUST),
    n('efficiency_pct', 'Efficiency', '%'),
  ],
  loads: [
    t('label', 'Name', MUST),
    c('kind', 'Runs on', ['ac', 'dc'], MUST),
    n('power_W', 'Power', 'W', MUST),
    n('hours_d', 'Hours a day', 'h', MUST),
    c('type', 'What it is', LOAD_TYPES, FIRST),
    n('quantity', 'How many'),
    n('winterHours_d', 'Hours a day in winter', 'h'),
    n('surge_W', 'Surge', 'W'),
    n('surge_s', 'Surge lasts', 's'),
    n('powerFactor', 'Power factor'),
    c('overlap', 'Runs', ['base', 'may', 'alone']),
    t('group', 'Never together with (group)'),
    n('from_h', 'From', 'h'),
    n('to_h', 'To', 'h'),
    n('max_V', 'Highest voltage it stands', 'V'),
    n('recordedPeak_W', 'Peak that was recorded', 'W'),
    n('priority', 'Priority (1 is first)'),
    f('needsSine', 'Needs a true sine'),
    to('inverterId', 'Inverter', ['inverters']),
    to('converterId', 'Converter', ['converters']),
  ],
  runs: [
    name,
    c('kind', 'Between', RUN_KINDS, MUST),
    to('from', 'From', ANY_END, FIRST),
    to('to', 'To', ANY_END, FIRST),
    n('length_m', 'Length, one way, along the cable', 'm', MUST),
    { path: 'size', label: 'Size', kind: 'size', ...MUST, hint: '16 mm2, or 2/0 AWG' },
    ...protection('protection', ''),
    c('material', 'Material', ['copper', 'aluminium', 'cca']),
    n('perPole', 'Conductors a pole'),
    n('insulation_C', 'Insulation', 'degC'),
    n('terminal_C', 'Terminals', 'degC'),
    n('ambient_C', 'Air around it', 'degC'),
    n('bundled', 'Conductors bundled'),
    n('joints', 'Joints'),
    f('sheathed', 'Sheathed as far as the fuse'),
    f('engineSpace', 'Through the engine space'),
    f('negativeThroughShunt', 'Negative passes the shunt'),
    f('remoteSense', 'Remote sense'),
    {
      path: 'strings',
      label: 'Carries only these strings',
      kind: 'indices',
      hint: 'of the array it comes from; none chosen: all',
    },
    ...protection('farProtection', ', far end'),
  ],
  distribution: [
    name,
    n('slots', 'Slots', '', FIRST),
    n('rating_A', 'Rating', 'A', FIRST),
    { path: 'circuits', label: 'Circuits', kind: 'parts', of: ['runs'] },
  ],
  monitor: [name, n('shunt_A', 'Shunt', 'A', FIRST)],
  site: [
    t('name', 'Name', MUST),
    n('recordLow_C', 'Record low', 'degC'),
    n('recordHigh_C', 'Record high', 'degC'),
    n('elevation_m', 'Elevation', 'm'),
    n('latitude_deg', 'Latitude', 'deg'),
    n('longitude_deg', 'Longitude', 'deg'),
    t('kind', 'What it is'),
    f('livingSpace', 'People sleep there'),
    { path: 'occupiedMonths', label: 'Occupied in', kind: 'months' },
    { path: 'climate', label: 'Sun and temperature by month', kind: 'climate' },
    { path: 'horizon', label: 'Horizon', kind: 'horizon', hint: 'what stands between the array and the sun' },
    n('layup_d', 'Left alone for', 'd'),
    ...Object.entries(OBSERVED).map(([seen, { label }]) =>
      c(`observations.${seen}`, label, ['yes', 'no', 'cannot-see']),
    ),
  ],
  system: [n('nominal_V', 'System voltage', 'V')],
};

export const KIND_WORDS: Partial<Record<RowKind, string>> = {
  moduleTypes: 'Module',
  arrays: 'Array',
  controllers: 'Controller',
  bank: 'Bank',
  otherBanks: 'Other battery',
  inverters: 'Inverter',
  chargers: 'Charger',
  sources: 'Generator or inlet',
  converters: 'Converter',
  loads: 'Load',
  runs: 'Cable',
  distribution: 'Distribution',
  monitor: 'Monitor',
  site: 'Site',
  system: 'System',
};

/** From the sun down: the order in which parts are offered. */
export const KIND_ORDER: readonly PartKind[] = [
  'moduleTypes',
  'arrays',
  'controllers',
  'bank',
  'inverters',
  'runs',
  'loads',
  'chargers',
  'sources',
  'distribution',
  'converters',
  'monitor',
  'otherBanks',
];

/** What a new part is taken to be until somebody reads it: marked as assumed, so that it shows. */
export const TYPICAL: Partial<Record<PartKind, Record<string, unknown>>> = {
  moduleTypes: { betaVoc_pct_C: -0.3, alphaIsc_pct_C: 0.05, noct_C: 45 },
  arrays: { mounting: 'raised' },
  controllers: { limitsOutput: true },
};

/** The spec of a field of one kind. */
export const fieldSpec = (kind: RowKind, path: string) => FIELDS[kind]?.find((spec) => spec.path === path);
