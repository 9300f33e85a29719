import { numberOf } from '@true-lantern/core';
import type { RecordAnswer } from '@true-lantern/wire';
import { QueryTypes } from 'sequelize';
import type { Database } from './database';

/**
 * Whether a record of this number is kept here, and is still what it was signed as. Asked by whoever holds the paper, of
 * any firm or none: the number is in no list and cannot be guessed, and nothing of what the record says is told.
 */
export async function recordOf({ sequelize }: Database, hash: string): Promise<RecordAnswer | null> {
  const [found] = await sequelize.query<{ keptAt: Date; body: { record?: unknown } | null }>(
    `select r.kept_at as "keptAt", p.body from records r
      left join parts p on p.id = r.part_id and p.firm_id = r.firm_id and p.deleted_at is null where r.hash = $1`,
    { bind: [hash], type: QueryTypes.SELECT },
  );
  if (!found) return null;
  return {
    keptAt: found.keptAt.toISOString(),
    unchanged: numberOf(found.body?.record ?? null) === hash,
    corrections: Object.keys((found.body as { addenda?: object | null } | null)?.addenda ?? {}).length,
  };
}
