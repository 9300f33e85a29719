import { randomUUID } from 'node:crypto';
import { request as plainRequest } from 'node:http';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Agent, createServer as createSecure, request as secureRequest, type Server } from 'node:https';
import sharp from 'sharp';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { createApp } from '../src/http/app';
import { openPool } from '../src/threads/pool';
import { migrate } from '../src/store/migrations';
import { bodyOf, FIRST_CODE, PASSWORD, signedIn as enter, startRig, Visitor, type Rig } from './site-of-two-firms';

let rig: Rig;
beforeAll(async () => {
  rig = await startRig();
}, 60_000);
afterAll(() => rig.close());

const visitor = () => new Visitor(rig.address);
const signedIn = (email: string, password?: string) => enter(rig, email, password);
/** Somebody new, by a link of the firm's owner. */
async function joined(owner: Visitor, role: string, name: string): Promise<Visitor> {
  const { token } = bodyOf<{ token: string }>(await owner.call('POST', '/invitations', { role }));
  const person = visitor();
  person.token = 'x';
  const reply = await person.call('POST', `/join/${token}`, {
    name,
    email: `${name}@ours.example`,
    password: PASSWORD,
  });
  expect(reply.status).toBe(201);
  person.token = bodyOf<{ csrfToken: string }>(reply).csrfToken;
  return person;
}
const idOf = async (name: string) => (await rig.database.models.User.findOne({ where: { name } }))!.id;

/**
 * Every route, and what each kind of asker hears. `ok` is any success, or the fault of a body that is empty: the door was
 * open. A route that is not here fails the test below it.
 */
type Heard = 'ok' | 401 | 403 | 404;
const ALL: Heard[] = ['ok', 'ok', 'ok', 'ok', 'ok', 'ok'];
const MEMBERS: Heard[] = [401, 'ok', 'ok', 'ok', 404, 401];
const WRITERS: Heard[] = [401, 403, 'ok', 'ok', 404, 401];
/** What belongs to the asker's own firm: another firm's person sees theirs. */
const OWN: Heard[] = [401, 'ok', 'ok', 'ok', 'ok', 401];
const OWN_WRITERS: Heard[] = [401, 403, 'ok', 'ok', 'ok', 401];
const OWNERS: Heard[] = [401, 403, 403, 'ok', 'ok', 401];
const OWNERS_OF_IT: Heard[] = [401, 403, 403, 'ok', 404, 401];
/** Another's data: an owner's matter. Of a person who is not of the asker's firm nothing is said. */
const ROUTES: Record<string, Heard[]> = {
  'GET /health': ALL,
  'GET /session': ALL,
  'POST /session': [401, 401, 401, 401, 401, 401],
  'DELETE /session': ALL,
  'POST /firm': [403, 403, 403, 403, 403, 403],
  'GET /join/:token': [404, 404, 404, 404, 404, 404],
  'POST /join/:token': [404, 404, 404, 404, 404, 404],
  'GET /invitations': OWNERS,
  'POST /invitations': OWNERS,
  'DELETE /invitations/:id': OWNERS,
  'GET /people': OWNERS,
  'POST /people/:id/password-link': OWNERS_OF_IT,
  'PUT /people/:id/role': OWNERS_OF_IT,
  'PUT /people/:id/licence': OWNERS_OF_IT,
  'DELETE /people/:id': OWNERS_OF_IT,
  'GET /people/:id/data': OWNERS_OF_IT,
  'PUT /password': OWN,
  'POST /passkeys/options': OWN,
  'POST /passkeys': OWN,
  'GET /passkeys': OWN,
  'DELETE /passkeys/:id': OWN,
  'POST /session/passkey/options': ALL,
  'POST /session/passkey': ALL,
  'GET /sessions': OWN,
  'DELETE /sessions': OWN,
  'DELETE /sessions/:id': OWN,
  'GET /audit': OWNERS,
  'GET /firm': OWN,
  'PUT /firm/schools': OWNERS,
  'PUT /firm/sheet': OWNERS,
  'PUT /firm/logo': OWNERS,
  'DELETE /firm/logo': OWNERS,
  'GET /sites': OWN,
  'POST /sites': OWN_WRITERS,
  'GET /sites/:id': MEMBERS,
  'GET /sites/:id/file': MEMBERS,
  'PUT /sites/:id/archived': WRITERS,
  'PUT /sites/:id/headline': WRITERS,
  'GET /sites/:id/changes': MEMBERS,
  'POST /sites/:id/changes': WRITERS,
  'GET /sites/:id/papers/:kind/:about': MEMBERS,
  'PUT /sites/:site/attachments/:id': WRITERS,
  'GET /sites/:site/attachments/:id': [401, 404, 404, 404, 404, 401],
  'GET /records/:hash': [404, 404, 404, 404, 404, 404],
  'GET /due': OWN,
  'GET /sites/:id/due.ics': MEMBERS,
  'GET /calendar': OWN,
  'POST /calendar': OWN,
  'DELETE /calendar': OWN,
  'GET /calendars/:token': [404, 404, 404, 404, 404, 404],
  'GET /sites/:id/handover': MEMBERS,
  'POST /sites/:id/handover': WRITERS,
  'DELETE /sites/:id/handover/:link': WRITERS,
  'GET /sites/:id/offers/:proposal': MEMBERS,
  'POST /sites/:id/offers/:proposal': WRITERS,
  'DELETE /sites/:id/offers/:proposal/:link': WRITERS,
  'GET /o/:token': [404, 404, 404, 404, 404, 404],
  'POST /o/:token': [404, 404, 404, 404, 404, 404],
  'GET /h/:token': [404, 404, 404, 404, 404, 404],
  'GET /h/:token/sheet': [404, 404, 404, 404, 404, 404],
  'POST /live': [401, 401, 401, 401, 401, 401],
  'GET /sites/:id/live': MEMBERS,
  'GET /sites/:id/live/readings': MEMBERS,
  'GET /sites/:id/feeds': MEMBERS,
  'POST /sites/:id/feeds': WRITERS,
  'DELETE /sites/:id/feeds/:feed': WRITERS,
  'GET /fleet': OWN,
  'POST /fleet': OWN_WRITERS,
  'DELETE /fleet': OWN_WRITERS,
  'GET /alerts': OWN,
  'PUT /alerts': OWN,
  'GET /trips': OWN,
  'PUT /trips/:id': OWN_WRITERS,
  'DELETE /trips/:id': OWN_WRITERS,
  'GET /shelf': OWN,
  'PUT /shelf/:id': OWN_WRITERS,
  'DELETE /shelf/:id': OWN_WRITERS,
};
const ASKERS = ['nobody', 'reader', 'technician', 'owner', 'other firm', 'removed person'] as const;

