import { inviteSchema, isUuid, type InvitedAnswer } from '@true-lantern/wire';
import { Router, type Request } from 'express';
import { only, ownerIs } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { firmOf } from '../store/firms';
import { invitationsOf, invite, shown, takeBack } from '../store/invitations';
import type { Invitation } from '../store/models';
import { qrOf } from '../reports/qr';
import { addressOf } from './address';
import { body } from './body';
import { linkMail, type Post } from './mail';
import { parse } from '../parse';
import { requirePerson } from './require-person';

/** Links that an owner hands out: for somebody new, or for another password of somebody who is known. */
export function invitationRoutes(config: Config, database: Database, post: Post | null): Router {
  const router = Router();

  const answer = async (
    request: Request,
    token: string,
    invitation: Invitation,
    person: { name: string; email: string } | null,
    to: string | undefined = person?.email,
  ): Promise<InvitedAnswer> => {
    // Without a public address the one by which the owner has come: the link is shown to nobody else.
    const address = `${addressOf(config, request)}/join/${token}`;
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
    const person = await requirePerson(database, who.firmId, request.params.id);
    const { token, invitation } = await invite(database, who, person.role, person.id);
    await audit(database, who.firmId, who.userId, 'created a password reset link', person.name);
    response.status(201).json(await answer(request, token, invitation, person));
  });
  return router;
}
