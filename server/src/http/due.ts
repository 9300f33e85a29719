import { dateOf } from '@true-lantern/core';
import type { CalendarAnswer, DueAnswer, SiteDue } from '@true-lantern/wire';
import { Router, type Request, type Response } from 'express';
import { whoIs } from '../auth/session';
import type { Config } from '../config';
import { calendarOf, type CalendarSite } from '../reports/calendar';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { endCalendars, linksOf, makeLink, openLink } from '../store/links';
import { fileOf, listSites } from '../store/sites';
import type { Pool } from '../threads/pool';
import { addressOf } from './address';
import { param } from './param';
import { notFound } from '../problem';
import { requireSite } from './require-site';
import { today } from './today';

/** A calendar looks a year ahead. */
const YEAR_D = 365;
const DEFAULT_D = 30;
/** Answers that are kept: a site that has not changed since is not worked out again on the same day. */
const MOST_KEPT = 5000;

/** What is due over the firm, and as a calendar: a file of a site, a feed of a person. */
export function dueRoutes(config: Config, database: Database, pool: Pool): Router {
  const router = Router();
  const known = new Map<string, Promise<Omit<SiteDue, 'id' | 'name'>>>();

  /** By the site's revision: what was worked out stays good until somebody changes it, or the day is over. */
  const dueAt = (firmId: string, id: string, revision: number, on: number, days: number) => {
    const key = `${id} ${revision} ${on} ${days}`;
    const found = known.get(key);
    if (found) return found;
    if (known.size >= MOST_KEPT) known.clear();
    const made = fileOf(database, firmId, id).then((file) => pool.run('due', { file, on, days }));
    known.set(key, made);
    // What went wrong is asked again.
    made.catch(() => known.delete(key));
    return made;
  };
  const allOf = async (firmId: string, days: number): Promise<(SiteDue & { revision: number })[]> => {
    const on = today();
    const sites: (SiteDue & { revision: number })[] = [];
    // One after the other: a firm of a thousand sites asks for nobody else's turn.
    for (const { id, name, revision } of await listSites(database, firmId))
      sites.push({ id, name, revision, ...(await dueAt(firmId, id, revision, on, days)) });
    return sites;
  };
  const send = (response: Response, name: string, sites: readonly CalendarSite[]) =>
    response
      .type('text/calendar')
      .set('Content-Disposition', 'attachment; filename="due.ics"')
      .send(calendarOf(name, sites));

  router.get('/due', async (request, response) => {
    const { firmId } = whoIs(request);
    const sites = await allOf(firmId, daysIn(request));
    response.json({ on: dateOf(today()), sites: sites.map(({ revision: _, ...site }) => site) } satisfies DueAnswer);
  });

  router.get('/sites/:id/due.ics', async (request, response) => {
    const { firmId } = whoIs(request);
    const site = await requireSite(database, firmId, param(request, 'id'));
    const { due } = await dueAt(firmId, site.id, site.revision, today(), YEAR_D);
    send(response, site.name, [{ id: site.id, name: site.name, revision: site.revision, due }]);
  });

  const own = async (firmId: string, userId: string): Promise<CalendarAnswer> => {
    const [link] = await linksOf(database, 'calendar', { firmId, userId });
    return { since: link?.createdAt.toISOString() ?? null, opened: link?.opened ?? 0 };
  };
  router.get('/calendar', async (request, response) => {
    const { firmId, userId } = whoIs(request);
    response.json(await own(firmId, userId));
  });

  router.post('/calendar', async (request, response) => {
    const { firmId, userId } = whoIs(request);
    await endCalendars(database, firmId, userId);
    const { token } = await makeLink(database, 'calendar', { firmId, userId, siteId: null, body: {}, days: null });
    await audit(database, firmId, userId, 'made a calendar address');
    const address = `${addressOf(config, request)}/api/calendars/${token}.ics`;
    response.status(201).json({ ...(await own(firmId, userId)), address } satisfies CalendarAnswer);
  });

  router.delete('/calendar', async (request, response) => {
    const { firmId, userId } = whoIs(request);
    await endCalendars(database, firmId, userId);
    response.status(204).end();
  });

  /** The feed itself: who has the address needs no sign-in, and sees what is due, nothing else. */
  router.get('/calendars/:token', async (request, response) => {
    const token = param(request, 'token').replace(/\.ics$/, '');
    const link = await openLink(database, 'calendar', token);
    if (!link) throw notFound();
    const firm = await firmOf(database, link.firmId);
    send(response, firm?.name ?? '', await allOf(link.firmId, YEAR_D));
  });
  return router;
}

/** Days ahead, 0 to 3650. */
function daysIn({ query }: Request): number {
  const days = Number(query.days ?? DEFAULT_D);
  return Number.isInteger(days) && days >= 0 && days <= 3650 ? days : DEFAULT_D;
}
