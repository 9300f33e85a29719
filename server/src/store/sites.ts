import { fromRows, type PartRow, type SystemFile } from '@true-lantern/core';
import type { Headline, SiteSummary } from '@true-lantern/wire';
import { Op, QueryTypes, UniqueConstraintError } from 'sequelize';
import { batchesOf, type Batches } from './batches';
import type { Database } from './database';
import type { Site } from './models';
import { tellOfSite } from './news';

/** Every query of this file takes the firm: a row of another firm does not exist. */

/** The firm's sites by name, or those that were put away. */
export async function listSites({ models }: Database, firmId: string, archived = false): Promise<SiteSummary[]> {
  const archivedAt = archived ? { [Op.ne]: null } : null;
  const sites = await models.Site.findAll({ where: { firmId, archivedAt }, order: [['name', 'ASC']] });
  return sites.map((site) => ({
    id: site.id,
    name: site.name,
    updatedAt: site.updatedAt.toISOString(),
    revision: site.revision,
    headline: headlineOf(site),
  }));
}

/** What was last worked out of a site; null where nobody has. */
export const headlineOf = ({ headline }: Site): Headline | null => headline ?? null;

/** Keeps what a device worked out, where the site still stands as it did then. */
export const setHeadline = ({ models }: Database, firmId: string, id: string, headline: Headline) =>
  // Not a change of the site: `silent`, or the list would say that it was edited.
  models.Site.update({ headline }, { where: { id, firmId, revision: headline.revision }, silent: true });

/** A site of this firm; null where it is another's, or not there. */
export const findSite = ({ models }: Database, firmId: string, id: string) =>
  models.Site.findOne({ where: { id, firmId } });

/** A plain query: a site's rows are requested most often, and a model of each would cost more than the database. */
export async function partsOf({ sequelize }: Database, firmId: string, siteId: string): Promise<PartRow[]> {
  return sequelize.query<PartRow>(
    `select id, kind, body, evidence, position, revision from parts
      where firm_id = $1 and site_id = $2 and deleted_at is null order by kind, position, id`,
    { bind: [firmId, siteId], type: QueryTypes.SELECT },
  );
}

/** One row of a site; null where it is not there any more. */
export async function partOf(
  { sequelize }: Database,
  firmId: string,
  siteId: string,
  id: string,
): Promise<PartRow | null> {
  const [found] = await sequelize.query<PartRow>(
    `select id, kind, body, evidence, position, revision from parts
      where firm_id = $1 and site_id = $2 and id = $3 and deleted_at is null`,
    { bind: [firmId, siteId, id], type: QueryTypes.SELECT },
  );
  return found ?? null;
}

/** A site as a file of the open format, from its rows. */
export async function fileOf(database: Database, firmId: string, siteId: string): Promise<SystemFile> {
  return fromRows(await partsOf(database, firmId, siteId));
}

/** A job that somebody brings, with the ids under which its parts are known to them. */
export interface Imported {
  id: string;
  firmId: string;
  userId: string | null;
  name: string;
}

/**
 * Stores a whole job at once, or nothing. `known`: it was sent before (a signal that came and went), and the first time
 * counted. `taken`: an id is another's, whoever that is.
 */
export async function importSite(database: Database, job: Imported & Batches): Promise<'created' | 'known' | 'taken'> {
  const { models } = database;
  // Whose it is is asked last: another sending of the same job may be stored between two questions.
  const whose = async () => ((await findSite(database, job.firmId, job.id)) ? 'known' : 'taken');
  if (await models.Site.findByPk(job.id)) return whose();
  if (await anyOf(database, job.ids)) return whose();
  try {
    await store(database, job);
    return 'created';
  } catch (error) {
    // Sent twice side by side: whoever came second finds the first one's rows where it looked and saw none.
    if (!(error instanceof UniqueConstraintError)) throw error;
    return whose();
  }
}

/** Writes a read file down as a new site, all of it or nothing. */
export const createSite = (database: Database, { rows, ...job }: Imported & { rows: PartRow[] }): Promise<void> =>
  store(database, { ...job, batches: batchesOf(rows) });

async function store({ sequelize, models }: Database, job: Imported & Pick<Batches, 'batches'>): Promise<void> {
  const { id, firmId, userId, name, batches } = job;
  await sequelize.transaction(async (transaction) => {
    await models.Site.create({ id, firmId, name }, { transaction });
    for (const batch of batches)
      await sequelize.query(
        `insert into parts (id, firm_id, site_id, kind, body, evidence, position, revision, updated_by)
          select id, $2, $3, kind, body, evidence, position, revision, $4 from jsonb_to_recordset($1::jsonb)
          as given (id uuid, kind text, body jsonb, evidence jsonb, position integer, revision integer)`,
        { bind: [batch, firmId, id, userId], transaction },
      );
    await tellOfSite(sequelize, { firmId, siteId: id, revision: 0, listed: true }, transaction);
  });
}

async function anyOf({ sequelize }: Database, ids: readonly string[]): Promise<boolean> {
  const [found] = await sequelize.query<{ one: number }>(
    'select 1 as one from parts where id = any($1::uuid[]) limit 1',
    {
      bind: [ids],
      type: QueryTypes.SELECT,
    },
  );
  return found !== undefined;
}

/** Puts a site away, or takes it back; one that is away stays so since it was put away first. */
export async function archiveSite({ sequelize }: Database, site: Site, archived: boolean): Promise<void> {
  await site.update({ archivedAt: archived ? (site.archivedAt ?? new Date()) : null });
  await tellOfSite(sequelize, { firmId: site.firmId, siteId: site.id, revision: site.revision, listed: true });
}
