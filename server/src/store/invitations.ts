import { randomBytes, randomUUID } from 'node:crypto';
import type { Invitation as Shown, Role } from '@true-lantern/wire';
import { Op } from 'sequelize';
import type { Database } from './database';
import { hashOf } from './hash';
import type { Invitation } from './models';

const DAY_MS = 24 * 3600 * 1000;
/** A link to join waits for somebody who is on the road; one for a password opens an account that is there. */
const JOIN_MS = 7 * DAY_MS;
const PASSWORD_MS = DAY_MS;

/** Makes a link's token, which is told once; the database has its hash alone. */
export async function invite(
  { models }: Database,
  by: { firmId: string; userId: string },
  role: Role,
  userId: string | null = null,
): Promise<{ token: string; invitation: Invitation }> {
  const token = randomBytes(24).toString('base64url');
  const invitation = await models.Invitation.create({
    id: randomUUID(),
    firmId: by.firmId,
    tokenHash: hashOf(token),
    role,
    userId,
    madeBy: by.userId,
    expiresAt: new Date(Date.now() + (userId ? PASSWORD_MS : JOIN_MS)),
  });
  return { token, invitation };
}

const open = () => ({ usedAt: null, expiresAt: { [Op.gt]: new Date() } });

/**
 * The open invitation of a token; null where it was used, has expired, or never was, and where who made it is no owner of
 * the firm any more: one that was made in the moment of their going lets nobody in.
 */
export async function findInvitation({ models }: Database, token: string): Promise<Invitation | null> {
  const invitation = await models.Invitation.findOne({ where: { tokenHash: hashOf(token), ...open() } });
  if (!invitation?.madeBy) return invitation;
  const { firmId, madeBy } = invitation;
  const maker = await models.User.findOne({ where: { id: madeBy, firmId, removedAt: null, role: 'owner' } });
  return maker ? invitation : null;
}

/** Uses it up: true once, whoever asks at the same moment. */
export async function useUp({ models }: Database, id: string): Promise<boolean> {
  const [count] = await models.Invitation.update({ usedAt: new Date() }, { where: { id, ...open() } });
  return count === 1;
}

/** The other way about: what it was used for did not come to be. */
export const stillGood = ({ models }: Database, id: string) =>
  models.Invitation.update({ usedAt: null }, { where: { id } });

/** The invitations of a firm that are still good, as its owner sees them. */
export async function invitationsOf({ models }: Database, firmId: string): Promise<Shown[]> {
  const [rows, people] = await Promise.all([
    models.Invitation.findAll({ where: { firmId, ...open() }, order: [['createdAt', 'ASC']] }),
    models.User.findAll({ where: { firmId } }),
  ]);
  const names = new Map(people.map(({ id, name }) => [id, name]));
  return rows.map((row) => shown(row, (row.userId && names.get(row.userId)) || null));
}

/** An invitation without its token, which only its maker sees, once. */
export const shown = ({ id, role, expiresAt }: Invitation, person: string | null): Shown => ({
  id,
  role,
  person,
  expiresAt: expiresAt.toISOString(),
});

/** Ends an invitation of this firm; one that is not there is no fault. */
export const takeBack = ({ models }: Database, firmId: string, id: string) =>
  models.Invitation.destroy({ where: { id, firmId } });
