import { isUuid } from '@true-lantern/wire';
import express, { Router } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import { soundType } from '../photos/picture';
import { attachmentStanding, findAttachment, storeAttachment, type Stored } from '../store/attachments';
import type { Database } from '../store/database';
import type { Pool } from '../threads/pool';
import { param } from './param';
import { idTaken, notFound } from '../problem';
import { requireSite } from './require-site';

const MOST = '12mb';

/** Photos and spoken notes of a site: bytes in, bytes out. What they are about is a row of the site like any other. */
export function attachmentRoutes(database: Database, pool: Pool): Router {
  const router = Router();

  router.put(
    '/sites/:site/attachments/:id',
    only(writerIs),
    express.raw({ type: () => true, limit: MOST }),
    async (request, response) => {
      const { firmId } = writerIs(request);
      const site = param(request, 'site');
      const id = param(request, 'id');
      if (!isUuid(id)) throw notFound();
      await requireSite(database, firmId, site);
      const standing = await attachmentStanding(database, firmId, site, id);
      if (standing === 'taken') throw idTaken();
      // Sent twice: the first time counted.
      if (standing === 'known') return void response.status(204).end();
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      const sound = request.get('content-type')?.startsWith('audio/') ?? false;
      const stored: Stored = sound
        ? { type: soundType(bytes), body: bytes, small: null }
        : { type: 'image/jpeg', ...asStored(await pool.run('picture', { bytes })) };
      await storeAttachment(database, firmId, site, id, stored);
      response.status(201).end();
    },
  );

  router.get('/sites/:site/attachments/:id', async (request, response) => {
    const { firmId } = whoIs(request);
    const { site, id } = request.params;
    const found = isUuid(site) && isUuid(id) ? await findAttachment(database, firmId, site, id) : null;
    if (!found) throw notFound();
    const bytes = request.query.size === 'small' && found.small ? found.small : found.body;
    // The bytes behind an id never change.
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type(found.type).send(bytes);
  });
  return router;
}

/** What comes back from a thread is bytes, not Node's own buffers. */
const asStored = ({ body, small }: { body: Uint8Array; small: Uint8Array }) => ({
  body: Buffer.from(body),
  small: Buffer.from(small),
});