interface Layer {
  route?: { path: string; methods: Record<string, boolean> };
  handle?: { stack?: Layer[] };
}
/** The routes that the app really has, out of its own routers. */
function routesOf(stack: readonly Layer[]): string[] {
  return stack.flatMap(({ route, handle }) =>
    route
      ? Object.keys(route.methods).map((method) => `${method.toUpperCase()} ${route.path}`)
      : routesOf(handle?.stack ?? []),
  );
}

describe('every route x every asker', () => {
  test('no route is missing from the table, and none in it is gone', () => {
    const app = createApp({ ...rig.config, webRoot: undefined }, rig.around) as unknown as {
      router: { stack: Layer[] };
    };
    expect(routesOf(app.router.stack).sort()).toEqual(Object.keys(ROUTES).sort());
  });
  const heard = (status: number): Heard =>
    status < 300 || status === 400 || status === 422 || status === 413 ? 'ok' : (status as Heard);
  test('each hears what the table says', async () => {
    const table: Record<string, Heard[]> = {};
    const site = rig.sites.ours;
    const owner = await signedIn('ann@ours.example');
    const anew: Record<Exclude<(typeof ASKERS)[number], 'nobody'>, () => Promise<Visitor>> = {
      reader: () => signedIn('rob@ours.example'),
      technician: () => joined(owner, 'technician', `t${randomUUID()}`),
      owner: () => signedIn('ann@ours.example'),
      'other firm': () => signedIn('eve@theirs.example'),
      'removed person': async () => {
        const removed = await joined(owner, 'technician', `r${randomUUID()}`);
        const { id } = bodyOf<{ person: { id: string } }>(await removed.call('GET', '/session')).person;
        expect((await owner.call('DELETE', `/people/${id}`)).status).toBe(204);
        return removed;
      },
    };
    const kept = new Map<string, Visitor>();
    const isIn = async (one: Visitor) =>
      Boolean(bodyOf<{ person?: object | null }>(await one.call('GET', '/session')).person);
    /** The asker as before; anew where one of the routes ended their session. Who was removed stays so. */
    const askerOf = async (asker: (typeof ASKERS)[number]): Promise<Visitor> => {
      if (asker === 'nobody') return visitor();
      const before = kept.get(asker);
      if (before && (asker === 'removed person' || (await isIn(before)))) return before;
      if (!(await isIn(owner))) await owner.signIn('ann@ours.example', PASSWORD);
      const made = await anew[asker]();
      kept.set(asker, made);
      return made;
    };
    for (const name of Object.keys(ROUTES)) {
      const [method = '', path = ''] = name.split(' ');
      table[name] = [];
      for (const asker of ASKERS) {
        const who = await askerOf(asker);
        if (!(await isIn(owner))) await owner.signIn('ann@ours.example', PASSWORD);
        // Somebody whom the asker may be about; only where the path names a person.
        const target = path.includes('/people/:id') ? await joined(owner, 'reader', `x${randomUUID()}`) : null;
        const targetId = target
          ? bodyOf<{ person: { id: string } }>(await target.call('GET', '/session')).person.id
          : '';
        if (asker === 'nobody' || asker === 'removed person') who.token = 'x';
        const at = path
          .replace('/sites/:id', `/sites/${site}`)
          .replace(':site', site)
          .replace('/people/:id', `/people/${targetId}`)
          .replace(/:(id|token)/, randomUUID());
        const sent = method === 'GET' ? undefined : sample(name);
        table[name].push(heard((await who.call(method, at, sent)).status));
      }
      await rig.database.pool.query('delete from limits');
    }
    expect(table).toEqual(ROUTES);
  }, 120_000);
});
/** What goes with a write: nothing much, but for routes whose door opens behind their body. */
function sample(route: string): unknown {
  if (route === 'POST /session') return { email: 'ann@ours.example', password: 'wrong' };
  if (route === 'POST /firm')
    return { code: 'guess', firm: 'X', name: 'X', email: 'x@x.example', password: 'long-enough-to-pass' };
  if (route === 'PUT /sites/:id/archived') return { archived: false };
  if (route === 'POST /sites/:id/changes') return { changes: [{}] };
  if (route === 'PUT /people/:id/role') return { role: 'reader' };
  if (route === 'PUT /people/:id/licence') return { licence: 'SK-E 1' };
  return {};
}

