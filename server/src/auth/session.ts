import type { Role } from '@true-lantern/wire';
import connectPgSimple from 'connect-pg-simple';
import { csrfSync } from 'csrf-sync';
import type { Request, RequestHandler, Response } from 'express';
import session from 'express-session';
import type pg from 'pg';
import type { Config } from '../config';
import { Problem } from '../http/problem';

export interface Who {
  userId: string;
  firmId: string;
  role: Role;
}

declare module 'express-session' {
  interface SessionData {
    who?: Who;
  }
}

const WEEK_MS = 7 * 24 * 3600 * 1000;

export function sessions(config: Config, pool: pg.Pool): RequestHandler {
  const Store = connectPgSimple(session);
  return session({
    name: 'lantern',
    secret: config.sessionSecret,
    resave: false,
    saveUninitialized: false,
    rolling: true,
    store: new Store({ pool, tableName: 'session', pruneSessionInterval: 900 }),
    cookie: { httpOnly: true, sameSite: 'lax', secure: config.secure, maxAge: WEEK_MS },
  });
}

/** The signed-in person. @throws Problem 401 */
export function whoIs(request: Request): Who {
  if (!request.session.who) throw new Problem(401, 'Sign in first.');
  return request.session.who;
}

/** As `whoIs`, for what a reader may not do. @throws Problem 401, 403 */
export function writerIs(request: Request): Who {
  const who = whoIs(request);
  if (who.role === 'reader') throw new Problem(403, 'Readers cannot change anything; ask the owner of the firm.');
  return who;
}

const csrf = csrfSync({
  getTokenFromRequest: (request) => request.headers['x-csrf-token'] as string | undefined,
});
export const csrfToken = (request: Request) => csrf.generateToken(request);
export const csrfCheck: RequestHandler = (request, response, next) => {
  csrf.csrfSynchronisedProtection(request, response, (error?: unknown) => {
    next(error ? new Problem(403, 'The page is out of date; load it again.', [], 'csrf') : undefined);
  });
};

/** A new session id at sign-in, so that one planted before it is worth nothing. */
export const renewSession = (request: Request) =>
  new Promise<void>((resolve, reject) => {
    request.session.regenerate((error: unknown) => (error ? reject(error) : resolve()));
  });

export const endSession = (request: Request, response: Response) =>
  new Promise<void>((resolve, reject) => {
    request.session.destroy((error: unknown) => {
      response.clearCookie('lantern');
      if (error) reject(error);
      else resolve();
    });
  });
