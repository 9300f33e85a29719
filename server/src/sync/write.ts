import { QueryTypes } from 'sequelize';
import { telling } from '../store/news';
import { newlySigned } from './rights';
import type { Standing } from './as-stored';

/** All of it in one statement, at the end: parts that are new, parts that changed, the log, the site. */
export async function write({
  database,
  who,
  site,
  transaction,
  parts,
  made,
  touched,
  log,
}: Standing): Promise<number> {
  if (log.length === 0) return site.revision;
  const signed = log.flatMap(({ was, part }) =>
    newlySigned(was, part) && typeof part.body.recordHash === 'string'
      ? [{ hash: part.body.recordHash, part_id: part.id }]
      : [],
  );
  if (signed.length > 0)
    await database.sequelize.query(
      `insert into records (hash, firm_id, site_id, part_id)
        select hash, $1, $2, part_id from jsonb_to_recordset($3::jsonb) as r(hash text, part_id uuid)
        on conflict (hash) do nothing`,
      { bind: [who.firmId, who.siteId, JSON.stringify(signed)], transaction },
    );
  const put = (ids: Iterable<string>) => JSON.stringify([...ids].flatMap((id) => parts.get(id) ?? []));
  const logged = log.map(({ change, part, set, before, conflicts }) => ({
    change_id: change.changeId,
    part_id: part.id,
    base_revision: change.baseRevision,
    revision: part.revision,
    device: change.device ?? null,
    fields: set,
    before,
    conflicts,
    made_at: new Date(change.at).toISOString(),
  }));
  const [row] = await database.sequelize.query<{ revision: number }>(
    `with fresh as (
        insert into parts (id, firm_id, site_id, kind, body, evidence, "position", revision, updated_by, deleted_at)
        select id, $1, $2, kind, body, evidence, "position", revision, $3, case when deleted then now() end
          from jsonb_to_recordset($4::jsonb) as p(id uuid, kind text, body jsonb, evidence jsonb, "position" int,
            revision int, deleted boolean)
      ), changed as (
        update parts set body = p.body, evidence = p.evidence, "position" = p."position", revision = p.revision,
            updated_by = $3, deleted_at = case when p.deleted then now() end
          from jsonb_to_recordset($5::jsonb) as p(id uuid, body jsonb, evidence jsonb, "position" int, revision int,
            deleted boolean)
          where parts.id = p.id and parts.firm_id = $1 and parts.site_id = $2
      ), logged as (
        insert into changes (change_id, firm_id, site_id, part_id, base_revision, revision, device, fields, before,
            conflicts, made_at, user_id)
        select change_id, $1, $2, part_id, base_revision, revision, device, fields, before, conflicts, made_at, $3
          from jsonb_to_recordset($6::jsonb) as c(change_id uuid, part_id uuid, base_revision int, revision int,
            device text, fields jsonb, before jsonb, conflicts jsonb, made_at timestamptz)
      )
      update sites set name = $7, revision = revision + 1, updated_at = now() where id = $2 returning revision, ${telling('$1', '$2', 'revision')}`,
    {
      bind: [
        who.firmId,
        who.siteId,
        // Nobody's: what the server itself has noted.
        who.userId || null,
        put(made),
        put([...touched].filter((id) => !made.has(id))),
        JSON.stringify(logged),
        site.name,
      ],
      type: QueryTypes.SELECT,
      transaction,
    },
  );
  return row?.revision ?? site.revision;
}
