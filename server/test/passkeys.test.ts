import { createHash, generateKeyPairSync, randomBytes, randomUUID, sign } from 'node:crypto';
import { bodyOf, PASSWORD, startRig, Visitor, type Rig } from './site-of-two-firms';

/** Keys in the place of a password, against a server that has to see through what is shown to it. */

let rig: Rig;
beforeAll(async () => {
  rig = await startRig();
}, 60_000);
afterAll(() => rig.close());

const ORIGIN = 'http://lantern.example';
const hash = (data: Buffer | string) => createHash('sha256').update(data).digest();
const url = (data: Buffer) => data.toString('base64url');

/** A key that a person holds: it signs what it is asked, for the address at which it is (W3C Web Authentication, 6 and 7). */
class Key {
  readonly id = randomBytes(16);
  counter = 0;
  private readonly pair = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  private data(flags: number, more = Buffer.alloc(0)): Buffer {
    const count = Buffer.alloc(4);
    count.writeUInt32BE(++this.counter);
    return Buffer.concat([hash('lantern.example'), Buffer.from([flags]), count, more]);
  }
  private client(type: string, challenge: string, origin: string): Buffer {
    return Buffer.from(JSON.stringify({ type, challenge, origin }));
  }
  /** Shows itself for the first time, without attestation. */
  made(challenge: string, origin = ORIGIN) {
    const { x, y } = this.pair.publicKey.export({ format: 'jwk' });
    const cose = Buffer.concat([
      Buffer.from('a5010203262001215820', 'hex'),
      Buffer.from(x!, 'base64url'),
      Buffer.from('225820', 'hex'),
      Buffer.from(y!, 'base64url'),
    ]);
    const size = Buffer.alloc(2);
    size.writeUInt16BE(this.id.length);
    const data = this.data(0x45, Buffer.concat([Buffer.alloc(16), size, this.id, cose]));
    const attestation = Buffer.concat([
      Buffer.from('a363666d74646e6f6e656761747453746d74a0686175746844617461', 'hex'),
      Buffer.from([0x58, data.length]),
      data,
    ]);
    return this.answer({
      clientDataJSON: url(this.client('webauthn.create', challenge, origin)),
      attestationObject: url(attestation),
      transports: ['internal'],
    });
  }
  shown(challenge: string, origin = ORIGIN) {
    const client = this.client('webauthn.get', challenge, origin);
    const data = this.data(0x05);
    return this.answer({
      clientDataJSON: url(client),
      authenticatorData: url(data),
      signature: url(sign('sha256', Buffer.concat([data, hash(client)]), this.pair.privateKey)),
    });
  }
  private answer(response: object) {
    return { id: url(this.id), rawId: url(this.id), type: 'public-key', response, clientExtensionResults: {} };
  }
}

interface Options {
  options: { challenge: string; excludeCredentials?: { id: string }[]; rpId?: string; rp?: { id: string } };
  state: string;
}
const signedIn = async (email = 'ann@ours.example') => {
  const who = new Visitor(rig.address);
  expect((await who.signIn(email)).status).toBe(200);
  return who;
};
const toAdd = async (who: Visitor) => bodyOf<Options>(await who.call('POST', '/passkeys/options', {}));
const toEnter = async (who: Visitor) => bodyOf<Options>(await who.call('POST', '/session/passkey/options', {}));
const stranger = () => Object.assign(new Visitor(rig.address), { token: 'x' });
async function added(who: Visitor, key = new Key(), name = 'Ring'): Promise<Key> {
  const { options, state } = await toAdd(who);
  const reply = await who.call('POST', '/passkeys', { name, state, answer: key.made(options.challenge) });
  expect(reply.status).toBe(201);
  return key;
}
const enter = async (key: Key, who = stranger(), origin?: string) => {
  const { options, state } = await toEnter(who);
  return who.call('POST', '/session/passkey', { state, answer: key.shown(options.challenge, origin) });
};

test('a key that was added opens the door, for its own person, and says when it was used', async () => {
  const ann = await signedIn();
  const key = await added(ann, new Key(), 'Ring');
  const listed = async () =>
    bodyOf<{ passkeys: { id: string; name: string; usedAt: string | null }[] }>(await ann.call('GET', '/passkeys'));
  expect((await listed()).passkeys).toMatchObject([{ name: 'Ring', usedAt: null }]);
  // The name under which it is shown is not the credential's own.
  expect((await listed()).passkeys[0]!.id).not.toBe(url(key.id));
  const who = stranger();
  const reply = await enter(key, who);
  expect(reply.status).toBe(200);
  expect(bodyOf<{ person: { name: string } }>(reply).person.name).toBe('ann');
  who.token = bodyOf<{ csrfToken: string }>(reply).csrfToken;
  expect((await who.call('GET', '/people')).status).toBe(200);
  expect(Date.parse((await listed()).passkeys[0]!.usedAt!)).toBeGreaterThan(Date.now() - 60_000);
  // A further key is not made on the same device.
  expect((await toAdd(ann)).options.excludeCredentials).toMatchObject([{ id: url(key.id) }]);
  expect((await toAdd(ann)).options.rp?.id).toBe('lantern.example');
});

