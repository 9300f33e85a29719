/** What can be read, with its unit and how it is called. Those of the open format (docs/work-orders-and-readings.md). */
export const QUANTITIES = {
  stringVoc_V: ['V', 'Open-circuit voltage (Voc)'],
  stringIsc_A: ['A', 'Short-circuit current (Isc)'],
  stringImp_A: ['A', 'Operating current (Imp)'],
  arrayVmp_V: ['V', 'Operating voltage (Vmp)'],
  plusFrame_V: ['V', 'Positive to frame'],
  minusFrame_V: ['V', 'Negative to frame'],
  insulation_Mohm: ['Mohm', 'Insulation resistance to frame'],
  pv_V: ['V', 'Voltage at the PV terminals'],
  pv_A: ['A', 'Current from the array'],
  out_V: ['V', 'Output terminals'],
  out_A: ['A', 'Current into the bank'],
  rest_V: ['V', 'Resting voltage'],
  restVoltage_V: ['V', 'Resting voltage'],
  load_V: ['V', 'Voltage under load'],
  absorb_V: ['V', 'Absorption voltage'],
  stringCurrent_A: ['A', 'String current'],
  blockRest_V: ['V', 'Block at rest'],
  blockLoad_V: ['V', 'Block under load'],
  density_kg_L: ['kg/L', 'Specific gravity'],
  resistance_mohm: ['mohm', 'Internal resistance'],
  capacity_Ah: ['Ah', 'Capacity measured'],
  temp_C: ['degC', 'Temperature'],
  drop_V: ['V', 'Voltage drop'],
  joint_mohm: ['mohm', 'Joint resistance'],
  jointRise_K: ['K', 'Joint temperature above air'],
  idle_A: ['A', 'Idle draw'],
  ac_V: ['V', 'AC voltage'],
  ac_Hz: ['Hz', 'AC frequency'],
  dc_V: ['V', 'DC terminals'],
  minDc_V: ['V', 'Lowest voltage during a start'],
  cutoff_V: ['V', 'Cut-off voltage'],
  neutralEarth_ohm: ['ohm', 'Neutral to earth'],
  head_A: ['A', 'Shown by the monitor'],
  clamp_A: ['A', 'By the clamp'],
  zero_A: ['A', 'Reading at zero current'],
  head_soc: ['', 'State of charge shown'],
  parasitic_A: ['A', 'Parasitic draw, all off'],
  frameEarth_ohm: ['ohm', 'Frames to earth'],
  running_W: ['W', 'Running'],
  start_A: ['A', 'Starting'],
} as const;
export type Quantity = keyof typeof QUANTITIES;

/** Quantities that are a difference, and may be read as two figures on one row: what each is, the second taken off the first. */
export const PAIRS: Partial<Record<Quantity, readonly [first: string, second: string]>> = {
  idle_A: ['Inverter on', 'Inverter off'],
  drop_V: ['At the source end', 'At the far end'],
};
/** A quantity by the name that it has today: older files have another for rest volts. */
export const nameToday = (name: string): string => (name === 'restVoltage_V' ? 'rest_V' : name);
/** True for a quantity that can be read. */
export const isQuantity = (name: string): name is Quantity => Object.hasOwn(QUANTITIES, name);
