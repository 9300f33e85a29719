import type { RecordAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import type { Database } from '../store/database';
import { recordOf } from '../store/records';
import { param } from './param';
import { Problem } from '../problem';

/** Whether a signed record is kept here: for whoever holds it on paper, signed in or not. */
export function recordRoutes(database: Database): Router {
  const router = Router();

  router.get('/records/:hash', async (request, response) => {
    const hash = param(request, 'hash').replace(/\s/g, '').toLowerCase();
    const record = /^[0-9a-f]{64}$/.test(hash) ? await recordOf(database, hash) : null;
    if (!record) throw new Problem(404, 'No record with this number is saved here.');
    response.json(record satisfies RecordAnswer);
  });
  return router;
}
