import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { proxy, releaseProxy, wrap, type Remote } from 'comlink';
import { useState } from 'react';
import type { Engine } from './engine.worker';
import { answer, type Answers, type Progress, type Question } from './questions';

/**
 * The bridge to the engine's thread. Questions are answered one after the other; one that nobody waits for any more is
 * dropped from the queue, and if it is being worked on its thread is ended and a new one begun.
 */
interface Job {
  question: Question;
  progress: Progress;
  signal: AbortSignal;
  resolve(value: unknown): void;
  reject(error: Error): void;
}

interface Thread {
  worker: Worker;
  engine: Remote<Engine>;
}

let thread: Thread | null = null;
let running: Job | null = null;
const queue: Job[] = [];

/** Asks the engine's thread; where there are none (a test, an old browser) it is answered here. */
function ask(question: Question, progress: Progress, signal: AbortSignal): Promise<unknown> {
  if (typeof Worker === 'undefined') return Promise.resolve(answer(question, progress));
  return new Promise((resolve, reject) => {
    const job: Job = { question, progress, signal, resolve, reject };
    signal.addEventListener('abort', () => drop(job), { once: true });
    queue.push(job);
    next();
  });
}

function next(): void {
  const job = running ? undefined : queue.shift();
  if (!job) return;
  running = job;
  thread ??= start();
  // A thread that was ended while it worked answers nothing: whoever waits on it has been told.
  const done = (tell: () => void) => {
    if (running !== job) return;
    running = null;
    tell();
    next();
  };
  thread.engine
    .answer(job.question, proxy(job.progress))
    .then((value) => done(() => job.resolve(value)))
    .catch((error: unknown) => done(() => job.reject(error as Error)));
}

function drop(job: Job): void {
  const at = queue.indexOf(job);
  if (at >= 0) queue.splice(at, 1);
  else if (running === job) {
    end();
    next();
  } else return;
  job.reject(new DOMException('Nobody waits for this answer.', 'AbortError'));
}

function start(): Thread {
  const worker = new Worker(new URL('./engine.worker', import.meta.url));
  worker.addEventListener('error', ({ message }) => {
    // A thread that could not be loaded answers nothing: everyone who waits is told, and the next question starts anew.
    const waiting = [...(running ? [running] : []), ...queue.splice(0)];
    end();
    for (const { reject } of waiting) reject(new Error(message || 'The computation stopped.'));
  });
  return { worker, engine: wrap<Engine>(worker) };
}

function end(): void {
  thread?.engine[releaseProxy]();
  thread?.worker.terminate();
  thread = null;
  running = null;
}

const queryOf = <A extends Question['ask']>(question: Extract<Question, { ask: A }>, progress: Progress) => ({
  queryKey: ['engine', question],
  queryFn: ({ signal }: { signal: AbortSignal }) => ask(question, progress, signal) as Promise<Answers[A]>,
  networkMode: 'always' as const,
  staleTime: Infinity,
  gcTime: 60_000,
  retry: false,
});

const silent: Progress = () => undefined;

/** The answer to a question, asked again when what it rests on changes; how far it is, and how to stop it. */
export function useAnswer<A extends Question['ask']>(question: Extract<Question, { ask: A }>) {
  const [share, setShare] = useState(0);
  const client = useQueryClient();
  const query = queryOf<A>(question, setShare);
  const { data, error, isFetching } = useQuery(query);
  return {
    data,
    error,
    isFetching,
    /** 0 to 1; stays at 0 for what is quick. */
    progress: isFetching ? share : 0,
    stop: () => void client.cancelQueries({ queryKey: query.queryKey, exact: true }),
  };
}

/** The answers to several questions of one kind, in their order. */
export const useAnswers = <A extends Question['ask']>(questions: Extract<Question, { ask: A }>[]) =>
  useQueries({ queries: questions.map((question) => queryOf<A>(question, silent)) });
