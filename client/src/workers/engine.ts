import { useQueries, useQuery } from '@tanstack/react-query';
import { answer, type Answers, type Question } from './questions';

type Waiting = { resolve(value: unknown): void; reject(error: Error): void };

let worker: Worker | null = null;
let next = 1;
const waiting = new Map<number, Waiting>();

/** Asks the worker; where there are none (a test, an old browser) it is answered here. */
function ask(question: Question): Promise<unknown> {
  if (typeof Worker === 'undefined') return Promise.resolve(answer(question));
  worker ??= start();
  const id = next++;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    worker?.postMessage({ id, question });
  });
}

function start(): Worker {
  const made = new Worker(new URL('./engine.worker', import.meta.url));
  made.addEventListener('message', ({ data }: MessageEvent<{ id: number; value?: unknown; error?: string }>) => {
    const asked = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.error === undefined) asked?.resolve(data.value);
    else asked?.reject(new Error(data.error));
  });
  made.addEventListener('error', ({ message }) => {
    // A worker that could not be loaded answers nothing: everyone who waits is told, and the next question starts anew.
    waiting.forEach(({ reject }) => reject(new Error(message || 'The computation stopped.')));
    waiting.clear();
    worker = null;
  });
  return made;
}

const queryOf = <A extends Question['ask']>(question: Extract<Question, { ask: A }>) => ({
  queryKey: ['engine', question],
  queryFn: () => ask(question) as Promise<Answers[A]>,
  networkMode: 'always' as const,
  staleTime: Infinity,
  gcTime: 60_000,
  retry: false,
});

/** The answer to a question, asked again when what it rests on changes. */
export const useAnswer = <A extends Question['ask']>(question: Extract<Question, { ask: A }>) =>
  useQuery(queryOf<A>(question));

/** The answers to several questions of one kind, in their order. */
export const useAnswers = <A extends Question['ask']>(questions: Extract<Question, { ask: A }>[]) =>
  useQueries({ queries: questions.map((question) => queryOf<A>(question)) });