describe('what was sealed is good once, for one purpose, for one person', () => {
  test('shown twice, it opens nothing the second time', async () => {
    const key = await added(await signedIn());
    const who = stranger();
    const { options, state } = await toEnter(who);
    const answer = key.shown(options.challenge);
    expect((await who.call('POST', '/session/passkey', { state, answer })).status).toBe(200);
    const again = await stranger().call('POST', '/session/passkey', { state, answer });
    expect([again.status, again.body.title]).toEqual([400, 'That took too long or was already tried. Start again.']);
  });
  test('a challenge to add does not sign in, and the other way round', async () => {
    const ann = await signedIn();
    const key = await added(ann);
    const add = await toAdd(ann);
    const entered = await stranger().call('POST', '/session/passkey', {
      state: add.state,
      answer: key.shown(add.options.challenge),
    });
    expect(entered.status).toBe(400);
    const other = await toEnter(ann);
    const made = await ann.call('POST', '/passkeys', {
      name: 'Other',
      state: other.state,
      answer: new Key().made(other.options.challenge),
    });
    expect(made.status).toBe(400);
  });
  test('what one person asked for adds no key to another', async () => {
    const { options, state } = await toAdd(await signedIn('eve@theirs.example'));
    const ann = await signedIn();
    const reply = await ann.call('POST', '/passkeys', {
      name: 'Hers',
      state,
      answer: new Key().made(options.challenge),
    });
    expect(reply.status).toBe(400);
  });
  test('another challenge than the sealed one, another address, another key: refused', async () => {
    const ann = await signedIn();
    const key = await added(ann);
    const who = stranger();
    const { state } = await toEnter(who);
    const wrong = await who.call('POST', '/session/passkey', { state, answer: key.shown(url(randomBytes(32))) });
    expect([wrong.status, wrong.body.title]).toEqual([401, 'That passkey is not known here.']);
    expect((await enter(key, stranger(), 'http://lantern.example.evil')).status).toBe(401);
    expect((await enter(new Key())).status).toBe(401);
    const add = await toAdd(ann);
    const elsewhere = await ann.call('POST', '/passkeys', {
      name: 'Elsewhere',
      state: add.state,
      answer: new Key().made(add.options.challenge, 'http://elsewhere.example'),
    });
    expect([elsewhere.status, elsewhere.body.title]).toEqual([400, 'That passkey could not be added. Start again.']);
  });
  test('a copy of the key is behind: a count that does not go on is refused', async () => {
    const key = await added(await signedIn());
    expect((await enter(key)).status).toBe(200);
    key.counter -= 1;
    expect((await enter(key)).status).toBe(401);
    key.counter += 5;
    expect((await enter(key)).status).toBe(200);
  });
});

describe('a key is gone', () => {
  test('when it is taken off, by its own person alone', async () => {
    const ann = await signedIn();
    const key = await added(ann, new Key(), 'Lost');
    const { passkeys } = bodyOf<{ passkeys: { id: string; name: string }[] }>(await ann.call('GET', '/passkeys'));
    const shown = passkeys.find(({ name }) => name === 'Lost')!.id;
    const eve = await signedIn('eve@theirs.example');
    expect((await eve.call('DELETE', `/passkeys/${shown}`)).status).toBe(204);
    expect((await enter(key)).status).toBe(200);
    expect((await ann.call('DELETE', `/passkeys/${shown}`)).status).toBe(204);
    expect((await enter(key)).status).toBe(401);
  });
  test('when its person is', async () => {
    const { User } = rig.database.models;
    const { firmId, passwordHash } = (await User.findOne({ where: { name: 'eve' } }))!;
    const gone = await User.create({
      id: randomUUID(),
      firmId,
      name: 'gus',
      email: 'gus@theirs.example',
      role: 'technician',
      passwordHash,
    });
    const key = await added(await signedIn('gus@theirs.example'));
    await gone.update({ removedAt: new Date() });
    expect((await enter(key)).status).toBe(401);
  });
});

describe('links', () => {
  const invited = async (): Promise<{ token: string; id: string; userId: string }> => {
    const { User } = rig.database.models;
    const { firmId, passwordHash } = (await User.findOne({ where: { name: 'ann' } }))!;
    const person = await User.create({
      id: randomUUID(),
      firmId,
      name: `lou ${randomUUID()}`,
      email: `${randomUUID()}@ours.example`,
      role: 'technician',
      passwordHash,
    });
    const ann = await signedIn();
    const reply = await ann.call('POST', `/people/${person.id}/password-link`, {});
    return { ...bodyOf<{ token: string; id: string }>(reply), userId: person.id };
  };
  test('for another password of somebody who has left meanwhile leads nowhere', async () => {
    const { token, userId } = await invited();
    expect((await stranger().call('GET', `/join/${token}`)).status).toBe(200);
    await rig.database.models.User.update({ removedAt: new Date() }, { where: { id: userId } });
    expect((await stranger().call('GET', `/join/${token}`)).status).toBe(404);
    expect((await stranger().call('POST', `/join/${token}`, { password: PASSWORD })).status).toBe(404);
  });
  test('another password takes every key away: whoever lost the way in may have lost one', async () => {
    const { token, userId } = await invited();
    const { email } = (await rig.database.models.User.findByPk(userId))!;
    const key = await added(await signedIn(email));
    expect((await stranger().call('POST', `/join/${token}`, { password: 'quite-another-one' })).status).toBe(201);
    expect((await enter(key)).status).toBe(401);
  });
});
