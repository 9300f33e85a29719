import { QueryTypes, type Sequelize } from 'sequelize';
import { Umzug } from 'umzug';

/** Forward only: a step that was released is never edited, the next one mends it. */
const STEPS: { name: string; sql: string }[] = [
  {
    name: '001-firms-users-sites-parts-changes',
    sql: `
      create table firms (id uuid primary key, name text not null);
      create table users (
        id uuid primary key,
        firm_id uuid not null references firms,
        name text not null,
        email text not null,
        password_hash text not null,
        role text not null check (role in ('owner', 'technician', 'reader'))
      );
      create unique index users_email on users (lower(email));
      create table sites (
        id uuid primary key,
        firm_id uuid not null references firms,
        name text not null,
        archived_at timestamptz,
        created_at timestamptz not null default now(),
        updated_at timestamptz not null default now()
      );
      create index sites_firm on sites (firm_id);
      create table parts (
        id uuid primary key,
        firm_id uuid not null references firms,
        site_id uuid not null references sites on delete cascade,
        kind text not null,
        body jsonb not null,
        evidence jsonb not null default '{}',
        position integer not null default 0,
        revision integer not null default 1,
        updated_by uuid references users,
        deleted_at timestamptz
      );
      create index parts_site on parts (firm_id, site_id);
      create table changes (
        change_id uuid primary key,
        firm_id uuid not null references firms,
        site_id uuid not null references sites on delete cascade,
        part_id uuid not null,
        base_revision integer not null,
        revision integer not null,
        device text,
        fields jsonb not null,
        before jsonb not null,
        conflicts jsonb not null default '[]',
        made_at timestamptz not null,
        user_id uuid references users,
        created_at timestamptz not null default now()
      );
      create index changes_part on changes (part_id, revision);
      create index changes_site on changes (firm_id, site_id, created_at);
    `,
  },
  {
    name: '002-sessions-and-limits',
    sql: `
      create table session (sid varchar primary key, sess json not null, expire timestamp(6) not null);
      create index session_expire on session (expire);
      create table limits (key varchar(255) primary key, points integer not null default 0, expire bigint);
    `,
  },
  {
    name: '003-attachments-and-shelf',
    sql: `
      create table attachments (
        id uuid primary key,
        firm_id uuid not null references firms,
        site_id uuid not null references sites on delete cascade,
        type text not null,
        body bytea not null,
        small bytea,
        created_at timestamptz not null default now()
      );
      create index attachments_site on attachments (firm_id, site_id);
      create table shelf (
        id uuid primary key,
        firm_id uuid not null references firms,
        item jsonb not null,
        deleted_at timestamptz,
        updated_at timestamptz not null default now()
      );
      create index shelf_firm on shelf (firm_id);
      alter table firms add column schools jsonb not null default '{}';
    `,
  },
  {
    name: '004-people-audit-headlines',
    sql: `
      alter table users
        add column epoch integer not null default 0,
        add column removed_at timestamptz;
      create table invitations (
        id uuid primary key,
        firm_id uuid not null references firms,
        token_hash text not null unique,
        role text not null check (role in ('owner', 'technician', 'reader')),
        user_id uuid references users,
        made_by uuid references users,
        expires_at timestamptz not null,
        used_at timestamptz,
        created_at timestamptz not null default now()
      );
      create index invitations_firm on invitations (firm_id);
      create table audit (
        id bigserial primary key,
        firm_id uuid not null references firms,
        user_id uuid references users,
        what text not null,
        about text,
        at timestamptz not null default now()
      );
      create index audit_firm on audit (firm_id, at);
      alter table firms add column sheet jsonb not null default '{}';
      alter table sites
        add column revision integer not null default 0,
        add column headline jsonb;
    `,
  },
  {
    name: '005-passkeys',
    sql: `
      create table passkeys (
        id text primary key,
        firm_id uuid not null references firms,
        user_id uuid not null references users,
        name text not null,
        public_key bytea not null,
        counter bigint not null default 0,
        transports jsonb not null default '[]',
        used_at timestamptz,
        created_at timestamptz not null default now()
      );
      create index passkeys_user on passkeys (user_id);
    `,
  },
  {
    // Work on AC and on buildings is for whoever has one; null: none is recorded.
    name: '006-licences',
    sql: 'alter table users add column licence text;',
  },
  {
    // The number of every record that was signed; rows are only ever added.
    name: '007-records',
    sql: `
      create table records (
        hash text primary key,
        firm_id uuid not null references firms,
        site_id uuid not null references sites,
        part_id uuid not null,
        kept_at timestamptz not null default now()
      );
    `,
  },
  {
    // Addresses that need no sign-in: a person's calendar, a page for a customer. Of the token its hash alone is kept.
    name: '008-links',
    sql: `
      create table links (
        id uuid primary key,
        firm_id uuid not null references firms,
        site_id uuid references sites,
        user_id uuid references users,
        kind text not null,
        token_hash text not null unique,
        body jsonb not null default '{}',
        opened integer not null default 0,
        created_at timestamptz not null default now(),
        expires_at timestamptz
      );
      create index links_of_site on links (site_id);
      create index links_of_person on links (user_id);
    `,
  },
  {
    // What systems say of themselves: every value for a while, five minutes for a year, days for good.
    name: '009-live',
    sql: `
      create table live (
        site_id uuid not null references sites,
        subject text not null,
        quantity text not null,
        at timestamptz not null,
        value double precision not null,
        primary key (site_id, subject, quantity, at)
      ) partition by range (at);
      create table live_steps (
        site_id uuid not null references sites,
        subject text not null,
        quantity text not null,
        step_s integer not null,
        at timestamptz not null,
        least double precision not null,
        mean double precision not null,
        most double precision not null,
        count integer not null,
        primary key (site_id, step_s, subject, quantity, at)
      );
      create table live_touched (
        site_id uuid not null references sites,
        day date not null,
        primary key (site_id, day)
      );
    `,
  },
  {
    name: '010-fleet',
    sql: `
      create table fleet (
        site_id uuid not null references sites on delete cascade,
        firm_id uuid not null references firms,
        span text not null check (span in ('week', 'winter')),
        revision integer not null,
        on_day date not null,
        found jsonb not null,
        times integer not null default 1,
        computed_at timestamptz not null default now(),
        primary key (site_id, span)
      );
      create index fleet_firm on fleet (firm_id, span);
    `,
  },
  {
    name: '011-trips',
    sql: `
      create table trips (
        id uuid primary key,
        firm_id uuid not null references firms,
        body jsonb not null,
        updated_at timestamptz not null default now(),
        deleted_at timestamptz
      );
      create index trips_firm on trips (firm_id);
    `,
  },
  {
    // Devices that are asked; when a site was last heard; what is out of range now, told once; who wants to be told, and how.
    name: '012-watch',
    sql: `
      create table polled (
        part_id uuid primary key references parts on delete cascade,
        site_id uuid not null references sites on delete cascade,
        asked_at timestamptz not null,
        heard_at timestamptz,
        why text,
        kept bigint not null default 0,
        dropped bigint not null default 0
      );
      create index polled_site on polled (site_id);
      create table live_heard (
        site_id uuid primary key references sites on delete cascade,
        at timestamptz not null,
        came_at timestamptz not null default now(),
        watched_at timestamptz
      );
      -- Asked for each value, it took a third of the time; whose token it is was asked already, and no site is ever deleted.
      alter table live drop constraint live_site_id_fkey;
      alter table live_steps drop constraint live_steps_site_id_fkey;
      insert into live_heard (site_id, at, watched_at) select site_id, max(at), now() from live group by site_id;
      create table live_readings (
        site_id uuid not null references sites on delete cascade,
        day date not null,
        readings jsonb not null,
        primary key (site_id, day)
      );
      create table live_outside (
        site_id uuid not null references sites on delete cascade,
        subject text not null,
        quantity text not null,
        since timestamptz not null,
        inside_since timestamptz,
        sentence text not null,
        entry uuid not null,
        logged_at timestamptz,
        primary key (site_id, subject, quantity)
      );
      create table alerts (
        user_id uuid primary key references users on delete cascade,
        mail boolean not null default false,
        digest boolean not null default false,
        quiet_from smallint not null default 22 check (quiet_from between 0 and 23),
        quiet_to smallint not null default 7 check (quiet_to between 0 and 23),
        zone text not null default 'UTC',
        digest_on date
      );
      create table alerts_sent (
        user_id uuid not null references users on delete cascade,
        entry uuid not null,
        at timestamptz not null default now(),
        primary key (user_id, entry)
      );
    `,
  },
];

