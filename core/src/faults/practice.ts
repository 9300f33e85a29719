import type { Model } from '../system/model';
import type { Reading } from '../system/schema';
import { partTitle } from '../conductors/names';
import { CONDITIONS, type Conditions } from '../readings/conditions';
import { QUANTITIES, type Quantity } from '../readings/quantities';
import { samePosition, type ExpectedTest } from '../readings/row';
import { normals, uniforms } from '../sun/random';
import type { Asked } from './asked';
import { CAUSES, causeOf } from './causes';
import { COMPLAINTS, type Candidate, type CauseCode, type Complaint } from './causes/cause';
import { createEngine, type Engine } from './engine';
import { faultsOf, named, type Faults, type Named } from './faults';
import type { Field } from './field';
import { onePlace, SOC_FULL, type Place } from './grid';
import { askedOf } from './next';
import { createPredictor } from './predict';
import { readable } from './readable';
import { both, type State } from './state';

/** The same model turned round: a fault is hidden in a copy of a site, and answers readings until somebody names it. */

/** One fault in plain sizes; any fault; any fault, or none, in poor light; two at once with a misread value. */
export type Level = 1 | 2 | 3 | 4;

/** What was read, in the order in which it was asked for. */
export interface PracticeReading {
  id: string;
  subject: string;
  quantity: Quantity;
  position?: Asked['position'];
  value: number;
  unit: string;
  minutes: number;
}
/** After a reading: what was likeliest. */
interface Step extends Named {
  id: string;
  minutes: number;
  probability: number;
  /** Of the best way: why this reading, before it was taken. */
  why?: string;
}
/** A case, and how far somebody is in it. */
export interface PracticeAsked {
  seed: number;
  level: Level;
  /** Ids of readings, in their order. */
  read: readonly string[];
  /** CODE@SUBJECT; null: not yet. */
  answer: string | null;
}
/** A practice site as the learner knows it. */
export interface Practice {
  /** Never a record: said on every answer. */
  practice: true;
  complaint: string;
  read: PracticeReading[];
  minutes: number;
  /** Readings that nothing at this site answers, with the reason. */
  stopped: { id: string; why: string }[];
  /** Ids that can be read. */
  canRead: string[];
  answered?: {
    answer: string;
    right: boolean;
    truth: Named & { and?: Named; size: number | null; misread?: string; title: string; apart: string };
    /** What was likeliest after each reading: the learner's way, and the best by expected information. */
    yours: Step[];
    best: Step[];
    bestMinutes: number;
  };
}

/** The hidden case. */
interface Hidden {
  at: Conditions;
  first: Candidate;
  second: Candidate | null;
  size: number | null;
  state: State;
  place: Place;
  complaint: Complaint;
  /** The answer to each reading, by its id; the same whenever it is asked. */
  answer(test: ExpectedTest): number | null;
  misread: string | null;
}

/** What a learner is stopped from, with the reason. */
const UNSAFE: readonly (readonly [pattern: RegExp, why: string])[] = [
  [
    /ohm$|resistance$|Ohm$/,
    'Never measure resistance on a live bank or array: the meter becomes a short circuit. Measure a voltage drop instead.',
  ],
  [
    /unplug|plug$/,
    'Never unplug a PV connector under load: the arc does not go out. Open the isolator first and check that no current flows.',
  ],
];
const MOST_STEPS = 8;
/** From this chance on a cause is named. */
const NAMED = 0.9;
const PLAIN: readonly CauseCode[] = [
  'joint',
  'string-open',
  'cell-shorted',
  'parasitic',
  'soiled',
  'cutoff-misset',
  'block-open',
];

/**
 * A practice case, as far as somebody has read it.
 * @param read ids of readings ("roof.stringVoc_V.string0"; without a position the first)
 * @param answer CODE@SUBJECT; null: not yet
 */
