import { dayOf } from '@true-lantern/core';
import { useState } from 'react';

/** Today, UTC, as what is kept up counts its days; the same for as long as a screen is open. */
export function useToday(): number {
  const [today] = useState(() => dayOf(new Date().toISOString()) ?? 0);
  return today;
}
