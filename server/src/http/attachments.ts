import express, { Router } from 'express';
import { whoIs, writerIs } from '../auth/session';
import { cleanPicture, soundType } from '../photos/picture';
import type { Database } from '../store/database';
import { isUuid } from './parse';
import { notFound, Problem } from './problem';
import { requireSite } from './require-site';

const MOST = '12mb';

/** Photos and spoken notes of a site: bytes in, bytes out. What they are about is a row of the site like any other. */
export function attachmentRoutes(database: Database): Router {
  const router = Router();
  const { Attachment } = database.models;

  router.put(
    '/sites/:site/attachments/:id',
    express.raw({ type: () => true, limit: MOST }),
    async (request, response) => {
      const { firmId } = writerIs(request);
      const { site, id } = request.params as { site: string; id: string };
      if (!isUuid(id)) throw notFound();
      await requireSite(database, firmId, site);
      const known = await Attachment.findByPk(id, { attributes: ['id', 'firmId', 'siteId'] });
      if (known && (known.firmId !== firmId || known.siteId !== site))
        throw new Problem(409, 'That id cannot be used; make a new one.');
      // Sent twice: the first time counted.
      if (known) return void response.status(204).end();
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      const sound = request.get('content-type')?.startsWith('audio/') ?? false;
      const stored = sound
        ? { type: soundType(bytes), body: bytes, small: null }
        : { type: 'image/jpeg', ...(await cleanPicture(bytes)) };
      await Attachment.create({ id, firmId, siteId: site, ...stored });
      response.status(201).end();
    },
  );

  router.get('/sites/:site/attachments/:id', async (request, response) => {
    const { firmId } = whoIs(request);
    const { site, id } = request.params;
    const found = isUuid(site) && isUuid(id) ? await Attachment.findOne({ where: { id, siteId: site, firmId } }) : null;
    if (!found) throw notFound();
    const bytes = request.query.size === 'small' && found.small ? found.small : found.body;
    // The bytes behind an id never change.
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type(found.type).send(bytes);
  });
  return router;
}
