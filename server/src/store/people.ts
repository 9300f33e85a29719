import { randomUUID } from 'node:crypto';
import type { Person, Role } from '@true-lantern/wire';
import { and, col, fn, literal, Op, QueryTypes, UniqueConstraintError, where } from 'sequelize';
import type { Database } from './database';
import { endCalendars } from './links';
import { shownOf } from './hash';

/** For signing in only: the one query that cannot know the firm yet. */
export const findPersonByEmail = ({ models }: Database, email: string) =>
  models.User.findOne({
    where: and(where(fn('lower', col('email')), email.trim().toLowerCase()), { removedAt: null }),
  });

/** What a session's person may do now; null where they are no more. Asked at every request, so one plain query. */
export async function standingOf(
  { sequelize }: Database,
  userId: string,
): Promise<{ firmId: string; role: Role; epoch: number; name: string; licensed: boolean } | null> {
  const [found] = await sequelize.query<{
    firmId: string;
    role: Role;
    epoch: number;
    name: string;
    licensed: boolean;
  }>(
    `select firm_id as "firmId", role, epoch, name, coalesce(licence, '') <> '' as licensed
      from users where id = $1 and removed_at is null`,
    { bind: [userId], type: QueryTypes.SELECT },
  );
  return found ?? null;
}

/** A person as the app shows them; null where they are not of this firm any more. */
export async function findPerson({ models }: Database, firmId: string, userId: string): Promise<Person | null> {
  const user = await models.User.findOne({ where: { id: userId, firmId, removedAt: null } });
  const firm = user && (await models.Firm.findByPk(firmId));
  if (!user || !firm) return null;
  const { id, name, email, role, licence } = user;
  return { id, name, email, role, licence, firm: { id: firm.id, name: firm.name } };
}

/** Everybody of a firm, by name; no addresses, no passwords. */
export async function peopleOf(
  { models }: Database,
  firmId: string,
): Promise<{ id: string; name: string; role: Role }[]> {
  const users = await models.User.findAll({ where: { firmId, removedAt: null }, order: [['name', 'ASC']] });
  return users.map(({ id, name, role }) => ({ id, name, role }));
}

/** Who is of a firm, and who of them may work on AC. */
export async function membersOf(
  { models }: Database,
  firmId: string,
): Promise<{ userId: string; licensed: boolean }[]> {
  const users = await models.User.findAll({ where: { firmId, removedAt: null }, attributes: ['id', 'licence'] });
  return users.map(({ id, licence }) => ({ userId: id, licensed: Boolean(licence) }));
}

/** Everybody of a firm with their addresses: for its owners. */
export async function peopleWithAddresses({ models }: Database, firmId: string) {
  const users = await models.User.findAll({ where: { firmId, removedAt: null }, order: [['name', 'ASC']] });
  return users.map(({ id, name, email, role, licence }) => ({ id, name, email, role, licence }));
}

/** What a person may do on AC, as the authority wrote it; null takes it off. */
export const setLicence = ({ models }: Database, firmId: string, id: string, licence: string | null) =>
  models.User.update({ licence }, { where: { id, firmId, removedAt: null } });

/** The row of a person of this firm who has not left; null where there is none. */
export const personOf = ({ models }: Database, firmId: string, id: string) =>
  models.User.findOne({ where: { id, firmId, removedAt: null } });

/** A person of a firm, new; null where somebody has that address already. */
export async function addPerson(
  { models }: Database,
  person: { firmId: string; name: string; email: string; passwordHash: string; role: Role },
) {
  try {
    return await models.User.create({ id: randomUUID(), ...person, email: person.email.trim() });
  } catch (error) {
    if (error instanceof UniqueConstraintError) return null;
    throw error;
  }
}

/**
 * Gives a person another role, or (with null) lets them go. False where that would leave the firm without an owner; the
 * firm's row is locked, so that two owners cannot demote each other at once.
 */
