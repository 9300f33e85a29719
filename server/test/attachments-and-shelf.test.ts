import { randomUUID } from 'node:crypto';
import { connect } from 'node:net';
import type { PartRow } from '@true-lantern/core';
import sharp from 'sharp';
import { change, startRig, Visitor, type Rig } from './site-of-two-firms';

let rig: Rig;
let ann: Visitor;
let eve: Visitor;
let rob: Visitor;
beforeAll(async () => {
  rig = await startRig();
  [ann, eve, rob] = [new Visitor(rig.address), new Visitor(rig.address), new Visitor(rig.address)] as const;
  await ann.signIn('ann@ours.example');
  await eve.signIn('eve@theirs.example');
  await rob.signIn('rob@ours.example');
}, 60_000);
afterAll(() => rig.close());

/** A photo with the place where it was taken, as a phone writes it. */
const photo = (width = 3000, height = 2000) =>
  sharp({ create: { width, height, channels: 3, background: '#a86' } })
    .withExif({ IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '57/1 12/1 0/1' } })
    .jpeg()
    .toBuffer();

const put = (who: Visitor, id: string, bytes: Buffer | string, type = 'image/jpeg', site = rig.sites.ours) =>
  who.send('PUT', `/sites/${site}/attachments/${id}`, bytes, type);

describe('photos', () => {
  test('are stored smaller, upright, as JPEG, and say nothing of place or camera', async () => {
    const bytes = await photo();
    expect((await sharp(bytes).metadata()).exif).toBeDefined();
    const id = randomUUID();
    expect((await put(ann, id, bytes)).status).toBe(201);
    const stored = await rig.database.models.Attachment.findByPk(id);
    const meta = await sharp(stored?.body).metadata();
    expect(meta).toMatchObject({ format: 'jpeg', width: 2560 });
    expect(meta.exif).toBeUndefined();
    expect(await sharp(stored?.small ?? undefined).metadata()).toMatchObject({ width: 320 });
  });
  test('come whole, and small where small is asked for', async () => {
    const id = randomUUID();
    await put(ann, id, await photo());
    const width = async (query = '') => {
      const response = await fetch(`${rig.address}/api/sites/${rig.sites.ours}/attachments/${id}${query}`, {
        headers: { cookie: ann.cookie },
      });
      return (await sharp(Buffer.from(await response.arrayBuffer())).metadata()).width;
    };
    expect([await width(), await width('?size=small'), await width('?size=large')]).toEqual([2560, 320, 2560]);
  });
  test('sent twice stand once', async () => {
    const id = randomUUID();
    const bytes = await photo(100, 100);
    expect((await put(ann, id, bytes)).status).toBe(201);
    expect((await put(ann, id, bytes)).status).toBe(204);
  });
  test('what is no picture is refused in words, and nothing is kept', async () => {
    const id = randomUUID();
    const reply = await put(ann, id, 'a letter');
    expect(reply.status).toBe(422);
    expect(reply.body.faults[0]?.message).toMatch(/not a readable picture/);
    expect(await rig.database.models.Attachment.findByPk(id)).toBeNull();
  });
  test('more than 12 MB is too large', async () => {
    expect((await put(ann, randomUUID(), Buffer.alloc(13e6))).status).toBe(413);
  });
  test("another firm's people find nothing, and readers add nothing", async () => {
    const id = randomUUID();
    await put(ann, id, await photo(100, 100));
    expect((await eve.call('GET', `/sites/${rig.sites.ours}/attachments/${id}`)).status).toBe(404);
    expect((await eve.call('GET', `/sites/${rig.sites.theirs}/attachments/${id}`)).status).toBe(404);
    expect((await put(eve, randomUUID(), await photo(100, 100))).status).toBe(404);
    expect((await put(rob, randomUUID(), await photo(100, 100))).status).toBe(403);
    // Their own site, our id: the id is taken, whoever it belongs to.
    expect((await put(eve, id, await photo(100, 100), 'image/jpeg', rig.sites.theirs)).status).toBe(409);
  });
  test('a spoken note is known by its bytes, not by what it calls itself', async () => {
    const webm = Buffer.from([0x1a, 0x45, 0xdf, 0xa3, 0, 0, 0, 0]);
    const id = randomUUID();
    expect((await put(ann, id, webm, 'audio/webm')).status).toBe(201);
    const got = await ann.call('GET', `/sites/${rig.sites.ours}/attachments/${id}`);
    expect(got.type).toBe('audio/webm');
    expect((await put(ann, randomUUID(), '<html>', 'audio/webm')).status).toBe(422);
  });
});

