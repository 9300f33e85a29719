import {
  convert,
  flips,
  type Conversion,
  headroom,
  layouts,
  remediesOf,
  underShade,
  type Finding,
  type Flip,
  type Headroom,
  type Layout,
  type Model,
  type Remedy,
  type ShadeAnswer,
  type ShadeQuestion,
  type ShelfItem,
} from '@true-lantern/core';

/** What the engine is asked away from the screen's thread. */
export type Question =
  | { ask: 'layouts'; model: Model; modules: number }
  | { ask: 'remedies'; model: Model; finding: Finding; before: Finding[] }
  | { ask: 'headroom'; model: Model }
  | { ask: 'flips'; model: Model }
  | { ask: 'convert'; model: Model; packs: ShelfItem[] }
  | ({ ask: 'shade'; model: Model } & ShadeQuestion);

export interface Answers {
  layouts: Layout[] | null;
  remedies: Remedy[];
  headroom: Headroom;
  flips: Flip[];
  shade: ShadeAnswer | null;
  convert: Conversion;
}

export function answer(question: Question): Answers[Question['ask']] {
  switch (question.ask) {
    case 'layouts':
      return layouts(question.model, question.modules);
    case 'remedies':
      return remediesOf(question.model, question.finding, question.before);
    case 'headroom':
      return headroom(question.model);
    case 'flips':
      return flips(question.model);
    case 'convert':
      return question.packs.length > 0 ? convert(question.model, question.packs) : convert(question.model);
    case 'shade':
      return underShade(question.model, question);
  }
}
