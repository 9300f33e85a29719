import { CONSEQUENCE_WORDS, VERDICT_WORDS } from '@true-lantern/core/base';

/**
 * The words that come back on every screen, in one place: one verb, one meaning; another language replaces this table.
 * Quantities have their names in the core (`QUANTITIES`), parts theirs (`KINDS`), terms theirs (`GLOSSARY`).
 */
export const WORDS = {
  addPart: 'Add part',
  back: 'Back',
  cancel: 'Cancel',
  close: 'Close',
  done: 'Done',
  exportCsv: 'Export CSV',
  hide: 'Hide',
  markAsDone: 'Mark as done',
  next: 'Next',
  openAsPdf: 'Open as PDF',
  play: 'Play',
  print: 'Print',
  remove: 'Remove',
  save: 'Save',
  saveAsProposal: 'Save as proposal',
  saveCorrection: 'Save correction',
  saveEntry: 'Save entry',
  saveReading: 'Save reading',
  shareLink: 'Share link',
  stop: 'Stop',
  tryAgain: 'Try again',
  undo: 'Undo',
} as const;

export { CONSEQUENCE_WORDS, VERDICT_WORDS };
