import { fromRows, type PartRow, type SystemFile } from '@true-lantern/core';
import { Op, type Transaction } from 'sequelize';
import type { Database } from './database';
import type { Part } from './models';

/** Every query of this file takes the firm: a row of another firm does not exist. */

export interface SiteSummary {
  id: string;
  name: string;
  updatedAt: string;
}

export async function listSites({ models }: Database, firmId: string, archived = false): Promise<SiteSummary[]> {
  const archivedAt = archived ? { [Op.ne]: null } : null;
  const sites = await models.Site.findAll({ where: { firmId, archivedAt }, order: [['name', 'ASC']] });
  return sites.map(({ id, name, updatedAt }) => ({ id, name, updatedAt: updatedAt.toISOString() }));
}

export const findSite = ({ models }: Database, firmId: string, id: string, transaction?: Transaction) =>
  models.Site.findOne({ where: { id, firmId }, ...(transaction ? { transaction, lock: true } : {}) });

export async function partsOf({ models }: Database, firmId: string, siteId: string): Promise<PartRow[]> {
  const parts = await models.Part.findAll({
    where: { firmId, siteId, deletedAt: null },
    order: [
      ['kind', 'ASC'],
      ['position', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  return parts.map(rowOf);
}

export const rowOf = ({ id, kind, body, evidence, position, revision }: Part): PartRow => ({
  id,
  kind,
  body,
  evidence,
  position,
  revision,
});

export async function fileOf(database: Database, firmId: string, siteId: string): Promise<SystemFile> {
  return fromRows(await partsOf(database, firmId, siteId));
}

/** Stores a whole job at once, or nothing. The rows' ids were made by whoever imports it. */
export async function createSite(
  { sequelize, models }: Database,
  {
    id,
    firmId,
    userId,
    name,
    rows,
  }: { id: string; firmId: string; userId: string | null; name: string; rows: PartRow[] },
): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    await models.Site.create({ id, firmId, name }, { transaction });
    await models.Part.bulkCreate(
      rows.map((row) => ({ ...row, firmId, siteId: id, updatedBy: userId })),
      { transaction },
    );
  });
}
