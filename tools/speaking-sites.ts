import { randomUUID } from 'node:crypto';
import { checkSystemFile, toRows } from '@true-lantern/core';
import corrach from '../demo/sites/corrach-bothy.lantern.json';
import type { Database } from '../server/src/store/database';
import { makeLink } from '../server/src/store/links';
import { createSite } from '../server/src/store/sites';

/** Sites of one firm that may send live values, for measuring a server. */
export interface SpeakingSites {
  email: string;
  /** By site: its id and the token that its device sends with. */
  sites: { id: string; token: string }[];
  /** What the values are of: the bank, by its id in the file. */
  subject: string;
  /** Row of a controller of the first site. */
  controllerId: string;
}

/** @param passwordHash of the firm's one person; empty where nobody signs in */
export async function speakingSites(database: Database, count: number, passwordHash: string): Promise<SpeakingSites> {
  const [firmId, userId, email] = [randomUUID(), randomUUID(), 'owner@measured.example'];
  await database.models.Firm.create({ id: firmId, name: 'Measured' });
  await database.models.User.create({ id: userId, firmId, name: 'Measured', email, passwordHash, role: 'owner' });
  const { file } = checkSystemFile(corrach);
  const sites: SpeakingSites['sites'] = [];
  let controllerId = '';
  for (let k = 0; k < count; k++) {
    const id = randomUUID();
    const rows = toRows(file, randomUUID);
    await createSite(database, { id, firmId, userId: null, name: `Measured ${k}`, rows });
    controllerId ||= rows.find(({ kind }) => kind === 'controllers')?.id ?? '';
    const { token } = await makeLink(database, 'feed', { firmId, siteId: id, userId, body: {}, days: null });
    sites.push({ id, token });
  }
  return { email, sites, subject: file.system?.bank?.id ?? '', controllerId };
}
