import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { passkeyAddSchema, passkeyEnterSchema } from '@true-lantern/wire';
import { Router, type Request } from 'express';
import { opened, sealed, type Challenge } from '../auth/challenge';
import type { SignInLimits } from '../auth/limits';
import { asWho, begin, only, whoIs } from '../auth/session';
import type { Config } from '../config';
import { audit } from '../store/audit';
import type { Database } from '../store/database';
import { addPasskey, forgetPasskey, passkeyById, passkeysOf, passkeyUsed, shownPasskeys } from '../store/passkeys';
import { personOf } from '../store/people';
import { body } from './body';
import { parse } from '../parse';
import { Problem } from '../problem';
import { sessionAnswer } from './session-answer';

/** What both sides of a key need: the address to which it is bound, and challenges that are good once. */
function ceremony(config: Config, limits: SignInLimits) {
  /** A key is bound to the address under which it was made. */
  const originOf = (request: Request) => config.publicUrl ?? `${request.protocol}://${request.get('host')}`;
  const hostOf = (request: Request) => new URL(originOf(request)).hostname;
  const again = () => new Problem(400, 'That took too long or was already tried. Start again.', [], 'passkey');
  return {
    again,
    hostOf,
    seal: (challenge: Challenge) => sealed(challenge, config.sessionSecret),
    /** What an answer must show that it is of: this challenge, this address. */
    expected: (request: Request, challenge: string) => ({
      expectedChallenge: challenge,
      expectedOrigin: originOf(request),
      expectedRPID: hostOf(request),
      requireUserVerification: false,
    }),
    /** The challenge that was answered: ours, of now, and for the first time. */
    async challengeOf(state: string, purpose: Challenge['purpose']): Promise<Challenge> {
      const challenge = opened(state, config.sessionSecret);
      if (!challenge || challenge.purpose !== purpose || !(await limits.once(`passkey ${challenge.challenge}`)))
        throw again();
      return challenge;
    },
  };
}
type Ceremony = ReturnType<typeof ceremony>;

/** Passkeys (W3C Web Authentication, level 3) as a second way in, beside the password. */
export function passkeyRoutes(config: Config, database: Database, limits: SignInLimits): Router {
  const router = Router();
  const shared = ceremony(config, limits);
  ownPasskeys(router, database, shared);
  entering(router, config, database, limits, shared);
  return router;
}

/** A person's keys: made, listed, taken away. */
function ownPasskeys(router: Router, database: Database, { again, hostOf, seal, expected, challengeOf }: Ceremony) {
  router.post('/passkeys/options', only(whoIs), body(), async (request, response) => {
    const { firmId, userId } = whoIs(request);
    const person = await personOf(database, firmId, userId);
    const known = await passkeysOf(database, userId);
    const options = await generateRegistrationOptions({
      rpName: 'True Lantern',
      rpID: hostOf(request),
      userName: person?.email ?? '',
      userDisplayName: person?.name ?? '',
      userID: new Uint8Array(Buffer.from(userId)),
      excludeCredentials: known.map(({ id }) => ({ id })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'preferred' },
    });
    response.json({ options, state: seal({ challenge: options.challenge, purpose: 'add', userId }) });
  });

  router.post('/passkeys', only(whoIs), body(), async (request, response) => {
    const { firmId, userId } = whoIs(request);
    const { state, name, answer } = parse(passkeyAddSchema, request.body);
    const { challenge, userId: whose } = await challengeOf(state, 'add');
    if (whose !== userId) throw again();
    const { verified, registrationInfo } = await verifyRegistrationResponse({
      response: answer as RegistrationResponseJSON,
      ...expected(request, challenge),
    }).catch(() => ({ verified: false, registrationInfo: undefined }));
    if (!verified || !registrationInfo)
      throw new Problem(400, 'That passkey could not be added. Start again.', [], 'passkey');
    const { id, publicKey, counter, transports } = registrationInfo.credential;
    await addPasskey(database, { id, firmId, userId, name, publicKey, counter, transports: transports ?? [] });
    await audit(database, firmId, userId, 'added a passkey', name);
    response.status(201).json(await shownPasskeys(database, userId));
  });

  router.get('/passkeys', async (request, response) => {
    response.json(await shownPasskeys(database, whoIs(request).userId));
  });

  router.delete('/passkeys/:id', async (request, response) => {
    await forgetPasskey(database, whoIs(request).userId, request.params.id);
    response.status(204).end();
  });
}

/** Signing in by a key, whosever it turns out to be. */
function entering(
  router: Router,
  config: Config,
  database: Database,
  limits: SignInLimits,
  { hostOf, seal, expected, challengeOf }: Ceremony,
) {
  router.post('/session/passkey/options', body(), async (request, response) => {
    const options = await generateAuthenticationOptions({ rpID: hostOf(request), userVerification: 'preferred' });
    response.json({ options, state: seal({ challenge: options.challenge, purpose: 'sign in', userId: '' }) });
  });

  router.post('/session/passkey', body(), async (request, response) => {
    const { state, answer } = parse(passkeyEnterSchema, request.body);
    await limits.attempt('a passkey', request.ip ?? 'unknown');
    const { challenge } = await challengeOf(state, 'sign in');
    const given = answer as AuthenticationResponseJSON;
    const key = typeof given.id === 'string' ? await passkeyById(database, given.id) : null;
    const person = key && (await personOf(database, key.firmId, key.userId));
    const refused = () => new Problem(401, 'That passkey is not known here.', [], 'sign-in');
    if (!key || !person) throw refused();
    const { verified, authenticationInfo } = await verifyAuthenticationResponse({
      response: given,
      ...expected(request, challenge),
      credential: {
        id: key.id,
        publicKey: new Uint8Array(key.publicKey),
        counter: Number(key.counter),
        transports: key.transports,
      },
    }).catch(() => ({ verified: false, authenticationInfo: { newCounter: 0 } }));
    if (!verified) throw refused();
    await passkeyUsed(database, key.id, authenticationInfo.newCounter);
    await limits.succeeded('a passkey', request.ip ?? 'unknown');
    await begin(request, asWho(person), person.epoch);
    await audit(database, person.firmId, person.id, 'signed in', 'with a passkey');
    response.json(await sessionAnswer(config, database, request));
  });
}
