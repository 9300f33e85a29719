import {
  inviteSchema,
  isUuid,
  joinSchema,
  makeFirmSchema,
  passwordOnlySchema,
  passwordSchema,
  licenceSchema,
  roleSchema,
  type InvitedAnswer,
  type JoinAnswer,
} from '@true-lantern/wire';
import { Router, type Request } from 'express';
import QRCode from 'qrcode';
import type { SignInLimits } from '../auth/limits';
import { hashPassword, passwordMatches } from '../auth/passwords';
import { begin, csrfToken, endSession, only, ownerIs, whoIs } from '../auth/session';
import type { Config } from '../config';
import { audit, auditOf } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf, makeFirm } from '../store/firms';
import { findInvitation, invitationsOf, invite, shown, stillGood, takeBack, useUp } from '../store/invitations';
import type { Invitation } from '../store/models';
import { forgetPasskeys } from '../store/passkeys';
import {
  addPerson,
  dataOf,
  endSessionOf,
  findPerson,
  forget,
  peopleWithAddresses,
  personOf,
  sessionsOf,
  setPassword,
  setLicence,
  setRole,
} from '../store/people';
import { body } from './body';
import { linkMail, type Post } from './mail';
import { parse } from './parse';
import { notFound, Problem } from './problem';

/** The people of a firm: how they come in, what they may do, how they leave. */
export function peopleRoutes(
  config: Config,
  database: Database,
  limits: SignInLimits,
  { code, post }: { code: string; post: Post | null },
): Router {
  const router = Router();
  const session = async (request: Request) => ({
    csrfToken: csrfToken(request),
    person: request.who ? await findPerson(database, request.who.firmId, request.who.userId) : null,
  });

  /** An empty server's first firm, by whoever can read what the server prints; a further one by the keeper's own code. */
  router.post('/firm', body(), async (request, response) => {
    const wanted = parse(makeFirmSchema, request.body);
    await limits.attempt('a firm', request.ip ?? 'unknown');
    const another = config.firmCode !== undefined && wanted.code.trim() === config.firmCode;
    if (!another && wanted.code.trim() !== code) throw new Problem(403, 'That is not the code that opens this server.');
    const user = await makeFirm(database, wanted, await hashPassword(wanted.password), { another });
    if (!user)
      throw new Problem(
        409,
        another
          ? 'That e-mail address cannot be used here; take another.'
          : 'This server has a firm already; ask its owner for a link.',
      );
    await begin(request, { userId: user.id, firmId: user.firmId, role: user.role }, user.epoch);
    await audit(database, user.firmId, user.id, 'made the firm');
    response.status(201).json(await session(request));
  });

  const answer = async (
    request: Request,
    token: string,
    invitation: Invitation,
    person: { name: string; email: string } | null,
    to: string | undefined = person?.email,
  ): Promise<InvitedAnswer> => {
    // Without a public address the one by which the owner has come: the link is shown to nobody else.
    const address = `${config.publicUrl ?? `${request.protocol}://${request.get('host')}`}/join/${token}`;
    const firm = to && post ? await firmOf(database, invitation.firmId) : null;
    const sent = to && post && firm ? await post(linkMail(to, firm.name, address, person?.name ?? null)) : false;
    return {
      ...shown(invitation, person?.name ?? null),
      token,
      address,
      mailed: sent && to ? to : null,
      qr: qrOf(address),
    };
  };

  router.post('/invitations', only(ownerIs), body(), async (request, response) => {
    const who = ownerIs(request);
    const { role, email } = parse(inviteSchema, request.body);
    const { token, invitation } = await invite(database, who, role);
    await audit(database, who.firmId, who.userId, 'invited', role);
    response.status(201).json(await answer(request, token, invitation, null, email));
  });

  router.get('/invitations', async (request, response) => {
    response.json({ invitations: await invitationsOf(database, ownerIs(request).firmId) });
  });

  router.delete('/invitations/:id', async (request, response) => {
    const { firmId } = ownerIs(request);
    if (isUuid(request.params.id)) await takeBack(database, firmId, request.params.id);
    response.status(204).end();
  });

  router.post('/people/:id/password-link', async (request, response) => {
    const who = ownerIs(request);
    const person = await personFor(who.firmId, request.params.id);
    const { token, invitation } = await invite(database, who, person.role, person.id);
    await audit(database, who.firmId, who.userId, 'made a link for another password', person.name);
    response.status(201).json(await answer(request, token, invitation, person));
  });

  /** The token is the key: no more is said of a wrong one than of one that was used or has expired. */
  const invitationFor = async (request: Request) => {
    const invitation = await findInvitation(database, String(request.params.token));
    if (!invitation) throw new Problem(404, 'This link was used already, or has expired. Ask for another.');
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
      await begin(request, { userId, firmId, role: person.role }, epoch);
    } else {
      const { name, email, password } = parse(joinSchema, request.body);
      const passwordHash = await hashPassword(password);
      if (!(await useUp(database, invitation.id))) throw notFound();
      const user = await addPerson(database, { firmId, name, email, passwordHash, role });
      if (!user) {
        // The link was not the trouble, and stays good.
        await stillGood(database, invitation.id);
        throw new Problem(409, 'That e-mail address cannot be used here; take another.');
      }
      await audit(database, firmId, user.id, 'joined', role);
      await begin(request, { userId: user.id, firmId, role }, user.epoch);
    }
    response.status(201).json(await session(request));
  });

  router.get('/people', async (request, response) => {
    response.json({ people: await peopleWithAddresses(database, ownerIs(request).firmId) });
  });

  const personFor = async (firmId: string, id: unknown) => {
    const person = typeof id === 'string' && isUuid(id) ? await personOf(database, firmId, id) : null;
    if (!person) throw notFound();
    return person;
  };
  const lastOwner = () => new Problem(409, 'The firm needs an owner: make somebody else one first.');

  router.put('/people/:id/role', only(ownerIs), body(), async (request, response) => {
    const who = ownerIs(request);
    const { role } = parse(roleSchema, request.body);
    const person = await personFor(who.firmId, request.params.id);
    if (!(await setRole(database, who.firmId, person.id, role))) throw lastOwner();
    await audit(database, who.firmId, who.userId, 'changed the role', `${person.name}: ${role}`);
    response.status(204).end();
  });

  router.put('/people/:id/licence', only(ownerIs), body(), async (request, response) => {
    const who = ownerIs(request);
    const { licence } = parse(licenceSchema, request.body);
    const person = await personFor(who.firmId, request.params.id);
    await setLicence(database, who.firmId, person.id, licence || null);
    await audit(database, who.firmId, who.userId, 'changed the licence', `${person.name}: ${licence || 'none'}`);
    response.status(204).end();
  });

  /** Lets a person go, or goes oneself. `?forget=yes` takes their name out of the history too. */
  router.delete('/people/:id', async (request, response) => {
    const who = whoIs(request);
    const person = await personFor(who.firmId, request.params.id);
    if (person.id !== who.userId) ownerIs(request);
    if (!(await setRole(database, who.firmId, person.id, null))) throw lastOwner();
    await audit(database, who.firmId, who.userId, 'removed', request.query.forget === 'yes' ? null : person.name);
    if (request.query.forget === 'yes') await forget(database, who.firmId, person.id);
    response.status(204).end();
  });

  router.get('/people/:id/data', async (request, response) => {
    const who = whoIs(request);
    const person = await personFor(who.firmId, request.params.id);
    if (person.id !== who.userId) ownerIs(request);
    await audit(database, who.firmId, who.userId, 'exported a person\u2019s data', person.name);
    response.json(await dataOf(database, who.firmId, person.id));
  });

  router.put('/password', only(whoIs), body(), async (request, response) => {
    const who = whoIs(request);
    const { old, password } = parse(passwordSchema, request.body);
    const person = await personFor(who.firmId, who.userId);
    await limits.attempt(person.email, request.ip ?? 'unknown');
    if (!(await passwordMatches(person.passwordHash, old)))
      throw new Problem(403, 'The password until now was another.', [], 'password');
    await limits.succeeded(person.email, request.ip ?? 'unknown');
    const epoch = await setPassword(database, who.userId, await hashPassword(password));
    await begin(request, who, epoch);
    await audit(database, who.firmId, who.userId, 'changed the password');
    response.json(await session(request));
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

  router.get('/audit', async (request, response) => {
    response.json(await auditOf(database, ownerIs(request).firmId));
  });
  return router;
}

/** A square a dark module; the package finds which they are (ISO/IEC 18004). */
function qrOf(address: string): InvitedAnswer['qr'] {
  const { size, data } = QRCode.create(address).modules;
  const dark = [...data].flatMap((on, i) => (on ? [`M${i % size} ${Math.floor(i / size)}h1v1h-1z`] : []));
  return { size, path: dark.join('') };
}
