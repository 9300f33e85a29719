import type { Verdict } from '@true-lantern/core';

export const VERDICT_WORDS: Record<Verdict, string> = {
  over: 'Over',
  tight: 'Tight',
  unknown: 'Unknown',
  note: 'Note',
  holds: 'Holds',
};
