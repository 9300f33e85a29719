import { area_mm2 } from '../conductors/sizes';
import { isLithium } from '../chemistry/chemistry';
import type { Bank, System } from '../system/schema';
import { boxOf, fit, HAND_MM, type Box, type Fit } from './fit';

/** A bank in its bay: how many blocks stand in it, whether a hand and a cable have room at the posts (docs/roof.md). */
export interface Bay {
  bay: Box;
  block: Box;
  fit: Fit;
  wanted: number;
  /** Blocks lie on a side, their posts facing out. */
  lying: boolean;
  /** A spanner and a hand reach the posts from above. */
  hand: boolean;
  /** It opens above: what stands in it is reached and lifted out through the lid. */
  opensAbove: boolean;
  /** The thickest cable at the bank; null where none is recorded. */
  cable: { size: string; outer_mm: number; bend_mm: number; fits: boolean } | null;
  /** Weight of the blocks that are wanted, and what the floor carries; null where that is not known. */
  mass_kg: number | null;
  bears_kg: number | null;
}

/** A cable is bent no tighter than so many times its outer diameter; planning value, the maker's comes first. */
const BEND_TIMES = 8;
/** Fine strands fill about three quarters of their circle; planning value. */
const FILL = 0.75;
/** Insulation and sheath, both sides together, mm; with a tenth more for the wire's own: planning values. */
const WALLS_MM = 3;
const ROOM = 1.1;

/** Outer diameter of a single flexible battery cable, mm, in whole ones; within a millimetre or two of catalogues. */
export const outer_mm = (size_mm2: number): number =>
  Math.round(ROOM * (Math.sqrt((4 * size_mm2) / (Math.PI * FILL)) + WALLS_MM));

/** What is missing for it, or the bank in its bay. */
export function bayOf({ runs }: Pick<System, 'runs'>, bank: Bank): Bay | 'place' | 'block' {
  const bay = boxOf(bank.place);
  const block = boxOf(bank.block);
  if (!bay) return 'place';
  if (!block) return 'block';
  const upright = fit(bay, block, false);
  // A block lies on a side only where there is no room to stand it: not every maker allows that.
  const found = upright.count >= bank.series * bank.parallel ? upright : fit(bay, block, isLithium(bank.chemistry));
  const lying = found.places.some(({ lies }) => lies);
  const wanted = bank.series * bank.parallel;
  const opensAbove = bank.place?.opens === 'above';
  return {
    bay,
    block,
    fit: found,
    wanted,
    lying,
    hand: lying || opensAbove || found.above_mm >= HAND_MM,
    opensAbove,
    cable: thickest(runs ?? [], bank, lying ? Infinity : found.above_mm),
    mass_kg: bank.block?.mass_kg ? bank.block.mass_kg * wanted : null,
    bears_kg: bank.place?.maxMass_kg ?? null,
  };
}

function thickest(runs: NonNullable<System['runs']>, { id, link }: Bank, above_mm: number): Bay['cable'] {
  const sizes = [...runs.filter(({ from, to }) => from === id || to === id).map(({ size }) => size), link?.size];
  const known = sizes.flatMap((size) => {
    const area = size ? area_mm2(size) : Number.NaN;
    return size && Number.isFinite(area) ? [{ size, outer: outer_mm(area) }] : [];
  });
  const [first, ...rest] = known;
  if (!first) return null;
  const { size, outer } = rest.reduce((most, one) => (one.outer > most.outer ? one : most), first);
  return { size, outer_mm: outer, bend_mm: BEND_TIMES * outer, fits: above_mm >= BEND_TIMES * outer };
}
