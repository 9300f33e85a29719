import { step, type Cause } from './cause';

/** What is no fault: a sound system, and a full bank that takes no more. */
export const soundCauses: Cause[] = [
  {
    code: 'nothing-wrong',
    prior: 30,
    title: () => 'Nothing is wrong',
    complaints: [],
    candidates: () => [{ code: 'nothing-wrong', subject: 'site', sizes: [{ size: null, state: {} }] }],
    cure: () => ({ kind: 'none', text: 'Nothing to repair. Every reading is as it should be.', changes: [] }),
    apart: 'Every reading lies within its band.',
  },
  {
    code: 'bank-full',
    prior: 12,
    title: () => 'The bank is full and takes no more',
    complaints: [],
    candidates: ({ system: { bank } }) =>
      bank ? [{ code: 'bank-full', subject: bank.id, sizes: [{ size: null, state: {} }], soc: 'full' }] : [],
    cure: () => ({
      kind: 'none',
      text: 'Nothing to repair: charging falls off as the bank fills. Read again after an hour of load.',
      changes: [],
    }),
    apart: 'The posts are at absorption voltage, and the current rises when a load is switched on.',
  },
  {
    code: 'misread',
    prior: 4,
    title: (name) => `Misread: ${name}`,
    complaints: [],
    // One a reading: made where the readings are known.
    candidates: () => [],
    cure: () => step('Read it again: range, sign, terminals and decimal point.'),
    apart: 'A second reading with another instrument.',
  },
];
