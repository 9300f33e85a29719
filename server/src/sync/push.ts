import {
  applyFields,
  assertRowKind,
  DELETED,
  FaultError,
  faultAt,
  fieldOf,
  isSingleName,
  mergeFields,
  MOST_BYTES,
  rowFaultsIn,
  same,
  type FieldConflict,
  type PartChange,
  type StoredPart,
} from '@true-lantern/core';
import { type PushAnswer, type PushResult } from '@true-lantern/wire';
import type { Transaction } from 'sequelize';
import { isUnreachable } from '../problem';
import type { Database } from '../store/database';
import { type Barred, type Pusher, type Standing, type Logged, lockSite, type Known, pictureOf } from './as-stored';
import { readChange, refused } from './read-change';
import { ledAstray, linksIn, mayLeadAstray, type Links } from './astray';
import { inOwnName, wrongIn } from './rights';
import { pastOf } from './past';
import { write } from './write';

/**
 * Takes a device's changes in order. One that is refused does not hold up the rest: all that can be foreseen is judged
 * before anything is written, and where the database refuses all the same each goes by itself.
 * Null where the site is not this firm's.
 * @param how the revision of the site at which it was asked who may make these changes, null where nothing was asked; and
 * how a job as a whole is read
 * @throws Moved where the site is at another one by now
 */
export async function push(
  database: Database,
  who: Pusher,
  given: readonly unknown[],
  barred: Barred = new Map(),
  { asked = null, links = linksIn(null) }: { asked?: number | null; links?: Links } = {},
): Promise<PushAnswer | null> {
  const take = (changes: readonly unknown[], revision: number | null = null) =>
    database.sequelize.transaction((transaction) =>
      takeAll(database, who, changes, { barred, revision, links }, transaction),
    );
  try {
    return await take(given, asked);
  } catch (error) {
    if (isUnreachable(error) || error instanceof Moved) throw error;
    if (given.length === 1) throw error;
  }
  const results: PushResult[] = [];
  let revision = 0;
  for (const change of given)
    try {
      const one = await take([change]);
      if (!one) return null;
      results.push(...one.results);
      revision = one.revision;
    } catch (error) {
      if (isUnreachable(error)) throw error;
      results.push(refused(change, [{ path: 'server', message: 'had a fault of its own with it, expected none' }]));
    }
  return { results, revision };
}

async function takeAll(
  database: Database,
  who: Pusher,
  given: readonly unknown[],
  allowed: { barred: Barred; revision: number | null; links: Links },
  transaction: Transaction,
): Promise<PushAnswer | null> {
  const { barred } = allowed;
  // The site's row is the lock: changes to one site are taken one after another, so that revisions never race.
  const site = await lockSite(database, who, transaction);
  if (!site) return null;
  if (allowed.revision !== null && allowed.revision !== site.revision) throw new Moved();
  const { read, known, begin } = await pictured(database, who, given, { site, transaction });
  let standing = begin(barred);
  let results = await takeEach(standing, given, read, known);
  // Nothing was written yet: what leads astray is found in the whole, and the push begun again without it.
  const without = new Map(barred);
  while (standing.log.some((one) => mayLeadAstray(standing, one))) {
    const faults = await allowed.links(rowsNow(standing));
    if (faults.length === 0) break;
    for (const [changeId, wrong] of ledAstray(standing, faults)) without.set(changeId, wrong);
    standing = begin(without);
    results = await takeEach(standing, given, read, known);
  }
  return { results, revision: await write(standing) };
}

/** Changes as they read, those that were sent before, and the site as it stands: as often as it is begun. */
async function pictured(
  database: Database,
  who: Pusher,
  given: readonly unknown[],
  { site, transaction }: Pick<Standing, 'site' | 'transaction'>,
) {
  const read = given.map(readChange);
  const changes = read.flatMap((one) => ('changeId' in one ? [one] : []));
  const { parts, known, elsewhere } = await pictureOf(database, who, changes, transaction);
  const storedRevisions = new Map([...parts].map(([id, { revision }]) => [id, revision]));
  // What is stored does not change while the site is locked, however often the push is begun.
  const past: Standing['past'] = new Map();
  const begin = (barred: Barred): Standing => ({
    database,
    who,
    site: { ...site },
    transaction,
    parts: new Map(parts),
    given: changes,
    storedRevisions,
    elsewhere,
    past,
    renamed: new Map(),
    made: new Set(),
    touched: new Set(),
    log: [],
    barred,
    bytes: null,
  });
  return { read, known, begin, parts };
}

