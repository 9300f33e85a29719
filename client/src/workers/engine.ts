import { errorOf } from '@true-lantern/core/base';
import { useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { proxy, releaseProxy, wrap, type Remote } from 'comlink';
import { useState } from 'react';
import type { Engine } from './engine.worker';
import { answer, type Answers, type Progress, type Question } from './questions';

/**
 * The bridge to the engine's threads, one a core but the screen's own. A question goes to the first that is free; one that nobody waits for any
 * more is dropped from the queue, and if it is being worked on its thread is ended and a new one begun.
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
  job: Job | null;
}

/** More would only warm the pocket; one core is left to the screen. */
const MOST_THREADS = 4;
const threads: Thread[] = [];
const queue: Job[] = [];

/** How many questions are worked on side by side. */
export const threadCount = () =>
  typeof Worker === 'undefined'
    ? 1
    : Math.max(1, Math.min(MOST_THREADS, (globalThis.navigator?.hardwareConcurrency ?? 2) - 1));

/** Asks a thread of the engine; where there are none (a test, an old browser) it is answered here. */
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
  if (queue.length === 0) return;
  const free = threads.find(({ job }) => job === null) ?? (threads.length < threadCount() ? start() : null);
  const job = free ? queue.shift() : undefined;
  if (!free || !job) return;
  free.job = job;
  // A thread that was ended while it worked answers nothing: whoever waits on it has been told.
  const done = (tell: () => void) => {
    if (free.job !== job) return;
    free.job = null;
    tell();
    next();
  };
  free.engine
    .answer(job.question, proxy(job.progress))
    .then((value) => done(() => job.resolve(value)))
    .catch((error: unknown) => done(() => job.reject(errorOf(error))));
  next();
}

function drop(job: Job): void {
  const at = queue.indexOf(job);
  const busy = threads.find((thread) => thread.job === job);
  if (at >= 0) queue.splice(at, 1);
  else if (busy) {
    end(busy);
    next();
  } else return;
  job.reject(new DOMException('Nobody waits for this answer.', 'AbortError'));
}

function start(): Thread {
  const worker = new Worker(new URL('./engine.worker', import.meta.url));
  const thread: Thread = { worker, engine: wrap<Engine>(worker), job: null };
  worker.addEventListener('error', ({ message }) => {
    // A thread that could not be loaded answers nothing: everyone who waits is told, and the next question starts anew.
    const waiting = [...(thread.job ? [thread.job] : []), ...queue.splice(0)];
    end(thread);
    for (const { reject } of waiting) reject(new Error(message || 'The computation stopped.'));
  });
  threads.push(thread);
  return thread;
}

function end(thread: Thread): void {
  thread.engine[releaseProxy]();
  thread.worker.terminate();
  thread.job = null;
  threads.splice(threads.indexOf(thread), 1);
}

/** What tells one question from another: of a file's weather its name, not its twenty-six thousand figures. */
const keyOf = (question: Question): unknown =>
  'weather' in question && question.weather.kind === 'hours'
    ? { ...question, weather: { kind: 'hours', name: question.weather.name ?? '' } }
    : question;

const queryOf = <A extends Question['ask']>(question: Extract<Question, { ask: A }>, progress: Progress) => ({
  queryKey: ['engine', keyOf(question)],
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

/** One answer, for questions that are asked once and kept by the caller. */
export const askEngine = <A extends Question['ask']>(question: Extract<Question, { ask: A }>) =>
  ask(question, silent, new AbortController().signal) as Promise<Answers[A]>;

/** Several answers put together as they come; `combine` is made once, outside of any component. */
export const useTogether = <A extends Question['ask'], T>(
  questions: Extract<Question, { ask: A }>[],
  combine: (answers: { data: Answers[A] | undefined; error: Error | null }[]) => T,
): T => useQueries({ queries: questions.map((question) => queryOf<A>(question, silent)), combine });

/** The answers to several questions of one kind, in their order. */
export const useAnswers = <A extends Question['ask']>(questions: Extract<Question, { ask: A }>[]) =>
  useQueries({ queries: questions.map((question) => queryOf<A>(question, silent)) });
