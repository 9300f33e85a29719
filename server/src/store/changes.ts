import type { FieldConflict, PastEntry } from '@true-lantern/core';
import { QueryTypes } from 'sequelize';
import type { Database } from './database';

/** One answer holds so many entries, and so many bytes of them; at least one. The log itself keeps everything. */
const MOST = 200;
const MOST_BYTES = 1_000_000;

interface Past {
  changeId: string;
  partId: string;
  userId: string | null;
  madeAt: Date;
  revision: number;
  fields: PastEntry['fields'];
  before: PastEntry['before'];
  conflicts: FieldConflict[];
}

/**
 * The changes of a site, the newest first: as many as one answer holds, bounded in number and in bytes before any is read.
 * @param from the last change of the page before; null: from the newest
 */
export async function changesOf(
  { models, sequelize }: Database,
  firmId: string,
  siteId: string,
  from: string | null = null,
): Promise<{ changes: PastEntry[]; more: boolean }> {
  const { Part, User } = models;
  const [page, parts, people] = await Promise.all([
    sequelize.query<Past & { left: boolean }>(
      `with page as (
          select change_id, created_at, revision, octet_length(fields::text) + octet_length(before::text) as bytes
            from changes where firm_id = $1 and site_id = $2 and ($3::uuid is null or (created_at, revision, change_id) <
              (select created_at, revision, change_id from changes where change_id = $3 and site_id = $2))
            order by created_at desc, revision desc, change_id desc limit $4
        ), sized as (
          select change_id, row_number() over w as n, sum(bytes) over w as bytes, count(*) over () as found from page
            window w as (order by created_at desc, revision desc, change_id desc)
        ), chosen as (
          select change_id, n, found from sized where n <= $5 and (n = 1 or bytes <= $6)
        )
        select c.change_id as "changeId", c.part_id as "partId", c.user_id as "userId", c.made_at as "madeAt",
            c.revision, c.fields, c.before, c.conflicts, (select max(n) from chosen) < s.found as left
          from chosen s join changes c on c.change_id = s.change_id order by s.n`,
      { bind: [firmId, siteId, from, MOST + 1, MOST, MOST_BYTES], type: QueryTypes.SELECT },
    ),
    Part.findAll({ where: { firmId, siteId } }),
    User.findAll({ where: { firmId } }),
  ]);
  const partById = new Map(parts.map((part) => [part.id, part]));
  const names = new Map(people.map(({ id, name }) => [id, name]));
  const changes = page.map(({ changeId, partId, userId, madeAt, revision, fields, before, conflicts }) => {
    const part = partById.get(partId);
    const { label, name, title, role } = part?.body ?? {};
    return {
      changeId,
      partId,
      kind: part?.kind ?? '',
      part: String(label ?? name ?? title ?? role ?? part?.kind ?? ''),
      person: (userId && names.get(userId)) || null,
      madeAt: madeAt.toISOString(),
      revision,
      fields,
      before,
      ...(conflicts.length > 0 ? { conflicts } : {}),
    };
  });
  return { changes, more: page[0]?.left ?? false };
}
