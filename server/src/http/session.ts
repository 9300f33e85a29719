import { signInSchema, type Session } from '@true-lantern/wire';
import { Router } from 'express';
import type { SignInLimits } from '../auth/limits';
import { passwordMatches } from '../auth/passwords';
import { csrfToken, endSession, renewSession, type Who } from '../auth/session';
import type { Config } from '../config';
import type { Database } from '../store/database';
import { findPerson, findPersonByEmail } from '../store/people';
import { parse } from './parse';
import { Problem } from './problem';

export function sessionRoutes(config: Config, database: Database, limits: SignInLimits): Router {
  const router = Router();

  const answer = async (who: Who | undefined, token: string): Promise<Session> => {
    const person = who ? await findPerson(database, who.firmId, who.userId) : null;
    return { csrfToken: token, person, ...(config.demoSignIn ? { demo: config.demoSignIn } : {}) };
  };

  router.get('/session', async (request, response) => {
    response.json(await answer(request.session.who, csrfToken(request)));
  });

  router.post('/session', async (request, response) => {
    const { email, password } = parse(signInSchema, request.body);
    const address = request.ip ?? 'unknown';
    await limits.allow(email, address);
    const user = await findPersonByEmail(database, email);
    if (!(await passwordMatches(user?.passwordHash, password)) || !user) {
      await limits.failed(email, address);
      throw new Problem(401, 'That e-mail and password do not go together.', [], 'sign-in');
    }
    await limits.succeeded(email);
    await renewSession(request);
    request.session.who = { userId: user.id, firmId: user.firmId, role: user.role };
    response.json(await answer(request.session.who, csrfToken(request)));
  });

  router.delete('/session', async (request, response) => {
    await endSession(request, response);
    response.status(204).end();
  });
  return router;
}
