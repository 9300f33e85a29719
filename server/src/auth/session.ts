import { createHash } from 'node:crypto';
import type { Role } from '@true-lantern/wire';
import connectPgSimple from 'connect-pg-simple';
import { csrfSync } from 'csrf-sync';
import type { Request, RequestHandler, Response } from 'express';
import session from 'express-session';
import type pg from 'pg';
import type { Config } from '../config';
import { Problem } from '../problem';
import type { Database } from '../store/database';
import type { User } from '../store/models';
import { standingOf } from '../store/people';

/** Who asks, as the database has it at this moment. */
export interface Who {
  userId: string;
  firmId: string;
  role: Role;
  name: string;
  /** Whether an authority lets them work on AC. */
  licensed: boolean;
}

/** What a session remembers: the person, and which of their sign-outs "everywhere" it has outlived. */
interface Remembered {
  userId: string;
  /** Absent in sessions of the version before. */
  epoch?: number;
  /** When and by what it was begun, for the list of sessions. */
  since?: string;
  agent?: string;
  /** When it was last written, ms: a day's use counts as one. */
  seen?: number;
}

declare module 'express-session' {
  interface SessionData {
    who?: Remembered;
  }
}
declare module 'express-serve-static-core' {
  interface Request {
    who?: Who;
  }
}

/** The name of the cookie that carries a session. */
export const SESSION_COOKIE = 'lantern';
const DAY_MS = 24 * 3600 * 1000;
const WEEK_MS = 7 * DAY_MS;

/** Reads the session of each request from the database; a cookie lasts a week of not being used. */
export function sessions(config: Config, pool: pg.Pool): RequestHandler {
  const Store = connectPgSimple(session);
  const handle = session({
    name: SESSION_COOKIE,
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    // A session is written again once a day, not at every request: see `identify`.
    store: new Store({ pool, tableName: 'session', pruneSessionInterval: 900, disableTouch: true }),
    cookie: { httpOnly: true, sameSite: 'lax', secure: config.secure, maxAge: WEEK_MS },
  });
  return (request, response, next) => {
    byDuration(response);
    handle(request, response, next);
  };
}

/**
 * A server behind https whose proxy does not pass that on sets no cookie, and nobody could sign in. Said at once, before a
 * one-time code or a link is used up on it.
 * @throws Problem 421
 */
export const overHttps =
  (config: Config): RequestHandler =>
  (request, _response, next) => {
    if (config.secure && !request.secure && request.path !== '/health')
      throw new Problem(
        421,
        'This server expects https, and this request did not arrive that way. Open the https address; if you did, the proxy must send X-Forwarded-Proto and TRUST_PROXY must be set. Nothing was used up.',
      );
    next();
  };

/** The cookie lasts so long from now, not until a date: a device whose clock is wrong would throw it away. */
function byDuration(response: Response): void {
  const set = response.setHeader.bind(response);
  response.setHeader = (name, value) =>
    set(
      name,
      name.toLowerCase() === 'set-cookie' && Array.isArray(value)
        ? value.map((cookie: string) =>
            cookie.startsWith(`${SESSION_COOKIE}=s`)
              ? cookie.replace(/Expires=[^;]+/, `Max-Age=${WEEK_MS / 1000}`)
              : cookie,
          )
        : value,
    );
}

/**
 * Looks up at each request who the session's person is now: whoever was demoted, moved or removed, or signed out
 * everywhere, is so from the next request on.
 */
export const identify =
  (database: Database): RequestHandler =>
  async (request, _response, next) => {
    const known = request.session.who;
    if (!known) return next();
    const standing = await standingOf(database, known.userId);
    if (standing && standing.epoch === (known.epoch ?? 0)) {
      const { epoch: _, ...who } = standing;
      request.who = { userId: known.userId, ...who };
      // Used, it lasts: a week from the last day on which it was.
      if (Date.now() - (known.seen ?? 0) > DAY_MS) request.session.who = { ...known, seen: Date.now() };
    } else
      await new Promise<void>((resolve, reject) =>
        request.session.regenerate((error: unknown) => (error ? reject(error) : resolve())),
      );
    next();
  };

