import type { Consequence, Verdict } from '../rules/finding';

/** A verdict in a word; never said by colour alone. */
export const VERDICT_WORDS: Record<Verdict, string> = {
  over: 'Over',
  tight: 'Tight',
  unknown: 'Unknown',
  note: 'Note',
  holds: 'OK',
};

/** What follows if it is left, in a word or two. */
export const CONSEQUENCE_WORDS: Record<Consequence, string> = {
  danger: 'danger',
  damage: 'damage',
  life: 'shortens life',
  outage: 'outage',
  loss: 'loses energy',
};
