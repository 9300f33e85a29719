/** What can be read, with its unit and how it is called. Those of the open format (docs/work-and-prove.md). */
export const QUANTITIES = {
  stringVoc_V: ['V', 'Open volts'],
  stringIsc_A: ['A', 'Short-circuit current'],
  stringImp_A: ['A', 'Current at work'],
  arrayVmp_V: ['V', 'Volts at work'],
  plusFrame_V: ['V', 'Plus to frame'],
  minusFrame_V: ['V', 'Minus to frame'],
  insulation_Mohm: ['Mohm', 'Insulation to frame'],
  pv_V: ['V', 'Volts at the PV terminals'],
  pv_A: ['A', 'Current from the array'],
  out_V: ['V', 'Output terminals'],
  out_A: ['A', 'Current into the bank'],
  rest_V: ['V', 'Volts at rest'],
  restVoltage_V: ['V', 'Volts at rest'],
  load_V: ['V', 'Volts under load'],
  absorb_V: ['V', 'Volts at absorb'],
  stringCurrent_A: ['A', 'String current'],
  blockRest_V: ['V', 'Block at rest'],
  blockLoad_V: ['V', 'Block under load'],
  density_kg_L: ['kg/L', 'Density'],
  resistance_mohm: ['mohm', 'Resistance'],
  temp_C: ['degC', 'Temperature'],
  drop_V: ['V', 'Lost along it'],
  joint_mohm: ['mohm', 'A joint'],
  jointRise_K: ['K', 'Joint above the air'],
  idle_A: ['A', 'Idle draw'],
  ac_V: ['V', 'AC volts'],
  ac_Hz: ['Hz', 'AC frequency'],
  dc_V: ['V', 'DC terminals'],
  minDc_V: ['V', 'Lowest volts at a start'],
  cutoff_V: ['V', 'Lets go at'],
  neutralEarth_ohm: ['ohm', 'Neutral to earth'],
  head_A: ['A', 'Shown by the monitor'],
  clamp_A: ['A', 'By the clamp'],
  zero_A: ['A', 'Shown with nothing flowing'],
  head_soc: ['', 'State of charge shown'],
  parasitic_A: ['A', 'Drawn with all off'],
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
/** True for a quantity that can be read. */
export const isQuantity = (name: string): name is Quantity => Object.hasOwn(QUANTITIES, name);
