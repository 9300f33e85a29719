import type { HandOver, SystemFile } from '@true-lantern/core';
import { HANDOVER_D, handOverSchema, isUuid, type HandOverAnswer, type HandOverMade } from '@true-lantern/wire';
import { Router, type Request, type Response } from 'express';
import { only, whoIs, writerIs } from '../auth/session';
import type { Config } from '../config';
import { handOverPage, lockerSheet, type HandOverWords } from '../reports/handover-page';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { endLink, linksOf, shownLink } from '../store/links';
import { findAttachment } from '../store/attachments';
import { fileOf } from '../store/sites';
import type { Pool } from '../threads/pool';
import { addressOf } from './address';
import { body } from './body';
import { giveLink, letterhead, pageOpener } from './pages';
import { param } from './param';
import { parse } from '../parse';
import { requireSite } from './require-site';
import { today } from './today';

/** More are an album; each is some ten kilobytes. */
const MOST_PHOTOS = 8;

/** What was given out: the page as it was on that day, so that it does not change by itself. */
interface Given {
  page: HandOver;
  words: HandOverWords;
  /** Where each isolator is, as a data address of a small JPEG; null: nobody took a photo. Absent: made before there were any. */
  photos?: (string | null)[];
}

/** The pages that a firm hands over to a customer: made, listed, taken back. */
export function handOverRoutes(config: Config, database: Database, pool: Pool): Router {
  const router = Router();
  /** What the page says today, of the system as found or as a proposal makes it. */
  const pageOf = (file: SystemFile, proposal: string | null | undefined) =>
    pool.run('handover', {
      file,
      on: today(),
      ...(proposal ? { proposal } : {}),
    });

  /** The first photo of each isolator, small: the page keeps them as it keeps its words. */
  const photosOf = (
    firmId: string,
    siteId: string,
    { attachments }: SystemFile,
    ids: readonly string[],
  ): Promise<(string | null)[]> =>
    Promise.all(
      ids.map(async (part, i) => {
        const photo = i < MOST_PHOTOS && attachments?.find((one) => one.kind === 'photo' && one.subject === part);
        const stored = photo ? await findAttachment(database, firmId, siteId, photo.id) : null;
        return stored?.small ? `data:image/jpeg;base64,${stored.small.toString('base64')}` : null;
      }),
    );

  router.get('/sites/:id/handover', async (request, response) => {
    const { firmId } = whoIs(request);
    const { id } = await requireSite(database, firmId, param(request, 'id'));
    const { proposal } = request.query;
    const file = await fileOf(database, firmId, id);
    const page = await pageOf(file, typeof proposal === 'string' ? proposal : null);
    const links = await linksOf(database, 'handover', { firmId, siteId: id });
    response.json({ page, links: links.map(shownLink) } satisfies HandOverAnswer);
  });

  router.post('/sites/:id/handover', only(writerIs), body(), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { id, name } = await requireSite(database, firmId, param(request, 'id'));
    const { days, call, lights, more, proposal } = parse(handOverSchema, request.body);
    const file = await fileOf(database, firmId, id);
    const page = await pageOf(file, proposal);
    const given: Given = {
      page,
      words: { call: call ?? '', lights: lights ?? '', more: more ?? '' },
      photos: await photosOf(firmId, id, file, page.isolatorIds),
    };
    const made = await giveLink(config, database, request, 'h', 'handover', {
      firmId,
      siteId: id,
      userId,
      body: given,
      days: days ?? HANDOVER_D,
    });
    await audit(database, firmId, userId, 'made a hand-over page', name);
    response.status(201).json(made satisfies HandOverMade);
  });

  router.delete('/sites/:id/handover/:link', only(writerIs), async (request, response) => {
    const { firmId, userId } = writerIs(request);
    const { name } = await requireSite(database, firmId, param(request, 'id'));
    const link = param(request, 'link');
    if (isUuid(link)) await endLink(database, 'handover', firmId, link);
    await audit(database, firmId, userId, 'ended a hand-over page', name);
    response.status(204).end();
  });
  return router;
}

/** The pages themselves, for whoever has the address: one document, no script, not for search engines. */
export function handOverPages(config: Config, database: Database): Router {
  const router = Router();
  const opened = pageOpener<Given>(database, 'handover');
  const show = async (request: Request, response: Response, sheet: boolean) => {
    const link = await opened(request, response);
    if (!link) return;
    const { page, words, photos = [] } = link.body;
    const head = letterhead(await firmOf(database, link.firmId), link.createdAt);
    const address = `${addressOf(config, request)}/h/${param(request, 'token')}`;
    response.send(
      sheet ? lockerSheet(page, words, head, address) : handOverPage({ page, words, photos }, head, address),
    );
  };
  router.get('/h/:token', (request, response) => show(request, response, false));
  router.get('/h/:token/sheet', (request, response) => show(request, response, true));
  return router;
}
