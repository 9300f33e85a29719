import { FaultError } from '@true-lantern/core';
import { isUuid, tripSchema, type TripsAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import { parse } from '../parse';
import { idTaken, notFound } from '../problem';
import type { Database } from '../store/database';
import { putTrip, removeTrip, strangeSites, tripsOf } from '../store/trips';
import { body } from './body';
import { param } from './param';

/** Several sites on one day. Ids come from the device; of two people who change one trip the later has it. */
export function tripRoutes({ pool }: Database): Router {
  const router = Router();
  router.get('/trips', async (request, response) => {
    const { firmId } = whoIs(request);
    response.json({ trips: await tripsOf(pool, firmId) } satisfies TripsAnswer);
  });
  router.put('/trips/:id', only(writerIs), body(), async (request, response) => {
    const { firmId } = writerIs(request);
    const id = param(request, 'id');
    if (!isUuid(id)) throw notFound();
    const trip = parse(tripSchema, request.body);
    const [strange] = await strangeSites(pool, firmId, trip.sites);
    if (strange)
      throw new FaultError([
        { path: `sites[${trip.sites.indexOf(strange)}]`, message: `is "${strange}", no site of this firm` },
      ]);
    if (!(await putTrip(pool, firmId, { ...trip, id }))) throw idTaken();
    response.status(204).end();
  });
  router.delete('/trips/:id', only(writerIs), async (request, response) => {
    const { firmId } = writerIs(request);
    const id = param(request, 'id');
    if (isUuid(id)) await removeTrip(pool, firmId, id);
    response.status(204).end();
  });
  return router;
}
