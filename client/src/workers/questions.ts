import { layouts, remediesOf, type Finding, type Layout, type Model, type Remedy } from '@true-lantern/core';

/** What the engine is asked away from the screen's thread. */
export type Question =
  | { ask: 'layouts'; model: Model; modules: number }
  | { ask: 'remedies'; model: Model; finding: Finding; before: Finding[] };

export interface Answers {
  layouts: Layout[] | null;
  remedies: Remedy[];
}

export function answer(question: Question): Answers[Question['ask']] {
  return question.ask === 'layouts'
    ? layouts(question.model, question.modules)
    : remediesOf(question.model, question.finding, question.before);
}
