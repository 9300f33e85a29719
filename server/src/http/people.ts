import { licenceSchema, roleSchema } from '@true-lantern/wire';
import { Router } from 'express';
import { only, ownerIs, whoIs } from '../auth/session';
import { audit, auditOf } from '../store/audit';
import type { Database } from '../store/database';
import { dataOf, forget, peopleWithAddresses, setLicence, setRole } from '../store/people';
import { body } from './body';
import { parse } from '../parse';
import { Problem } from '../problem';
import { requirePerson } from './require-person';

/** The people of a firm: what they may do, how they leave, what was done to whom. */
export function peopleRoutes(database: Database): Router {
  const router = Router();

  router.get('/people', async (request, response) => {
    response.json({ people: await peopleWithAddresses(database, ownerIs(request).firmId) });
  });

  const lastOwner = () => new Problem(409, 'The firm needs an owner. Make somebody else an owner first.');

  router.put('/people/:id/role', only(ownerIs), body(), async (request, response) => {
    const who = ownerIs(request);
    const { role } = parse(roleSchema, request.body);
    const person = await requirePerson(database, who.firmId, request.params.id);
    if (!(await setRole(database, who.firmId, person.id, role))) throw lastOwner();
    await audit(database, who.firmId, who.userId, 'changed the role', `${person.name}: ${role}`);
    response.status(204).end();
  });

  router.put('/people/:id/licence', only(ownerIs), body(), async (request, response) => {
    const who = ownerIs(request);
    const { licence } = parse(licenceSchema, request.body);
    const person = await requirePerson(database, who.firmId, request.params.id);
    await setLicence(database, who.firmId, person.id, licence || null);
    await audit(database, who.firmId, who.userId, 'changed the licence', `${person.name}: ${licence || 'none'}`);
    response.status(204).end();
  });

  /** Lets a person go, or goes oneself. `?forget=yes` takes their name out of the history too. */
  router.delete('/people/:id', async (request, response) => {
    const who = whoIs(request);
    const person = await requirePerson(database, who.firmId, request.params.id);
    if (person.id !== who.userId) ownerIs(request);
    if (!(await setRole(database, who.firmId, person.id, null))) throw lastOwner();
    await audit(database, who.firmId, who.userId, 'removed', request.query.forget === 'yes' ? null : person.name);
    if (request.query.forget === 'yes') await forget(database, who.firmId, person.id);
    response.status(204).end();
  });

  router.get('/people/:id/data', async (request, response) => {
    const who = whoIs(request);
    const person = await requirePerson(database, who.firmId, request.params.id);
    if (person.id !== who.userId) ownerIs(request);
    await audit(database, who.firmId, who.userId, 'exported a person\u2019s data', person.name);
    response.json(await dataOf(database, who.firmId, person.id));
  });

  router.get('/audit', async (request, response) => {
    response.json(await auditOf(database, ownerIs(request).firmId));
  });
  return router;
}
