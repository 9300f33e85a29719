import {
  archiveSchema,
  headlineSchema,
  isUuid,
  pushSchema,
  type HistoryAnswer,
  type ImportAnswer,
  type PushAnswer,
  type SiteRows,
  type SitesAnswer,
} from '@true-lantern/wire';
import { Router } from 'express';
import { only, whoIs, writerIs, type Who } from '../auth/session';
import type { Database } from '../store/database';
import { changesOf } from '../store/changes';
import { audit } from '../store/audit';
import { membersOf } from '../store/people';
import { archiveSite, fileOf, headlineOf, importSite, listSites, partsOf, setHeadline } from '../store/sites';
import { pushAsAllowed } from '../sync/licence';
import type { Pool } from '../threads/pool';
import { body, unread } from './body';
import { param } from './param';
import { parse } from '../parse';
import { idTaken, notFound, notJson } from '../problem';
import { requireSite } from './require-site';

/** The sites of a firm: the list, one with its rows, import, changes, history, headline, archive. */
export function siteRoutes(database: Database, pool: Pool): Router {
  const router = Router();

  router.get('/sites', async (request, response) => {
    const sites = await listSites(database, whoIs(request).firmId, request.query.archived === 'yes');
    response.json({ sites } satisfies SitesAnswer);
  });

  router.post('/sites', only(writerIs), unread('10mb'), async (request, response) => {
    const { id, outcome, warnings } = await imported(database, pool, writerIs(request), request.body);
    if (outcome === 'taken') throw idTaken();
    response.status(outcome === 'created' ? 201 : 200).json({ id, warnings } satisfies ImportAnswer);
  });

  router.get('/sites/:id', async (request, response) => {
    const { firmId } = whoIs(request);
    const id = param(request, 'id');
    const [site, parts] = await Promise.all([
      requireSite(database, firmId, id),
      isUuid(id) ? partsOf(database, firmId, id) : [],
    ]);
    response.json({
      id,
      name: site.name,
      updatedAt: site.updatedAt.toISOString(),
      revision: site.revision,
      headline: headlineOf(site),
      parts,
    } satisfies SiteRows);
  });

  router.get('/sites/:id/file', async (request, response) => {
    const { firmId, userId } = whoIs(request);
    const id = param(request, 'id');
    const { name } = await requireSite(database, firmId, id);
    await audit(database, firmId, userId, 'exported a site', name);
    response.json(await fileOf(database, firmId, id));
  });

  router.put('/sites/:id/archived', only(writerIs), body(), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const id = param(request, 'id');
    const { archived } = parse(archiveSchema, request.body);
    const site = await requireSite(database, firmId, id);
    await archiveSite(database, site, archived);
    await audit(database, firmId, userId, archived ? 'archived a site' : 'restored a site', site.name);
    response.status(204).end();
  });

  /** What a device of somebody who may write has worked out, with whose it is; of an older revision it is dropped. */
  router.put('/sites/:id/headline', only(writerIs), body(), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const id = param(request, 'id');
    await requireSite(database, firmId, id);
    const headline = parse(headlineSchema, request.body);
    await setHeadline(database, firmId, id, { ...headline, by: userId, at: new Date().toISOString() });
    response.status(204).end();
  });

  router.get('/sites/:id/changes', async (request, response) => {
    const { firmId } = whoIs(request);
    const id = param(request, 'id');
    await requireSite(database, firmId, id);
    const { before } = request.query;
    const from = typeof before === 'string' && isUuid(before) ? before : null;
    response.json((await changesOf(database, firmId, id, from)) satisfies HistoryAnswer);
  });

  router.post('/sites/:id/changes', only(writerIs), body('2mb'), async (request, response) => {
    const who = writerIs(request);
    const id = param(request, 'id');
    if (!isUuid(id)) throw notFound();
    const { changes } = parse(pushSchema, request.body);
    const answer = await pushAsAllowed(database, pool, { ...who, siteId: id }, changes);
    if (!answer) throw notFound();
    response.json(answer satisfies PushAnswer);
  });
  return router;
}

/** A file that somebody brings, read and taken apart in a thread, and stored as a new site. */
async function imported(database: Database, pool: Pool, { firmId, userId, licensed, role }: Who, given: unknown) {
  const importer = { userId, licensed, owner: role === 'owner', members: await membersOf(database, firmId) };
  const bytes = given instanceof Uint8Array ? given : new Uint8Array();
  const read = await pool.run('file', { bytes, importer });
  if (!read) throw notJson();
  const { id, warnings, ...job } = read;
  return { id, warnings, outcome: await importSite(database, { id, firmId, userId, ...job }) };
}
