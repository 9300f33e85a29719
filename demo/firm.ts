import { randomUUID } from 'node:crypto';
import { checkShelfItem, checkSystemFile, nameOfRow, toRows, type PartRow } from '@true-lantern/core';
import SIGN_IN from './sign-in.json';
import { hashPassword } from '../server/src/auth/passwords';
import type { Database } from '../server/src/store/database';
import { cleanPicture } from '../server/src/photos/picture';
import { createSite } from '../server/src/store/sites';
import { drawPlate } from './pictures';
import { DEMO_SHELF } from './shelf';
import corrach from './sites/corrach-bothy.lantern.json';
import gannet from './sites/gannet-ledge.lantern.json';
import harbour from './sites/harbour-workshop.lantern.json';
import ringlet from './sites/ringlet-van.lantern.json';
import seal from './sites/seal-sound.lantern.json';
import whelk from './sites/whelk-bank.lantern.json';

/** The demo's sites as files of the open format, in the order of the list. */
export const DEMO_FILES: readonly unknown[] = [corrach, gannet, harbour, ringlet, seal, whelk];

/** The made-up firm and its sites; does nothing where the firm is already there. */
export async function loadDemo(database: Database): Promise<void> {
  const { Attachment, Firm, Shelf, User } = database.models;
  if ((await User.count({ where: { email: SIGN_IN.email } })) > 0) return;
  const firm = await Firm.create({ id: randomUUID(), name: 'Saltmarsh & Daughter' });
  for (const value of DEMO_FILES) {
    const { file } = checkSystemFile(value);
    const id = randomUUID();
    const rows = toRows(file, randomUUID);
    const pictures = await picturesOf(rows);
    const attachments = pictures.map(({ row }, position) => ({ ...row, position }));
    await createSite(database, {
      id,
      firmId: firm.id,
      userId: null,
      name: file.site.name,
      rows: [...rows, ...attachments],
    });
    await Attachment.bulkCreate(
      pictures.map(({ row, body, small }) => ({
        id: row.id,
        firmId: firm.id,
        siteId: id,
        type: 'image/jpeg',
        body,
        small,
      })),
    );
  }
  await Shelf.bulkCreate(DEMO_SHELF.map((item) => ({ id: randomUUID(), firmId: firm.id, item: checkShelfItem(item) })));
  // The people come last: somebody who can sign in finds all of it, even if this was once cut short.
  const passwordHash = await hashPassword(SIGN_IN.password);
  const person = (name: string, role: 'owner' | 'technician' | 'reader', licence: string | null = null) =>
    User.create({
      id: randomUUID(),
      firmId: firm.id,
      name,
      role,
      licence,
      passwordHash,
      email: `${name.toLowerCase()}@saltmarsh.example`,
    });
  await person('Isla', 'owner', 'SK-E 1147');
  await person('Morag', 'technician');
  await person('Fergus', 'reader');
}

/** A drawn photo of every nameplate, as a technician would have taken it. */
async function picturesOf(rows: readonly PartRow[]) {
  const drawn = await Promise.all(
    rows.map(async (part) => {
      const picture = await drawPlate(part);
      return picture ? [{ row: attachmentTo(part), ...(await cleanPicture(picture)) }] : [];
    }),
  );
  return drawn.flat();
}

function attachmentTo(part: PartRow): PartRow {
  const id = randomUUID();
  const body = { id, kind: 'photo', subject: nameOfRow(part), type: 'image/jpeg', note: 'nameplate' };
  return { id, kind: 'attachment', body, evidence: {}, position: 0, revision: 1 };
}