describe('a session is what the database says at that moment', () => {
  test('demoted, moved or removed, a person is so at the next request', async () => {
    const owner = await signedIn('ann@ours.example');
    const lou = await joined(owner, 'technician', 'lou');
    const id = await idOf('lou');
    const archive = () => lou.call('PUT', `/sites/${rig.sites.ours}/archived`, { archived: false });
    expect((await archive()).status).toBe(204);
    await owner.call('PUT', `/people/${id}/role`, { role: 'reader' });
    expect((await archive()).status).toBe(403);
    const eve = await rig.database.models.User.findOne({ where: { name: 'eve' } });
    await rig.database.models.User.update({ firmId: eve!.firmId }, { where: { id } });
    expect((await lou.call('GET', `/sites/${rig.sites.ours}`)).status).toBe(404);
    await rig.database.models.User.update({ removedAt: new Date() }, { where: { id } });
    expect((await lou.call('GET', '/sites')).status).toBe(401);
  });
  test('another password ends the other sessions, not the one it was changed in', async () => {
    const owner = await signedIn('ann@ours.example');
    const here = await joined(owner, 'technician', 'mia');
    const there = await signedIn('mia@ours.example');
    const wrong = await here.call('PUT', '/password', { old: 'wrong', password: 'another-long-one' });
    expect(wrong).toMatchObject({ status: 403, body: { code: 'password' } });
    const short = await here.call('PUT', '/password', { old: PASSWORD, password: 'short' });
    expect(short.body.faults).toMatchObject([{ path: 'password' }]);
    const reply = await here.call('PUT', '/password', { old: PASSWORD, password: 'another-long-one' });
    here.token = bodyOf<{ csrfToken: string }>(reply).csrfToken;
    expect([(await here.call('GET', '/sites')).status, (await there.call('GET', '/sites')).status]).toEqual([200, 401]);
    expect((await visitor().signIn('mia@ours.example')).status).toBe(401);
    expect((await visitor().signIn('mia@ours.example', 'another-long-one')).status).toBe(200);
  });
  test('sessions are listed, one is ended, all are ended', async () => {
    const owner = await signedIn('ann@ours.example');
    const here = await joined(owner, 'technician', 'nan');
    const [second, third] = [await signedIn('nan@ours.example'), await signedIn('nan@ours.example')];
    type Listed = { sessions: { id: string; here: boolean; since: string }[] };
    const { sessions } = bodyOf<Listed>(await here.call('GET', '/sessions'));
    expect(sessions.map((one) => one.here).filter(Boolean)).toHaveLength(1);
    expect(sessions).toHaveLength(3);
    // What is shown of a session is no key to it.
    expect(sessions.some(({ id }) => here.cookie.includes(id))).toBe(false);
    const ofThird = bodyOf<Listed>(await third.call('GET', '/sessions')).sessions.find((one) => one.here)!;
    await here.call('DELETE', `/sessions/${ofThird.id}`);
    expect([(await third.call('GET', '/sites')).status, (await second.call('GET', '/sites')).status]).toEqual([
      401, 200,
    ]);
    await second.call('DELETE', '/sessions');
    expect([(await here.call('GET', '/sites')).status, (await second.call('GET', '/sites')).status]).toEqual([
      401, 401,
    ]);
  });
  test('a session of the version before, with its role in it, goes on by what the database says', async () => {
    const rob = await joined(await signedIn('ann@ours.example'), 'technician', 'zed');
    await rig.database.pool.query(
      `update session set sess = jsonb_set(sess::jsonb #- '{who,epoch}', '{who,role}', '"owner"')::json
        where sess->'who'->>'userId' = $1`,
      [await idOf('zed')],
    );
    expect((await rob.call('GET', '/sites')).status).toBe(200);
    expect((await rob.call('PUT', '/firm/schools', { schools: {} })).status).toBe(403);
  });
  test('the cookie lasts a week from now, not until a date that a wrong clock would have passed', async () => {
    const reply = await visitor().signIn('ann@ours.example');
    expect(reply.headers.get('set-cookie')).toMatch(/Max-Age=604800/);
    expect(reply.headers.get('set-cookie')).not.toMatch(/Expires=/);
  });
});

