import {
  candidates,
  cheapestLives,
  convert,
  flips,
  interim,
  standing,
  type Conversion,
  headroom,
  layouts,
  raiseVoltage,
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
  type Interim,
  type Life,
  type Pooled,
  type ShelfItem,
  type Specification,
  type Standing,
  type SuccessorCandidate,
  type VoltageChange,
} from '@true-lantern/core';

/** What the engine is asked away from the screen's thread. */
export type Question =
  | { ask: 'layouts'; model: Model; modules: Pooled[]; offered: ShelfItem[] }
  | { ask: 'candidates'; model: Model; spec: Specification; shelf: ShelfItem[] }
  | { ask: 'interim'; model: Model }
  | { ask: 'lives'; model: Model; shelf: ShelfItem[]; horizon_y: number }
  | { ask: 'voltage'; model: Model; to_V: number }
  | { ask: 'standing'; model: Model }
  | { ask: 'remedies'; model: Model; finding: Finding; before: Finding[] }
  | { ask: 'headroom'; model: Model }
  | { ask: 'flips'; model: Model }
  | { ask: 'convert'; model: Model; packs: ShelfItem[] }
  | ({ ask: 'shade'; model: Model } & ShadeQuestion);

/** What the shelf has in a part's place. */
export interface Candidates {
  meet: SuccessorCandidate[];
  nearly: SuccessorCandidate[];
  others: number;
}

export interface Answers {
  layouts: Layout[] | null;
  candidates: Candidates;
  interim: Interim;
  lives: Life[];
  voltage: VoltageChange | null;
  standing: Standing;
  remedies: Remedy[];
  headroom: Headroom;
  flips: Flip[];
  shade: ShadeAnswer | null;
  convert: Conversion;
}

export function answer(question: Question): Answers[Question['ask']] {
  switch (question.ask) {
    case 'layouts':
      return layouts(question.model, question.modules, question.offered);
    case 'candidates':
      return candidates(question.model, question.spec, question.shelf);
    case 'interim':
      return interim(question.model);
    case 'lives':
      return cheapestLives(question.model, question.shelf, question.horizon_y);
    case 'voltage':
      return raiseVoltage(question.model, question.to_V);
    case 'standing':
      return standing(question.model);
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
