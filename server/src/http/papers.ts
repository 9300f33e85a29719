import { Router } from 'express';
import { faultAt } from '@true-lantern/core';
import { seesPrices, termsOf, unitsOf } from '@true-lantern/wire';
import { whoIs } from '../auth/session';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { shelfOf, withoutPrices } from '../store/shelf';
import { fileOf } from '../store/sites';
import { PAPERS, type PaperKind } from '../reports/papers';
import { Problem } from '../problem';
import type { Pool } from '../threads/pool';
import { param } from './param';
import { requireSite } from './require-site';

/** Papers as PDF, in the firm's head. */
export function paperRoutes(database: Database, pool: Pool): Router {
  const router = Router();

  router.get('/sites/:id/papers/:kind/:about', async (request, response) => {
    const { firmId, role } = whoIs(request);
    const id = param(request, 'id');
    await requireSite(database, firmId, id);
    const kind = param(request, 'kind');
    if (!PAPERS.includes(kind as PaperKind))
      throw faultAt('kind', `is "${kind}", expected one of ${PAPERS.join(', ')}`);
    const [file, firm, items] = await Promise.all([
      fileOf(database, firmId, id),
      firmOf(database, firmId),
      shelfOf(database, firmId),
    ]);
    const sheet = firm?.sheet ?? {};
    const mayPrice = seesPrices(role, sheet);
    // An offer with its prices left out would go to a customer as if nothing cost anything.
    if (kind === 'offer' && !mayPrice)
      throw new Problem(403, 'This paper shows prices, and they are hidden from you. Ask an owner of the firm.');
    const shelf = mayPrice ? items : withoutPrices(items);
    const bytes = await pool.run('paper', {
      kind: kind as PaperKind,
      about: param(request, 'about'),
      file,
      firm: { name: firm?.name ?? '', ...firm?.sheet },
      day: new Date().toISOString().slice(0, 10),
      units: unitsOf(request.query),
      shelf,
      terms: termsOf(firm?.name ?? '', sheet),
    });
    response
      .type('application/pdf')
      .set('Content-Disposition', `inline; filename="${kind}.pdf"`)
      .send(Buffer.from(bytes));
  });
  return router;
}