describe('guessing', () => {
  afterEach(() => rig.database.pool.query('delete from limits'));
  test('of two hundred guesses at once eight are looked at', async () => {
    const replies = await Promise.all(
      Array.from({ length: 200 }, () =>
        visitor()
          .signIn('rob@ours.example', 'wrong')
          .then(({ status }) => status),
      ),
    );
    expect(replies.filter((status) => status === 401)).toHaveLength(8);
    expect(replies.filter((status) => status === 429)).toHaveLength(192);
  }, 60_000);
  test('one address tries sixty in all, whoever it tries', async () => {
    const replies = await Promise.all(
      Array.from({ length: 70 }, (_, i) =>
        visitor()
          .signIn(`p${i}@ours.example`, 'wrong')
          .then(({ status }) => status),
      ),
    );
    expect(replies.filter((status) => status === 401)).toHaveLength(60);
  }, 60_000);
  test('a hundred and more wrong tries from one address do not keep the person out at another', async () => {
    const behind = await startRig({ trustProxy: 1 });
    try {
      const from = (address: string, password: string) =>
        new Visitor(behind.address).call(
          'POST',
          '/session',
          { email: 'rob@ours.example', password },
          { 'x-forwarded-for': address, 'x-csrf-token': 'x' },
        );
      const tries = await Promise.all(Array.from({ length: 120 }, () => from('10.9.9.9', 'wrong')));
      expect(tries.filter(({ status }) => status === 401)).toHaveLength(8);
      // An address where they were never seen.
      expect((await from('10.0.0.7', PASSWORD)).status).toBe(200);
    } finally {
      await behind.close();
    }
  }, 60_000);
  test('nobody hears from the answer whether a person exists, at the limit either', async () => {
    const answers = async (email: string) => {
      const all: unknown[] = [];
      for (let i = 0; i < 9; i++) {
        const { status, body } = await visitor().signIn(email, 'wrong');
        all.push([status, body]);
      }
      return all;
    };
    expect(await answers('rob@ours.example')).toEqual(await answers('nobody@ours.example'));
  }, 60_000);
  test('the right password does not count', async () => {
    for (let i = 0; i < 12; i++) expect((await visitor().signIn('rob@ours.example')).status).toBe(200);
  }, 60_000);
  test('a stranger with many addresses locks nobody out of an address where they have been', async () => {
    const behind = await startRig({ trustProxy: 1 });
    try {
      const from = (address: string, password: string) => {
        const person = new Visitor(behind.address);
        return person.call(
          'POST',
          '/session',
          { email: 'rob@ours.example', password },
          {
            'x-forwarded-for': address,
            'x-csrf-token': 'x',
          },
        );
      };
      expect((await from('10.0.0.1', PASSWORD)).status).toBe(200);
      await behind.database.pool.query(
        `insert into limits (key, points, expire) values ('person:rob@ours.example', 500, $1)
          on conflict (key) do update set points = 500, expire = $1`,
        [Date.now() + 600_000],
      );
      // By the real address: what the proxy says of the asker, not what the asker says.
      expect((await from('10.9.9.9', PASSWORD)).status).toBe(429);
      expect((await from('10.0.0.1', PASSWORD)).status).toBe(200);
    } finally {
      await behind.close();
    }
  }, 60_000);
});

