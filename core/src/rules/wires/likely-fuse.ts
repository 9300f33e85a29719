import { ratingsSold } from '../../conductors/fuses';
import { createLedger } from '../../ledger/ledger';
import { withSystem, type Model } from '../../system/model';
import type { Run } from '../../system/schema';
import { largestFuse_A } from '../../power/conductor-limits';
import { type Type } from './run-limits';

/**
 * Ratings sold of a fuse's type that one may expect on a cable, A, rising: those nearest to the largest that the conductor
 * allows by the site's school. For choosing by thumb what is read off; no advice on what should be there.
 */
export function likelyRatings(model: Model, run: Run, type: Type, most = 6): number[] {
  const { system } = model;
  const placed = withSystem(model, {
    ...system,
    runs: [...(system.runs ?? []).filter(({ id }) => id !== run.id), run],
  });
  const limit = largestFuse_A(createLedger(placed), run);
  const sold = ratingsSold(type);
  if (!(limit > 0)) return sold.slice(0, most);
  const off = (amps: number) => Math.abs(Math.log(amps / limit));
  return [...sold]
    .sort((a, b) => off(a) - off(b))
    .slice(0, most)
    .sort((a, b) => a - b);
}
