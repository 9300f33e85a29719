import { randomUUID } from 'node:crypto';
import { checkSystemFile, toRows, type PartChange } from '@true-lantern/core';
import { Router } from 'express';
import { array, boolean, mixed, number, object, string } from 'yup';
import { whoIs, writerIs } from '../auth/session';
import type { Database } from '../store/database';
import { changesOf } from '../store/changes';
import { createSite, fileOf, findSite, listSites, partsOf } from '../store/sites';
import { push } from '../sync/push';
import { isUuid, parse } from './parse';
import { requireSite } from './require-site';
import { notFound, Problem } from './problem';

const uuid = () =>
  string()
    .typeError('is no text, expected a UUID')
    .test('uuid', 'is no UUID, expected a UUID', (value) => isUuid(value ?? ''))
    .required('is missing, expected a UUID');
const changeSchema = object({
  changeId: uuid(),
  partId: uuid(),
  baseRevision: number()
    .typeError('is no number, expected a revision')
    .integer()
    .min(0)
    .max(2_147_483_647)
    .required('is missing, expected a revision'),
  set: mixed<Record<string, unknown>>()
    .required('is missing, expected fields to set')
    .test(
      'object',
      'is no object, expected fields to set',
      (value) => typeof value === 'object' && value !== null && !Array.isArray(value),
    ),
  at: string()
    .required('is missing, expected a time')
    .test(
      'time',
      'is no time, expected one like 2026-05-04T09:10:00Z',
      (value) => !Number.isNaN(Date.parse(value ?? '')),
    ),
  device: string().max(100).optional(),
  create: object({ kind: string().required(), position: number().integer().min(0).max(1e6).required() })
    .default(undefined)
    .optional(),
});
const pushSchema = object({
  changes: array(changeSchema.required())
    .min(1, 'is empty, expected changes')
    .max(500, 'has too many, expected 500 at most')
    .required('is missing, expected a list of changes'),
});
const importSchema = object({
  id: uuid(),
  file: mixed<object>().required('is missing, expected a system file'),
  /** Ids that the device has already given to the parts, so that it can go on working on them. */
  rowIds: array(uuid()).max(10_000).optional(),
});

const archiveSchema = object({
  archived: boolean()
    .typeError('is neither true nor false, expected one of them')
    .required('is missing, expected true or false'),
});

export function siteRoutes(database: Database): Router {
  const router = Router();

  router.get('/sites', async (request, response) => {
    response.json({ sites: await listSites(database, whoIs(request).firmId, request.query.archived === 'yes') });
  });

  router.post('/sites', async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id, file: value, rowIds = [] } = parse(importSchema, request.body);
    const { file, warnings } = checkSystemFile(value);
    // Sent twice (a signal that came and went): the first time counted.
    if (await findSite(database, firmId, id)) return void response.json({ id, warnings });
    if (await database.models.Site.findByPk(id)) throw new Problem(409, 'That id cannot be used; make a new one.');
    const ids = [...rowIds];
    const rows = toRows(file, () => ids.shift() ?? randomUUID());
    const taken = await database.models.Part.count({ where: { id: rows.map((row) => row.id) } });
    if (taken > 0) throw new Problem(409, 'Some ids cannot be used; make new ones.');
    await createSite(database, { id, firmId, userId, name: file.site.name, rows });
    response.status(201).json({ id, warnings });
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
    });
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
    const site = await requireSite(database, firmId, id);
    await site.update({ archivedAt: archived ? (site.archivedAt ?? new Date()) : null });
    response.status(204).end();
  });

  router.get('/sites/:id/changes', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = request.params;
    await requireSite(database, firmId, id);
    response.json({ changes: await changesOf(database, firmId, id) });
  });

  router.post('/sites/:id/changes', async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id } = request.params;
    if (!isUuid(id)) throw notFound();
    const { changes } = parse(pushSchema, request.body);
    const results = await push(database, { firmId, userId, siteId: id }, changes as PartChange[]);
    if (!results) throw notFound();
    response.json({ results });
  });
  return router;
}
