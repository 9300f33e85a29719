/** Something a person has to mend in a file or a call: where, what is wrong, what was expected. */
export interface Fault {
  path: string;
  message: string;
}

export { MOST_FAULTS } from '../parts/fields';

/** What is wrong with something that was read, each with its path. */
export class FaultError extends Error {
  readonly faults: Fault[];
  constructor(faults: Fault[]) {
    super(faults.map(faultLine).join('\n'));
    this.name = 'FaultError';
    this.faults = faults;
  }
}

/** One thing to mend. */
export const faultAt = (path: string, message: string) => new FaultError([{ path, message }]);

/** `path: what is wrong, what was expected`, on one line. */
export const faultLine = ({ path, message }: Fault) => `${path}: ${message}`.replace(/\s*\n\s*/g, ' ');