describe('the shelf', () => {
  const item = { kind: 'monitor', label: 'Tally', body: { shunt_A: 500 }, price: 12, currency: 'GBP' };
  const labels = async (who: Visitor) =>
    ((await who.call('GET', '/shelf')).body as unknown as { items: { label: string }[] }).items.map(
      ({ label }) => label,
    );
  test('belongs to its firm; an item put twice stands once and can be taken off', async () => {
    const id = randomUUID();
    expect((await ann.call('PUT', `/shelf/${id}`, item)).status).toBe(204);
    expect((await ann.call('PUT', `/shelf/${id}`, { ...item, label: 'Tally 2' })).status).toBe(204);
    expect(await labels(ann)).toEqual(['Tally 2']);
    expect(await labels(eve)).toEqual([]);
    expect((await eve.call('PUT', `/shelf/${id}`, item)).status).toBe(409);
    await eve.call('DELETE', `/shelf/${id}`);
    expect(await labels(ann)).toEqual(['Tally 2']);
    await ann.call('DELETE', `/shelf/${id}`);
    expect(await labels(ann)).toEqual([]);
  });
  test('refuses what the format could not hold', async () => {
    const reply = await ann.call('PUT', `/shelf/${randomUUID()}`, { ...item, body: { shunt_A: '500' } });
    expect(reply.status).toBe(422);
    expect(reply.body.faults[0]?.path).toBe('body.shunt_A');
  });
});

describe('history, archive, schools', () => {
  test('who set what and what stood there before', async () => {
    const row = await controller();
    await ann.call('POST', `/sites/${rig.sites.ours}/changes`, {
      changes: [change(row.id, row.revision, { maxPv_A: 33 })],
    });
    const { changes } = (await ann.call('GET', `/sites/${rig.sites.ours}/changes`)).body as unknown as {
      changes: { person: string; part: string; fields: object; before: object }[];
    };
    expect(changes[0]).toMatchObject({
      person: 'ann',
      part: 'Brackwell T60-150',
      fields: { maxPv_A: 33 },
      before: { maxPv_A: row.body.maxPv_A },
    });
    expect((await eve.call('GET', `/sites/${rig.sites.ours}/changes`)).status).toBe(404);
  });
  test('a site put away is out of the list and comes back whole', async () => {
    const site = rig.sites.ours;
    const list = async (query = '') =>
      ((await ann.call('GET', `/sites${query}`)).body as unknown as { sites: { id: string }[] }).sites.map(
        ({ id }) => id,
      );
    await ann.call('PUT', `/sites/${site}/archived`, { archived: true });
    expect(await list()).not.toContain(site);
    expect(await list('?archived=yes')).toEqual([site]);
    expect((await eve.call('PUT', `/sites/${site}/archived`, { archived: false })).status).toBe(404);
    await ann.call('PUT', `/sites/${site}/archived`, { archived: false });
    expect(await list()).toContain(site);
  });
  test('the owner chooses the schools, others read them', async () => {
    expect((await ann.call('PUT', '/firm/schools', { schools: { controllerOutput: 'margin' } })).status).toBe(204);
    expect((await rob.call('PUT', '/firm/schools', { schools: {} })).status).toBe(403);
    expect((await ann.call('PUT', '/firm/schools', { schools: { controllerOutput: 'magic' } })).status).toBe(422);
    expect((await rob.call('GET', '/firm')).body).toMatchObject({ schools: { controllerOutput: 'margin' } });
    expect((await eve.call('GET', '/firm')).body).toMatchObject({ schools: {} });
  });
});

test('a connection cut in the middle of a drain: sent again whole, nothing is lost and nothing stands twice', async () => {
  const row = await controller();
  const changes = Array.from({ length: 12 }, (_, i) =>
    change(row.id, row.revision, { selfUse_W: i / 10, label: `Cut ${i}` }, { device: 'phone' }),
  );
  const body = JSON.stringify({ changes });
  const { Change } = rig.database.models;
  const before = await Change.count();

  // The wire is cut while the server is at work, before any answer: it waits for the site's row, which is held here.
  const holding = await rig.database.pool.connect();
  await holding.query('begin');
  await holding.query('select 1 from sites where id = $1 for update', [rig.sites.ours]);
  const { port } = new URL(rig.address);
  const socket = connect(Number(port), '127.0.0.1');
  const failed = new Promise<never>((_, reject) => socket.on('error', reject));
  socket.write(
    `POST /api/sites/${rig.sites.ours}/changes HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nCookie: ${ann.cookie}\r\nX-CSRF-Token: ${ann.token}\r\n\r\n${body}`,
  );
  const waits = async () => {
    for (;;) {
      const { rows } = await holding.query(
        `select 1 from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
      );
      if (rows.length > 0) return;
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
  };
  await Promise.race([waits(), failed]);
  socket.destroy();
  await holding.query('commit');
  holding.release();
  // The site's row is locked until the first sending is done: this one comes after it.
  const reply = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes });

  const statuses = (reply.body as unknown as { results: { status: string }[] }).results.map(({ status }) => status);
  expect(statuses).toEqual(Array.from({ length: 12 }, () => 'duplicate'));
  expect(await Change.count()).toBe(before + changes.length);
  expect((await controller()).body).toMatchObject({ selfUse_W: 1.1, label: 'Cut 11' });
}, 60_000);

async function controller(): Promise<PartRow> {
  const { parts } = (await ann.call('GET', `/sites/${rig.sites.ours}`)).body as unknown as { parts: PartRow[] };
  const row = parts.find(({ kind }) => kind === 'controllers');
  if (!row) throw new Error('the hut has a controller');
  return row;
}
