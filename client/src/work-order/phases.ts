import type { Phase } from '@true-lantern/core';

/** The phases of an order of work, by name. */
export const PHASE_WORDS: Record<Phase, string> = {
  tell: 'Tell',
  off: 'Off',
  'prove-dead': 'Verify dead',
  strip: 'Remove',
  fit: 'Fit',
  prove: 'Before closing',
  settings: 'Settings',
  on: 'On',
  warm: 'Warm run',
  sign: 'Sign',
};
