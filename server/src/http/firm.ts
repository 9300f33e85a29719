import { schoolsSchema, type Schools } from '@true-lantern/core';
import { Router } from 'express';
import { object } from 'yup';
import { whoIs } from '../auth/session';
import type { Database } from '../store/database';
import { peopleOf } from '../store/people';
import { parse } from './parse';
import { notFound, Problem } from './problem';

const body = object({ schools: schoolsSchema });

/** The firm itself: its people, and the schools that its new sites begin with. */
export function firmRoutes(database: Database): Router {
  const router = Router();

  router.get('/firm', async (request, response) => {
    const { firmId } = whoIs(request);
    const firm = await database.models.Firm.findByPk(firmId);
    if (!firm) throw notFound();
    response.json({ name: firm.name, schools: firm.schools, people: await peopleOf(database, firmId) });
  });

  router.put('/firm/schools', async (request, response) => {
    const { firmId, role } = whoIs(request);
    if (role !== 'owner') throw new Problem(403, 'Only the owner of the firm chooses its schools.');
    const { schools } = parse(body, request.body);
    await database.models.Firm.update({ schools: (schools ?? {}) as Schools }, { where: { id: firmId } });
    response.status(204).end();
  });
  return router;
}
