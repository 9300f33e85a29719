import { raised } from '../parts/said';
import type { Act, Phase, Step } from './order';

/** What is done of an order, by the keys of its steps. */
export type Done = Readonly<Record<string, { state: 'done' | 'skipped'; at?: string | null | undefined }>>;

/** The first step that is neither done nor skipped; null when all are. */
export const nextStep = (steps: readonly Step[], done: Done): Step | null =>
  steps.find(({ key }) => !done[key]) ?? null;

/** Steps that a step waits for and that are not ticked. One that was skipped has its reason, and waits for nobody. */
export const waitsFor = (step: Step, steps: readonly Step[], done: Done): Step[] =>
  steps.filter(({ n, key }) => step.after.includes(n) && !done[key]);

/** Acts that bring volts back: none of them while something stops the visit. */
const LIVE: ReadonlySet<Act> = new Set([
  'precharge',
  'bank-on',
  'pv-on',
  'inverter-on',
  'load-on',
  'source-on',
  'engine-on',
]);
/** True for a step that makes something live. */
export const bringsVolts = ({ act }: Pick<Step, 'act'>): boolean => LIVE.has(act);

/** What is off and what is on, in words for the head of the work: "PV off, bank isolated, not proved dead". */
export interface Isolation {
  words: string;
  /** When the last of it happened; null: nothing was switched yet. */
  since: string | null;
  /** Everything that can be is off and was proved dead: work on the bus may go on. */
  dead: boolean;
}

/** What is isolated as far as the steps are done. */
export function isolationOf(steps: readonly Step[], done: Done): Isolation {
  const of = (act: Act) => steps.filter((step) => step.act === act);
  const isDone = ({ key }: Step) => done[key]?.state === 'done';
  const all = (act: Act) => of(act).length > 0 && of(act).every(isDone);
  const some = (act: Act) => of(act).some(isDone);
  const words: string[] = [];
  const say = (off: Act, on: Act, gone: string, partly: string, back: string) => {
    if (of(off).length === 0) return;
    if (some(on)) words.push(back);
    else if (all(off)) words.push(gone);
    else if (some(off)) words.push(partly);
  };
  say('load-off', 'load-on', 'loads off', 'some loads off', 'loads on');
  say('source-off', 'source-on', 'AC sources off', 'some AC sources off', 'AC sources on');
  say('engine-off', 'engine-on', 'engine off', 'engine partly off', 'engine on');
  say('pv-off', 'pv-on', 'PV off', 'PV partly off', 'PV on');
  say('bank-off', 'bank-on', 'bank isolated', 'bank isolated', 'bank on');
  const on = some('bank-on') || some('pv-on');
  const dead = all('prove-dead') && !on;
  if (of('prove-dead').length > 0 && words.length > 0 && !on) words.push(dead ? 'proved dead' : 'not proved dead');
  const times = steps.flatMap(({ key, phase }) => (SWITCHING.has(phase) && done[key]?.at ? [done[key].at] : [])).sort();
  return {
    words: words.length === 0 ? 'Nothing is switched off yet.' : `${raised(words.join(', '))}.`,
    since: times.at(-1) ?? null,
    dead,
  };
}
const SWITCHING: ReadonlySet<Phase> = new Set(['off', 'prove-dead', 'settings', 'on']);

/** Minutes planned and gone of each phase that there is. */
export interface PhaseClock {
  phase: Phase;
  steps: number;
  ticked: number;
  planned_min: number;
  /** From the first tick to the last; null before the first. */
  taken_min: number | null;
}

/** Minutes of each phase, done and left. */
export function clocksOf(steps: readonly Step[], done: Done): PhaseClock[] {
  return [...new Set(steps.map(({ phase }) => phase))].map((phase) => {
    const mine = steps.filter((step) => step.phase === phase);
    const times = mine.flatMap(({ key }) => (done[key]?.at ? [Date.parse(done[key].at)] : [])).filter(Number.isFinite);
    return {
      phase,
      steps: mine.length,
      ticked: mine.filter(({ key }) => done[key]).length,
      planned_min: mine.reduce((sum, { minutes }) => sum + minutes, 0),
      taken_min: times.length > 0 ? Math.round((Math.max(...times) - Math.min(...times)) / 60_000) : null,
    };
  });
}
