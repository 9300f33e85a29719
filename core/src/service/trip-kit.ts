import type { DutyKey } from './duty';

/** What goes along on a trip, by what is due at its sites. Planning values: the maker's manual comes first. */

/** Tools and supplies of each duty; the compiler asks for those of a new one. */
const KIT: Readonly<Record<DutyKey, readonly string[]>> = {
  water: ['Distilled water', 'Funnel', 'Goggles and acid-proof gloves'],
  density: ['Hydrometer', 'Goggles and acid-proof gloves'],
  equalise: ['Hydrometer', 'Distilled water', 'Goggles and acid-proof gloves'],
  rest: ['Multimeter'],
  resistance: ['DC clamp meter', 'Multimeter'],
  capacity: ['DC load', 'DC clamp meter', 'Multimeter'],
  joints: ['Insulated torque wrench', 'Multimeter', 'Contact cleaner'],
  clean: ['Soft brush and water', 'Fall protection'],
  insulation: ['Insulation tester, 500 V'],
  shunt: ['DC clamp meter'],
  rcd: ['RCD tester'],
  alarm: ['Spare alarm battery'],
  isolator: ['Multimeter', 'Padlock and tag'],
  genset: ['Engine oil', 'Oil and fuel filter', 'Rags'],
  settings: ['Manuals and cables of the devices'],
  meter: ['Reference meter'],
  'lay-up': ['Covers and seals'],
  open: ['Multimeter'],
};

/** One thing to take along, and for how many jobs. */
export interface TripThing {
  what: string;
  jobs: number;
}

/** Each thing once, with the number of jobs that need it, the most needed first. */
export function tripKit(keys: readonly DutyKey[]): TripThing[] {
  const counts = new Map<string, number>();
  for (const key of keys) for (const what of KIT[key]) counts.set(what, (counts.get(what) ?? 0) + 1);
  return [...counts]
    .map(([what, jobs]) => ({ what, jobs }))
    .sort((a, b) => b.jobs - a.jobs || a.what.localeCompare(b.what));
}
