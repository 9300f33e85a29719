import { counted, type Due } from '@true-lantern/core';
import { shortDay } from './dates';

/** "12 days overdue", "by 3 May 2026"; nothing of what was never logged: it may be never written down, and the years since then say nothing. */
export const whenDue = ({ last, due, overdue_d }: Pick<Due, 'last' | 'due' | 'overdue_d'>): string =>
  !last ? '' : overdue_d > 0 ? `${counted(overdue_d, 'day')} overdue` : `by ${shortDay(due)}`;
