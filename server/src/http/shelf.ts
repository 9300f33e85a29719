import { checkShelfItem } from '@true-lantern/core';
import { isUuid, type ShelfAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import type { Database } from '../store/database';
import { putItem, shelfOf, takeItemOff } from '../store/shelf';
import { body } from './body';
import { param } from './param';
import { idTaken, notFound } from './problem';

/** The firm's own catalogue. Ids come from the device; of two people who change one item the later has it. */
export function shelfRoutes(database: Database): Router {
  const router = Router();

  router.get('/shelf', async (request, response) => {
    response.json({ items: await shelfOf(database, whoIs(request).firmId) } satisfies ShelfAnswer);
  });

  router.put('/shelf/:id', only(writerIs), body('256kb'), async (request, response) => {
    const { firmId } = writerIs(request);
    const id = param(request, 'id');
    if (!isUuid(id)) throw notFound();
    if (!(await putItem(database, firmId, id, checkShelfItem(request.body)))) throw idTaken();
    response.status(204).end();
  });

  router.delete('/shelf/:id', async (request, response) => {
    const { firmId } = writerIs(request);
    const { id } = request.params;
    if (isUuid(id)) await takeItemOff(database, firmId, id);
    response.status(204).end();
  });
  return router;
}
