import type { Model } from '../system/model';
import type { Reading, Visit } from '../system/schema';
import { partTitle } from '../conductors/names';
import { CONDITIONS, type Conditions } from '../readings/conditions';
import { QUANTITIES } from '../readings/quantities';
import { positionWords } from '../readings/readings';
import type { Position } from '../readings/row';
import type { Read } from './asked';
import { causeOf } from './causes';
import type { Candidate, CauseCode, CauseCure, Complaint } from './causes/cause';
import { alikeCauses, nextReadings, type CanRead, type Next } from './next';
import { placed } from './placed';
import { readable } from './readable';
import { createEngine, type Engine } from './engine';
import { weigh, type Weighed, type Weighing } from './weigh';

/**
 * Which fault explains the readings (docs/faults.md): each is a change of the system, what it would show is predicted by
 * the same engine as what a meter should read, and all readings are weighed together.
 */

/** What a cause is called and where it is. */
export interface Named {
  hypothesis: CauseCode;
  subject: string;
  position?: Position;
}
/** A cause with its chance and what it rests on. */
export interface Ranked extends Named {
  /** The second of two causes at once. */
  and?: Named;
  /** 0 to 1; all of a ranking sum to 1. */
  probability: number;
  /** In the unit of its kind: mohm of a joint, watts of a drain, shares of capacity, light or current; null: has none. */
  size: number | null;
  /** In words, and where in the part: "string 1, module 2"; empty where it is all of it. */
  title: string;
  place: string;
  /** It can burn, shock or gas. */
  hurts: boolean;
  predicted: { reading: string; expected: number; measured: number; sigma: number }[];
  cure: CauseCure;
  /** How it is told from what looks like it. */
  apart: string;
}
/** What the readings say. */
export interface Faults {
  ranking: Ranked[];
  /** Causes that nothing that can be read here tells apart. */
  alike: Named[][];
  /** What to read next, what tells most by the minute first. */
  next: (Omit<Next, 'means'> & { means: (Named & { title: string; expected: number })[] })[];
  /** Ids of readings that nothing predicts. */
  unused: string[];
  /** A cause that can hurt and is not the likeliest: to be ruled out before anything else is believed. */
  ruleOutFirst: Named | null;
}

/** What else the causes depend on. */
export interface FaultsAsked {
  complaint?: Complaint | undefined;
  visit?: Pick<Visit, 'conditions'> | null;
  /** Under which the next reading will be taken. */
  conditions?: Partial<Conditions>;
  /** Only the chances: what is being typed is weighed many times, and nobody asks what to read after it. */
  chancesOnly?: boolean;
}

/** Causes of less than this are named without what they predict. */
const PREDICTED = 0.01;
/** A cause that can hurt is ruled out first from this chance on, where the readings have raised it. */
const HURTING = 0.02;
const RAISED = 1.5;
const NEXT_SHOWN = 20;
const MEANS_SHOWN = 4;

/** Weighs every cause against the readings of a system. */
export function faultsOf(model: Model, readings: readonly Reading[], asked: FaultsAsked = {}): Faults {
  const { complaint, visit = null } = asked;
  const reads = placed(readings, visit);
  const engine = createEngine(model);
  const weighing = weigh(engine, reads, { complaint, soc: visit?.conditions?.soc ?? null });
  const at: Conditions = { ...CONDITIONS, ...conditionsNow(reads), ...asked.conditions };
  const known = new Set(reads.map(({ id }) => id));
  const unread = readings.filter(({ id }) => !known.has(id)).map(({ id }) => id);
  const title = (weighed: Weighed) => titleOf(model, readings, weighed);
  return {
    ranking: weighing.ranked.map((weighed) => rankedOf(model, readings, weighing, weighed)),
    ...(asked.chancesOnly
      ? { alike: [], next: [] }
      : whatNext(engine, weighing, { at, tests: readable(model, at) }, title)),
    unused: [...unread, ...weighing.unused.map(({ id }) => id)],
    ruleOutFirst: hurting(weighing.ranked),
  };
}

/** Of what a reading would show, each value once, with the likeliest cause of it: what all would show tells nobody anything. */
function apart(means: Next['means']): Next['means'] {
  const shown = new Set<string>();
  return means
    .filter(({ expected }) => {
      const value = Number.isFinite(expected) ? expected.toPrecision(2) : 'none';
      return shown.has(value) ? false : shown.add(value);
    })
    .slice(0, MEANS_SHOWN);
}

