import { pretty } from '@true-lantern/core/base';
import { useUnits } from '../data/units';

/** How figures are written: the core's, since papers made on the server write them alike. */
export { inGroups, inUnits, pretty, sizeText, unitText, withUnit, written } from '@true-lantern/core/base';

/** How the core's sentences are written for this person; a line of working says both, what was computed and theirs. */
export function usePretty() {
  const units = useUnits();
  return (text: string, both = false) => pretty(text, units, both);
}
