import { randomBytes } from 'node:crypto';
import { fromRows, nameOfRow, numberOf, type Offer, type Proposal } from '@true-lantern/core';
import {
  hidesPrices,
  isUuid,
  PRICES_HIDDEN,
  termsOf,
  type OfferLinkMade,
  type OfferLinksAnswer,
} from '@true-lantern/wire';
import express, { Router, type Response } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import type { Config } from '../config';
import { offerPage, type OfferState } from '../reports/offer-page';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { endLink, linksOf, shownLink, type Link } from '../store/links';
import { tellOfSite } from '../store/news';
import { shelfOf } from '../store/shelf';
import { partOf, partsOf } from '../store/sites';
import { push } from '../sync/push';
import { Problem } from '../problem';
import type { Pool } from '../threads/pool';
import { body } from './body';
import { param } from './param';
import { giveLink, headFor, letterhead, pageOpener } from './pages';
import { requireSite } from './require-site';

/** An offer as it was sent out, and the proposal that it is of: what is changed in that afterwards ends the offer. */
interface Sent {
  offer: Offer;
  proposal: string;
  rowId: string;
  revision: number;
}

/** Where a firm sets no validity: an offer may be accepted for so many days. */
const OPEN_D = 30;
const MOST_NAME = 120;
const MOST_STROKES = 40_000;
const DAY_MS = 86_400_000;

/** The offers that a firm sends to customers by an address: made, listed, ended. */
export function offerRoutes(config: Config, database: Database, pool: Pool): Router {
  const router = Router();
  const linksFor = async (firmId: string, siteId: string, proposal: string) =>
    (await linksOf(database, 'offer', { firmId, siteId })).filter((link) => (link.body as Sent).proposal === proposal);

  router.get('/sites/:id/offers/:proposal', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    const links = await linksFor(firmId, id, param(request, 'proposal'));
    response.json({ links: links.map(shownLink) } satisfies OfferLinksAnswer);
  });

  router.post('/sites/:id/offers/:proposal', only(writerIs), body(), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id, name } = await requireSite(database, firmId, param(request, 'id'));
    const proposal = param(request, 'proposal');
    const [rows, firm, shelf] = await Promise.all([
      partsOf(database, firmId, id),
      firmOf(database, firmId),
      shelfOf(database, firmId),
    ]);
    const row = rows.find((one) => one.kind === 'proposal' && nameOfRow(one) === proposal);
    if (hidesPrices(firm?.sheet ?? {})) throw new Problem(403, PRICES_HIDDEN);
    const terms = termsOf(firm?.name ?? '', firm?.sheet ?? {});
    const offer = await pool.run('offer', {
      file: fromRows(rows),
      proposal,
      shelf,
      terms,
      at: new Date().toISOString(),
    });
    const sent: Sent = { offer, proposal, rowId: row?.id ?? '', revision: row?.revision ?? 0 };
    const days = terms.validity_d ?? OPEN_D;
    const made = await giveLink(config, database, request, 'o', 'offer', {
      firmId,
      siteId: id,
      userId,
      body: sent,
      days: days + 1,
    });
    await audit(database, firmId, userId, 'made an offer link', `${name}: ${offer.title}`);
    response.status(201).json(made satisfies OfferLinkMade);
  });

  router.delete('/sites/:id/offers/:proposal/:link', only(writerIs), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id, name } = await requireSite(database, firmId, param(request, 'id'));
    const link = param(request, 'link');
    const mine = await linksFor(firmId, id, param(request, 'proposal'));
    if (isUuid(link) && mine.some((one) => one.id === link)) await endLink(database, 'offer', firmId, link);
    await audit(database, firmId, userId, 'ended an offer link', name);
    response.status(204).end();
  });
  return router;
}

/** What the customer sees and does, without signing in. */
export function offerPages(database: Database): Router {
  const router = Router();
  const opened = pageOpener<Sent>(database, 'offer');
  const send = async (response: Response, { firmId, body: { offer }, createdAt }: Link<Sent>, state: OfferState) => {
    const firm = await firmOf(database, firmId);
    const nonce = randomBytes(16).toString('base64');
    headFor(response, `form-action 'self'; script-src 'nonce-${nonce}'`);
    response.send(offerPage(offer, letterhead(firm, createdAt, offer.firm), state, nonce));
  };

  router.get('/o/:token', async (request, response) => {
    const link = await opened(request, response);
    if (link) await send(response, link, await stateOf(database, link));
  });

  router.post('/o/:token', express.urlencoded({ extended: false, limit: '64kb' }), async (request, response) => {
    const link = await opened(request, response);
    if (!link) return;
    const state = await stateOf(database, link);
    const given = (request.body ?? {}) as { name?: unknown; strokes?: unknown };
    const name =
      typeof given.name === 'string'
        ? given.name
            .replace(/\p{Cc}/gu, ' ')
            .trim()
            .slice(0, MOST_NAME)
        : '';
    const strokes = typeof given.strokes === 'string' ? given.strokes : '';
    if (state.is !== 'open') return send(response.status(409), link, state);
    const isDrawn = strokes.length <= MOST_STROKES && /^(?:[ML]-?\d{1,4} -?\d{1,4}){2,}$/.test(strokes);
    if (name === '' || !isDrawn) {
      const trouble = `Nothing was accepted yet: ${name === '' ? 'your name is missing' : 'your signature is missing'}.`;
      return send(response.status(422), link, { is: 'open', trouble });
    }
    await accept(database, link, { name, strokes });
    await send(response, link, await stateOf(database, link));
  });
  return router;
}

/** How far the offer is, by what the proposal is now. */
async function stateOf(database: Database, { firmId, siteId, body }: Link<Sent>): Promise<OfferState> {
  const row = siteId ? await partOf(database, firmId, siteId, body.rowId) : null;
  const { accepted, closed } = (row?.body ?? {}) as Partial<Proposal>;
  const number = numberOf(body.offer);
  if (accepted?.number === number) return { is: 'accepted', name: accepted.name ?? '', at: accepted.at ?? '', number };
  if (!row || accepted || closed || row.revision !== body.revision)
    return { is: 'over', why: 'This offer has changed since it was sent. Ask the firm for a new one.' };
  const { validUntil } = body.offer;
  return validUntil && Date.now() >= Date.parse(validUntil) + DAY_MS
    ? { is: 'over', why: 'This offer is past its date. Ask the firm for a new one.' }
    : { is: 'open' };
}

/** Keeps the acceptance in the proposal, as if it had been signed on the firm's phone: nobody of the firm did it. */
async function accept(
  database: Database,
  { id, firmId, siteId, body: { offer, rowId, revision } }: Link<Sent>,
  { name, strokes }: { name: string; strokes: string },
): Promise<void> {
  if (!siteId) return;
  const at = new Date().toISOString();
  const customer = { userId: '', name, licensed: false, firmId, siteId };
  const answer = await push(database, customer, [
    {
      // Sent twice it is accepted once.
      changeId: id,
      partId: rowId,
      baseRevision: revision,
      at,
      device: 'offer page',
      set: { accepted: { name, at, strokes, offer, number: numberOf(offer) } },
    },
  ]);
  if (answer) await tellOfSite(database.sequelize, { firmId, siteId, revision: answer.revision });
}