describe('before it is known who asks', () => {
  test('a stranger who asks for the session leaves no row', async () => {
    const count = async () =>
      (await rig.database.pool.query('select count(*)::int as n from session')).rows[0].n as number;
    const before = await count();
    for (let i = 0; i < 5; i++) expect((await visitor().call('GET', '/session')).headers.get('set-cookie')).toBeNull();
    expect(await count()).toBe(before);
  });
  test('no stranger\u2019s body is read, and no more of anybody\u2019s than the route has use for', async () => {
    const stranger = visitor();
    stranger.token = 'x';
    const mega = JSON.stringify({ id: randomUUID(), file: { junk: 'x'.repeat(3e6) } });
    expect((await stranger.call('POST', '/sites', mega)).status).toBe(401);
    expect((await stranger.call('POST', '/sites', '{ not json')).status).toBe(401);
    const owner = await signedIn('ann@ours.example');
    expect((await owner.call('PUT', '/firm/sheet', mega)).status).toBe(413);
    expect((await owner.call('POST', '/sites', mega)).status).toBe(422);
    const reply = await owner.call(
      'POST',
      `/sites/${rig.sites.ours}/changes`,
      JSON.stringify({ changes: ['x'.repeat(2.2e6)] }),
    );
    expect([reply.status, reply.body.title]).toEqual([413, 'That is too large: 2 MB at most.']);
    // A form on another site can set no header, and a text of its own is no JSON.
    expect((await visitor().call('POST', '/session', { email: 'a', password: 'b' })).status).toBe(403);
  });
  test.each(['/sites/%00', '/sites/%E0%A4%A', '/join/%00', '/sites/..%2f..%2fetc'])(
    'GET %s is an answer, not a fault',
    async (path) => {
      const owner = await signedIn('ann@ours.example');
      expect((await owner.call('GET', path)).status).toBeLessThan(500);
    },
  );
});

describe('a proxy that speaks TLS in front', () => {
  let proxy: Server;
  let behind: Rig;
  let port: number;
  beforeAll(async () => {
    behind = await startRig({ secure: true, trustProxy: 1 });
    const folder = mkdtempSync(join(tmpdir(), 'tls-'));
    const [key, cert] = [join(folder, 'key.pem'), join(folder, 'cert.pem')];
    execFileSync(
      'openssl',
      [
        ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '1', '-subj', '/CN=localhost'],
        ...['-keyout', key, '-out', cert],
      ],
      { stdio: 'ignore' },
    );
    proxy = createSecure({ key: readFileSync(key), cert: readFileSync(cert) }, (asked, answer) => {
      const { hostname, port: inner } = new URL(behind.address);
      const headers = { ...asked.headers, 'x-forwarded-proto': 'https', 'x-forwarded-for': asked.socket.remoteAddress };
      asked.pipe(
        plainRequest({ hostname, port: inner, method: asked.method, path: asked.url, headers }, (reply) => {
          answer.writeHead(reply.statusCode ?? 500, reply.headers);
          reply.pipe(answer);
        }),
      );
    });
    await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve));
    port = (proxy.address() as AddressInfo).port;
  }, 60_000);
  afterAll(async () => {
    proxy.closeAllConnections();
    proxy.close();
    await behind.close();
  });
  const ask = (method: string, path: string, body: object | null, headers: Record<string, string>) =>
    new Promise<{ status: number; cookie: string; body: Record<string, never> }>((resolve, reject) => {
      const agent = new Agent({ rejectUnauthorized: false });
      const asked = secureRequest(
        {
          host: '127.0.0.1',
          port,
          method,
          path: `/api${path}`,
          agent,
          headers: { 'content-type': 'application/json', ...headers },
        },
        (reply) => {
          let text = '';
          reply.on('data', (part: Buffer) => (text += part.toString()));
          reply.on('end', () => {
            agent.destroy();
            resolve({
              status: reply.statusCode ?? 0,
              cookie: reply.headers['set-cookie']?.[0] ?? '',
              body: (text ? JSON.parse(text) : {}) as Record<string, never>,
            });
          });
        },
      );
      asked.on('error', reject);
      asked.end(body ? JSON.stringify(body) : undefined);
    });
  test('people come in, and the cookie never travels in clear', async () => {
    const reply = await ask(
      'POST',
      '/session',
      { email: 'ann@ours.example', password: PASSWORD },
      { 'x-csrf-token': 'x' },
    );
    expect(reply.status).toBe(200);
    expect(reply.cookie).toMatch(/; Secure/);
    const cookie = reply.cookie.split(';')[0]!;
    expect((await ask('GET', '/sites', null, { cookie })).status).toBe(200);
  });
});

