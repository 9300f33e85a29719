import type { Fault } from '@true-lantern/core/base';

/** An answer other than success, for a person to read: problem+json (RFC 9457) with the path of each fault. */
export interface ProblemAnswer {
  title: string;
  status: number;
  /** What the client acts on: `csrf` (fetch a token and try again), `sign-in`. */
  code?: string;
  faults: Fault[];
}
