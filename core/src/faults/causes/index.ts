import { bankCauses } from './bank';
import { CODES, type Cause, type CauseCode } from './cause';
import { chargingCauses } from './charging';
import { deviceCauses } from './devices';
import { soundCauses } from './nothing';
import { sunCauses } from './sun';
import { wireCauses } from './wires';

/** Every cause that is weighed. A new one is its own entry in its family, and its name in `CODES`. */
export const CAUSES: readonly Cause[] = [
  ...soundCauses,
  ...wireCauses,
  ...bankCauses,
  ...sunCauses,
  ...chargingCauses,
  ...deviceCauses,
];
const byCode = new Map(CAUSES.map((cause) => [cause.code, cause]));

/** A cause by its name. @throws Error for a name that no family has: the compiler knows the names, a test the rest */
export function causeOf(code: CauseCode): Cause {
  const found = byCode.get(code);
  if (!found) throw new Error(`no cause "${code}" among ${CODES.length}`);
  return found;
}
