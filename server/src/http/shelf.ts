import { checkShelfItem } from '@true-lantern/core';
import { isUuid, seesPrices, type Role, type ShelfAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { putItem, shelfOf, takeItemOff, withoutPrices } from '../store/shelf';
import { body } from './body';
import { param } from './param';
import { idTaken, notFound } from '../problem';

/** The firm's own catalogue. Ids come from the device; of two people who change one item the later has it. */
export function shelfRoutes(database: Database): Router {
  const router = Router();
  const maySee = async (firmId: string, role: Role) => seesPrices(role, (await firmOf(database, firmId))?.sheet ?? {});

  router.get('/shelf', async (request, response) => {
    const { firmId, role } = whoIs(request);
    const items = await shelfOf(database, firmId);
    const shown = (await maySee(firmId, role)) ? items : withoutPrices(items);
    response.json({ items: shown } satisfies ShelfAnswer);
  });

  router.put('/shelf/:id', only(writerIs), body('256kb'), async (request, response) => {
    const { firmId, role } = writerIs(request);
    const id = param(request, 'id');
    if (!isUuid(id)) throw notFound();
    const item = checkShelfItem(request.body);
    // Who does not see the price cannot have meant to take it off.
    const keepPrice = !(await maySee(firmId, role));
    if (!(await putItem(database, firmId, id, item, keepPrice))) throw idTaken();
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
