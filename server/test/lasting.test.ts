import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { bodyOf, signedIn, startRig, Visitor, type Rig } from './site-of-two-firms';

/** How long a link and a session last, and which ids are free. */

let rig: Rig;
let ann: Visitor;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
}, 60_000);
afterAll(() => rig.close());

const DAY_MS = 86_400_000;

test('a link to join lasts seven days, one for another password a day', async () => {
  const lasts = ({ expiresAt }: { expiresAt: string }) => (Date.parse(expiresAt) - Date.now()) / DAY_MS;
  const join = await ann.call('POST', '/invitations', { role: 'reader' });
  expect(lasts(bodyOf(join))).toBeCloseTo(7, 2);
  const rob = (await rig.database.models.User.findOne({ where: { name: 'rob' } }))!;
  const password = await ann.call('POST', `/people/${rob.id}/password-link`, {});
  expect(lasts(bodyOf(password))).toBeCloseTo(1, 2);
});

test('a session is written anew once a day, not at every request', async () => {
  const set = async () => (await ann.call('GET', '/sites')).headers.get('set-cookie');
  expect(await set()).toBeNull();
  const seen = (ms: number) =>
    rig.database.pool.query(`update session set sess = jsonb_set(sess::jsonb, '{who,seen}', $1::jsonb)`, [
      JSON.stringify(Date.now() - ms),
    ]);
  await seen(0.9 * DAY_MS);
  expect(await set()).toBeNull();
  await seen(1.1 * DAY_MS);
  expect(await set()).toMatch(/Max-Age=604800/);
  expect(await set()).toBeNull();
});

test('a photo\u2019s id is its own: known to its site, taken for any other of the same firm', async () => {
  const other = randomUUID();
  expect((await ann.call('POST', '/sites', { id: other, file: corrach })).status).toBe(201);
  const bytes = await sharp({ create: { width: 20, height: 20, channels: 3, background: 'white' } })
    .jpeg()
    .toBuffer();
  const id = randomUUID();
  const put = (site: string) => ann.send('PUT', `/sites/${site}/attachments/${id}`, bytes, 'image/jpeg');
  expect((await put(rig.sites.ours)).status).toBe(201);
  expect((await put(rig.sites.ours)).status).toBe(204);
  expect((await put(other)).status).toBe(409);
});

test('a firm without its only owner: another of the same name does not count for it', async () => {
  const { User } = rig.database.models;
  const { id, firmId, passwordHash } = (await User.findOne({ where: { name: 'ann' } }))!;
  const second = await User.create({
    id: randomUUID(),
    firmId,
    name: 'ann',
    email: 'second@ours.example',
    role: 'owner',
    passwordHash,
  });
  // With two of them one may go; the last may not.
  expect((await ann.call('PUT', `/people/${second.id}/role`, { role: 'technician' })).status).toBe(204);
  expect((await ann.call('PUT', `/people/${id}/role`, { role: 'technician' })).status).toBe(409);
  expect((await ann.call('PUT', `/people/${id}/role`, { role: 'owner' })).status).toBe(204);
});

test('what an older version wrote down is read in today\u2019s words', async () => {
  const user = (await rig.database.models.User.findOne({ where: { name: 'ann' } }))!;
  await rig.database.models.Audit.create({
    firmId: user.firmId,
    userId: user.id,
    what: 'put a site away',
    about: 'Hut',
  });
  const { entries } = bodyOf<{ entries: { what: string; about: string }[] }>(await ann.call('GET', '/audit'));
  expect(entries).toContainEqual(expect.objectContaining({ what: 'archived a site', about: 'Hut' }));
});