/** What would tell the causes apart, and which nothing can. */
function whatNext(
  engine: Engine,
  weighing: Weighing,
  canRead: CanRead,
  title: (weighed: Weighed) => string,
): Pick<Faults, 'alike' | 'next'> {
  return {
    alike: alikeCauses(engine, weighing, canRead).map((group) => group.map(({ candidate }) => named(candidate))),
    next: nextReadings(engine, weighing, canRead)
      .slice(0, NEXT_SHOWN)
      .map(({ means, ...next }) => ({
        ...next,
        means: apart(means).map(({ cause, expected }) => ({
          ...named(cause.candidate),
          title: title(cause),
          expected,
        })),
      })),
  };
}

/** A candidate by its names. */
export const named = ({ code, subject, position }: Candidate): Named => ({
  hypothesis: code,
  subject,
  ...(position ? { position } : {}),
});

/** Of what the readings were taken in, what the next will most likely be taken in too. */
function conditionsNow(reads: readonly Read[]): Partial<Conditions> {
  const last = reads.at(-1)?.at;
  if (!last) return {};
  const { current_A: _, ...at } = last;
  return at;
}

function rankedOf(model: Model, readings: readonly Reading[], weighing: Weighing, weighed: Weighed): Ranked {
  const { candidate, and, probability, size } = weighed;
  const cause = causeOf(candidate.code);
  return {
    ...named(candidate),
    ...(and ? { and: named(and) } : {}),
    probability,
    size,
    title: titleOf(model, readings, weighed),
    place: positionWords(candidate.position),
    hurts: Boolean(cause.hurts) || Boolean(and && causeOf(and.code).hurts),
    predicted: probability >= PREDICTED ? predictedBy(weighing, weighed) : [],
    cure: cause.cure(model, candidate, nameOf(model, readings, candidate)),
    apart: cause.apart,
  };
}

/** What each reading should be under a cause, over what is not known. */
function predictedBy({ reads, grid, predictor, cellsOf }: Weighing, weighed: Weighed): Ranked['predicted'] {
  const cells = cellsOf(weighed);
  return reads.flatMap((read) => {
    const field = predictor.field(read, weighed.state);
    if (!field) return [];
    const at = grid.at(field.mask);
    let [expected, sigma] = [0, 0];
    cells.forEach((weight, k) => {
      expected += weight * (field.mu[at[k] ?? 0] ?? NaN);
      sigma += weight * (field.sigma[at[k] ?? 0] ?? NaN);
    });
    // Of a ratio the sigma is a logarithm: said in the reading's own unit.
    return [
      {
        reading: read.id,
        expected,
        measured: read.value,
        sigma: field.scale === 'plain' ? sigma : sigma * Math.abs(expected),
      },
    ];
  });
}

/** The likeliest cause that can hurt, where it is not the likeliest of all and not out of the question. */
function hurting(ranked: readonly Weighed[]): Named | null {
  const [first] = ranked;
  if (!first || causeOf(first.candidate.code).hurts) return null;
  const found = ranked.find(
    ({ candidate, and, plain, before }) =>
      !and && plain >= Math.max(HURTING, RAISED * before) && causeOf(candidate.code).hurts,
  );
  return found ? named(found.candidate) : null;
}

function titleOf(model: Model, readings: readonly Reading[], { candidate, and }: Weighed): string {
  const one = causeOf(candidate.code).title(nameOf(model, readings, candidate));
  return and ? `${one}; and: ${causeOf(and.code).title(nameOf(model, readings, and))}` : one;
}

/** The part by its name; of a misread the quantity and its part. */
function nameOf({ system }: Model, readings: readonly Reading[], { subject, misread }: Candidate): string {
  if (misread !== undefined) {
    const reading = readings.find(({ id }) => id === misread);
    const quantity = reading ? QUANTITIES[reading.quantity as keyof typeof QUANTITIES]?.[1] : undefined;
    const part = reading ? partTitle(system, reading.subject) : null;
    return [quantity?.toLowerCase() ?? 'a reading', part].filter(Boolean).join(', ');
  }
  return subject === 'site' ? 'the site' : (partTitle(system, subject) ?? subject);
}
