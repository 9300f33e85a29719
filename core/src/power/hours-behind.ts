import type { Inverter, System } from '../system/schema';
import { windowOf } from './day-strip';
import { loadsOf } from './loads';

/** Hours a day that an inverter must be on for what hangs on it: windows as they are, a compressor and what is always on all day. */
export function hoursBehind(system: System, inverter: Inverter): number {
  const each = loadsOf(system, inverter).map((load) => {
    const window = windowOf(load);
    if (window.hours < 24) return window.hours;
    return load.type === 'compressor' || load.overlap === 'base' ? 24 : Math.max(load.hours_d, load.winterHours_d ?? 0);
  });
  return Math.min(
    24,
    each.reduce((sum, hours) => sum + hours, 0),
  );
}
