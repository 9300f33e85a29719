import type { AuditAnswer } from '@true-lantern/wire';
import { Op } from 'sequelize';
import type { Database } from './database';

const YEAR_MS = 366 * 24 * 3600 * 1000;
const MOST_SHOWN = 500;

/** What a firm can look up afterwards, a year long. */
export type Audited =
  | 'signed in'
  | 'signed out everywhere'
  | 'changed the password'
  | 'added a passkey'
  | 'invited'
  | 'joined'
  | 'created a password reset link'
  | 'changed the licence'
  | 'changed the role'
  | 'removed'
  | 'exported a site'
  | 'exported a person\u2019s data'
  | 'archived a site'
  | 'restored a site'
  | 'changed the firm sheet'
  | 'made a calendar address'
  | 'made a hand-over page'
  | 'ended a hand-over page'
  | 'made an offer link'
  | 'ended an offer link'
  | 'made a feed'
  | 'ended a feed'
  | 'created the firm';

/** How older versions wrote the same things down: rows of a year are still read. */
const FORMERLY: Record<string, Audited> = {
  'made a link for another password': 'created a password reset link',
  'put a site away': 'archived a site',
  'took a site back': 'restored a site',
  'made the firm': 'created the firm',
};

/** Writes down that somebody did something to the people or the door of the firm; `about` is whom or what. */
export const audit = (
  { models }: Database,
  firmId: string,
  userId: string,
  what: Audited,
  about: string | null = null,
) => models.Audit.create({ firmId, userId, what, about });

/** The newest first; what is older than a year is taken out on the way. */
export async function auditOf({ models }: Database, firmId: string): Promise<AuditAnswer> {
  await models.Audit.destroy({ where: { firmId, at: { [Op.lt]: new Date(Date.now() - YEAR_MS) } } });
  const [rows, people] = await Promise.all([
    models.Audit.findAll({ where: { firmId }, order: [['id', 'DESC']], limit: MOST_SHOWN }),
    models.User.findAll({ where: { firmId } }),
  ]);
  const names = new Map(people.map(({ id, name }) => [id, name]));
  return {
    entries: rows.map(({ userId, what, about, at }) => ({
      person: (userId && names.get(userId)) || null,
      what: FORMERLY[what] ?? what,
      about,
      at: at.toISOString(),
    })),
  };
}
