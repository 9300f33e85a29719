import { randomUUID } from 'node:crypto';
import type { Schools } from '@true-lantern/core';
import type { Firm, FirmSheet, MakeFirm } from '@true-lantern/wire';
import { QueryTypes } from 'sequelize';
import type { Database } from './database';
import type { User } from './models';
import { findPersonByEmail, peopleOf } from './people';

/** The firm with its people; null where it is gone. */
export async function firmOf(database: Database, firmId: string): Promise<Firm | null> {
  const firm = await database.models.Firm.findByPk(firmId);
  return (
    firm && {
      name: firm.name,
      schools: firm.schools,
      sheet: firm.sheet,
      people: await peopleOf(database, firmId),
    }
  );
}

/** The schools that its new sites begin with. */
export const setFirmSchools = ({ models }: Database, firmId: string, schools: Schools) =>
  models.Firm.update({ schools }, { where: { id: firmId } });

/** Sets what the papers show; the name is the firm's own, the logo stays. */
export function setFirmSheet(
  { models, sequelize }: Database,
  firmId: string,
  { name, ...sheet }: FirmSheet & { name?: string | undefined },
): Promise<void> {
  return sequelize.transaction(async (transaction) => {
    const firm = await models.Firm.findByPk(firmId, { transaction, lock: true });
    const { logo } = firm?.sheet ?? {};
    await firm?.update({ sheet: { ...sheet, ...(logo ? { logo } : {}) }, ...(name ? { name } : {}) }, { transaction });
  });
}

/** Puts a logo on the firm's papers, or takes it off. */
export function setLogo({ models, sequelize }: Database, firmId: string, logo: string | null): Promise<void> {
  return sequelize.transaction(async (transaction) => {
    const firm = await models.Firm.findByPk(firmId, { transaction, lock: true });
    await firm?.update({ sheet: { ...firm.sheet, logo } }, { transaction });
  });
}

/** True on a server that is still empty. */
export const noFirmYet = async ({ models }: Database): Promise<boolean> => (await models.Firm.count()) === 0;

/** Any number: of two who make the first firm at once, one comes second. */
const LOCK = 7_215_002;

/** A firm and its owner; null where there is one already and this is to be the first, or the address is taken. */
export function makeFirm(
  database: Database,
  { firm, name, email }: MakeFirm,
  passwordHash: string,
  { another = false }: { another?: boolean } = {},
): Promise<User | null> {
  const { models, sequelize } = database;
  return sequelize.transaction(async (transaction) => {
    await sequelize.query('select pg_advisory_xact_lock($1)', { bind: [LOCK], transaction, type: QueryTypes.SELECT });
    if (!another && (await models.Firm.count({ transaction })) > 0) return null;
    if (await findPersonByEmail(database, email)) return null;
    const { id } = await models.Firm.create({ id: randomUUID(), name: firm }, { transaction });
    return models.User.create(
      { id: randomUUID(), firmId: id, name, email: email.trim(), passwordHash, role: 'owner' },
      { transaction },
    );
  });
}
