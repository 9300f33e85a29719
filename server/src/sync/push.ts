import {
  applyFields,
  assertRowKind,
  checkSystemFile,
  FaultError,
  fieldOf,
  fromRows,
  isField,
  mergeFields,
  type PartChange,
  type StoredPart,
} from '@true-lantern/core';
import type { PushResult } from '@true-lantern/wire';
import type { Transaction } from 'sequelize';
import type { Database } from '../store/database';
import type { Part } from '../store/models';
import { findSite, rowOf } from '../store/sites';

export interface Pusher {
  firmId: string;
  userId: string;
  siteId: string;
}

/**
 * Takes a device's changes in order, each in a transaction of its own: one refused change does not hold up the rest.
 * Null where the site is not this firm's.
 */
export async function push(database: Database, who: Pusher, changes: PartChange[]): Promise<PushResult[] | null> {
  if (!(await findSite(database, who.firmId, who.siteId))) return null;
  const results: PushResult[] = [];
  for (const change of changes) results.push(await pushOne(database, who, change));
  return results;
}

async function pushOne(database: Database, who: Pusher, change: PartChange): Promise<PushResult> {
  const { changeId, partId } = change;
  try {
    return await database.sequelize.transaction((transaction) => store(database, who, change, transaction));
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return { changeId, partId, status: 'refused', conflicts: [], faults: error.faults };
  }
}

async function store(
  database: Database,
  who: Pusher,
  change: PartChange,
  transaction: Transaction,
): Promise<PushResult> {
  const { Part, Change } = database.models;
  const { changeId, partId } = change;
  // The site's row is the lock: changes to one site are taken one after another, so that revisions never race.
  const site = await findSite(database, who.firmId, who.siteId, transaction);
  if (!site) throw new FaultError([{ path: 'site', message: 'is gone, expected a site of this firm' }]);

  const known = await Change.findOne({ where: { changeId }, transaction });
  const row = await Part.findOne({ where: { id: partId, firmId: who.firmId, siteId: who.siteId }, transaction });
  if (known) {
    if (known.firmId !== who.firmId || known.partId !== partId)
      throw new FaultError([{ path: 'changeId', message: 'belongs to another change, expected a new UUID' }]);
    return {
      changeId,
      partId,
      status: 'duplicate',
      ...(row ? { part: partOf(row) } : {}),
      conflicts: known.conflicts,
      faults: [],
    };
  }
  for (const field of Object.keys(change.set))
    if (!isField(field))
      throw new FaultError([{ path: `set["${field}"]`, message: 'is no field, expected a path such as "maxPv_V"' }]);

  const current = row ? partOf(row) : newPart(change);
  const past = row ? await Change.findAll({ where: { partId, firmId: who.firmId }, transaction }) : [];
  const { set, conflicts } = mergeFields(
    current,
    change,
    past.map(({ revision, fields, device }) => ({ revision, set: fields, device })),
  );
  const before = Object.fromEntries(Object.keys(set).map((field) => [field, fieldOf(current, field) ?? null]));
  const next = applyFields(current, set);
  const changed = Object.keys(set).length > 0;
  next.revision = row ? current.revision + (changed ? 1 : 0) : 1;
  if (changed) await assertSound(database, who, next, transaction);

  const values = {
    body: next.body,
    evidence: next.evidence,
    position: next.position,
    revision: next.revision,
    updatedBy: who.userId,
    deletedAt: next.deleted ? new Date() : null,
  };
  if (!row) await insertNew(database, who, next, values, transaction);
  else if (changed) await row.update(values, { transaction });
  await Change.create(
    {
      changeId,
      firmId: who.firmId,
      siteId: who.siteId,
      partId,
      baseRevision: change.baseRevision,
      revision: next.revision,
      device: change.device ?? null,
      fields: set,
      before,
      conflicts,
      madeAt: new Date(change.at),
      userId: who.userId,
    },
    { transaction },
  );
  if (next.kind === 'site' && typeof next.body.name === 'string') site.name = next.body.name;
  site.changed('updatedAt', true);
  await site.save({ transaction });
  return { changeId, partId, status: conflicts.length > 0 ? 'conflict' : 'applied', part: next, conflicts, faults: [] };
}

async function insertNew(
  database: Database,
  who: Pusher,
  next: StoredPart,
  values: Pick<Part, 'body' | 'evidence' | 'position' | 'revision' | 'updatedBy' | 'deletedAt'>,
  transaction: Transaction,
) {
  const taken = await database.models.Part.findByPk(next.id, { transaction });
  // The same words whoever it belongs to: another firm's ids are none of the writer's business.
  if (taken) throw new FaultError([{ path: 'partId', message: 'cannot be used, expected a new UUID' }]);
  await database.models.Part.create(
    { ...values, id: next.id, kind: next.kind, firmId: who.firmId, siteId: who.siteId },
    { transaction },
  );
}

function newPart({ partId, baseRevision, create }: PartChange): StoredPart {
  if (!create || baseRevision !== 0)
    throw new FaultError([
      { path: 'partId', message: 'names no part of this site, expected one that is there or "create"' },
    ]);
  assertRowKind(create.kind);
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

/** The whole job must still be a valid file with this part in it: nothing out of range, nothing dangling. */
async function assertSound({ models }: Database, who: Pusher, next: StoredPart, transaction: Transaction) {
  const parts = await models.Part.findAll({
    where: { firmId: who.firmId, siteId: who.siteId, deletedAt: null },
    transaction,
  });
  const others = parts.filter(({ id }) => id !== next.id).map(rowOf);
  checkSystemFile(fromRows(next.deleted ? others : [...others, next]));
}

const partOf = (row: Part): StoredPart => ({
  ...rowOf(row),
  deleted: row.deletedAt !== null && row.deletedAt !== undefined,
});
