import * as api from '../src/data/api';
import { addPasskey, enterByPasskey, isGivenUp, removePasskey } from '../src/data/passkeys';
import * as people from '../src/data/people';
import { removeLogo, setLogo, setSheet } from '../src/data/firm';

jest.mock('@simplewebauthn/browser', () => ({
  browserSupportsWebAuthn: () => true,
  startRegistration: jest.fn(async ({ optionsJSON }) => ({ made: optionsJSON })),
  startAuthentication: jest.fn(async ({ optionsJSON }) => ({ shown: optionsJSON })),
}));

/** What the server was asked, and what it answers next. */
const asked: { path: string; init: RequestInit | undefined }[] = [];
let answers: (() => Response | Promise<Response>)[] = [];
const json =
  (body: unknown, status = 200) =>
  () =>
    ({ ok: status < 300, status, json: async () => body }) as Response;
const empty = () => () => ({ ok: true, status: 204, json: () => Promise.reject(new Error('no body')) }) as Response;
const fetched = jest.fn(async (path: string, init?: RequestInit) => {
  asked.push({ path, init });
  return (answers.shift() ?? json({}))();
});
beforeEach(() => {
  asked.length = 0;
  answers = [];
  Object.assign(globalThis, { fetch: fetched });
});
const headers = (n = 0) => asked[n]!.init!.headers as Record<string, string>;
const lines = () =>
  asked.map(({ path, init }) => `${init?.method} ${path}${init?.body ? ` ${String(init.body)}` : ''}`);

describe('one call', () => {
  test('a read carries no token, no body and no type; a write all three', async () => {
    answers = [json({ csrfToken: 'of the session', person: null }), json({ sites: ['a'] }), json({ warnings: [] })];
    await api.getSession();
    expect(await api.getSites()).toEqual(['a']);
    await api.importSite('s', { site: 1 }, ['r']);
    expect(lines()).toEqual([
      'GET /api/session',
      'GET /api/sites',
      'POST /api/sites {"id":"s","file":{"site":1},"rowIds":["r"]}',
    ]);
    expect(asked.every(({ init }) => init?.credentials === 'same-origin')).toBe(true);
    expect(headers(1)).toEqual({});
    expect(headers(2)).toEqual({ 'content-type': 'application/json', 'x-csrf-token': 'of the session' });
  });
  test('bytes go as they are, under their own type', async () => {
    const photo = new Blob(['abc'], { type: 'image/jpeg' });
    await api.sendRequest('PUT', '/x', photo);
    expect(asked[0]!.init!.body).toBe(photo);
    expect(headers()['content-type']).toBe('image/jpeg');
  });
  test('an answer without content is none', async () => {
    answers = [empty()];
    expect(await api.signOut()).toBeUndefined();
    expect(lines()).toEqual(['DELETE /api/session']);
  });
  test('a page whose session changed under it fetches a token and tries once more, and only once', async () => {
    const old = json({ code: 'csrf', title: 'The page is out of date.' }, 403);
    answers = [old, json({ csrfToken: 'new', person: null }), json({ id: 'x' })];
    expect(await api.putHeadline('s', {} as never)).toEqual({ id: 'x' });
    expect(asked.map(({ path }) => path)).toEqual(['/api/sites/s/headline', '/api/session', '/api/sites/s/headline']);
    expect(headers(2)['x-csrf-token']).toBe('new');
    answers = [old, json({ csrfToken: 'new', person: null }), old];
    await expect(api.putHeadline('s', {} as never)).rejects.toMatchObject({ status: 403, code: 'csrf' });
    expect(asked).toHaveLength(6);
  });
  test('what the server says is what is thrown: its sentence, its faults, its code', async () => {
    answers = [json({ title: 'No.', code: 'why', faults: [{ path: 'a', message: 'is 1' }] }, 422)];
    const thrown = await api.getFirm().catch((error: unknown) => error);
    expect(thrown).toBeInstanceOf(api.ApiError);
    expect(thrown).toMatchObject({
      name: 'ApiError',
      status: 422,
      message: 'No.',
      code: 'why',
      faults: [{ path: 'a', message: 'is 1' }],
    });
  });
  test('an answer that is no JSON still has its status', async () => {
    answers = [() => ({ ok: false, status: 502, json: () => Promise.reject(new Error('html')) }) as Response];
    await expect(api.getFirm()).rejects.toMatchObject({ status: 502, message: 'The server answered 502.', faults: [] });
  });
  describe('made at a site that the server does not have yet', () => {
    beforeEach(() => jest.useFakeTimers());
    afterEach(() => jest.useRealTimers());
    const missing = json({ title: 'There is nothing here.' }, 404);
    const make = async () => {
      const made = api.askOnceSent<{ id: string }>('POST', '/sites/s/feeds', {}).catch((error: unknown) => error);
      await jest.advanceTimersByTimeAsync(60_000);
      return made;
    };
    test('waits until it is sent', async () => {
      answers = [missing, missing, json({ id: 'x' })];
      expect(await make()).toEqual({ id: 'x' });
      expect(lines()).toEqual(Array.from({ length: 3 }, () => 'POST /api/sites/s/feeds {}'));
    });
    test('gives up in a sentence of its own, and asks no more', async () => {
      answers = Array.from({ length: 20 }, () => missing);
      expect(await make()).toMatchObject({
        status: 404,
        message: 'The server does not have this yet, or no longer has it.',
      });
      expect(asked).toHaveLength(7);
    });
    test('what is refused for another reason is refused at once', async () => {
      answers = [json({ title: 'No.' }, 403)];
      expect(await make()).toMatchObject({ status: 403, message: 'No.' });
      expect(asked).toHaveLength(1);
    });
  });
  test('no answer at all is no signal, whatever was asked', async () => {
    const down = () => Promise.reject(new TypeError('Failed to fetch'));
    answers = [down, down];
    await expect(api.getFirm()).rejects.toBeInstanceOf(api.NoSignal);
    await expect(api.getAttachment('s', 'a', 'small')).rejects.toMatchObject({ name: 'NoSignal' });
  });
  test('a photo comes as bytes; one that the server does not have yet says so', async () => {
    const blob = new Blob(['a']);
    answers = [
      () => ({ ok: true, blob: async () => blob }) as Response,
      () => ({ ok: false, status: 404 }) as Response,
    ];
    expect(await api.getAttachment('s', 'a', 'whole')).toBe(blob);
    expect(asked[0]!.path).toBe('/api/sites/s/attachments/a?size=whole');
    await expect(api.getAttachment('s', 'a', 'small')).rejects.toMatchObject({
      status: 404,
      message: 'It is not on the server yet.',
    });
  });
});

