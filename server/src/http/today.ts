import { dayOf } from '@true-lantern/core';

/** Today, UTC, as what is kept up counts its days. */
export const today = (): number => dayOf(new Date().toISOString()) ?? 0;