/** The names of all steps: what a database of this version has. */
export const SCHEMA: readonly string[] = STEPS.map(({ name }) => name);

/** Every table that a step has made, whatever version the database is of: ours, and no other program's. */
export const TABLES: readonly string[] = [
  'migrations',
  ...STEPS.flatMap(({ sql }) =>
    [...sql.matchAll(/create table (?:if not exists )?"?(\w+)"?/gi)].flatMap(([, name]) => name ?? []),
  ),
];

/** Any number; all servers of one database must agree on it. */
const LOCK = 7_215_001;

/**
 * Runs what is missing, all or nothing: each step and the note that it ran are one transaction. Several servers may start
 * at once: an advisory lock lets one of them do it.
 * @param most so many of the steps, as a version before this one had them (for tests of what it left)
 * @throws Error where the database is of a newer version than this server
 */
export async function migrate(sequelize: Sequelize, most = STEPS.length): Promise<void> {
  await sequelize.transaction(async (transaction) => {
    const ask = (sql: string, replacements: Record<string, unknown> = {}) =>
      sequelize.query<{ name: string }>(sql, { replacements, transaction, type: QueryTypes.SELECT });
    const tell = (sql: string, replacements?: Record<string, unknown>) =>
      sequelize.query(sql, { transaction, ...(replacements ? { replacements } : {}) });
    await ask('select pg_advisory_xact_lock(:lock)', { lock: LOCK });
    await tell('create table if not exists migrations (name varchar(255) primary key)');
    const executed = async () => (await ask('select name from migrations order by name')).map(({ name }) => name);
    const umzug = new Umzug({
      migrations: STEPS.slice(0, most).map(({ name, sql }) => ({ name, up: async () => void (await tell(sql)) })),
      storage: {
        executed,
        logMigration: async ({ name }) => void (await tell('insert into migrations (name) values (:name)', { name })),
        unlogMigration: () => Promise.reject(new Error('Steps go forward only.')),
      },
      logger: undefined,
    });
    const known = new Set(STEPS.map(({ name }) => name));
    const newer = (await executed()).find((name) => !known.has(name));
    if (newer)
      throw new Error(`the database is of a newer version (${newer}) than this server: start the newer server`);
    await umzug.up();
  });
}
