import type { Run, System } from '../system/schema';

/** The cables that begin or end at the bank: of several, nobody hears which carries how much. */
export const cablesOnBank = ({ bank, runs }: System): Run[] =>
  bank ? (runs ?? []).filter(({ from, to }) => from === bank.id || to === bank.id) : [];
