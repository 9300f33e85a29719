import { nameOfRow, numberOf, same, type Fault, type PartRow, type StoredPart } from '@true-lantern/core';

/**
 * What a person may do to a job, judged on its rows as they were and as they would be. How a change was spelled (a
 * leaf, a branch, a whole part, a file) makes no difference here.
 */

/** Who acts, as the database has them now. */
export interface Actor {
  userId: string;
  name: string;
  licensed: boolean;
}

interface Tick {
  state?: unknown;
  by?: unknown;
}
type Ticks = Readonly<Record<string, Readonly<Record<string, Tick | null>> | null>>;
type Body = Readonly<Record<string, unknown>>;

const bodyOf = (row: Pick<PartRow, 'body'> | null): Body => row?.body ?? {};
const asRecord = (value: unknown): Readonly<Record<string, unknown>> =>
  value !== null && typeof value === 'object' ? (value as Record<string, unknown>) : {};

/** True for a visit that somebody has signed: from then on it is a record. */
export const isSignedVisit = (row: Pick<PartRow, 'kind' | 'body'>): boolean =>
  row.kind === 'visit' && Object.values(asRecord(bodyOf(row).signed)).some(Boolean);

const isFitted = (row: Pick<PartRow, 'kind' | 'body'>): boolean =>
  row.kind === 'proposal' && asRecord(bodyOf(row).closed).as === 'fitted';

/**
 * What is wrong with a row becoming another; empty where this person may do it.
 * @param before null for a row that is new
 * @param parts all rows of the job as they stand before this change
 */
export function wrongIn(
  before: StoredPart | null,
  after: StoredPart,
  actor: Actor,
  parts: ReadonlyMap<string, StoredPart>,
): Fault[] {
  return [
    ...siteStays(before, after),
    ...recordStands(before, after, actor),
    ...numberFits(before, after),
    ...readingStands(before, after, parts),
    ...entryStands(before, after),
    ...fittedStands(before, after),
    ...acceptanceStands(before, after),
    ...ticksAreOnesOwn(before, after, actor),
  ];
}

/** A site is archived, never taken out of its own job: without that row nothing of it can be read. */
const siteStays = (before: StoredPart | null, after: StoredPart): Fault[] =>
  before?.kind === 'site' && after.deleted
    ? [{ path: '/deleted', message: 'would remove the site itself, expected it to be archived instead' }]
    : [];

/** A signed visit takes corrections beside it, each by who writes it; nothing in it changes. */
function recordStands(before: StoredPart | null, after: StoredPart, actor: Actor): Fault[] {
  if (!before || !isSignedVisit(before)) return [];
  const { addenda: was, ...text } = bodyOf(before);
  const { addenda: is, ...next } = bodyOf(after);
  if (after.deleted || !same(text, next) || !same(before.evidence, after.evidence))
    return [{ path: 'signed', message: 'is a signed record, expected a correction beside it (addenda)' }];
  const old = asRecord(was);
  return Object.entries({ ...old, ...asRecord(is) }).flatMap(([id]): Fault[] => {
    const now = asRecord(is)[id];
    if (same(now ?? null, old[id] ?? null)) return [];
    if (old[id]) return [{ path: `addenda.${id}`, message: 'is written already, expected another beside it' }];
    return asRecord(now).person === actor.userId
      ? []
      : [{ path: `addenda.${id}.person`, message: 'is somebody else, expected who sends it' }];
  });
}

/** A record that is signed carries the number that follows from it: what was altered on its way is not kept as signed. */
function numberFits(before: StoredPart | null, after: StoredPart): Fault[] {
  if (!newlySigned(before, after)) return [];
  const { record, recordHash } = bodyOf(after);
  if ((record ?? null) === null && (recordHash ?? null) === null) return [];
  return numberOf(record ?? null) === recordHash
    ? []
    : [{ path: 'recordHash', message: 'is not the number of this record, expected the SHA-256 of its canonical JSON' }];
}

/** True where a change signs a visit. */
export const newlySigned = (before: StoredPart | null, after: StoredPart): boolean =>
  !after.deleted && isSignedVisit(after) && !(before && isSignedVisit(before));

/** What was read at a signed visit is part of its record. */
function readingStands(before: StoredPart | null, after: StoredPart, parts: ReadonlyMap<string, StoredPart>): Fault[] {
  if (after.kind !== 'reading') return [];
  const visits = [bodyOf(before).visit, bodyOf(after).visit].filter((visit) => typeof visit === 'string');
  const signed = [...parts.values()].some(
    (row) => !row.deleted && visits.includes(nameOfRow(row)) && isSignedVisit(row),
  );
  if (!signed || (before && before.deleted === after.deleted && same(before.body, after.body))) return [];
  return [{ path: 'visit', message: 'is signed, expected a reading of its own or of another visit' }];
}

/** What was logged stays to be read: it is struck out, or corrected by another entry. */
function entryStands(before: StoredPart | null, after: StoredPart): Fault[] {
  if (before?.kind !== 'log') return [];
  const { struckOut: _was, ...text } = bodyOf(before);
  const { struckOut: _is, ...next } = bodyOf(after);
  return after.deleted || !same(text, next)
    ? [{ path: 'log', message: 'is written already, expected it to be struck out or corrected by another entry' }]
    : [];
}

