import { isUuid, type Feed, type LiveAnswerOfSite, type LiveReadingsAnswer, type LiveSpan } from '@true-lantern/wire';
import express, { Router } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { endLink, linksOf, makeLink } from '../store/links';
import { liveOf, liveReadings } from '../store/live';
import { polledOf } from '../store/polled';
import { bearerOf, TooMany, type Ingest } from '../live/ingest';
import { param } from './param';
import { requireSite } from './require-site';

const SPANS: readonly LiveSpan[] = ['day', 'month', 'year'];

/** Where systems send: by a token of their own that can do nothing else, without cookies, hence before all that asks for them. */
export function feedRoute(ingest: Ingest): Router {
  const router = Router();
  router.post('/live', express.text({ type: () => true, limit: '512kb' }), async (request, response) => {
    try {
      const text = typeof request.body === 'string' ? request.body : '';
      response.json(await ingest(bearerOf(request.headers.authorization), text));
    } catch (error) {
      if (error instanceof TooMany) response.set('Retry-After', String(error.wait_s));
      throw error;
    }
  });
  return router;
}

/** What is shown of live values, and the tokens of a site. */
export function liveRoutes({ modbusAllow }: Config, database: Database): Router {
  const router = Router();

  router.get('/sites/:id/live', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    const span = SPANS.find((one) => one === request.query.span) ?? 'day';
    const [{ from, ...rest }, polled] = await Promise.all([
      liveOf(database.pool, id, span),
      polledOf(database.pool, id),
    ]);
    response.json({
      from: new Date(from).toISOString(),
      ...rest,
      polled,
      asks: modbusAllow !== null,
    } satisfies LiveAnswerOfSite);
  });

  router.get('/sites/:id/live/readings', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    response.json({ readings: await liveReadings(database.pool, id) } satisfies LiveReadingsAnswer);
  });

  const feedsOf = async (firmId: string, siteId: string): Promise<Feed[]> =>
    (await linksOf(database, 'feed', { firmId, siteId })).map(({ id, createdAt, by, opened }) => ({
      id,
      createdAt: createdAt.toISOString(),
      by,
      used: opened,
    }));

  router.get('/sites/:id/feeds', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    response.json({ feeds: await feedsOf(firmId, id) });
  });

  router.post('/sites/:id/feeds', only(writerIs), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id: siteId, name } = await requireSite(database, firmId, param(request, 'id'));
    const { token, id } = await makeLink(database, 'feed', { firmId, siteId, userId, body: {}, days: null });
    await audit(database, firmId, userId, 'made a feed', name);
    const feed = (await feedsOf(firmId, siteId)).find((one) => one.id === id);
    response.status(201).json({ ...feed, token });
  });

  router.delete('/sites/:id/feeds/:feed', only(writerIs), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { name } = await requireSite(database, firmId, param(request, 'id'));
    const feed = param(request, 'feed');
    if (isUuid(feed)) await endLink(database, 'feed', firmId, feed);
    await audit(database, firmId, userId, 'ended a feed', name);
    response.status(204).end();
  });
  return router;
}
