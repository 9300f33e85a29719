import { elementAt } from '../../numeric/element';
import type { SystemFile } from '../../system/schema';
import { CABIN } from './cabin';
import { HOUSE } from './house';
import { VAN } from './van';

/**
 * Systems to practise on where there is no site, or where the own one is known by heart: three that somebody did right, as a
 * careful senior technician would leave them. Made-up parts and places.
 */
export const MADE_UP: readonly SystemFile[] = [VAN, CABIN, HOUSE];

/** The made-up system of a practice case: the same for the same number. */
export const madeUpFor = (seed: number): SystemFile => elementAt(MADE_UP, Math.abs(Math.trunc(seed)) % MADE_UP.length);

export { CABIN, HOUSE, VAN };