describe('a firm of one\u2019s own', () => {
  test('an empty server: its first firm by the code that it printed, once', async () => {
    const empty = await startRig({}, { empty: true });
    try {
      const stranger = new Visitor(empty.address);
      stranger.token = 'x';
      const firm = { firm: 'Tarn & Sons', name: 'Una', email: 'una@tarn.example', password: 'a-long-password' };
      expect(bodyOf<{ empty: boolean }>(await stranger.call('GET', '/session')).empty).toBe(true);
      expect((await stranger.call('POST', '/firm', { ...firm, code: 'a guess' })).status).toBe(403);
      const reply = await stranger.call('POST', '/firm', { ...firm, code: FIRST_CODE });
      expect(reply).toMatchObject({
        status: 201,
        body: { person: { name: 'Una', role: 'owner', firm: { name: 'Tarn & Sons' } } },
      });
      const second = new Visitor(empty.address);
      second.token = 'x';
      expect((await second.call('POST', '/firm', { ...firm, code: FIRST_CODE })).status).toBe(409);
      expect((await second.call('GET', '/session')).body).not.toHaveProperty('empty');
    } finally {
      await empty.close();
    }
  }, 60_000);
  test('a further firm by the keeper\u2019s own code, where there is one; it sees nothing of the first', async () => {
    const several = await startRig({ firmCode: 'a-code-of-the-keeper' });
    try {
      const una = new Visitor(several.address);
      una.token = 'x';
      const firm = { firm: 'Tarn & Sons', name: 'Una', email: 'una@tarn.example', password: 'a-long-password' };
      expect((await una.call('POST', '/firm', { ...firm, code: 'a guess' })).status).toBe(403);
      // What opens an empty server opens this one no more.
      expect((await una.call('POST', '/firm', { ...firm, code: FIRST_CODE })).status).toBe(409);
      const taken = { ...firm, email: 'ann@ours.example', code: 'a-code-of-the-keeper' };
      expect((await una.call('POST', '/firm', taken)).status).toBe(409);
      expect((await una.call('POST', '/firm', { ...firm, code: 'a-code-of-the-keeper' })).status).toBe(201);
      expect((await una.call('GET', '/sites')).body).toEqual({ sites: [] });
      expect((await una.call('GET', `/sites/${several.sites.ours}`)).status).toBe(404);
      expect(bodyOf<{ people: unknown[] }>(await una.call('GET', '/firm')).people).toHaveLength(1);
    } finally {
      await several.close();
    }
    const owner = await signedIn('ann@ours.example');
    const more = {
      firm: 'X',
      name: 'X',
      email: 'x@x.example',
      password: 'a-long-password',
      code: 'a-code-of-the-keeper',
    };
    expect((await owner.call('POST', '/firm', more)).status).toBe(403);
  }, 60_000);
  test('a link lets one person in, once; it can be taken back and ends by itself', async () => {
    const owner = await signedIn('ann@ours.example');
    const make = async () =>
      bodyOf<{ token: string; id: string; address: string; qr: { size: number; path: string } }>(
        await owner.call('POST', '/invitations', { role: 'technician' }),
      );
    const { token, address, qr } = await make();
    expect(address).toBe(`http://lantern.example/join/${token}`);
    // The three corners of a code are dark, and it is as large as its address wants.
    expect(qr.size).toBeGreaterThanOrEqual(25);
    for (const corner of ['M0 0', `M${qr.size - 1} 0`, `M0 ${qr.size - 1}`]) expect(qr.path).toContain(`${corner}h1`);
    const person = (n: number) => ({ name: `p${n}`, email: `p${n}@link.example`, password: PASSWORD });
    const join = (with_: string, n: number) => {
      const who = visitor();
      who.token = 'x';
      return who.call('POST', `/join/${with_}`, person(n));
    };
    expect((await visitor().call('GET', `/join/${token}`)).body).toEqual({
      firm: 'ours',
      role: 'technician',
      person: null,
    });
    const both = await Promise.all([join(token, 1), join(token, 2)]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 404]);
    const taken = await make();
    await owner.call('DELETE', `/invitations/${taken.id}`);
    expect((await join(taken.token, 3)).status).toBe(404);
    const old = await make();
    await rig.database.models.Invitation.update({ expiresAt: new Date(Date.now() - 1000) }, { where: { id: old.id } });
    expect((await join(old.token, 4)).status).toBe(404);
    // An address that somebody has: the link stays good for another.
    const third = await make();
    const who = visitor();
    who.token = 'x';
    expect((await who.call('POST', `/join/${third.token}`, { ...person(9), email: 'EVE@theirs.example' })).status).toBe(
      409,
    );
    expect((await join(third.token, 9)).status).toBe(201);
    // The database holds no link.
    const { rows } = await rig.database.pool.query('select token_hash from invitations');
    expect((rows as { token_hash: string }[]).some((row) => row.token_hash.includes(token))).toBe(false);
  });
  test('a forgotten password: a link of the owner\u2019s, which ends the old sessions', async () => {
    const owner = await signedIn('ann@ours.example');
    const pia = await joined(owner, 'technician', 'pia');
    const reply = await owner.call('POST', `/people/${await idOf('pia')}/password-link`, {});
    const { token } = bodyOf<{ token: string }>(reply);
    const who = visitor();
    who.token = 'x';
    expect((await who.call('GET', `/join/${token}`)).body).toMatchObject({
      person: { name: 'pia', email: 'pia@ours.example' },
    });
    expect((await who.call('POST', `/join/${token}`, { password: 'quite-another-one' })).status).toBe(201);
    expect((await pia.call('GET', '/sites')).status).toBe(401);
    expect((await visitor().signIn('pia@ours.example', 'quite-another-one')).status).toBe(200);
  });
  test('a firm is never left without an owner', async () => {
    const owner = await signedIn('ann@ours.example');
    const id = await idOf('ann');
    expect((await owner.call('PUT', `/people/${id}/role`, { role: 'reader' })).status).toBe(409);
    expect((await owner.call('DELETE', `/people/${id}`)).status).toBe(409);
    expect((await owner.call('GET', '/people')).status).toBe(200);
  });
  test('a licence for AC work is kept as the authority wrote it, told to its person, and taken off', async () => {
    const owner = await signedIn('ann@ours.example');
    const lea = await joined(owner, 'technician', 'lea');
    const id = await idOf('lea');
    const told = async () =>
      bodyOf<{ person: { licence: string | null } }>(await lea.call('GET', '/session')).person.licence;
    expect(await told()).toBeNull();
    expect((await owner.call('PUT', `/people/${id}/licence`, { licence: 'SK-E 22' })).status).toBe(204);
    expect(await told()).toBe('SK-E 22');
    const { people } = bodyOf<{ people: { id: string; licence: string | null }[] }>(await owner.call('GET', '/people'));
    expect(people.find((one) => one.id === id)?.licence).toBe('SK-E 22');
    expect((await lea.call('PUT', `/people/${id}/licence`, { licence: 'mine' })).status).toBe(403);
    expect((await owner.call('PUT', `/people/${id}/licence`, {})).status).toBe(422);
    expect((await owner.call('PUT', `/people/${id}/licence`, { licence: '' })).status).toBe(204);
    expect(await told()).toBeNull();
  });
  test('who leaves can be forgotten: their work stays under "a former member"', async () => {
    const owner = await signedIn('ann@ours.example');
    const quin = await joined(owner, 'technician', 'quin');
    const id = await idOf('quin');
    const { parts } = bodyOf<{ parts: { id: string; kind: string; revision: number }[] }>(
      await quin.call('GET', `/sites/${rig.sites.ours}`),
    );
    const bank = parts.find(({ kind }) => kind === 'bank')!;
    await quin.call('POST', `/sites/${rig.sites.ours}/changes`, {
      changes: [
        {
          changeId: randomUUID(),
          partId: bank.id,
          baseRevision: bank.revision,
          set: { age_y: 4 },
          at: '2026-05-04T09:10:00Z',
        },
      ],
    });
    const data = bodyOf<{ person: { email: string }; changes: { fields: object }[] }>(
      await quin.call('GET', `/people/${id}/data`),
    );
    expect([data.person.email, data.changes.map(({ fields }) => fields)]).toEqual([
      'quin@ours.example',
      [{ age_y: 4 }],
    ]);
    expect((await quin.call('DELETE', `/people/${id}?forget=yes`)).status).toBe(204);
    expect((await quin.call('GET', '/sites')).status).toBe(401);
    const { changes } = bodyOf<{ changes: { person: string }[] }>(
      await owner.call('GET', `/sites/${rig.sites.ours}/changes`),
    );
    expect(changes[0]?.person).toBe('a former member');
    const { entries } = bodyOf<{ entries: { person: string; what: string; about: string }[] }>(
      await owner.call('GET', '/audit'),
    );
    expect(entries[0]).toMatchObject({ what: 'removed', person: 'a former member', about: null });
    expect(JSON.stringify(entries)).not.toContain('quin@');
  });
  test('the audit is kept a year', async () => {
    const owner = await signedIn('ann@ours.example');
    const firmId = (await rig.database.models.User.findOne({ where: { name: 'ann' } }))!.firmId;
    const day = 86_400_000;
    for (const days of [360, 370])
      await rig.database.models.Audit.create({
        firmId,
        userId: null,
        what: `${days}`,
        about: null,
        at: new Date(Date.now() - days * day),
      });
    const { entries } = bodyOf<{ entries: { what: string }[] }>(await owner.call('GET', '/audit'));
    expect(entries.some(({ what }) => what === '360')).toBe(true);
    expect(entries.some(({ what }) => what === '370')).toBe(false);
    expect(entries.some(({ what }) => what === 'signed in')).toBe(true);
  });
  test('the firm sheet is kept as it was given; nonsense is named', async () => {
    const owner = await signedIn('ann@ours.example');
    const sheet = { address: '1 Slipway', currency: 'GBP', tax_pct: 20, paper: 'A4', validity_d: 30 };
    expect((await owner.call('PUT', '/firm/sheet', sheet)).status).toBe(204);
    expect((await owner.call('GET', '/firm')).body).toMatchObject({ sheet });
    for (const [wrong, path] of [
      [{ tax_pct: 101 }, 'tax_pct'],
      [{ paper: 'A3' }, 'paper'],
      [{ validity_d: 0 }, 'validity_d'],
      [{ address: 'a\0b' }, 'address'],
    ] as const)
      expect((await owner.call('PUT', '/firm/sheet', wrong)).body.faults).toMatchObject([{ path }]);
  });
});