export function setRole(database: Database, firmId: string, id: string, role: Role | null): Promise<boolean> {
  const { models, sequelize } = database;
  return sequelize.transaction(async (transaction) => {
    await models.Firm.findByPk(firmId, { transaction, lock: true });
    const owners = await models.User.findAll({ where: { firmId, removedAt: null, role: 'owner' }, transaction });
    if (role !== 'owner' && owners.length === 1 && owners[0]?.id === id) return false;
    await models.User.update(
      role === null
        ? // The address is free again, and opens nothing.
          { removedAt: new Date(), email: `removed ${id}`, passwordHash: '', epoch: literal('epoch + 1') }
        : { role },
      { where: { id, firmId, removedAt: null }, transaction },
    );
    if (role === null) await models.Passkey.destroy({ where: { userId: id }, transaction });
    if (role === null) await endCalendars(database, firmId, id, transaction);
    // A link outlives nobody: not those that an owner handed out who is none any more, nor one that opens this account.
    if (role !== 'owner')
      await models.Invitation.destroy({
        where: { firmId, [Op.or]: [{ madeBy: id }, ...(role === null ? [{ userId: id }] : [])] },
        transaction,
      });
    return true;
  });
}

/** Another password ends every session but the one that is begun with it. Returns the new epoch. */
export async function setPassword({ models }: Database, id: string, passwordHash: string | null): Promise<number> {
  await models.User.update(
    { ...(passwordHash ? { passwordHash } : {}), epoch: literal('epoch + 1') },
    { where: { id } },
  );
  return (await models.User.findByPk(id))?.epoch ?? 0;
}

/** What a former member is called once their data is gone; what they did stays in the history. */
export const FORMER = 'a former member';
/** Takes the name of a person out of the history; what they did stays. */
export const forget = ({ models }: Database, firmId: string, id: string) =>
  models.User.update({ name: FORMER }, { where: { id, firmId } });

/** Everything that is kept about one person. */
export async function dataOf({ models }: Database, firmId: string, id: string) {
  const user = await models.User.findOne({ where: { id, firmId } });
  if (!user) return null;
  const [changes, audit] = await Promise.all([
    models.Change.findAll({ where: { firmId, userId: id }, order: [['createdAt', 'ASC']] }),
    models.Audit.findAll({ where: { firmId, userId: id }, order: [['id', 'ASC']] }),
  ]);
  return {
    person: { id, name: user.name, email: user.email, role: user.role },
    changes: changes.map(({ changeId, siteId, partId, fields, madeAt, device }) => ({
      changeId,
      siteId,
      partId,
      fields,
      at: madeAt.toISOString(),
      device,
    })),
    audit: audit.map(({ what, about, at }) => ({ what, about, at: at.toISOString() })),
  };
}

/** Sessions of a person, from the table that the sessions' package keeps. */
export async function sessionsOf({ sequelize }: Database, userId: string, epoch: number, here: string) {
  const rows = await sequelize.query<{ sid: string; since: string | null; agent: string | null }>(
    `select sid, sess->'who'->>'since' as since, sess->'who'->>'agent' as agent from session
      where sess->'who'->>'userId' = $1 and coalesce((sess->'who'->>'epoch')::int, 0) = $2 and expire > now()
      order by since desc nulls last limit 200`,
    { bind: [userId, epoch], type: QueryTypes.SELECT },
  );
  return rows.map(({ sid, since, agent }) => ({ id: shownOf(sid), since, agent: agent ?? '', here: sid === here }));
}

/** Ends one session of a person, by the name under which it was shown; somebody else's stays. */
export async function endSessionOf({ sequelize }: Database, userId: string, name: string): Promise<void> {
  const rows = await sequelize.query<{ sid: string }>(`select sid from session where sess->'who'->>'userId' = $1`, {
    bind: [userId],
    type: QueryTypes.SELECT,
  });
  const found = rows.find(({ sid }) => shownOf(sid) === name);
  if (found) await sequelize.query('delete from session where sid = $1', { bind: [found.sid] });
}
