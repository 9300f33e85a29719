import { joinSchema, makeFirmSchema, passwordOnlySchema, type JoinAnswer } from '@true-lantern/wire';
import { Router, type Request } from 'express';
import type { SignInLimits } from '../auth/limits';
import { hashPassword } from '../auth/passwords';
import { asWho, begin } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf, makeFirm } from '../store/firms';
import { findInvitation, stillGood, useUp } from '../store/invitations';
import { forgetPasskeys } from '../store/passkeys';
import { addPerson, personOf, setPassword } from '../store/people';
import { body } from './body';
import { parse } from '../parse';
import { notFound, Problem } from '../problem';
import { sessionAnswer } from './session-answer';

/** How people come in: the first of a firm by a code, everybody else by a link. */
export function joiningRoutes(config: Config, database: Database, limits: SignInLimits, code: string): Router {
  const router = Router();

  /** An empty server's first firm, by whoever can read what the server prints; a further one by the keeper's own code. */
  router.post('/firm', body(), async (request, response) => {
    const wanted = parse(makeFirmSchema, request.body);
    await limits.attempt('a firm', request.ip ?? 'unknown');
    const another = config.firmCode !== undefined && wanted.code.trim() === config.firmCode;
    if (!another && wanted.code.trim() !== code) throw new Problem(403, 'That code is not correct.');
    const user = await makeFirm(database, wanted, await hashPassword(wanted.password), { another });
    if (!user)
      throw new Problem(
        409,
        another
          ? 'That e-mail address cannot be used here. Choose another.'
          : 'This server already has a firm. Ask its owner for a link.',
      );
    await begin(request, asWho(user), user.epoch);
    await audit(database, user.firmId, user.id, 'created the firm');
    response.status(201).json(await sessionAnswer(config, database, request));
  });

  /** The token is the key: no more is said of a wrong one than of one that was used or has expired. */
  const invitationFor = async (request: Request) => {
    const invitation = await findInvitation(database, String(request.params.token));
    if (!invitation) throw new Problem(404, 'This link was already used or has expired. Ask for a new one.');
    return invitation;
  };

  router.get('/join/:token', async (request, response) => {
    const invitation = await invitationFor(request);
    const firm = await firmOf(database, invitation.firmId);
    const person = invitation.userId ? await personOf(database, invitation.firmId, invitation.userId) : null;
    if (!firm || (invitation.userId && !person)) throw notFound();
    response.json({
      firm: firm.name,
      role: invitation.role,
      person: person && { name: person.name, email: person.email },
    } satisfies JoinAnswer);
  });

  router.post('/join/:token', body(), async (request, response) => {
    const invitation = await invitationFor(request);
    const { firmId, role, userId } = invitation;
    if (userId) {
      const { password } = parse(passwordOnlySchema, request.body);
      const person = await personOf(database, firmId, userId);
      if (!person || !(await useUp(database, invitation.id))) throw notFound();
      const epoch = await setPassword(database, userId, await hashPassword(password));
      // Whoever lost the way in may have lost a key as well: they are made anew.
      await forgetPasskeys(database, userId);
      await audit(database, firmId, userId, 'changed the password');
      await begin(request, asWho(person), epoch);
    } else {
      const { name, email, password } = parse(joinSchema, request.body);
      const passwordHash = await hashPassword(password);
      if (!(await useUp(database, invitation.id))) throw notFound();
      const user = await addPerson(database, { firmId, name, email, passwordHash, role });
      if (!user) {
        // The link was not the trouble, and stays good.
        await stillGood(database, invitation.id);
        throw new Problem(409, 'That e-mail address cannot be used here. Choose another.');
      }
      await audit(database, firmId, user.id, 'joined', role);
      await begin(request, asWho(user), user.epoch);
    }
    response.status(201).json(await sessionAnswer(config, database, request));
  });
  return router;
}