export function practice(model: Model, { seed, level, read, answer }: PracticeAsked): Practice {
  const engine = createEngine(model);
  const hidden = hide(engine, seed, level);
  const tests = readable(model, hidden.at).filter((test) => hidden.answer(test) !== null);
  const byId = new Map(tests.map((test) => [test.id, test]));
  const stopped: Practice['stopped'] = [];
  const taken: PracticeReading[] = [];
  for (const id of read) {
    const unsafe = UNSAFE.find(([pattern]) => pattern.test(id.split('.').at(-1) ?? ''));
    const test = byId.get(id) ?? tests.find((one) => `${one.subject}.${one.quantity}` === id);
    if (unsafe && !test) stopped.push({ id, why: unsafe[1] });
    else if (!test) stopped.push({ id, why: 'This site has no such reading.' });
    else taken.push(readingOf(test, hidden));
  }
  return {
    practice: true,
    complaint: COMPLAINTS[hidden.complaint],
    read: taken,
    minutes: minutesOf(taken),
    stopped,
    canRead: tests.map(({ id }) => id),
    ...(answer === null ? {} : { answered: answered(model, hidden, tests, taken, answer) }),
  };
}

const minutesOf = (readings: readonly Pick<PracticeReading, 'minutes'>[]) =>
  readings.reduce((sum, { minutes }) => sum + minutes, 0);

function readingOf(test: ExpectedTest, hidden: Hidden): PracticeReading {
  return {
    id: test.id,
    subject: test.subject,
    quantity: test.quantity,
    ...(test.position ? { position: test.position } : {}),
    value: hidden.answer(test) ?? NaN,
    unit: test.unit,
    minutes: test.minutes,
  };
}

/** What a seed hides at a level: the cause, a second one, and the reading that is misread. */
export const hiddenIn = (model: Model, seed: number, level: Level): Pick<Hidden, 'first' | 'second' | 'misread'> =>
  hide(createEngine(model), seed, level);

function hide(engine: Engine, seed: number, level: Level): Hidden {
  const { model, charging } = engine;
  const random = uniforms(seed);
  const pick = <T>(list: readonly T[]): T | undefined =>
    list[Math.min(list.length - 1, Math.floor(random() * list.length))];
  const at: Conditions = {
    ...CONDITIONS,
    irradiance_W_m2: Math.round(500 + 500 * random()),
    irradianceBy: level >= 3 ? 'sky' : 'meter',
    ambient_C: Math.round(5 + 20 * random()),
    cell_C: Math.round(15 + 30 * random()),
  };
  const now_A = (id: string) => charging.now_A(id, { at });
  const possible = CAUSES.filter(({ code }) => {
    if (code === 'misread') return false;
    if (level === 1) return PLAIN.includes(code);
    return level === 3 || (code !== 'nothing-wrong' && code !== 'bank-full');
  })
    .map((cause) => cause.candidates(model, now_A))
    .filter((all) => all.length > 0);
  const drawn = () => {
    const candidate = pick(pick(possible) ?? []);
    // At first the largest of its sizes: nobody learns on what a meter cannot see.
    const size = candidate && (level === 1 ? candidate.sizes.at(-1) : pick(candidate.sizes));
    return candidate && size ? { candidate, ...size } : null;
  };
  const none = { candidate: { code: 'nothing-wrong', subject: 'site', sizes: [] } as Candidate, size: null, state: {} };
  const first = drawn() ?? none;
  const other = level === 4 ? drawn() : null;
  const second = other && other.candidate.subject !== first.candidate.subject ? other : null;
  const { soc } = first.candidate;
  const normal = normals(seed + 1);
  const place: Place = {
    gain: Math.max(-2, Math.min(2, normal())),
    cell_K: 2 * normal(),
    soc: soc === 'full' ? (SOC_FULL[1] ?? 1) : soc ? soc[0] + (soc[1] - soc[0]) * random() : 0.2 + 0.75 * random(),
    ohm: 0.75 + 0.58 * random(),
    load_A: 5 * random(),
  };
  const state = second ? both(first.state, second.state) : first.state;
  const predictor = createPredictor(engine, onePlace(place));
  const fits = causeOf(first.candidate.code).complaints;
  const ids = readable(model, at).map(({ id }) => id);
  const misread = level === 4 ? (pick(ids) ?? null) : null;
  return {
    at,
    first: first.candidate,
    second: second?.candidate ?? null,
    size: first.size,
    state,
    place,
    complaint: pick(fits) ?? 'other',
    misread,
    answer(test) {
      const field = predictor.field(askedOf(test, at), state);
      if (!field) return null;
      const value = shown(field, normals(seed + hashed(test.id)));
      return test.id === misread ? value * 10 : value;
    },
  };
}

