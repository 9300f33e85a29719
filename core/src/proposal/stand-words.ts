import type { Arrangement, StandFault, Stood } from './stand';

/** What is wrong in a bay, in sentences. */

/** @param nameOf an inverter's name @param said a length in the reader's unit */
export function standSentences(
  { items, faults, left }: Arrangement,
  nameOf: (id: string) => string,
  said: (mm: number) => string,
): string[] {
  const name = (index: number) => standName(items[index], nameOf);
  const gas = faults.find(({ what }) => what === 'gas');
  const one = (fault: StandFault): string => {
    const who = name(fault.index);
    switch (fault.what) {
      case 'wall':
        return `${who} is ${said(fault.by_mm)} too near the wall.`;
      case 'above':
        return `${who} is ${said(fault.by_mm)} too tall for the bay with air above it.`;
      case 'near':
        return `${who} is ${said(fault.by_mm)} too near ${name(fault.with).replace(/^Block/, 'block')}.`;
      case 'barred':
        return `${who} cannot be taken out: ${name(fault.with)} stands in front of it.`;
      case 'gas':
        return `${who} must not stand in a bay with lead batteries. They give off hydrogen, which a spark ignites, and acid mist.`;
    }
  };
  return [
    // Where it may not stand at all comes before how it stands.
    ...(gas ? [one(gas)] : []),
    ...left.map((id) => `There is no place left for ${nameOf(id)} with air around it.`),
    ...faults.filter((fault) => fault !== gas).map(one),
  ];
}

/** "Block 2", or the inverter's name. */
export const standName = (item: Stood | undefined, nameOf: (id: string) => string): string =>
  item ? (item.block === null ? nameOf(item.partId) : `Block ${item.block + 1}`) : '';
