import { FaultError, faultLine } from '@true-lantern/core/system/faults';

/** What a call of the command line comes to: its output, its errors, its exit code. */
export interface Answer {
  /** 0 when done, 2 for a bad file or call. */
  code: number;
  out: string;
  err: string;
}

/** What a verb came to, as it is printed. */
export const printedAs = (value: unknown): string =>
  value === undefined ? '' : typeof value === 'string' ? value : `${JSON.stringify(value, null, 1)}\n`;

/** What a person can mend, a line each. @throws whatever it is that nobody can */
export function refused(error: unknown): Answer {
  if (!(error instanceof FaultError)) throw error;
  return { code: 2, out: '', err: lines(error.faults.map(faultLine)) };
}

/** Lines as they are printed; nothing where there are none. */
export const lines = (all: string[]) => (all.length > 0 ? `${all.join('\n')}\n` : '');