/** What was fitted is the record of it. */
const fittedStands = (before: StoredPart | null, after: StoredPart): Fault[] =>
  before && isFitted(before) && (after.deleted || !same(before.body, after.body))
    ? [{ path: 'closed', message: 'is fitted and kept as a record, expected a new proposal' }]
    : [];

/**
 * What a customer accepted is kept whole, with the number that follows from it; the proposal itself may still be deviated
 * from, which is told beside it.
 */
function acceptanceStands(before: StoredPart | null, after: StoredPart): Fault[] {
  if (after.kind !== 'proposal') return [];
  const [was, is] = [bodyOf(before).accepted ?? null, bodyOf(after).accepted ?? null];
  if (was !== null && (after.deleted || !same(was, is)))
    return [{ path: 'accepted', message: 'was accepted by the customer, expected it to stay as it is' }];
  if (was !== null || is === null) return [];
  const { offer, number } = asRecord(is);
  return numberOf(offer ?? null) === number
    ? []
    : [
        {
          path: 'accepted.number',
          message: 'is not the number of this offer, expected the SHA-256 of its canonical JSON',
        },
      ];
}

/** Nobody ticks in another's name; taking a tick back is open to all who work the order. */
const ticksAreOnesOwn = (before: StoredPart | null, after: StoredPart, { userId }: Actor): Fault[] =>
  changedTicks(before, after)
    .filter(({ person, tick }) => tick !== null && person !== userId)
    .map(({ step, person }) => ({
      path: `work.ticks.${step}.${person}`,
      message: 'ticks for somebody else, expected a tick of who sends it',
    }));

/** Every tick that is not as it was. */
export function changedTicks(
  before: StoredPart | null,
  after: StoredPart,
): { step: string; person: string; tick: Tick | null }[] {
  const was = ticksOf(before);
  const is = ticksOf(after);
  return [...new Set([...Object.keys(was), ...Object.keys(is)])].flatMap((step) => {
    const [old, now] = [asRecord(was[step]), asRecord(is[step])];
    return [...new Set([...Object.keys(old), ...Object.keys(now)])]
      .filter((person) => !same(old[person] ?? null, now[person] ?? null))
      .map((person) => ({ step, person, tick: (now[person] as Tick | null | undefined) ?? null }));
  });
}

/** All ticks of a proposal, by step and person; none of any other row. */
export const ticksOf = (row: Pick<PartRow, 'kind' | 'body'> | null): Ticks =>
  row?.kind === 'proposal' ? (asRecord(asRecord(bodyOf(row).work).ticks) as Ticks) : {};

/** Steps that one person has ticked as done. */
export const doneBy = (row: Pick<PartRow, 'kind' | 'body'> | null, userId: string): string[] =>
  Object.entries(ticksOf(row)).flatMap(([step, people]) =>
    asRecord(asRecord(people)[userId]).state === 'done' ? [step] : [],
  );

/** A tick carries the name of whose it is, whatever the device wrote into it. */
export function inOwnName(before: StoredPart | null, after: StoredPart, { userId, name }: Actor): StoredPart {
  const own = changedTicks(before, after).filter(({ person, tick }) => tick && person === userId && tick.by !== name);
  if (own.length === 0) return after;
  const body = structuredClone(after.body) as { work: { ticks: Record<string, Record<string, Tick>> } };
  for (const { step, tick } of own)
    body.work.ticks[step] = { ...body.work.ticks[step], [userId]: { ...tick, by: name } };
  return { ...after, body: body };
}

/** Who brings a file, and who is of the firm that it comes to. */
export interface Importer extends Pick<Actor, 'userId' | 'licensed'> {
  owner: boolean;
  members: readonly Pick<Actor, 'userId' | 'licensed'>[];
}

/**
 * The rows of a file without the ticks that who brings it may not bring: those in the name of another member, unless an
 * owner answers for them, and licensed steps that nobody with a licence has ticked. What was fitted is a record, and stays.
 * @param licensedIn keys of the licensed steps of a proposal, by its id; null where it has no order
 */
export function withOwnTicks(
  rows: readonly PartRow[],
  { userId, licensed, owner, members }: Importer,
  licensedIn: (proposals: readonly string[]) => Record<string, string[] | null>,
): { rows: PartRow[]; left: number } {
  const ticked = rows.filter((row) => !isFitted(row) && Object.keys(ticksOf(row)).length > 0);
  if (ticked.length === 0) return { rows: [...rows], left: 0 };
  const member = (person: string) => members.find((one) => one.userId === person);
  const orders = licensedIn(ticked.flatMap((row) => nameOfRow(row) ?? []));
  let left = 0;
  const kept = (row: PartRow): PartRow => {
    const order = orders[nameOfRow(row) ?? ''];
    const ticks = Object.fromEntries(
      Object.entries(ticksOf(row)).map(([step, people]) => [
        step,
        Object.fromEntries(
          Object.entries(asRecord(people)).filter(([person, tick]) => {
            const own = person === userId || owner || !member(person);
            const needs = asRecord(tick).state === 'done' && (!order || order.includes(step));
            const may = own && (!needs || licensed || Boolean(member(person)?.licensed));
            if (!may && tick) left++;
            return may;
          }),
        ),
      ]),
    );
    return { ...row, body: { ...row.body, work: { ...asRecord(row.body.work), ticks } } };
  };
  return { rows: rows.map((row) => (ticked.includes(row) ? kept(row) : row)), left };
}
