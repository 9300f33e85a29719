import { elementAt } from '../numeric/element';
import { check, sentenceOf } from '../rules/check';
import { harmed } from '../rules/cures/worse';
import { type Model, withChanges } from '../system/model';

import type { Change } from '../system/schema';
import { meanOf } from './story';
import { YearSimulator, type YearSums } from './year';

/**
 * What would help, found by search over seeded years and said with its numbers. Each is tried in the same simulation that
 * the year's screen shows; what would turn a rule over is said, and is then no proposal by itself.
 */
export interface Advice {
  id: 'modules' | 'bank' | 'generator' | 'tilt' | 'day' | 'clipped' | 'mppt' | 'lithium' | 'unused';
  text: string;
  /** What would be saved as a proposal; null where it is a figure to know, or where more than this must change. */
  changes: Change[] | null;
  /** What it would turn over: never offered as if it were free. */
  harms: string[];
}

/** What is accepted of a year, and over how many. */
export interface Asked {
  /** Share of years in which the customer accepts to go dark. */
  accept: number;
  /** Years that are looked at. */
  years: number;
  seed: number;
}

/** The defaults of a search. */
export const ASKED: Readonly<Asked> = { accept: 1 / 20, years: 60, seed: 1 };

/** What came of the years: the share that went dark, 0 to 1; sums of the mean year and of its months. */
export interface Outcome {
  dark: number;
  totals: YearSums;
  months: YearSums[];
}

/** Years of the model with changes, each answer worked out once. */
export class Trials {
  private readonly known = new Map<string, Outcome>();
  private readonly before;
  constructor(
    readonly model: Model,
    readonly asked: Asked,
  ) {
    this.before = check(model);
  }

  with(changes: Change[]): Model {
    return withChanges(this.model, changes);
  }

  ask(changes: Change[], weather: 'seeded' | 'mean' = 'seeded'): Outcome {
    const key = `${weather} ${JSON.stringify(changes)}`;
    const known = this.known.get(key);
    if (known) return known;
    const { years, seed } = this.asked;
    const simulator = new YearSimulator(
      this.with(changes),
      weather === 'mean' ? { kind: 'mean' } : { kind: 'seeded', seed },
    );
    const count = weather === 'mean' ? 1 : years;
    const all = Array.from({ length: count }, (_, index) => simulator.year(index));
    const outcome: Outcome = {
      dark: all.filter(({ totals }) => totals.off_h > 0).length / count,
      totals: meanOf(all.map(({ totals }) => totals)),
      months: Array.from({ length: 12 }, (_, month) => meanOf(all.map(({ months }) => elementAt(months, month)))),
    };
    this.known.set(key, outcome);
    return outcome;
  }

  /** What changes would turn over, or make worse where it is over already. */
  harms(changes: Change[]): string[] {
    const proposed = this.with(changes);
    return harmed(this.before, check(proposed)).map((finding) => sentenceOf(proposed, finding));
  }

  advice(id: Advice['id'], text: string, changes: Change[] | null): Advice {
    const harms = changes ? this.harms(changes) : [];
    return { id, text, changes: harms.length > 0 ? null : changes, harms };
  }
}
