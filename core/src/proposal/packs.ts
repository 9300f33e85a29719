import { CONVERSION } from '../chemistry/chemistry';
import type { ShelfItem } from '../shelf/item';

/**
 * Lithium iron packs as they are commonly sold, nameless, for where no shelf is at hand (the command line). Planning
 * values: half its Ah to charge, all of it to discharge, twice that for seconds, four in parallel, none in series.
 */
const pack = (
  block_V: number,
  ah: number,
  size: [number, number, number],
  mass_kg: number,
  more: object = {},
): ShelfItem => ({
  kind: 'bank',
  label: `LFP pack ${block_V} V ${ah} Ah`,
  body: {
    chemistry: CONVERSION,
    block_V,
    blockCapacity_Ah: ah,
    maxCharge_A: ah / 2,
    maxDischarge_A: ah,
    peakDischarge_A: 2 * ah,
    peak_s: 5,
    maxSeries: 1,
    maxParallel: 4,
    lowTemperatureProtection: true,
    protection: { lowTrip_V_cell: 2.6, highTrip_V_cell: 3.65 },
    block: { length_mm: size[0], width_mm: size[1], height_mm: size[2], mass_kg },
    ...more,
  },
});

/** Packs as they are commonly sold, made up: volts, Ah, mm, kg. */
export const COMMON_PACKS: readonly ShelfItem[] = [
  pack(12.8, 30, [195, 130, 170], 4, { maxSeries: 4 }),
  pack(12.8, 50, [197, 165, 170], 6.5, { maxSeries: 4 }),
  pack(12.8, 100, [330, 172, 220], 11, { maxSeries: 4 }),
  pack(12.8, 200, [522, 240, 220], 22),
  pack(12.8, 300, [522, 269, 220], 31),
  pack(25.6, 50, [330, 172, 220], 12),
  pack(25.6, 100, [522, 240, 220], 23),
  pack(25.6, 200, [620, 269, 250], 43),
  pack(51.2, 100, [440, 480, 133], 44, { maxParallel: 15 }),
  pack(51.2, 200, [650, 440, 250], 88, { maxParallel: 15 }),
];
