import { FaultError } from '@true-lantern/core';
import { Piscina } from 'piscina';
import { Problem, tooBusy } from '../http/problem';
import type { Jobs } from './jobs';
import type { Answer } from './worker';

/** Threads for what may take long, with bounds in time, memory and queue: none of it holds up the other requests. */
export interface Pool {
  /** @throws FaultError by the job, Problem 503 with a full queue, 422 where it takes too long or too much memory */
  run<J extends keyof Jobs>(job: J, input: Parameters<Jobs[J]>[0]): Promise<Awaited<ReturnType<Jobs[J]>>>;
  close(): Promise<void>;
}

/** A job that takes longer than this is given up, ms. */
export const LONGEST_MS = 20_000;
const MOST_WAITING = 32;
const MOST_MB = 512;

/** @param worker the file of the worker: bundled in production, the source itself under a loader in tests */
export function openPool(worker: string, longest_ms = LONGEST_MS): Pool {
  const piscina = new Piscina({
    filename: worker,
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: 60_000,
    maxQueue: MOST_WAITING,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
    ...(worker.endsWith('.ts') ? { execArgv: ['--import', 'tsx'] } : {}),
  });
  return {
    async run(job, input) {
      if (piscina.queueSize >= MOST_WAITING) throw tooBusy();
      const stop = new AbortController();
      // The wait in the queue is not the job's own time: a full queue refuses at once instead.
      const timer = setTimeout(() => stop.abort(), longest_ms);
      try {
        const answer = (await piscina.run({ job, input }, { signal: stop.signal })) as Answer;
        if ('faults' in answer) throw new FaultError(answer.faults);
        return answer.value as never;
      } catch (error) {
        if (stop.signal.aborted) throw tooMuch(`${Math.round(longest_ms / 1000)} s`);
        if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw tooMuch(`${MOST_MB} MB of memory`);
        throw error;
      } finally {
        clearTimeout(timer);
      }
    },
    close: () => piscina.destroy(),
  };
}

const tooMuch = (bound: string) =>
  new Problem(422, 'It takes too much to read.', [
    { path: 'file', message: `needs more than ${bound}, expected something smaller` },
  ]);
