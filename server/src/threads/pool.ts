import { availableParallelism } from 'node:os';
import { FaultError } from '@true-lantern/core';
import { Piscina } from 'piscina';
import { Problem, tooBusy } from '../problem';
import type { Jobs } from './jobs';
import { openTurns } from './turns';
import type { Answer } from './worker';

/** Threads for what may take long, with bounds in time, memory and queue: none of it holds up the other requests. */
export interface Pool {
  /** @throws FaultError by the job, Problem 503 with a full queue, 422 where it takes too long or too much memory */
  run<J extends keyof Jobs>(job: J, input: Parameters<Jobs[J]>[0]): Promise<Awaited<ReturnType<Jobs[J]>>>;
  close(): Promise<void>;
}

/** A job that works longer than this is given up, ms. */
export const LONGEST_MS = 20_000;
const MOST_MB = 512;

/** Of each job, and of the threads. */
interface Bounds {
  longest_ms?: number;
  /** So many threads work out the sites of firms. */
  fleetThreads?: number;
}
/** One core is left to whoever asks meanwhile; a machine that does nothing else takes them all. */
const FLEET_THREADS = Math.max(1, availableParallelism() - 1);

/** @param worker the file of the worker: bundled in production, the source itself under a loader in tests */
export function openPool(worker: string, { longest_ms = LONGEST_MS, fleetThreads = FLEET_THREADS }: Bounds = {}): Pool {
  const lane = (atOnce: number, waiting: number) => ({
    turns: openTurns(atOnce, waiting),
    threads: new Piscina({
      filename: worker,
      minThreads: 0,
      maxThreads: atOnce,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
      ...(worker.endsWith('.ts') ? { execArgv: ['--import', 'tsx'] } : {}),
    }),
  });
  // Pictures have a thread and a queue of their own: a day's photos hold up no paper, and a slow file no photo.
  const [pictures, others] = [lane(1, 64), lane(2, 32)];
  // A firm of a thousand sites takes minutes: nobody's paper waits for that.
  const fleet = lane(fleetThreads, 64);
  return {
    async run(job, input) {
      const { turns, threads } = job === 'fleet' ? fleet : job === 'picture' || job === 'logo' ? pictures : others;
      const turn = turns.take();
      // What is full now may not be in a minute: nothing is wrong with what was asked.
      if (!turn) throw tooBusy();
      const giveUp = await turn;
      // Waiting is not working: the clock starts when there is a thread for it.
      const stop = new AbortController();
      const timer = setTimeout(() => stop.abort(), longest_ms);
      try {
        const answer = (await threads.run({ job, input }, { signal: stop.signal })) as Answer;
        if ('faults' in answer) throw new FaultError(answer.faults);
        return answer.value as never;
      } catch (error) {
        if (stop.signal.aborted) throw tooMuch(`${Math.round(longest_ms / 1000)} s`);
        if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw tooMuch(`${MOST_MB} MB of memory`);
        throw error;
      } finally {
        clearTimeout(timer);
        giveUp();
      }
    },
    close: async () => void (await Promise.all([pictures, others, fleet].map(({ threads }) => threads.destroy()))),
  };
}

const tooMuch = (bound: string) =>
  new Problem(422, 'It takes too much to read.', [
    { path: 'file', message: `needs more than ${bound}, expected something smaller` },
  ]);
