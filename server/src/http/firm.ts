import { firmSchoolsSchema, sheetSchema } from '@true-lantern/wire';
import express, { Router } from 'express';
import { only, ownerIs, whoIs } from '../auth/session';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf, setFirmSchools, setFirmSheet, setLogo } from '../store/firms';
import type { Pool } from '../threads/pool';
import { body } from './body';
import { parse } from '../parse';
import { notFound } from '../problem';

/** The firm itself: its people, and the schools that its new sites begin with. */
export function firmRoutes(database: Database, pool: Pool): Router {
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

  router.put(
    '/firm/logo',
    only(ownerIs),
    express.raw({ type: () => true, limit: '2mb' }),
    async (request, response) => {
      const { firmId, userId } = ownerIs(request);
      const bytes = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
      await setLogo(database, firmId, await pool.run('logo', { bytes }));
      await audit(database, firmId, userId, 'changed the firm sheet', 'logo');
      response.status(204).end();
    },
  );

  router.delete('/firm/logo', async (request, response) => {
    await setLogo(database, ownerIs(request).firmId, null);
    response.status(204).end();
  });
  return router;
}
