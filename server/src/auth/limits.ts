import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { Problem } from '../http/problem';

/** Failed sign-ins are counted by person and by address, in the database, so that all servers count together. */
export interface SignInLimits {
  /** @throws Problem 429 when one of the two has failed too often */
  allow(email: string, address: string): Promise<void>;
  failed(email: string, address: string): Promise<void>;
  succeeded(email: string): Promise<void>;
}

export function signInLimits(pool: pg.Pool): SignInLimits {
  const limiter = (keyPrefix: string, points: number) =>
    new RateLimiterPostgres({
      storeClient: pool,
      tableName: 'limits',
      tableCreated: true,
      keyPrefix,
      points,
      duration: 15 * 60,
    });
  const byPerson = limiter('person', 8);
  const byAddress = limiter('address', 60);
  const person = (email: string) => email.trim().toLowerCase();
  return {
    async allow(email, address) {
      const used = [await byPerson.get(person(email)), await byAddress.get(address)];
      const [p, a] = used;
      if ((p && p.consumedPoints >= 8) || (a && a.consumedPoints >= 60)) {
        const wait = Math.ceil(Math.max(p?.msBeforeNext ?? 0, a?.msBeforeNext ?? 0) / 60_000);
        throw new Problem(429, `Too many wrong passwords. Try again in ${wait} min.`);
      }
    },
    async failed(email, address) {
      await Promise.all([consume(byPerson, person(email)), consume(byAddress, address)]);
    },
    async succeeded(email) {
      await byPerson.delete(person(email));
    },
  };
}

async function consume(limiter: RateLimiterPostgres, key: string) {
  try {
    await limiter.consume(key);
  } catch (error) {
    // Going over is what the next `allow` reports; anything else is the database's trouble and is passed on.
    if (!(error instanceof RateLimiterRes)) throw error;
  }
}
