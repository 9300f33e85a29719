import { randomUUID } from 'node:crypto';
import { checkSystemFile, toRows, type PartChange } from '@true-lantern/core';
import {
  archiveSchema,
  importSchema,
  isUuid,
  pushSchema,
  type HistoryAnswer,
  type ImportAnswer,
  type PushAnswer,
  type SiteRows,
  type SitesAnswer,
} from '@true-lantern/wire';
import { Router } from 'express';
import { whoIs, writerIs } from '../auth/session';
import type { Database } from '../store/database';
import { changesOf } from '../store/changes';
import { archiveSite, fileOf, importSite, listSites, partsOf } from '../store/sites';
import { push } from '../sync/push';
import { parse } from './parse';
import { idTaken, notFound } from './problem';
import { requireSite } from './require-site';

export function siteRoutes(database: Database): Router {
  const router = Router();

  router.get('/sites', async (request, response) => {
    const sites = await listSites(database, whoIs(request).firmId, request.query.archived === 'yes');
    response.json({ sites } satisfies SitesAnswer);
  });

  router.post('/sites', async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id, file: value, rowIds = [] } = parse(importSchema, request.body);
    const { file, warnings } = checkSystemFile(value);
    const ids = [...rowIds];
    const rows = toRows(file, () => ids.shift() ?? randomUUID());
    const outcome = await importSite(database, { id, firmId, userId, name: file.site.name, rows });
    if (outcome === 'taken') throw idTaken();
    response.status(outcome === 'created' ? 201 : 200).json({ id, warnings } satisfies ImportAnswer);
  });

  router.get('/sites/:id', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = request.params;
    const site = await requireSite(database, firmId, id);
    response.json({
      id,
      name: site.name,
      updatedAt: site.updatedAt.toISOString(),
      parts: await partsOf(database, firmId, id),
    } satisfies SiteRows);
  });

  router.get('/sites/:id/file', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = request.params;
    await requireSite(database, firmId, id);
    response.json(await fileOf(database, firmId, id));
  });

  router.put('/sites/:id/archived', async (request, response) => {
    const { firmId } = writerIs(request);
    const { id } = request.params;
    const { archived } = parse(archiveSchema, request.body);
    await archiveSite(await requireSite(database, firmId, id), archived);
    response.status(204).end();
  });

  router.get('/sites/:id/changes', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = request.params;
    await requireSite(database, firmId, id);
    response.json({ changes: await changesOf(database, firmId, id) } satisfies HistoryAnswer);
  });

  router.post('/sites/:id/changes', async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id } = request.params;
    if (!isUuid(id)) throw notFound();
    const { changes } = parse(pushSchema, request.body);
    const results = await push(database, { firmId, userId, siteId: id }, changes as PartChange[]);
    if (!results) throw notFound();
    response.json({ results } satisfies PushAnswer);
  });
  return router;
}
