import type { Placed } from '../system/parts';
import type { Protection, PvArray } from '../system/schema';

/** A fuse or breaker; of one in a string of modules often the amperes alone were read. */
const isFuse = (device: Protection | null | undefined) =>
  Boolean(device && device.type !== 'none' && (device.type || device.rating_A));

const FUSE_MEMBERS = ['type', 'rating_A', 'voltage_V', 'interrupt_A', 'fromSource_m'] as const;
const another = (device: Protection | null | undefined, was: Protection | null | undefined) =>
  isFuse(device) && FUSE_MEMBERS.some((member) => (device?.[member] ?? null) !== (was?.[member] ?? null));

/** A fuse that is fitted with a part: at its far end, so many of it. */
export interface PartFuse {
  device: Protection;
  far: boolean;
  count: number;
}

/** Fuses of one part that the other does not have. */
export function fusesOf(is: Placed, was: Placed | null): PartFuse[] {
  const found: PartFuse[] = [];
  const put = (
    device: Protection | null | undefined,
    old: Protection | null | undefined,
    far: boolean,
    count: number,
  ) => {
    if (device && another(device, old)) found.push({ device, far, count });
  };
  if (is.kind === 'runs') {
    const old = was?.kind === 'runs' ? was.part : null;
    put(is.part.protection, old?.protection, false, 1);
    put(is.part.farProtection, old?.farProtection, true, 1);
  }
  if (is.kind === 'bank') {
    const old = was?.kind === 'bank' ? was.part : null;
    const { stringFuse, parallel } = is.part;
    if (stringFuse && isFuse(stringFuse) && !another(stringFuse, old?.stringFuse) && old && parallel > old.parallel)
      found.push({ device: stringFuse, far: false, count: parallel - old.parallel });
    put(stringFuse, old?.stringFuse, false, parallel);
  }
  if (is.kind === 'arrays') {
    const old = was?.kind === 'arrays' ? was.part : null;
    const own = stringFuse(is.part);
    put(own, old ? stringFuse(old) : null, false, is.part.strings.length);
    if (own && old && !another(own, stringFuse(old)) && is.part.strings.length > old.strings.length)
      found.push({ device: own, far: false, count: is.part.strings.length - old.strings.length });
  }
  return found;
}

/** A PV fuse by its amperes alone has no type in the format. */
const stringFuse = ({ stringProtection, stringFuse_A }: PvArray): Protection | null =>
  stringProtection ?? (stringFuse_A ? { rating_A: stringFuse_A } : null);
