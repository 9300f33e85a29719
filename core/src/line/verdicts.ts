import type { Verdict } from '../rules/finding';

export const VERDICT_WORDS: Record<Verdict, string> = {
  over: 'Over',
  tight: 'Tight',
  unknown: 'Unknown',
  note: 'Note',
  holds: 'Holds',
};
