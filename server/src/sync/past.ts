import type { PartChange, PastChange, StoredPart } from '@true-lantern/core';
import { QueryTypes } from 'sequelize';
import type { Standing } from './as-stored';

/** What was set since the writer's revision: by others, as stored, and by this push itself. */
export async function pastOf(standing: Standing, row: StoredPart, change: PartChange): Promise<PastChange[]> {
  const { log, storedRevisions, past } = standing;
  if (change.baseRevision >= row.revision) return [];
  const here = log
    .filter(({ part }) => part.id === row.id)
    .map(({ part, set, change: { device } }): PastChange => ({ revision: part.revision, set, device: device ?? null }));
  if (change.baseRevision >= (storedRevisions.get(row.id) ?? 0)) return here;
  const stored = past.get(row.id) ?? storedPast(standing, row.id);
  past.set(row.id, stored);
  return [...(await stored), ...here];
}

/** The latest that each device set of each field of a part that this push speaks of, since the earliest of its bases. */
async function storedPast(standing: Standing, partId: string): Promise<PastChange[]> {
  const { database, transaction, given, storedRevisions } = standing;
  // What a device made as a part of its own may yet turn out to be this one: the second bank of two phones.
  const ours = given.filter((change) => change.partId === partId || !storedRevisions.has(change.partId));
  const fields = [...new Set(ours.flatMap(({ set }) => Object.keys(set)))];
  // "settings" and "settings.absorb_V" speak of the same thing: what stands above a field counts, and what is within it.
  const above = fields.flatMap((field) => field.split('.').map((_, i, steps) => steps.slice(0, i + 1).join('.')));
  const within = fields.map((field) => `${field}.%`);
  const stored = await database.sequelize.query<{ field: string; device: string | null; revision: number }>(
    `select k as field, device, max(revision) as revision from changes, jsonb_object_keys(fields) k
      where part_id = $1 and revision > $2 and (k = any($3::text[]) or k like any($4::text[])) group by k, device`,
    {
      bind: [partId, Math.min(...ours.map(({ baseRevision }) => baseRevision)), above, within],
      type: QueryTypes.SELECT,
      transaction,
    },
  );
  return stored.map(({ field, device, revision }) => ({ revision, set: { [field]: null }, device }));
}
