import { liveLines, MOST_A_MINUTE, MOST_LINES } from '@true-lantern/core';
import type { LiveAnswer } from '@true-lantern/wire';
import { consume, limiterOf } from '../auth/limits';
import { Problem } from '../problem';
import type { Database } from '../store/database';
import { openLink } from '../store/links';
import { keepLive, partIds } from '../store/live';

/** Too much at once: the same may be sent again after some seconds. */
export class TooMany extends Problem {
  constructor(readonly wait_s: number) {
    super(429, `A site sends ${MOST_A_MINUTE} lines a minute at most.`);
  }
}

/** Takes lines of live values by a token. Answered means kept. */
export type Ingest = (token: string | undefined, text: string) => Promise<LiveAnswer>;

/**
 * One way in for values, however they come (docs/live.md).
 * @returns a function that throws Problem 401 for a token that is not known, 413 for too many lines, TooMany
 */
export function openIngest(database: Database): Ingest {
  const rate = limiterOf(database.pool, 'live', MOST_A_MINUTE, 60);
  return async (token, text) => {
    const feed = token && TOKEN.test(token) ? await openLink(database, 'feed', token) : null;
    if (!feed?.siteId) throw new Problem(401, 'This token is not known, or has ended.');
    const { values, refused, lines } = liveLines(text, Date.now(), await partIds(database.pool, feed.siteId));
    if (lines > MOST_LINES)
      throw new Problem(413, `A request has ${MOST_LINES} lines at most. Send the rest in another.`);
    // Counted by lines, understood or not: a device that sends nonsense fills nothing either.
    const { consumedPoints, msBeforeNext } = await consume(rate, feed.siteId, Math.max(1, lines));
    if (consumedPoints > MOST_A_MINUTE) throw new TooMany(Math.ceil(msBeforeNext / 1000));
    await keepLive(database.pool, feed.siteId, values);
    return { kept: values.length, refused };
  };
}
const TOKEN = /^[\w-]{10,100}$/;

/** The token of an Authorization header. */
export const bearerOf = (header: string | undefined): string | undefined => /^Bearer ([\w-]+)$/.exec(header ?? '')?.[1];
