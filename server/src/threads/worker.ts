import { FaultError, type Fault } from '@true-lantern/core';
import { jobs, type Jobs } from './jobs';

/** What a thread answers: a value, or the faults that a person has to mend. Errors of other kinds are thrown. */
export type Answer = { value: unknown } | { faults: Fault[] };

/** One job in a thread of its own; a fault of the input is an answer, not a failure. */
export default async function work({ job, input }: { job: keyof Jobs; input: never }): Promise<Answer> {
  try {
    return { value: await jobs[job](input) };
  } catch (error) {
    if (error instanceof FaultError) return { faults: error.faults };
    throw error;
  }
}
