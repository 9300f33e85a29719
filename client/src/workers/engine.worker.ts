import { expose } from 'comlink';
import { answer, type Answers, type Progress, type Question } from './questions';

/** The engine on a thread of its own: one call, whatever the question. */
const engine = {
  answer: <A extends Question['ask']>(question: Extract<Question, { ask: A }>, progress: Progress): Answers[A] =>
    answer(question, progress),
};
export type Engine = typeof engine;

expose(engine);
