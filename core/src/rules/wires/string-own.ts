import { stringIsc_A } from '../../pv/strings';
import type { Model } from '../../system/model';
import type { Bank, Change, ModuleType, Protection, PvArray, Run } from '../../system/schema';
import { partName } from '../../conductors/names';
import type { Case } from '../rule';
import { PV_FUSE_A, sizeSold } from '../cures/sold';

/**
 * Fuses that sit in the strings themselves: at the posts of a bank's, in an array's. The rules of a run judge them as
 * that run's own, under the quantity `string`.
 */
export const STRING = 'string';

/** True for a fuse or breaker; `none` was looked for and is not there. */
export const isFuse = <P extends Pick<Protection, 'type'>>(protection: P | null | undefined): protection is P =>
  Boolean(protection?.type) && protection?.type !== 'none';

/** What a fuse in a string of modules must carry against its Isc (engine, `pv.string-protection`). */
export const PV_FUSE_CARRIES = 1.5;
/** The smallest sold that bright sun does not blow in any of these strings, A. */
export const pvStringFuse_A = (strings: readonly (readonly ModuleType[])[]): number | undefined =>
  sizeSold(PV_FUSE_A, PV_FUSE_CARRIES * Math.max(...strings.map(stringIsc_A)));

/** The change that puts a fuse or breaker into each string of an array: one record of it, since two that differ say nothing. */
export const inEachString = (arrayId: string, type: 'pv' | 'breaker', rating_A: number, voltage_V: number): Change => ({
  op: 'set',
  at: 'arrays',
  id: arrayId,
  value: { stringFuse_A: null, stringProtection: { type, rating_A, voltage_V, dcRated: true, polarised: false } },
});

/** A bank's string with its fuse, as the run that it is: one link in free air. Where nobody read the link, it is missing. */
export const stringRun = (bank: Bank): Run => ({
  id: bank.id,
  kind: 'link',
  length_m: bank.link?.length_m ?? Number.NaN,
  size: bank.link?.size ?? '',
  freeAir: true,
  protection: bank.stringFuse,
});
/** An array's string with its fuse. */
export const arrayRun = (array: PvArray): Run => ({
  id: array.id,
  kind: 'pv',
  from: array.id,
  to: array.controllerId,
  length_m: 0,
  size: '4mm2',
  protection: array.stringProtection,
});

/** The cases of a rule of runs, and the fuses at the posts of a bank's strings. */
export const withStrings =
  (cases: (model: Model) => Case<Run>[], wanted: (bank: Bank) => boolean = () => true) =>
  (model: Model): Case<Run>[] => {
    const { bank } = model.system;
    return bank && isFuse(bank.stringFuse) && wanted(bank)
      ? [...cases(model), { subject: bank.id, quantity: STRING, about: stringRun(bank) }]
      : cases(model);
  };

/** Where a fuse is recorded: on a run, at the posts of the bank, in the strings of an array. */
export const fusePath = (run: Run, quantity: string | null | undefined): string =>
  quantity !== STRING ? `${run.id}.protection` : `${run.id}.${run.kind === 'pv' ? 'stringProtection' : 'stringFuse'}`;

/** The cable or the strings that a finding is about, in a sentence. */
export const cableName = (model: Model, subject: string, quantity: string | null): string =>
  quantity === STRING ? 'each string' : partName(model, subject);
