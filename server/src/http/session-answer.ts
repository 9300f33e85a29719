import type { Session } from '@true-lantern/wire';
import type { Request } from 'express';
import { csrfToken } from '../auth/session';
import type { Config } from '../config';
import type { Database } from '../store/database';
import { noFirmYet } from '../store/firms';
import { findPerson } from '../store/people';

/** What a page is told of who is signed in, with the token for its writes: the same by whichever door they came. */
export async function sessionAnswer(config: Config, database: Database, request: Request): Promise<Session> {
  const { who } = request;
  const person = who ? await findPerson(database, who.firmId, who.userId) : null;
  return {
    csrfToken: csrfToken(request),
    person,
    ...(config.demoSignIn ? { demo: config.demoSignIn } : {}),
    ...(person && config.mailUrl ? { mails: true as const } : {}),
    ...(!person && (await noFirmYet(database)) ? { empty: true } : {}),
  };
}
