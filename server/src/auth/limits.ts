import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { Problem } from '../problem';

/**
 * Sign-ins are counted in the database, so that all servers count together, and counted before the password is looked
 * at: of a thousand at once no more get through than one after the other.
 */
export interface SignInLimits {
  /** Counts one attempt, and makes it wait where the person has been tried often. @throws Problem 429 */
  attempt(email: string, address: string): Promise<void>;
  /** It was the right password: the attempt does not count, and this address is known for this person. */
  succeeded(email: string, address: string): Promise<void>;
  /** True the first time that this is asked of a key within ten minutes, on whichever server. */
  once(key: string): Promise<boolean>;
}

const QUARTER_S = 15 * 60;
/** Of one person from one address, of one address, and of one person from addresses where they were never seen. */
export const MOST = { pair: 8, address: 60, person: 100 } as const;
/** From this many of one person on, each attempt waits: a stranger slows it down, and locks nobody out. */
const FREE = 8;
const STEP_MS = 250;
const LONGEST_MS = 4000;
const KNOWN_S = 180 * 24 * 3600;
const ONCE_S = 600;

/** How long the attempt waits after so many of one person, ms: nothing up to eight, then doubling to four seconds. */
export const delayAfter_ms = (attempts: number) =>
  attempts <= FREE ? 0 : Math.min(LONGEST_MS, STEP_MS * 2 ** Math.min(10, attempts - FREE - 1));

/** A counter in the table `limits`: so many points in so many seconds, over all servers of the database. */
export const limiterOf = (storeClient: pg.Pool, keyPrefix: string, points: number, duration: number) =>
  new RateLimiterPostgres({ storeClient, tableName: 'limits', tableCreated: true, keyPrefix, points, duration });

/** The counters of sign-ins in the table `limits`. `wait` stands in for the clock in tests. */
export function signInLimits(
  pool: pg.Pool,
  wait: (ms: number) => Promise<void> = (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
): SignInLimits {
  const limiter = (keyPrefix: string, points: number, duration = QUARTER_S) =>
    limiterOf(pool, keyPrefix, points, duration);
  const byPair = limiter('pair', MOST.pair);
  const byAddress = limiter('address', MOST.address);
  const byPerson = limiter('person', MOST.person);
  const known = limiter('known', 1, KNOWN_S);
  const onceOnly = limiter('once', 1, ONCE_S);
  const person = (email: string) => email.trim().toLowerCase().slice(0, 200);
  const pair = (email: string, address: string) => `${person(email)} ${address}`;
  return {
    async attempt(email, address) {
      const [ofPair, ofAddress, seen] = await Promise.all([
        consume(byPair, pair(email, address)),
        consume(byAddress, address),
        known.get(pair(email, address)),
      ]);
      refuseOver([
        [ofPair, MOST.pair],
        [ofAddress, MOST.address],
      ]);
      // What was turned away at this address is no guess at the person: one address cannot lock them out at another.
      const ofPerson = await consume(byPerson, person(email));
      if (!seen) refuseOver([[ofPerson, MOST.person]]);
      if (!seen) await wait(delayAfter_ms(ofPerson.consumedPoints));
    },
    async succeeded(email, address) {
      await Promise.all([
        byPair.delete(pair(email, address)),
        byPerson.delete(person(email)),
        byAddress.reward(address),
        known.set(pair(email, address), 1, KNOWN_S),
      ]);
    },
    once: async (key) => (await consume(onceOnly, key)).consumedPoints === 1,
  };
}

/** @throws Problem 429 with the minutes to wait, where any count is over its most */
function refuseOver(counts: readonly [counted: RateLimiterRes, most: number][]): void {
  const over = counts.filter(([{ consumedPoints }, most]) => consumedPoints > most);
  if (over.length === 0) return;
  const minutes = Math.ceil(Math.max(...over.map(([{ msBeforeNext }]) => msBeforeNext)) / 60_000);
  throw new Problem(429, `Too many attempts. Try again in ${minutes} min.`);
}

/** Counts one, or so many; going over is an answer like any other, the database's trouble is passed on. */
export async function consume(limiter: RateLimiterPostgres, key: string, points = 1): Promise<RateLimiterRes> {
  try {
    return await limiter.consume(key, points);
  } catch (error) {
    if (error instanceof RateLimiterRes) return error;
    throw error;
  }
}
