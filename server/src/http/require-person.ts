import { isUuid } from '@true-lantern/wire';
import type { Database } from '../store/database';
import type { User } from '../store/models';
import { personOf } from '../store/people';
import { notFound } from '../problem';

/** The person of that id, of this firm. @throws Problem 404, the same whether another firm's or nobody */
export async function requirePerson(database: Database, firmId: string, id: unknown): Promise<User> {
  const person = typeof id === 'string' && isUuid(id) ? await personOf(database, firmId, id) : null;
  if (!person) throw notFound();
  return person;
}
