import { firmSchoolsSchema } from '@true-lantern/wire';
import { Router } from 'express';
import { whoIs } from '../auth/session';
import type { Database } from '../store/database';
import { firmOf, setFirmSchools } from '../store/firms';
import { parse } from './parse';
import { notFound, Problem } from './problem';

/** The firm itself: its people, and the schools that its new sites begin with. */
export function firmRoutes(database: Database): Router {
  const router = Router();

  router.get('/firm', async (request, response) => {
    const firm = await firmOf(database, whoIs(request).firmId);
    if (!firm) throw notFound();
    response.json(firm);
  });

  router.put('/firm/schools', async (request, response) => {
    const { firmId, role } = whoIs(request);
    if (role !== 'owner') throw new Problem(403, 'Only the owner of the firm chooses its schools.');
    const { schools } = parse(firmSchoolsSchema, request.body);
    await setFirmSchools(database, firmId, schools ?? {});
    response.status(204).end();
  });
  return router;
}
