/** How figures are written: the core's, since papers made on the server write them alike. */
export { inGroups, inUnits, pretty, sizeText, unitText, withUnit, written } from '@true-lantern/core/base';
