import { firmSchoolsSchema, sheetSchema } from '@true-lantern/wire';
import { Router } from 'express';
import { only, ownerIs, whoIs } from '../auth/session';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf, setFirmSchools, setFirmSheet } from '../store/firms';
import { body } from './body';
import { parse } from './parse';
import { notFound } from './problem';

/** The firm itself: its people, and the schools that its new sites begin with. */
export function firmRoutes(database: Database): Router {
  const router = Router();

  router.get('/firm', async (request, response) => {
    const firm = await firmOf(database, whoIs(request).firmId);
    if (!firm) throw notFound();
    response.json(firm);
  });

  router.put('/firm/schools', only(ownerIs), body(), async (request, response) => {
    const { schools } = parse(firmSchoolsSchema, request.body);
    await setFirmSchools(database, ownerIs(request).firmId, schools ?? {});
    response.status(204).end();
  });

  router.put('/firm/sheet', only(ownerIs), body(), async (request, response) => {
    const { firmId, userId } = ownerIs(request);
    await setFirmSheet(database, firmId, parse(sheetSchema, request.body));
    await audit(database, firmId, userId, 'changed the firm sheet');
    response.status(204).end();
  });
  return router;
}
