import { alertsSchema, type AlertsAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import { only, whoIs } from '../auth/session';
import { parse } from '../parse';
import { alertsOf, keepAlerts } from '../store/alerts';
import type { Database } from '../store/database';
import { body } from './body';

/** What a person wants to be told of by mail: their own matter, a reader's too. */
export function alertRoutes({ pool }: Database, mails: boolean): Router {
  const router = Router();
  router.get('/alerts', async (request, response) => {
    const { userId } = whoIs(request);
    response.json({ alerts: await alertsOf(pool, userId), mails } satisfies AlertsAnswer);
  });
  router.put('/alerts', only(whoIs), body(), async (request, response) => {
    const { userId } = whoIs(request);
    await keepAlerts(pool, userId, parse(alertsSchema, request.body));
    response.status(204).end();
  });
  return router;
}