/**
 * Whether the session that a request began with is one still, and its person who they were: for an answer that lasts longer
 * than a moment.
 */
export async function sessionStands(database: Database, request: Request): Promise<boolean> {
  const { who, sessionID } = request;
  if (!who) return false;
  const [standing, kept] = await Promise.all([
    standingOf(database, who.userId),
    database.pool.query('select 1 from session where sid = $1 and expire > now()', [sessionID]),
  ]);
  return (
    standing?.firmId === who.firmId && standing.epoch === (request.session.who?.epoch ?? 0) && (kept.rowCount ?? 0) > 0
  );
}

/** The signed-in person. @throws Problem 401 */
export function whoIs(request: Request): Who {
  if (!request.who) throw new Problem(401, 'Sign in first.');
  return request.who;
}

/** As `whoIs`, for what a reader may not do. @throws Problem 401, 403 */
export function writerIs(request: Request): Who {
  const who = whoIs(request);
  if (who.role === 'reader') throw new Problem(403, 'You can view this, not change it. Ask an owner of the firm.');
  return who;
}

/** As `whoIs`, for what only an owner may do. @throws Problem 401, 403 */
export function ownerIs(request: Request): Who {
  const who = whoIs(request);
  if (who.role !== 'owner') throw new Problem(403, 'Only an owner of the firm can do this.');
  return who;
}

/** Before a body is read: whoever may not do it is turned away first. */
export const only =
  (is: (request: Request) => Who): RequestHandler =>
  (request, _response, next) => {
    is(request);
    next();
  };

/**
 * A session's token follows from its id, which nobody but the server and the browser's cookie jar knows: two requests that
 * ask for it at once cannot each make one and leave a page with the other's.
 */
const csrf = csrfSync({
  getTokenFromRequest: (request) => request.headers['x-csrf-token'] as string | undefined,
  getTokenFromState: ({ sessionID }) => createHash('sha256').update(`csrf ${sessionID}`).digest('base64url'),
  storeTokenInState: () => undefined,
});
/** Nobody's token: no other site can set the header at all, and a session stored for each stranger would fill the disk. */
const NOBODY = 'nobody';
/** The token that a write must bring along; whoever is not signed in has none to lose. */
export const csrfToken = (request: Request) => (request.who ? csrf.generateToken(request) : NOBODY);
/** Refuses a write of a signed-in person without the token of their session: 403 with the code `csrf`. */
export const csrfCheck: RequestHandler = (request, response, next) => {
  const wrong = () => next(new Problem(403, 'This page is out of date. Reload it.', [], 'csrf'));
  if (!request.who) {
    const reads = ['GET', 'HEAD', 'OPTIONS'].includes(request.method);
    return reads || request.headers['x-csrf-token'] ? next() : wrong();
  }
  csrf.csrfSynchronisedProtection(request, response, (error?: unknown) => (error ? wrong() : next()));
};

/** A person of the database as who asks. */
export const asWho = ({
  id: userId,
  firmId,
  role,
  name,
  licence,
}: Pick<User, 'id' | 'firmId' | 'role' | 'name' | 'licence'>): Who => ({
  userId,
  firmId,
  role,
  name,
  licensed: Boolean(licence),
});

/** A new session id at sign-in, so that one planted before it is worth nothing. */
export const renewSession = (request: Request) =>
  new Promise<void>((resolve, reject) => {
    request.session.regenerate((error: unknown) => (error ? reject(error) : resolve()));
  });

/** Lets this person in on this browser. */
export async function begin(request: Request, who: Who, epoch: number): Promise<void> {
  await renewSession(request);
  request.session.who = {
    userId: who.userId,
    epoch,
    since: new Date().toISOString(),
    seen: Date.now(),
    agent: (request.get('user-agent') ?? '').slice(0, 200),
  };
  request.who = who;
}

/** Signs out: the session is gone here, and its cookie there. */
export const endSession = (request: Request, response: Response) =>
  new Promise<void>((resolve, reject) => {
    request.session.destroy((error: unknown) => {
      response.clearCookie(SESSION_COOKIE);
      if (error) reject(error);
      else resolve();
    });
  });
