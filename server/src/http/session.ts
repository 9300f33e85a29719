import { passwordSchema, signInSchema } from '@true-lantern/wire';
import { Router } from 'express';
import type { SignInLimits } from '../auth/limits';
import { hashPassword, passwordMatches } from '../auth/passwords';
import { asWho, begin, endSession, only, whoIs } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { endSessionOf, findPersonByEmail, sessionsOf, setPassword } from '../store/people';
import { body } from './body';
import { parse } from '../parse';
import { Problem } from '../problem';
import { requirePerson } from './require-person';
import { sessionAnswer } from './session-answer';

/** Who is signed in; signing in and out, with a password; one's own password and sessions. */
export function sessionRoutes(config: Config, database: Database, limits: SignInLimits): Router {
  const router = Router();

  router.get('/session', async (request, response) => {
    response.json(await sessionAnswer(config, database, request));
  });

  router.post('/session', body(), async (request, response) => {
    const { email, password } = parse(signInSchema, request.body);
    const address = request.ip ?? 'unknown';
    await limits.attempt(email, address);
    const user = await findPersonByEmail(database, email);
    if (!(await passwordMatches(user?.passwordHash, password)) || !user)
      throw new Problem(401, 'E-mail or password is wrong.', [], 'sign-in');
    await limits.succeeded(email, address);
    await begin(request, asWho(user), user.epoch);
    await audit(database, user.firmId, user.id, 'signed in');
    response.json(await sessionAnswer(config, database, request));
  });

  router.delete('/session', async (request, response) => {
    await endSession(request, response);
    response.status(204).end();
  });

  router.put('/password', only(whoIs), body(), async (request, response) => {
    const who = whoIs(request);
    const { old, password } = parse(passwordSchema, request.body);
    const person = await requirePerson(database, who.firmId, who.userId);
    await limits.attempt(person.email, request.ip ?? 'unknown');
    if (!(await passwordMatches(person.passwordHash, old)))
      throw new Problem(403, 'The current password is wrong.', [], 'password');
    await limits.succeeded(person.email, request.ip ?? 'unknown');
    const epoch = await setPassword(database, who.userId, await hashPassword(password));
    await begin(request, who, epoch);
    await audit(database, who.firmId, who.userId, 'changed the password');
    response.json(await sessionAnswer(config, database, request));
  });

  router.get('/sessions', async (request, response) => {
    const who = whoIs(request);
    const epoch = request.session.who?.epoch ?? 0;
    response.json({ sessions: await sessionsOf(database, who.userId, epoch, request.sessionID) });
  });

  /** Everywhere, here too. */
  router.delete('/sessions', async (request, response) => {
    const who = whoIs(request);
    await setPassword(database, who.userId, null);
    await audit(database, who.firmId, who.userId, 'signed out everywhere');
    await endSession(request, response);
    response.status(204).end();
  });

  router.delete('/sessions/:id', async (request, response) => {
    await endSessionOf(database, whoIs(request).userId, request.params.id);
    response.status(204).end();
  });
  return router;
}
