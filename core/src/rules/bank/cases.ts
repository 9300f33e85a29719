import { familyOf, isLithium } from '../../chemistry/chemistry';
import { type Model } from '../../system/model';
import { type Bank } from '../../system/schema';
import { type Case } from '../rule';

/** Where the rules of the bank apply, and what they all ask of it. */

/** The bank as the one case of a rule; none where there is no bank. */
export const bankCase = ({ system }: Model): Case<Bank>[] =>
  system.bank ? [{ subject: system.bank.id, about: system.bank }] : [];
/** The bank as a case, where it is such. */
export const having = (wanted: (bank: Bank, model: Model) => boolean) => (model: Model) =>
  bankCase(model).filter(({ about }) => wanted(about, model));
/** True for a bank of lithium. */
export const lithium = ({ chemistry }: Bank) => isLithium(chemistry);
/** True for a bank of lead. */
export const leadAcid = (bank: Bank) => !lithium(bank);
/** True for what was recorded. */
export const present = <T>(value: T | null | undefined): value is T => value !== null && value !== undefined;
/** The school that says how deep this bank may be used. */
export const depthSchool = ({ system: { bank } }: Model): string | null =>
  bank ? familyOf(bank.chemistry).depthSchool : null;
