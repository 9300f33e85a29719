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
