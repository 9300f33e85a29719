/** What the made-up systems have in common: seen and in order, the sun of their country, made-up makers' settings. */

/** What was looked for and is in order. */
export const SEEN = Object.fromEntries(
  'mainFuse pvIsolator batteryIsolator acIsolator oneNeutralBond rcdOnSockets plugsOfOneMake framesBonded batteryRestrained terminalsCapped noSparkByVents noSwelling noLeak noCharring noMeltedPlug neverMixedChemistry noCentreTap'
    .split(' ')
    .map((name) => [name, 'yes' as const]),
);
/** The sun and the warmth of a temperate country. */
export const SUN = {
  globalHorizontal_kWh_m2_d: [2.6, 3.2, 4.2, 5, 5.6, 6, 6, 5.4, 4.6, 3.6, 2.8, 2.4],
  meanTemp_C: [4, 5, 8, 11, 14, 17, 19, 19, 16, 12, 8, 5],
};
/** Settings for lithium iron phosphate, as a battery maker gives them. */
export const LFP = { absorb_V: 14.2, float_V: 13.5, equalise_V: 0, comp_mV_K_cell: 0 };
/** A fuse by its kind, rating and voltage, so many metres from its source. */
export const fuse = (
  type: 'class-t' | 'terminal' | 'blade' | 'nh',
  rating_A: number,
  voltage_V: number,
  fromSource_m = 0.1,
) => ({
  type,
  rating_A,
  voltage_V,
  dcRated: true,
  fromSource_m,
});
/** A cable whose negative passes the shunt. */
export const through = { negativeThroughShunt: true, insulation_C: 105 } as const;

/** A module of half-cut cells. */
export const HALF_CUT = {
  id: 'm',
  pmax_W: 400,
  voc_V: 37,
  isc_A: 13.8,
  vmp_V: 31,
  imp_A: 12.9,
  cells: 108,
  halfCut: true,
  betaVoc_pct_C: -0.27,
  alphaIsc_pct_C: 0.05,
  gammaPmax_pct_C: -0.34,
  noct_C: 45,
  maxSeriesFuse_A: 25,
  maxSystem_V: 1000,
};

/** Settings of the house. */
export const HOUSE_SET = { absorb_V: 56.8, float_V: 54, equalise_V: 0, comp_mV_K_cell: 0 };
