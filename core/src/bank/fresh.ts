import type { Bank } from '../system/schema';

/**
 * What a bank of new blocks is, however they are called: of one age and kind, healthy, rated at 20 h; several strings
 * on bus bars with a fuse each (Practice, A). Links as they were, else half a metre of 35 mm2 until they are measured.
 */
export const freshBank = (series: number, parallel: number, link?: Bank['link']): Partial<Bank> => ({
  series,
  parallel,
  rate_h: 20,
  age_y: 0,
  health_pct: 100,
  ageSpread_months: 0,
  mixedChemistry: false,
  salvaged: false,
  ...(parallel > 1 ? { tapping: 'busbar', fusedStrings: true, link: link ?? { length_m: 0.5, size: '35mm2' } } : {}),
});

/** As the rule of the bank's volts allows: labels stand a little off the step they serve, 12.8 for 12. */
const OFF_LABEL = 0.12;

/** Blocks in series that make a system's volts; null where no number of them does. */
export function blocksInSeries(nominal_V: number, block_V: number): number | null {
  const series = Math.round(nominal_V / block_V);
  return series >= 1 && Math.abs((series * block_V) / nominal_V - 1) <= OFF_LABEL ? series : null;
}