describe('what papers show, and to whom', () => {
  test('a logo is drawn anew and stays when the sheet changes; the name is the firm\u2019s', async () => {
    const owner = await signedIn('ann@ours.example');
    const picture = await sharp({ create: { width: 900, height: 300, channels: 4, background: '#a638' } })
      .png()
      .toBuffer();
    expect((await owner.send('PUT', '/firm/logo', picture, 'image/png')).status).toBe(204);
    expect((await owner.send('PUT', '/firm/logo', Buffer.from('<svg/>'), 'image/svg+xml')).body.faults).toMatchObject([
      { path: 'logo' },
    ]);
    expect((await owner.call('PUT', '/firm/sheet', { name: 'ours & more', paper: 'letter' })).status).toBe(204);
    const firm = bodyOf<{ name: string; sheet: { logo: string; paper: string } }>(await owner.call('GET', '/firm'));
    expect([firm.name, firm.sheet.paper]).toEqual(['ours & more', 'letter']);
    const logo = await sharp(Buffer.from(firm.sheet.logo.split(',')[1] ?? '', 'base64')).metadata();
    expect([logo.format, logo.width, logo.height, logo.hasAlpha]).toEqual(['png', 480, 160, true]);
    await owner.call('DELETE', '/firm/logo');
    expect(bodyOf<{ sheet: { logo: null } }>(await owner.call('GET', '/firm')).sheet.logo).toBeNull();
  });
  test('who is not to see prices does not get them, and takes none off', async () => {
    const owner = await signedIn('ann@ours.example');
    const tess = await joined(owner, 'technician', 'tess');
    const rob = await signedIn('rob@ours.example');
    const id = randomUUID();
    const item = { kind: 'monitor', label: 'Shunt', body: { shunt_A: 50 }, price: 90, currency: 'GBP' };
    await owner.call('PUT', `/shelf/${id}`, item);
    const price = async (who: Visitor) =>
      bodyOf<{ items: { id: string; price?: number }[] }>(await who.call('GET', '/shelf')).items.find(
        (one) => one.id === id,
      )?.price;
    const seen = async (prices: string) => {
      await owner.call('PUT', '/firm/sheet', { prices });
      return [await price(owner), await price(tess), await price(rob)];
    };
    expect(await seen('everybody')).toEqual([90, 90, 90]);
    expect(await seen('no-readers')).toEqual([90, 90, undefined]);
    expect(await seen('owners')).toEqual([90, undefined, undefined]);
    const { price: _, currency: __, ...without } = item;
    await tess.call('PUT', `/shelf/${id}`, { ...without, label: 'Shunt 50' });
    expect(await price(owner)).toBe(90);
  });
});

