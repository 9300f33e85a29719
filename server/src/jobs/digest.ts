import { counted, dateOf, type FleetSite } from '@true-lantern/core';
import type { Logger } from 'pino';
import type { Mail, Post } from '../http/mail';
import { keepAlone } from '../live/alone';
import { claimDigest, digestReaders } from '../store/alerts';
import type { Database } from '../store/database';
import { fleetOf } from '../store/fleet';
import { listSites } from '../store/sites';
import type { Fleet } from './fleet';

/** The day's list of sites that may lose power, by mail to who asked for it, once the day's figures are worked out. */

const LOOK_MS = 60_000;
/** Any number; all servers of one database must agree on it. */
const LOCK = 7_215_007;
/** From this hour on, local: the figures are begun at four. */
const HOUR = 16;
/** Named at all from this chance on; less is said as a count. */
const NAMED = 0.05;

interface Around {
  database: Database;
  fleet: Fleet;
  log: Logger;
  post: Post;
  publicUrl: string;
  today(): number;
  /** The hour of now, local. */
  hour?: () => number;
}

/** @returns what ends it */
export function keepDigest(around: Around, look_ms = LOOK_MS): () => Promise<void> {
  const { database, fleet, log, post, publicUrl, today } = around;
  const hour = around.hour ?? (() => new Date().getHours());
  return keepAlone(database.pool, LOCK, log, look_ms, async () => {
    if (hour() < HOUR) return;
    const on = dateOf(today());
    for (const { userId, firmId, firm, email } of await digestReaders(database.pool, on)) {
      const [sites, known] = await Promise.all([listSites(database, firmId), fleetOf(database.pool, firmId, 'week')]);
      const rows = sites.map(({ id, name, revision }) => {
        const row = known.get(id);
        return { id, name, found: row?.on === on && row.revision === revision ? row.found : null };
      });
      // Not all worked out yet: later today, whatever has been by then.
      if (rows.some(({ found }) => !found)) {
        await fleet.ask(firmId, 'week');
        if (hour() < 23) continue;
      }
      if (await claimDigest(database.pool, userId, on)) await post(digestMail(email, { firm, on, publicUrl, rows }));
    }
  });
}

interface Row {
  id: string;
  name: string;
  found: FleetSite | null;
}

/** The list in plain words, the worst first. Nothing of one site tells of another firm's. */
export function digestMail(
  to: string,
  { firm, on, publicUrl, rows }: { firm: string; on: string; publicUrl: string; rows: readonly Row[] },
): Mail {
  const judged = rows.flatMap(({ found, ...row }) =>
    found && found.dark !== null ? [{ ...row, found, dark: found.dark }] : [],
  );
  const named = judged.filter(({ dark }) => dark >= NAMED).sort((a, b) => b.dark - a.dark);
  const unknown = rows.length - judged.length;
  const lines = named.map(({ id, name, dark, found }) =>
    [
      `${name}: ${Math.round(100 * dark)} % chance of a power cut within 7 days${found.assumed ? ' (charge assumed, not read)' : ''}`,
      ...found.lines.map((line) => `  ${line}`),
      `  ${publicUrl}/site/${id}/ahead`,
    ].join('\n'),
  );
  const rest = [
    named.length === 0 ? 'No site is likely to lose power in the next 7 days.' : '',
    named.length > 0 && judged.length > named.length
      ? `${counted(judged.length - named.length, 'more site')}: below 5 %.`
      : '',
    unknown > 0 ? `${counted(unknown, 'site')} could not be judged: something is not recorded.` : '',
  ].filter(Boolean);
  return {
    to,
    subject: `${firm}, ${on}: ${named.length === 0 ? 'no site at risk' : `${counted(named.length, 'site')} may lose power`}`,
    text: `${[...lines, ...rest].join('\n\n')}\n\nPlanning values from simulated weather. You get this because you asked for it: Sites, Risk of power cuts.\n`,
  };
}
