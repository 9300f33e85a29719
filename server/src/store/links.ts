import { randomBytes, randomUUID } from 'node:crypto';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Database } from './database';
import { hashOf } from './hash';

/** Addresses that open one thing without a sign-in: 128 bits, kept as their hash, counted, ended at any time. */
export type LinkKind = 'calendar' | 'handover' | 'feed' | 'offer';

/** A link as it is kept. */
export interface Link<Body = unknown> {
  id: string;
  firmId: string;
  siteId: string | null;
  userId: string | null;
  body: Body;
  opened: number;
  createdAt: Date;
  expiresAt: Date | null;
}

const COLUMNS = `l.id, l.firm_id as "firmId", l.site_id as "siteId", l.user_id as "userId", l.body, l.opened,
  l.created_at as "createdAt", l.expires_at as "expiresAt"`;
const GOOD = '(l.expires_at is null or l.expires_at > now())';

/** Makes a link. Its token is told once; the database has its hash alone. */
export async function makeLink(
  { sequelize }: Database,
  kind: LinkKind,
  of: { firmId: string; siteId: string | null; userId: string; body: unknown; days: number | null },
): Promise<{ token: string; id: string }> {
  const token = randomBytes(16).toString('base64url');
  const id = randomUUID();
  await sequelize.query(
    `insert into links (id, firm_id, site_id, user_id, kind, token_hash, body, expires_at)
      values ($1, $2, $3, $4, $5, $6, $7, now() + $8::float8 * interval '1 day')`,
    {
      bind: [id, of.firmId, of.siteId, of.userId, kind, hashOf(token), JSON.stringify(of.body), of.days],
      type: QueryTypes.INSERT,
    },
  );
  return { token, id };
}

/** The link of a token, counted; null where it has ended or never was. */
export async function openLink<Body>(
  { sequelize }: Database,
  kind: LinkKind,
  token: string,
): Promise<Link<Body> | null> {
  const [found] = await sequelize.query<Link<Body>>(
    `update links l set opened = opened + 1 where l.kind = $1 and l.token_hash = $2 and ${GOOD} returning ${COLUMNS}`,
    { bind: [kind, hashOf(token)], type: QueryTypes.SELECT },
  );
  return found ?? null;
}

/** The links of a kind that are still good, of a site or of a person, the newest first. */
export const linksOf = (
  { sequelize }: Database,
  kind: LinkKind,
  { firmId, siteId, userId }: { firmId: string; siteId?: string; userId?: string },
): Promise<(Link & { by: string | null })[]> =>
  sequelize.query<Link & { by: string | null }>(
    `select ${COLUMNS}, u.name as "by" from links l left join users u on u.id = l.user_id
      where l.kind = $1 and l.firm_id = $2 and ($3::uuid is null or l.site_id = $3) and ($4::uuid is null or l.user_id = $4)
        and ${GOOD} order by l.created_at desc`,
    { bind: [kind, firmId, siteId ?? null, userId ?? null], type: QueryTypes.SELECT },
  );

/** A link as it is told to the firm: never its token. */
export const shownLink = ({ id, createdAt, expiresAt, opened, by }: Link & { by: string | null }) => ({
  id,
  createdAt: createdAt.toISOString(),
  expiresAt: expiresAt?.toISOString() ?? '',
  opened,
  by,
});

/** Ends one. */
export const endLink = ({ sequelize }: Database, kind: LinkKind, firmId: string, id: string) =>
  sequelize.query('delete from links where kind = $1 and firm_id = $2 and id = $3', { bind: [kind, firmId, id] });

/** Ends the calendars of a person: with their going, or for a new address. */
export const endCalendars = ({ sequelize }: Database, firmId: string, userId: string, transaction?: Transaction) =>
  sequelize.query("delete from links where kind = 'calendar' and firm_id = $1 and user_id = $2", {
    bind: [firmId, userId],
    ...(transaction ? { transaction } : {}),
  });
