import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partTitle } from '../conductors/names';
import { counted } from '../ledger/figures';
import { KINDS } from '../parts/kinds';
import type { System } from '../system/schema';
import { blocksMoved, modulesMoved, type PartWork } from './difference';

/** What leaves the site: how heavy it is, and where it goes. */

/** What comes out, its weight, and whose it is then. */
export interface Removed {
  id: string;
  what: string;
  mass_kg: number | null;
  to: 'customer' | 'recycler' | 'stock' | 'returned';
  note: string;
}

/** Everything that leaves, replaced parts too. A lead bank is a hazardous load with a receipt. */
export function removedOf(works: readonly PartWork[], before: System, after: System): Removed[] {
  return works.flatMap((work): Removed[] => {
    const { was, is, strip, id } = work;
    if (!strip || !was) return [];
    const what = partTitle(before, id) ?? KINDS[was.kind].word;
    if (was.kind === 'arrays') {
      const now = is?.kind === 'arrays' ? is.part : null;
      return modulesMoved(was.part, now, before, after).go.map(({ id: type, count }): Removed => {
        const module = (before.moduleTypes ?? []).find((one) => one.id === type);
        const mass_kg = module?.mass_kg ? module.mass_kg * count : null;
        return {
          id,
          what: `${counted(count, 'module')}, ${module?.label ?? what}`,
          mass_kg,
          to: 'customer',
          note: 'live in daylight: cover it and cap its plugs',
        };
      });
    }
    if (was.kind === 'bank') {
      const { go } = blocksMoved(work);
      const each = was.part.block?.mass_kg;
      const lead = !isLithium(was.part.chemistry);
      return [
        {
          id,
          what: `${counted(go, 'block')} of ${CHEMISTRY[was.part.chemistry].word}, ${was.part.blockCapacity_Ah} Ah each`,
          mass_kg: each ? each * go : null,
          to: lead ? 'recycler' : 'customer',
          note: lead
            ? 'hazardous load: upright, capped, in an acid-proof tray; weighed, with a receipt'
            : 'at 40 to 60 %, isolated, terminals capped; damaged lithium is never posted',
        },
      ];
    }
    if (was.kind === 'otherBanks' && is)
      return [
        {
          id,
          what: `The ${was.part.joinedBy ?? 'joint'} to the ${was.part.role} battery`,
          mass_kg: null,
          to: 'stock',
          note: '',
        },
      ];
    if (was.kind === 'otherBanks')
      return [
        {
          id,
          what,
          mass_kg: null,
          to: isLithium(was.part.chemistry) ? 'customer' : 'recycler',
          note: isLithium(was.part.chemistry) ? '' : 'hazardous load: upright, capped, weighed, with a receipt',
        },
      ];
    // A cable that stays gives up its fuse alone; a switch that moves, and loads of which some are left, go nowhere.
    if (was.kind === 'runs' && is && !work.cut)
      return [{ id, what: `Fuse of ${what}`, mass_kg: null, to: 'stock', note: '' }];
    if (was.kind === 'switches' && is && !work.replaced) return [];
    if (was.kind === 'runs') return [{ id, what, mass_kg: null, to: 'recycler', note: 'copper' }];
    return [{ id, what, mass_kg: null, to: 'customer', note: 'the customer decides' }];
  });
}
