import type { ExpectedTest } from '../readings/row';

/** One step of the order of work. */
export interface Step {
  n: number;
  /** For ticks: the same step has the same key while the order is worked out anew. Without points or slashes. */
  key: string;
  phase: Phase;
  act: Act;
  text: string;
  parts: string[];
  why: string;
  after: number[];
  cautions: string[];
  minutes: number;
  licensed?: true;
  /** What it would switch on is in danger by the proposal as it stands: it does not open. */
  withheld?: true;
  /** It is done by a name and a reason: somebody answers for what the proposal leaves over. */
  asksReason?: true;
  tool?: string;
  torque_Nm?: number;
  expect?: ExpectedTest;
}

/** The phases of an order, in the only order that is safe. */
export const PHASES = ['tell', 'off', 'prove-dead', 'strip', 'fit', 'prove', 'settings', 'on', 'warm', 'sign'] as const;
export type Phase = (typeof PHASES)[number];

/** What is done, by a word that means the same in every order. */
export const ACTS = [
  'tell',
  'save',
  'load-off',
  'source-off',
  'inverter-off',
  'engine-off',
  'pv-off',
  'bank-off',
  'prove-tester',
  'prove-dead',
  'cap',
  'strip',
  'charge-alone',
  'fit',
  'torque',
  'polarity',
  'precharge',
  'bank-on',
  'signals',
  'set',
  'pv-on',
  'inverter-on',
  'bond-rcd',
  'load-on',
  'source-on',
  'engine-on',
  'warm-run',
  'cold-cut',
  'sync',
  'sign',
] as const;
export type Act = (typeof ACTS)[number];

export type Draft = Omit<Step, 'n' | 'key' | 'after'> & { key: string; after: string[] };

/** An order in the making: steps by their keys, with what must be done before each. */
export class Order {
  private readonly drafts: Draft[] = [];

  /** Adds a step; gives its key, for those that come after it. What it names twice, or itself, counts once. */
  add(
    step: Omit<Draft, 'key' | 'after' | 'cautions' | 'parts'> &
      Partial<Pick<Draft, 'cautions' | 'parts' | 'after'>> & { of?: string },
  ): string {
    const { of, ...rest } = step;
    const key = keyOf(step.act, of ?? '');
    this.drafts.push({
      ...rest,
      key,
      parts: step.parts ?? [],
      cautions: step.cautions ?? [],
      after: [...new Set(step.after ?? [])].filter((each) => each !== key),
    });
    return key;
  }

  /**
   * The steps numbered from 1: by phase, within a phase as each has all that it waits for, else as they were added.
   * @throws Error where two wait for each other, or one waits for a later phase: a mistake of ours
   */
  steps(): Step[] {
    const known = new Set(this.drafts.map(({ key }) => key));
    const numbers = new Map<string, number>();
    const done: Step[] = [];
    for (const phase of PHASES) {
      let waiting = this.drafts.filter((draft) => draft.phase === phase);
      while (waiting.length > 0) {
        const next = waiting.find(({ after }) => after.every((each) => !known.has(each) || numbers.has(each)));
        if (!next) throw new Error(`order of work: ${waiting.map(({ key }) => key).join(', ')} wait for each other`);
        numbers.set(next.key, done.length + 1);
        const { after, ...rest } = next;
        const earlier = after.flatMap((each) => numbers.get(each) ?? []).sort((a, b) => a - b);
        done.push({ n: done.length + 1, ...rest, after: earlier });
        waiting = waiting.filter((draft) => draft !== next);
      }
    }
    return done;
  }
}

/** "strip" of "c.1" is "strip:c~1": ticks are kept under it, where a point would lead a level down. */
export const keyOf = (act: Act, id: string): string => (id === '' ? act : `${act}:${id.replace(/[./]/g, '~')}`);

/** Adds a step that waits for all that went before it on its way off, or on. */
export type Next = (step: Parameters<Order['add']>[0]) => void;