/** The site has moved on since it was asked who may do what: it is asked again. */
export class Moved extends Error {}

/** What a push would make of a site, change by change; nothing is written. */
export interface Preview {
  revision: number;
  before: StoredPart[];
  after: StoredPart[];
  log: { changeId: string; before: StoredPart | null; after: StoredPart }[];
}

/** What these changes would come to; null where the site is not this firm's. */
export async function previewOf(database: Database, who: Pusher, given: readonly unknown[]): Promise<Preview | null> {
  const transaction = await database.sequelize.transaction();
  try {
    const site = await lockSite(database, who, transaction);
    if (!site) return null;
    const { read, known, begin, parts } = await pictured(database, who, given, { site, transaction });
    const standing = begin(new Map());
    await takeEach(standing, given, read, known);
    return {
      revision: site.revision,
      before: [...parts.values()].filter(({ deleted }) => !deleted),
      after: rowsNow(standing),
      log: standing.log.map(({ change, was, part }) => ({ changeId: change.changeId, before: was, after: part })),
    };
  } finally {
    await transaction.rollback();
  }
}

async function takeEach(
  standing: Standing,
  given: readonly unknown[],
  read: readonly (PartChange | { faults: FaultError['faults'] })[],
  known: ReadonlyMap<string, Known>,
): Promise<PushResult[]> {
  const results: PushResult[] = [];
  for (const [i, one] of read.entries())
    if (!('changeId' in one)) results.push(refused(given[i], one.faults));
    else
      try {
        const before = known.get(one.changeId) ?? standing.log.find(({ change }) => change.changeId === one.changeId);
        const bar = before ? undefined : standing.barred.get(one.changeId);
        if (bar) throw new FaultError(bar);
        results.push(before ? again(standing, one, before) : await takeOne(standing, one));
      } catch (error) {
        if (!(error instanceof FaultError)) throw error;
        results.push(refused(one, error.faults));
      }
  return results;
}

const rowsNow = ({ parts }: Standing) => [...parts.values()].filter(({ deleted }) => !deleted);

/** Sent twice: the first time counted. */
function again({ who, parts, renamed }: Standing, change: PartChange, before: Known | Logged): PushResult {
  const partId = 'part' in before ? before.part.id : before.partId;
  const firmId = 'part' in before ? who.firmId : before.firmId;
  const other = partId !== change.partId;
  // A part that was made on two devices went to the one that stands: its answer names that one.
  if (firmId !== who.firmId || (other && !(change.create && isSingleName(change.create.kind))))
    throw faultAt('changeId', 'belongs to another change, expected a new UUID');
  if (other) renamed.set(change.partId, partId);
  const part = parts.get(partId);
  return {
    changeId: change.changeId,
    partId: change.partId,
    status: 'duplicate',
    ...(part ? { part } : {}),
    conflicts: before.conflicts,
    faults: [],
  };
}

async function takeOne(standing: Standing, given: PartChange): Promise<PushResult> {
  const { parts, renamed } = standing;
  const change = { ...given, partId: renamed.get(given.partId) ?? given.partId };
  const row = parts.get(change.partId);
  if (row && change.create && change.create.kind !== row.kind)
    throw faultAt('create.kind', `is "${change.create.kind}", expected "${row.kind}", which that part is`);
  const single = row ? undefined : theOneThatStands(standing, change);
  if (single) {
    renamed.set(given.partId, single.id);
    return store(standing, given, single, besides(single, change));
  }
  if (row?.deleted && !(DELETED in change.set)) return store(standing, given, row, onRemoved(row, change));
  const current = row ?? newPart(standing, change);
  const past = row ? await pastOf(standing, row, change) : [];
  return store(standing, given, current, mergeFields(current, change, past));
}

/** Of what a site has one of: the one that is there, when a device that knew of none makes another. */
function theOneThatStands({ parts }: Standing, { create }: PartChange): StoredPart | undefined {
  const kind = create?.kind;
  if (!kind || !(isSingleName(kind) || kind === 'site' || kind === 'schools' || kind === 'system')) return undefined;
  return [...parts.values()].find((part) => part.kind === kind && !part.deleted);
}

