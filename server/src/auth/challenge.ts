import { createHmac, timingSafeEqual } from 'node:crypto';

/**
 * A challenge that the server need not remember: what it was for and until when, signed with the server's secret, goes to
 * the browser and comes back with the answer. That it is used once is the limits' matter.
 */
export interface Challenge {
  challenge: string;
  purpose: 'add' | 'sign in';
  /** Whose it is; empty for whoever signs in. */
  userId: string;
}

const LIVES_MS = 5 * 60_000;

const signatureOf = (text: string, secret: string) => createHmac('sha256', secret).update(`challenge ${text}`).digest();

/** The challenge with its end, signed: what goes to the browser. Good for five minutes from `now`, ms since 1970. */
export function sealed(challenge: Challenge, secret: string, now = Date.now()): string {
  const text = Buffer.from(JSON.stringify({ ...challenge, until: now + LIVES_MS })).toString('base64url');
  return `${text}.${signatureOf(text, secret).toString('base64url')}`;
}

/** What was sealed; null where it is not ours, or too old. */
export function opened(state: string, secret: string, now = Date.now()): Challenge | null {
  const [text = '', signature = ''] = state.split('.');
  const given = Buffer.from(signature, 'base64url');
  const ours = signatureOf(text, secret);
  if (given.length !== ours.length || !timingSafeEqual(given, ours)) return null;
  const { until, ...challenge } = JSON.parse(Buffer.from(text, 'base64url').toString()) as Challenge & {
    until: number;
  };
  return until >= now ? challenge : null;
}
