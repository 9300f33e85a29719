import { checkShelfItem } from '@true-lantern/core';
import { Router } from 'express';
import { whoIs, writerIs } from '../auth/session';
import type { Database } from '../store/database';
import { isUuid } from './parse';
import { notFound, Problem } from './problem';

/** The firm's own catalogue. Ids come from the device; of two people who change one item the later has it. */
export function shelfRoutes(database: Database): Router {
  const router = Router();
  const { Shelf } = database.models;

  router.get('/shelf', async (request, response) => {
    const { firmId } = whoIs(request);
    const rows = await Shelf.findAll({ where: { firmId, deletedAt: null }, order: [['id', 'ASC']] });
    response.json({ items: rows.map(({ id, item }) => ({ id, ...item })) });
  });

  router.put('/shelf/:id', async (request, response) => {
    const { firmId } = writerIs(request);
    const { id } = request.params;
    if (!isUuid(id)) throw notFound();
    const item = checkShelfItem(request.body);
    const known = await Shelf.findByPk(id);
    if (known && known.firmId !== firmId) throw new Problem(409, 'That id cannot be used; make a new one.');
    if (known) await known.update({ item, deletedAt: null });
    else await Shelf.create({ id, firmId, item });
    response.status(204).end();
  });

  router.delete('/shelf/:id', async (request, response) => {
    const { firmId } = writerIs(request);
    const { id } = request.params;
    if (isUuid(id)) await Shelf.update({ deletedAt: new Date() }, { where: { id, firmId } });
    response.status(204).end();
  });
  return router;
}
