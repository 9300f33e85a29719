import { liveLines, MOST_A_MINUTE, MOST_LINES } from '@true-lantern/core';
import { isUuid, type Feed, type LiveAnswer, type LiveAnswerOfSite, type LiveSpan } from '@true-lantern/wire';
import express, { Router } from 'express';
import { consume, limiterOf } from '../auth/limits';
import { only, whoIs, writerIs } from '../auth/session';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { endLink, linksOf, makeLink, openLink } from '../store/links';
import { keepLive, liveOf, partIds } from '../store/live';
import { param } from './param';
import { Problem } from '../problem';
import { requireSite } from './require-site';

const SPANS: readonly LiveSpan[] = ['day', 'month', 'year'];

/** Where systems send: by a token of their own that can do nothing else, without cookies, hence before all that asks for them. */
export function feedRoute(database: Database): Router {
  const router = Router();
  const rate = limiterOf(database.pool, 'live', MOST_A_MINUTE, 60);

  router.post('/live', express.text({ type: () => true, limit: '512kb' }), async (request, response) => {
    const token = /^Bearer ([\w-]{10,100})$/.exec(request.headers.authorization ?? '')?.[1];
    const feed = token ? await openLink(database, 'feed', token) : null;
    if (!feed?.siteId) throw new Problem(401, 'This token is not known, or has ended.');
    const text = typeof request.body === 'string' ? request.body : '';
    const { values, refused, lines } = liveLines(text, Date.now(), await partIds(database.pool, feed.siteId));
    if (lines > MOST_LINES)
      throw new Problem(413, `A request has ${MOST_LINES} lines at most. Send the rest in another.`);
    // Counted by lines, understood or not: a device that sends nonsense fills nothing either.
    const { consumedPoints, msBeforeNext } = await consume(rate, feed.siteId, Math.max(1, lines));
    if (consumedPoints > MOST_A_MINUTE) {
      response.set('Retry-After', String(Math.ceil(msBeforeNext / 1000)));
      throw new Problem(429, `A site sends ${MOST_A_MINUTE} lines a minute at most.`);
    }
    await keepLive(database.pool, feed.siteId, values);
    response.json({ kept: values.length, refused } satisfies LiveAnswer);
  });
  return router;
}

/** What is shown of live values, and the tokens of a site. */
export function liveRoutes(database: Database): Router {
  const router = Router();

  router.get('/sites/:id/live', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    const span = SPANS.find((one) => one === request.query.span) ?? 'day';
    const { from, ...rest } = await liveOf(database.pool, id, span);
    response.json({ from: new Date(from).toISOString(), ...rest } satisfies LiveAnswerOfSite);
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