/** The same number for the same text. */
const hashed = (text: string) =>
  [...text].reduce((sum, letter) => (Math.imul(sum, 31) + letter.charCodeAt(0)) >>> 0, 7) % 1_000_000;

/** What a meter shows: the truth with its error; of a bound something well within it. To four figures. */
function shown({ mu, sigma, scale }: Field, normal: () => number): number {
  const [m = NaN, s = NaN] = [mu[0], sigma[0]];
  const z = Math.max(-2.5, Math.min(2.5, normal()));
  const value =
    scale === 'plain'
      ? m + 0.7 * s * z
      : scale === 'ratio'
        ? m * Math.exp(0.7 * s * z)
        : scale === 'most'
          ? m * 0.6
          : m * 8;
  return Number(value.toPrecision(4));
}

const asReading = ({ id, subject, quantity, position, value }: PracticeReading, at: Conditions): Reading => ({
  id,
  at: '2026-01-01T12:00:00Z',
  subject,
  quantity,
  value,
  ...(position ? { position } : {}),
  conditions: {
    irradiance_W_m2: at.irradiance_W_m2,
    irradianceBy: at.irradianceBy,
    cell_C: at.cell_C,
    ambient_C: at.ambient_C,
  },
});

/** What a reading tells apart: the two likeliest causes that it would show otherwise. Null: it tells none apart. */
function whyOf({ means, quantity, minutes }: Faults['next'][number]): string | null {
  const [unit] = QUANTITIES[quantity];
  const [first, ...others] = means.filter(({ expected }) => Number.isFinite(expected));
  const other = others.find(
    ({ expected }) => first && Math.abs(expected - first.expected) > TELLING * Math.abs(first.expected),
  );
  if (!first || !other) return null;
  const said = (value: number) => `${Number(value.toPrecision(3))}${unit ? `\u00a0${unit}` : ''}`;
  return `In ${minutes} min it tells "${first.title}" (about ${said(first.expected)}) from "${other.title}" (about ${said(other.expected)}).`;
}
/** A meter shows a difference of so much, as a share. */
const TELLING = 0.02;

function answered(
  model: Model,
  hidden: Hidden,
  tests: readonly ExpectedTest[],
  taken: readonly PracticeReading[],
  answer: string,
): NonNullable<Practice['answered']> {
  const { first, second, complaint, at } = hidden;
  const weighed = (readings: readonly PracticeReading[]) =>
    faultsOf(
      model,
      readings.map((one) => asReading(one, at)),
      { complaint, conditions: at },
    );
  const stepOf = (readings: readonly PracticeReading[], { ranking: [top] }: Faults): Step => ({
    id: readings.at(-1)?.id ?? '',
    minutes: minutesOf(readings),
    hypothesis: top?.hypothesis ?? 'nothing-wrong',
    subject: top?.subject ?? 'site',
    ...(top?.position ? { position: top.position } : {}),
    probability: top?.probability ?? 0,
  });
  const best: Step[] = [];
  const path: PracticeReading[] = [];
  const isOf = (one: Pick<Asked, 'subject' | 'quantity' | 'position'>) => (other: typeof one) =>
    one.subject === other.subject && one.quantity === other.quantity && samePosition(one.position, other.position);
  for (let found = weighed(path); path.length < MOST_STEPS && (best.at(-1)?.probability ?? 0) <= NAMED;) {
    const next = found.next.find((one) => !path.some(isOf(one)));
    const test = next && tests.find(isOf(next));
    if (!test) break;
    path.push(readingOf(test, hidden));
    const why = whyOf(next);
    found = weighed(path);
    best.push({ ...stepOf(path, found), ...(why ? { why } : {}) });
  }
  const said = (one: Candidate) => `${one.code}@${one.subject}`;
  const cause = causeOf(first.code);
  return {
    answer,
    right: answer === said(first) || (second !== null && answer === said(second)),
    truth: {
      ...named(first),
      ...(second ? { and: named(second) } : {}),
      size: hidden.size,
      ...(hidden.misread ? { misread: hidden.misread } : {}),
      title: cause.title(partTitle(model.system, first.subject) ?? 'the site'),
      apart: cause.apart,
    },
    yours: taken.map((_, i) => {
      const upTo = taken.slice(0, i + 1);
      return stepOf(upTo, weighed(upTo));
    }),
    best,
    bestMinutes: minutesOf(path),
  };
}
