import { answer, type Question } from './questions';

/** Runs the heavy questions off the screen's thread. */
self.addEventListener('message', ({ data }: MessageEvent<{ id: number; question: Question }>) => {
  const { id, question } = data;
  try {
    self.postMessage({ id, value: answer(question) });
  } catch (error) {
    self.postMessage({ id, error: (error as Error).message });
  }
});