describe('nothing heavy on the request\u2019s own thread', () => {
  test('a file that takes too long is turned away, and others are answered meanwhile', async () => {
    const owner = await signedIn('ann@ours.example');
    const file = structuredClone(corrach) as unknown as { proposals: object[]; system: { loads: object[] } };
    const more = Array.from({ length: 1500 }, (_, i) => ({
      id: `l${i}`,
      label: 'L',
      kind: 'dc',
      hours_d: 1,
      power_W: 5,
    }));
    file.system.loads.push(...more);
    file.proposals = Array.from({ length: 150 }, (_, i) => ({
      id: `p${i}`,
      title: 'x',
      changes: [{ op: 'set', at: 'loads', id: `l${i}`, value: { power_W: 6 } }],
    }));
    const bringing = owner.call('POST', '/sites', { id: randomUUID(), file });
    const during = await owner.call('GET', '/sites');
    expect(during.status).toBe(200);
    expect((await bringing).body.faults ?? []).toEqual([]);
    expect((await bringing).status).toBe(201);
  }, 60_000);
});

test('a job that takes longer than it may is stopped, and says so', async () => {
  const importer = { userId: 'ann', licensed: false, owner: true, members: [] };
  const pool = openPool(join(__dirname, '../src/threads/worker.ts'), { longest_ms: 1 });
  try {
    await expect(
      pool.run('file', { bytes: Buffer.from(JSON.stringify({ id: randomUUID(), file: corrach })), importer }),
    ).rejects.toMatchObject({
      status: 422,
      faults: [{ path: 'file' }],
    });
  } finally {
    await pool.close();
  }
});

describe('the schema', () => {
  test('a database of a newer version is refused with a sentence', async () => {
    await rig.database.pool.query("insert into migrations (name) values ('999-of-tomorrow')");
    await expect(migrate(rig.database.sequelize)).rejects.toThrow(
      /newer version \(999-of-tomorrow\).*start the newer server/,
    );
    await rig.database.pool.query("delete from migrations where name = '999-of-tomorrow'");
    await expect(migrate(rig.database.sequelize)).resolves.toBeUndefined();
  });
});
