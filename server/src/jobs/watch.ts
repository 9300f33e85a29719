import { createHash } from 'node:crypto';
import { isQuiet, type SystemFile, messageOf } from '@true-lantern/core';
import type { Logger } from 'pino';
import { keepAlone } from '../live/alone';
import type { Mail, Post } from '../http/mail';
import type { Database } from '../store/database';
import { tellOfSite } from '../store/news';
import {
  claimTold,
  heardNow,
  keepLook,
  noteLogged,
  noteSilence,
  outsideOf,
  unclaimTold,
  unlogged,
  untold,
  unwatched,
  type HeardSite,
  type Unlogged,
  type Untold,
} from '../store/outside';
import { fileOf } from '../store/sites';
import { push } from '../sync/push';
import type { Pool } from '../threads/pool';

/**
 * Looks at what systems say, beside what their models expect: what is out of range, and a system that falls silent, go to
 * the log once, to the open pages of the firm, and by mail to whoever asked for it. One server of several does this.
 */

/** Within a minute somebody knows: a look in this rhythm. */
const LOOK_MS = 10_000;
/** Silence is a matter of an hour: it is looked for once a minute. */
const SILENCE_LOOKS = 6;
/** Any number; all servers of one database must agree on it. */
const LOCK = 7_215_006;
/** Sites at one look; those that wait longest come first. */
const MOST_SITES = 200;
/** Systems that are kept at hand as they stand. */
const MOST_KEPT = 500;
/** Whose name stands in the log. */
const WATCHER = 'True Lantern';

interface Around {
  database: Database;
  pool: Pool;
  log: Logger;
  post: Post | null;
  /** The address that a mail leads to. */
  publicUrl: string | undefined;
}

/** @returns what ends it */
export function keepWatch(around: Around, look_ms = LOOK_MS): () => Promise<void> {
  const { database, log } = around;
  const files = new Map<string, { revision: number; file: SystemFile }>();
  const fileAt = async ({ siteId, firmId, revision }: HeardSite): Promise<SystemFile> => {
    const kept = files.get(siteId);
    if (kept?.revision === revision) return kept.file;
    const file = await fileOf(database, firmId, siteId);
    files.delete(siteId);
    files.set(siteId, { revision, file });
    const [first] = files.keys();
    if (files.size > MOST_KEPT && first) files.delete(first);
    return file;
  };
  const look = async (site: HeardSite) => {
    const [file, before, heard] = await Promise.all([
      fileAt(site),
      outsideOf(database.pool, site.siteId),
      heardNow(database.pool, site.siteId),
    ]);
    const found = await around.pool.run('watch', { file, before, heard, now: Date.now() });
    await keepLook(database.pool, site, before, found);
  };
  let looks = 0;
  return keepAlone(database.pool, LOCK, log, look_ms, async () => {
    for (const site of await unwatched(database.pool, MOST_SITES))
      // A system that cannot be read holds up no other.
      await look(site).catch((error: unknown) =>
        log.warn({ site: site.siteId, reason: messageOf(error) }, 'live values could not be judged'),
      );
    if (looks++ % SILENCE_LOOKS === 0) await noteSilence(database.pool);
    for (const one of await unlogged(database.pool)) await writeDown(database, one, log);
    await mailAll(around);
  });
}

/** The entry of the log, under ids that follow from the event: however often it is tried, it stands there once. */
async function writeDown(database: Database, one: Unlogged, log: Logger): Promise<void> {
  const { siteId, firmId, subject, sentence, since, entry } = one;
  const nobody = { userId: '', name: WATCHER, licensed: false, firmId, siteId };
  const answer = await push(database, nobody, [
    {
      changeId: uuidFrom(`change ${entry}`),
      partId: uuidFrom(`part ${entry}`),
      baseRevision: 0,
      at: since.toISOString(),
      device: 'server',
      create: { kind: 'log', position: one.position },
      set: { id: `live-${entry}`, at: since.toISOString(), by: WATCHER, kind: 'fault', subject, text: sentence },
    },
  ]);
  const faults = answer?.results.flatMap((result) => result.faults) ?? [];
  if (faults.length > 0) log.warn({ site: siteId, faults }, 'what is out of range could not be written into the log');
  await noteLogged(database.pool, one);
  if (answer)
    await tellOfSite(database.sequelize, {
      firmId,
      siteId,
      revision: answer.revision,
      outside: `${one.site}: ${sentence}`,
    });
}

const uuidFrom = (text: string): string => {
  const hex = createHash('sha256').update(text).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
};

/** Mails what stands to who asked for it, one mail a person; in their quiet hours it waits, and what is over by then is not told. */
async function mailAll({ database, post, publicUrl }: Around): Promise<void> {
  if (!post || !publicUrl) return;
  const byPerson = new Map<string, Untold[]>();
  for (const one of await untold(database.pool)) byPerson.set(one.userId, [...(byPerson.get(one.userId) ?? []), one]);
  for (const [userId, all] of byPerson) {
    const [one] = all;
    if (!one || isQuiet(hourIn(one.zone), one.quietFrom, one.quietTo)) continue;
    const mine: Untold[] = [];
    for (const untoldOne of all) if (await claimTold(database.pool, userId, untoldOne.entry)) mine.push(untoldOne);
    if (mine.length > 0 && !(await post(outsideMail(mine, publicUrl))))
      for (const { entry } of mine) await unclaimTold(database.pool, userId, entry);
  }
}

/** The hour of now where somebody lives. */
const hourIn = (zone: string, now = new Date()): number =>
  Number(new Intl.DateTimeFormat('en-GB', { hour: '2-digit', hourCycle: 'h23', timeZone: zone }).format(now));

/** What is out of range, in plain words. */
export function outsideMail(mine: readonly Untold[], publicUrl: string): Mail {
  const [first] = mine;
  const sites = [...new Set(mine.map(({ site }) => site))];
  const lines = mine.map(({ site, siteId, sentence }) => `${site}: ${sentence}\n${publicUrl}/site/${siteId}/live`);
  return {
    to: first?.email ?? '',
    subject: sites.length === 1 ? `${sites[0]}: a live alert` : `${sites.length} sites: live alerts`,
    text: `${lines.join('\n\n')}\n\nYou get this because you asked ${first?.firm ?? 'the firm'} for it. Service, Live: change it there.\n`,
  };
}
