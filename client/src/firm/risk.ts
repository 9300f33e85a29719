/** From this chance on a site is at risk: one draw in twenty. */
export const AT_RISK = 0.05;

/** "43 %", "under 1 %". */
export const chanceText = (share: number): string =>
  share > 0 && share < 0.01 ? 'under 1\u00a0%' : `${Math.round(100 * share)}\u00a0%`;
