import type { Phase } from '@true-lantern/core';

export const PHASE_WORDS: Record<Phase, string> = {
  tell: 'Tell',
  off: 'Off',
  'prove-dead': 'Prove dead',
  strip: 'Take out',
  fit: 'Fit',
  prove: 'Before it closes',
  settings: 'Settings',
  on: 'On',
  warm: 'Warm run',
  sign: 'Sign',
};