/** Somebody removed the part meanwhile: whether it comes back, with these values, is for a person to settle. */
function onRemoved(row: StoredPart, { set: wanted }: PartChange) {
  const conflicts: FieldConflict[] = [
    { field: DELETED, current: true, wanted: false },
    ...Object.entries(wanted).map(([field, value]) => ({ field, current: fieldOf(row, field) ?? null, wanted: value })),
  ];
  return { set: {}, conflicts };
}

/** What the second lacks in the first is taken over; where they differ a person decides. Nothing is hidden. */
function besides(stands: StoredPart, { set: wanted }: PartChange) {
  const set: Record<string, unknown> = {};
  const conflicts: FieldConflict[] = [];
  for (const [field, value] of Object.entries(wanted)) {
    const current = fieldOf(stands, field) ?? null;
    if (value === null || same(current, value)) continue;
    // The name by which cables and evidence know it stays.
    if (current === null && field !== 'id') set[field] = value;
    else if (!field.startsWith('/')) conflicts.push({ field, current, wanted: value });
  }
  return { set, conflicts };
}

/** Puts it into the picture of the site, when the job is still sound with it. */
function store(
  standing: Standing,
  change: PartChange,
  current: StoredPart,
  { set, conflicts }: { set: Record<string, unknown>; conflicts: FieldConflict[] },
): PushResult {
  const { parts, site, who } = standing;
  const before = Object.fromEntries(Object.keys(set).map((field) => [field, fieldOf(current, field) ?? null]));
  const changed = Object.keys(set).length > 0;
  const isNew = !parts.has(current.id);
  const was = isNew ? null : current;
  const next = inOwnName(was, applyFields(current, set), who);
  next.revision = isNew ? 1 : current.revision + (changed ? 1 : 0);
  if (changed || isNew) {
    const wrong = wrongIn(was, next, who, parts);
    if (wrong.length > 0) throw new FaultError(wrong);
    assertSound(standing, next);
  }
  parts.set(next.id, next);
  if (isNew) standing.made.add(next.id);
  if (changed || isNew) standing.touched.add(next.id);
  standing.log.push({ change, was, part: next, set, before, conflicts });
  if (next.kind === 'site' && typeof next.body.name === 'string') site.name = next.body.name;
  return {
    changeId: change.changeId,
    partId: change.partId,
    status: conflicts.length > 0 ? 'conflict' : 'applied',
    part: next,
    conflicts,
    faults: [],
  };
}

/** The part must be sound by itself and the job not too large with it; where it leads is asked of the whole. */
function assertSound(standing: Standing, next: StoredPart): void {
  const { parts } = standing;
  const rows = () => [...parts.values()].filter(({ id, deleted }) => !deleted && id !== next.id);
  const faults = next.deleted ? [] : rowFaultsIn(rows, next);
  if (faults.length > 0) throw new FaultError(faults);
  // What was pushed can be exported and read again: a small change of a small site is not measured.
  const [was, is] = [bytesOf(parts.get(next.id)), bytesOf(next)];
  if (standing.bytes === null && is <= MUCH_BYTES && parts.size <= MANY_ROWS) return;
  standing.bytes ??= rows().reduce((sum, row) => sum + bytesOf(row), was);
  const after = standing.bytes - was + is;
  if (after > MOST_BYTES * 0.8 && after > standing.bytes)
    throw faultAt('file', 'would be larger than 8 MB with it, expected a smaller site');
  standing.bytes = after;
}

/** From so large a part, or so many of them, on the whole is measured. */
const MUCH_BYTES = 50_000;
const MANY_ROWS = 1000;

const bytesOf = (row: StoredPart | undefined): number => (row && !row.deleted ? JSON.stringify(row).length : 0);

function newPart({ elsewhere }: Standing, change: PartChange): StoredPart {
  const { partId, baseRevision, create } = change;
  if (!create || baseRevision !== 0)
    throw faultAt('partId', 'names no part of this site, expected one that is there or "create"');
  assertRowKind(create.kind);
  // The same words whoever it belongs to: another firm's ids are none of the writer's business.
  if (elsewhere.has(partId)) throw faultAt('partId', 'cannot be used, expected a new UUID');
  return {
    id: partId,
    kind: create.kind,
    body: {},
    evidence: {},
    position: create.position,
    revision: 0,
    deleted: false,
  };
}
