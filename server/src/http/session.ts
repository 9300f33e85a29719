import { signInSchema, type Session } from '@true-lantern/wire';
import { Router } from 'express';
import type { SignInLimits } from '../auth/limits';
import { passwordMatches } from '../auth/passwords';
import { begin, csrfToken, endSession, type Who } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { noFirmYet } from '../store/firms';
import { findPerson, findPersonByEmail } from '../store/people';
import { body } from './body';
import { parse } from './parse';
import { Problem } from './problem';

export function sessionRoutes(config: Config, database: Database, limits: SignInLimits): Router {
  const router = Router();

  const answer = async (who: Who | undefined, token: string): Promise<Session> => {
    const person = who ? await findPerson(database, who.firmId, who.userId) : null;
    return {
      csrfToken: token,
      person,
      ...(config.demoSignIn ? { demo: config.demoSignIn } : {}),
      ...(person && config.mailUrl ? { mails: true as const } : {}),
      ...(!person && (await noFirmYet(database)) ? { empty: true } : {}),
    };
  };

  router.get('/session', async (request, response) => {
    response.json(await answer(request.who, csrfToken(request)));
  });

  router.post('/session', body(), async (request, response) => {
    const { email, password } = parse(signInSchema, request.body);
    const address = request.ip ?? 'unknown';
    await limits.attempt(email, address);
    const user = await findPersonByEmail(database, email);
    if (!(await passwordMatches(user?.passwordHash, password)) || !user)
      throw new Problem(401, 'That e-mail and password do not go together.', [], 'sign-in');
    await limits.succeeded(email, address);
    await begin(request, { userId: user.id, firmId: user.firmId, role: user.role }, user.epoch);
    await audit(database, user.firmId, user.id, 'signed in');
    response.json(await answer(request.who, csrfToken(request)));
  });

  router.delete('/session', async (request, response) => {
    await endSession(request, response);
    response.status(204).end();
  });
  return router;
}
