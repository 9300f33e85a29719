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

/** What an act finds to mend; none where it goes through. */
export function faultsIn(act: () => unknown): Fault[] {
  try {
    act();
    return [];
  } catch (error) {
    if (error instanceof FaultError) return error.faults;
    throw error;
  }
}

/** One thing to mend. */
export const faultAt = (path: string, message: string) => new FaultError([{ path, message }]);

/** `path: what is wrong, what was expected`, on one line. */
export const faultLine = ({ path, message }: Fault) => `${path}: ${message}`.replace(/\s*\n\s*/g, ' ');
