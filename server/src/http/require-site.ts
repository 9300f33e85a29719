import { isUuid } from '@true-lantern/wire';
import type { Database } from '../store/database';
import type { Site } from '../store/models';
import { findSite } from '../store/sites';
import { notFound } from '../problem';

/** The firm's site of that id. @throws Problem 404, the same whether it is another firm's or nobody's */
export async function requireSite(database: Database, firmId: string, id: string): Promise<Site> {
  const site = isUuid(id) ? await findSite(database, firmId, id) : null;
  if (!site) throw notFound();
  return site;
}
