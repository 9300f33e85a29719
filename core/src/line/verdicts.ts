import type { Verdict } from '../rules/finding';

/** A verdict in a word; never said by colour alone. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  over: 'Over',
  tight: 'Tight',
  unknown: 'Unknown',
  note: 'Note',
  holds: 'OK',
};
