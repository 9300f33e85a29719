import { dateOf, type FleetSpan } from '@true-lantern/core';
import { fleetSchema, type FleetAnswer } from '@true-lantern/wire';
import { Router } from 'express';
import { whoIs, writerIs, only } from '../auth/session';
import type { Fleet } from '../jobs/fleet';
import { parse } from '../parse';
import { body } from './body';
import { Problem } from '../problem';
import type { Database } from '../store/database';
import { fleetOf, lastHeard } from '../store/fleet';
import { listSites } from '../store/sites';
import { today } from './today';

/** Who of the firm's sites may lose power: asked for, looked at, stopped. */
export function fleetRoutes(database: Database, fleet: Fleet | null): Router {
  const router = Router();
  const running = () => {
    if (!fleet) throw new Problem(503, 'This server has no queue of jobs.');
    return fleet;
  };

  router.get('/fleet', async (request, response) => {
    const { firmId } = whoIs(request);
    const span: FleetSpan = request.query.span === 'winter' ? 'winter' : 'week';
    const [sites, known, heard, waiting] = await Promise.all([
      listSites(database, firmId),
      fleetOf(database.pool, firmId, span),
      lastHeard(database.pool, firmId),
      fleet ? fleet.waiting(firmId, span) : 0,
    ]);
    const on = dateOf(today());
    response.json({
      waiting,
      sites: sites.map(({ id, name, headline, revision }) => {
        const row = known.get(id);
        return {
          id,
          name,
          headline,
          heard: heard.get(id)?.toISOString() ?? null,
          at: row?.at.toISOString() ?? null,
          stale: !row || row.revision !== revision || row.on !== on,
          found: row?.found ?? null,
        };
      }),
    } satisfies FleetAnswer);
  });

  router.post('/fleet', only(writerIs), body(), async (request, response) => {
    const { firmId } = writerIs(request);
    const { span } = parse(fleetSchema, request.body);
    response.status(202).json({ asked: await running().ask(firmId, span) });
  });

  router.delete('/fleet', only(writerIs), async (request, response) => {
    const { firmId } = writerIs(request);
    await running().stop(firmId);
    response.status(204).end();
  });
  return router;
}