test('each question goes to its own address', async () => {
  const read = { sites: 1, changes: 2, items: 3 };
  answers = Array.from({ length: 8 }, () => json(read));
  expect([
    await api.getArchived(),
    await api.getHistory('s', null),
    await api.getShelf(),
    await api.getSite('s'),
    await api.pushChanges('s', [{ changeId: 'c' } as never]),
    await api.signIn('a@b.c', 'p'),
    await setSheet({ a: 1 }),
    await removeLogo(),
  ]).toEqual([1, read, 3, read, read, read, read, read]);
  expect(lines()).toEqual([
    'GET /api/sites?archived=yes',
    'GET /api/sites/s/changes',
    'GET /api/shelf',
    'GET /api/sites/s',
    'POST /api/sites/s/changes {"changes":[{"changeId":"c"}]}',
    'POST /api/session {"email":"a@b.c","password":"p"}',
    'PUT /api/firm/sheet {"a":1}',
    'DELETE /api/firm/logo',
  ]);
  const logo = new Blob(['a'], { type: 'image/png' });
  await setLogo(logo);
  expect(asked.at(-1)).toMatchObject({ path: '/api/firm/logo', init: { method: 'PUT', body: logo } });
});

test('people: each act is one request, and a link is never read as a path', async () => {
  await people.inviteSomebody('technician', '');
  await people.inviteSomebody('reader', 'a@b.c');
  await people.takeBackInvitation('i');
  await people.passwordLink('p');
  await people.changeRole('p', 'owner');
  await people.changeLicence('p', 'L1');
  await people.removePerson('p', false);
  await people.removePerson('p', true);
  await people.personData('p');
  await people.changePassword('old', 'new');
  await people.endSession('s');
  await people.signOutEverywhere();
  await people.lookAtLink('a/b');
  await people.join('a/b', { name: 'N' });
  await people.makeFirm({ name: 'F' });
  expect(lines()).toEqual([
    'POST /api/invitations {"role":"technician"}',
    'POST /api/invitations {"role":"reader","email":"a@b.c"}',
    'DELETE /api/invitations/i',
    'POST /api/people/p/password-link {}',
    'PUT /api/people/p/role {"role":"owner"}',
    'PUT /api/people/p/licence {"licence":"L1"}',
    'DELETE /api/people/p',
    'DELETE /api/people/p?forget=yes',
    'GET /api/people/p/data',
    'PUT /api/password {"old":"old","password":"new"}',
    'DELETE /api/sessions/s',
    'DELETE /api/sessions',
    'GET /api/join/a%2Fb',
    'POST /api/join/a%2Fb {"name":"N"}',
    'POST /api/firm {"name":"F"}',
  ]);
});

describe('passkeys', () => {
  test('made: the server\u2019s options go to the device, and its answer back with the state', async () => {
    answers = [json({ options: 'o', state: 'st' }), json({ passkeys: [] })];
    await addPasskey('Ring');
    expect(lines()).toEqual([
      'POST /api/passkeys/options {}',
      'POST /api/passkeys {"name":"Ring","state":"st","answer":{"made":"o"}}',
    ]);
  });
  test('shown: it signs in, and the token of the new session is used from then on', async () => {
    answers = [json({ options: 'o', state: 'st' }), json({ csrfToken: 'by key', person: null }), empty()];
    await enterByPasskey();
    await removePasskey('k');
    expect(lines()).toEqual([
      'POST /api/session/passkey/options {}',
      'POST /api/session/passkey {"state":"st","answer":{"shown":"o"}}',
      'DELETE /api/passkeys/k',
    ]);
    expect(headers(2)['x-csrf-token']).toBe('by key');
  });
  test('a person who thought better of it is no trouble; anything else is', () => {
    const by = (name: string) => Object.assign(new Error('x'), { name });
    expect([isGivenUp(by('NotAllowedError')), isGivenUp(by('TypeError')), isGivenUp('NotAllowedError')]).toEqual([
      true,
      false,
      false,
    ]);
  });
});
