import type { Firm } from '@true-lantern/wire';
import type { Request, Response } from 'express';
import { consume, limiterOf } from '../auth/limits';
import type { Config } from '../config';
import { dayText, gonePage, type PageHead } from '../reports/html';
import { qrOf } from '../reports/qr';
import type { Database } from '../store/database';
import { linksOf, makeLink, openLink, shownLink, type Link, type LinkKind } from '../store/links';
import { addressOf } from './address';
import { param } from './param';

/** What all pages share that open by their address alone: how an address is given out, and how its page is opened. */

/** Pages to one address in a minute: a household opens a few, who tries addresses asks for thousands. */
const MOST_A_MINUTE = 60;

/** One document, kept nowhere, not for search engines, that loads nothing but what is in it. @param more of what it may do */
export const headFor = (response: Response, more = ''): Response =>
  response
    .type('html')
    .set('Cache-Control', 'no-store')
    .set('X-Robots-Tag', 'noindex, nofollow')
    .set('Referrer-Policy', 'no-referrer')
    .set(
      'Content-Security-Policy',
      `default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'none'${more ? `; ${more}` : ''}`,
    );

/** Finds what an address opens; null where it has ended or was asked for too often: then that is answered already. */
export function pageOpener<Body>(database: Database, kind: LinkKind) {
  const visits = limiterOf(database.pool, 'page', MOST_A_MINUTE, 60);
  return async (request: Request, response: Response): Promise<Link<Body> | null> => {
    const { consumedPoints, msBeforeNext } = await consume(visits, request.ip ?? '');
    if (consumedPoints > MOST_A_MINUTE) {
      response
        .status(429)
        .set('Retry-After', String(Math.ceil(msBeforeNext / 1000)))
        .type('text')
        .send('Too many requests. Try again in a minute.');
      return null;
    }
    headFor(response);
    const link = await openLink<Body>(database, kind, param(request, 'token'));
    if (!link) response.status(404).send(gonePage());
    return link;
  };
}

/** Makes an address of a site's, told once. @param place of its page: "h" for /h/TOKEN */
export async function giveLink(
  config: Config,
  database: Database,
  request: Request,
  place: string,
  kind: LinkKind,
  of: { firmId: string; siteId: string; userId: string; body: unknown; days: number },
) {
  const made = await makeLink(database, kind, of);
  const links = await linksOf(database, kind, of);
  const link = links.find(({ id }) => id === made.id);
  if (!link) throw new Error('The link that was made is not there');
  const address = `${addressOf(config, request)}/${place}/${made.token}`;
  return { ...shownLink(link), address, qr: qrOf(address) };
}

/** The firm in whose name a page is. @param name as it was called when the page was made, where that is kept */
export const letterhead = (firm: Firm | null, day: Date, name = firm?.name ?? ''): PageHead => ({
  name,
  address: firm?.sheet.address ?? '',
  logo: firm?.sheet.logo ?? null,
  day: dayText(day),
});
