import type { Response } from 'express';

/** What all pages share that open by their address alone. */

/** Pages to one address in a minute: a household opens a few, who tries addresses asks for thousands. */
export const MOST_A_MINUTE = 60;

/** Says that it was asked too often. */
export function sayTooMany(response: Response, msBeforeNext: number): void {
  response
    .status(429)
    .set('Retry-After', String(Math.ceil(msBeforeNext / 1000)))
    .type('text')
    .send('Too many requests. Try again in a minute.');
}

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
