import type { Person, Role } from '@true-lantern/wire';
import { fn, col, where } from 'sequelize';
import type { Database } from './database';

/** For signing in only: the one query that cannot know the firm yet. */
export const findPersonByEmail = ({ models }: Database, email: string) =>
  models.User.findOne({ where: where(fn('lower', col('email')), email.trim().toLowerCase()) });

export async function findPerson({ models }: Database, firmId: string, userId: string): Promise<Person | null> {
  const user = await models.User.findOne({ where: { id: userId, firmId } });
  const firm = user && (await models.Firm.findByPk(firmId));
  if (!user || !firm) return null;
  return { id: user.id, name: user.name, email: user.email, role: user.role, firm: { id: firm.id, name: firm.name } };
}

/** Everybody of a firm, by name; no addresses, no passwords. */
export async function peopleOf(
  { models }: Database,
  firmId: string,
): Promise<{ id: string; name: string; role: Role }[]> {
  const users = await models.User.findAll({ where: { firmId }, order: [['name', 'ASC']] });
  return users.map(({ id, name, role }) => ({ id, name, role }));
}
