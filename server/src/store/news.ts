import { messageOf } from '@true-lantern/core';
import pg from 'pg';
import type { Logger } from 'pino';
import type { Sequelize, Transaction } from 'sequelize';

/**
 * News of sites between the servers of one database, by PostgreSQL's own LISTEN and NOTIFY: told within the transaction, so
 * that nobody hears of what was not kept. Who is not there at the moment hears nothing, and asks instead.
 */

/** The channel's name: a word for the database, not for a person. */
const CHANNEL = 'site_news';
/** A lost connection is opened anew after so long, ms. */
const AGAIN_MS = 1000;
/** Who listens is told in this rhythm that somebody is there, ms: no proxy between takes them for gone. */
const BEAT_MS = 20_000;

/** A site of a firm has moved on. */
export interface SiteNews {
  firmId: string;
  siteId: string;
  revision: number;
  /** It is new on the list, or has left it. */
  listed?: boolean;
  /** A value of it is out of range since now, in a sentence. */
  outside?: string;
}

/** In an SQL text, what tells that a site was changed: expressions for the firm's id, the site's id and its revision. */
export const telling = (firmId: string, siteId: string, revision: string): string =>
  `pg_notify('${CHANNEL}', json_build_object('firmId', ${firmId}::text, 'siteId', ${siteId}::text, 'revision', ${revision}::int)::text)`;

/** Tells every server of a site that was made, archived or restored, or has something to say. */
export async function tellOfSite(sequelize: Sequelize, news: SiteNews, transaction?: Transaction): Promise<void> {
  await sequelize.query('select pg_notify($1, $2)', {
    bind: [CHANNEL, JSON.stringify(news)],
    ...(transaction ? { transaction } : {}),
  });
}

/** Hears what any server of this database tells. */
export interface News {
  /**
   * @param lost the database was not heard for a time: what was told meanwhile is not told again
   * @returns what ends it
   */
  listen(firmId: string, hear: (news: SiteNews) => void, lost: () => void): () => void;
  /** True while the database can be heard: else a listener had better ask. */
  open(): boolean;
  readonly beat_ms: number;
  close(): Promise<void>;
}

interface Listener {
  hear(news: SiteNews): void;
  lost(): void;
}

/** One connection for all listeners of this server, opened anew when it is lost. */
export function openNews(databaseUrl: string, log: Logger, beat_ms = BEAT_MS): News {
  const listeners = new Map<string, Set<Listener>>();
  let client: pg.Client | null = null;
  let heard = false;
  let ended = false;
  let timer: NodeJS.Timeout | undefined;

  const again = (reason: string) => {
    if (ended || timer) return;
    if (heard) {
      log.warn({ reason }, 'news of sites are not heard; trying again');
      for (const own of listeners.values()) for (const { lost } of own) lost();
    }
    heard = false;
    timer = setTimeout(() => {
      timer = undefined;
      void connect();
    }, AGAIN_MS);
  };
  const connect = async () => {
    const mine = new pg.Client({ connectionString: databaseUrl, keepAlive: true });
    client = mine;
    mine.on('error', (error) => again(error.message));
    mine.on('end', () => again('the connection ended'));
    mine.on('notification', ({ payload }) => {
      const news = JSON.parse(payload ?? '{}') as SiteNews;
      for (const { hear } of listeners.get(news.firmId) ?? []) hear(news);
    });
    try {
      await mine.connect();
      await mine.query(`listen ${CHANNEL}`);
      heard = true;
    } catch (error) {
      await mine.end().catch(() => undefined);
      again(messageOf(error));
    }
  };
  void connect();
  return {
    listen(firmId, hear, lost) {
      const own = listeners.get(firmId) ?? new Set();
      const mine = { hear, lost };
      listeners.set(firmId, own);
      own.add(mine);
      return () => {
        own.delete(mine);
        if (own.size === 0 && listeners.get(firmId) === own) listeners.delete(firmId);
      };
    },
    open: () => heard,
    beat_ms,
    async close() {
      ended = true;
      clearTimeout(timer);
      await client?.end().catch(() => undefined);
    },
  };
}
