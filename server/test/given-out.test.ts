import { randomUUID } from 'node:crypto';
import ICAL from 'ical.js';
import sharp from 'sharp';
import { dateOf, dayOf } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { withoutToken } from '../src/http/app';
import { bodyOf, change, PASSWORD, signedIn, startRig, Visitor, type Rig } from './site-of-two-firms';

/** What leaves the firm by an address alone: a calendar, a page for a customer. Read as a stranger's program reads it. */

let rig: Rig;
let ann: Visitor;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
}, 60_000);
afterAll(() => rig.close());

const today = dayOf(new Date().toISOString())!;
const get = (path: string) => fetch(`${rig.address}${path}`);
const eventsOf = (text: string) => {
  const calendar = new ICAL.Component(ICAL.parse(text) as never);
  return calendar.getAllSubcomponents('vevent').map((each) => {
    const event = new ICAL.Event(each);
    return {
      uid: event.uid,
      summary: event.summary,
      day: event.startDate.toString(),
      allDay: event.startDate.isDate,
      sequence: event.sequence,
      stamp: Boolean(each.getFirstPropertyValue('dtstamp')),
    };
  });
};

describe('what is due over the firm', () => {
  test('each site of the firm with its jobs, none of another firm', async () => {
    const answer = bodyOf<{ on: string; sites: { id: string; name: string; due: { due: string }[] }[] }>(
      await ann.call('GET', '/due?days=400'),
    );
    expect(answer.on).toBe(dateOf(today));
    expect(answer.sites.map(({ id }) => id)).toEqual([rig.sites.ours]);
    expect(answer.sites[0]!.due.length).toBeGreaterThan(3);
    const soon = bodyOf<typeof answer>(await ann.call('GET', '/due?days=0'));
    for (const { due } of soon.sites[0]!.due) expect(due <= dateOf(today)).toBe(true);
  });
  test('a job that is done is due later, at once', async () => {
    type Answer = { sites: { due: { key: string; subject: string; due: string; last?: string }[] }[] };
    const clean = async () =>
      bodyOf<Answer>(await ann.call('GET', '/due?days=3650')).sites[0]!.due.find(({ key }) => key === 'clean')!;
    const before = await clean();
    const pushed = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, {
      changes: [
        {
          ...change(randomUUID(), 0, {}),
          create: { kind: 'log', position: 90 },
          set: {
            id: 'cleaned-today',
            at: `${dateOf(today)}T00:00:00Z`,
            kind: 'cleaned',
            by: 'ann',
            subject: before.subject,
          },
        },
      ],
    });
    expect(pushed.status).toBe(200);
    const after = await clean();
    expect(after.last).toBe(dateOf(today));
    expect(after.due > before.due).toBe(true);
  });
});

describe('a calendar', () => {
  const feed = async (address: string) => get(new URL(address).pathname);
  test('a feed opens by its address alone, in another program as whole days, and keeps its names', async () => {
    const made = bodyOf<{ address: string }>(await ann.call('POST', '/calendar'));
    const reply = await feed(made.address);
    expect(reply.headers.get('content-type')).toMatch('text/calendar');
    const events = eventsOf(await reply.text());
    expect(events.length).toBeGreaterThan(3);
    expect(new Set(events.map(({ uid }) => uid)).size).toBe(events.length);
    for (const { allDay, stamp, summary } of events)
      expect([allDay, stamp, summary.startsWith('ours hut: ')]).toEqual([true, true, true]);
    const due = bodyOf<{ sites: { due: { due: string; what: string }[] }[] }>(await ann.call('GET', '/due?days=365'));
    const days = due.sites[0]!.due.map(({ due: day, what }) => `${day} ours hut: ${what}`).sort();
    expect(events.map(({ day, summary }) => `${day} ${summary}`).sort()).toEqual(days);
    const again = eventsOf(await (await feed(made.address)).text());
    expect(again.map(({ uid }) => uid)).toEqual(events.map(({ uid }) => uid));
  });
  test('it says no price and no name of a person', async () => {
    const made = bodyOf<{ address: string }>(await ann.call('POST', '/calendar'));
    const text = await (await feed(made.address)).text();
    expect(text).not.toMatch(/ann|rob|price|EUR|@ours/i);
  });
  test('another address ends the one before; ended, it opens nothing; the database has no address', async () => {
    const first = bodyOf<{ address: string }>(await ann.call('POST', '/calendar')).address;
    const second = bodyOf<{ address: string }>(await ann.call('POST', '/calendar')).address;
    expect([(await feed(first)).status, (await feed(second)).status]).toEqual([404, 200]);
    const [rows] = await rig.database.sequelize.query('select token_hash from links');
    expect(JSON.stringify(rows)).not.toContain(second.split('/').pop()!.replace('.ics', ''));
    await ann.call('DELETE', '/calendar');
    expect((await feed(second)).status).toBe(404);
  });
  test('who is let go takes no calendar along', async () => {
    const { token } = bodyOf<{ token: string }>(await ann.call('POST', '/invitations', { role: 'technician' }));
    const tom = new Visitor(rig.address);
    tom.token = 'x';
    const joined = await tom.call('POST', `/join/${token}`, {
      name: 'tom',
      email: 'tom@ours.example',
      password: PASSWORD,
    });
    tom.token = bodyOf<{ csrfToken: string }>(joined).csrfToken;
    const { address } = bodyOf<{ address: string }>(await tom.call('POST', '/calendar'));
    expect((await feed(address)).status).toBe(200);
    const { id } = bodyOf<{ person: { id: string } }>(await tom.call('GET', '/session')).person;
    await ann.call('DELETE', `/people/${id}`);
    expect((await feed(address)).status).toBe(404);
  });
  test('of one site as a file', async () => {
    const reply = await fetch(`${rig.address}/api/sites/${rig.sites.ours}/due.ics`, {
      headers: { cookie: ann.cookie },
    });
    expect(eventsOf(await reply.text()).length).toBeGreaterThan(3);
  });
});

describe('a page for the customer', () => {
  const made = async (body: object = {}) =>
    bodyOf<{ id: string; address: string }>(await ann.call('POST', `/sites/${rig.sites.ours}/handover`, body));
  const page = async (address: string, more = '') => get(new URL(address).pathname + more);
  test('it needs no sign-in and no script, is small, is kept from search engines, and names nobody else', async () => {
    const { address } = await made({ call: 'Call 0555 0100, eight to six.', lights: 'Green: charging.' });
    const reply = await page(address);
    const text = await reply.text();
    expect(reply.status).toBe(200);
    expect(reply.headers.get('x-robots-tag')).toMatch('noindex');
    expect(reply.headers.get('content-security-policy')).toMatch("default-src 'none'");
    expect(text).not.toMatch(/<script/i);
    expect(Buffer.byteLength(text)).toBeLessThan(60_000);
    expect(text).toContain('Call 0555 0100, eight to six.');
    expect(text).toContain('Green: charging.');
    expect(text).toContain('gel lead-acid battery');
    // Neither the people of the firm nor any price.
    expect(text).not.toMatch(/\b(ann|rob)\b|price|EUR/i);
  });
  test('what somebody typed is never markup', async () => {
    const { address } = await made({ more: '<img src=x onerror=alert(1)> & "so"' });
    const text = await (await page(address)).text();
    expect(text).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;so&quot;');
    expect(text).not.toContain('<img src=x');
  });
  test('a photo of an isolator shows where it is, as it was that day; of one without there is none', async () => {
    const id = randomUUID();
    const photo = randomUUID();
    const [run] = corrach.system.runs;
    const lever = (name: string) => ({ id: name, label: name, kind: 'isolator', runId: run!.id, voltage_V: 200 });
    const file = {
      ...corrach,
      system: { ...corrach.system, switches: [lever('roof-off'), lever('hut-off')] },
      attachments: [{ id: photo, kind: 'photo', subject: 'hut-off', type: 'image/jpeg' }],
    };
    expect((await ann.call('POST', '/sites', { id, file })).status).toBe(201);
    const bytes = await sharp({ create: { width: 800, height: 600, channels: 3, background: '#a86' } })
      .jpeg()
      .toBuffer();
    expect((await ann.send('PUT', `/sites/${id}/attachments/${photo}`, bytes, 'image/jpeg')).status).toBe(201);
    const { address } = bodyOf<{ address: string }>(await ann.call('POST', `/sites/${id}/handover`, {}));
    const text = await (await page(address)).text();
    const pictures = [...text.matchAll(/<li>([^<]*)<br><img class="at" src="data:image\/jpeg;base64,([^"]+)"/g)];
    expect(pictures.map(([, name]) => name)).toEqual([expect.stringMatching(/^Hut-off/)]);
    // Small: a page of ten years ago's phone.
    expect(await sharp(Buffer.from(pictures[0]![2]!, 'base64')).metadata()).toMatchObject({ width: 320 });
    await rig.database.models.Attachment.destroy({ where: { id: photo } });
    expect(await (await page(address)).text()).toBe(text);
  });
  test('the sheet for the locker has the way to switch off and the address as a code', async () => {
    const { address } = await made();
    const text = await (await page(address, '/sheet')).text();
    expect(text).toContain('size:A6');
    expect(text).toMatch(/<svg class="qr"/);
    expect(text).toContain('In an emergency');
  });
  test('it stays as it was given out; opened times are counted; ended it opens nothing', async () => {
    const { id, address } = await made();
    const before = await (await page(address)).text();
    const parts = bodyOf<{ parts: { id: string; kind: string; revision: number; body: { kind?: string } }[] }>(
      await ann.call('GET', `/sites/${rig.sites.ours}`),
    ).parts;
    const site = parts.find(({ kind }) => kind === 'site')!;
    await ann.call('POST', `/sites/${rig.sites.ours}/changes`, {
      changes: [change(site.id, site.revision, { name: 'Another name' })],
    });
    expect(await (await page(address)).text()).toBe(before);
    type Links = { links: { id: string; opened: number }[] };
    const links = bodyOf<Links>(await ann.call('GET', `/sites/${rig.sites.ours}/handover`)).links;
    expect(links.find((one) => one.id === id)!.opened).toBe(2);
    expect((await ann.call('DELETE', `/sites/${rig.sites.ours}/handover/${id}`)).status).toBe(204);
    expect((await page(address)).status).toBe(404);
    await rig.database.sequelize.query(
      "update links set expires_at = now() - interval '1 minute' where kind = 'handover'",
    );
    const other = await made({ days: 1 });
    expect((await page(other.address)).status).toBe(200);
    await rig.database.sequelize.query(
      "update links set expires_at = now() - interval '1 minute' where kind = 'handover'",
    );
    expect((await page(other.address)).status).toBe(404);
  });
  test('what a stranger can learn: nothing of the site but the page, nothing of what never was, and not without end', async () => {
    const { address, id } = await made();
    const reply = await page(address);
    const text = await reply.text();
    // A token of 128 bits; no cookie; no id, no place on the map, no reading, no serial number.
    expect(new URL(address).pathname).toMatch(/^\/h\/[\w-]{22}$/);
    expect(reply.headers.get('set-cookie')).toBeNull();
    expect(reply.headers.get('cache-control')).toBe('no-store');
    expect(reply.headers.get('referrer-policy')).toBe('no-referrer');
    for (const secret of [rig.sites.ours, id, '57.2', '-6.4', 'weathered', 'ours.example', 'revision'])
      expect(text).not.toContain(secret);
    // One letter off, a page that has ended and one that never was are the same to look at.
    const token = new URL(address).pathname.slice(3);
    const wrong = `${token.slice(0, -1)}${token.endsWith('A') ? 'B' : 'A'}`;
    const ended = await made();
    await ann.call('DELETE', `/sites/${rig.sites.ours}/handover/${ended.id}`);
    const nothing = await Promise.all(
      [`/h/${wrong}`, '/h/AAAAAAAAAAAAAAAAAAAAAA', new URL(ended.address).pathname, `/h/${rig.sites.ours}`].map(
        async (path) => {
          const none = await get(path);
          return [none.status, await none.text()];
        },
      ),
    );
    for (const one of nothing) expect(one).toEqual(nothing[0]);
    expect(nothing[0]![0]).toBe(404);
    // Who tries addresses is held up; the one after is told how long.
    const tries = [];
    for (let k = 0; k < 70; k++) tries.push((await get('/h/AAAAAAAAAAAAAAAAAAAAAA')).status);
    expect(tries.at(-1)).toBe(429);
    expect((await page(address)).headers.get('retry-after')).toMatch(/^\d+$/);
    await rig.database.pool.query("delete from limits where key like 'page:%'");
    expect((await page(address)).status).toBe(200);
  });
  test('what cannot be is refused by its path', async () => {
    const reply = await ann.call('POST', `/sites/${rig.sites.ours}/handover`, { days: 0, who: 'x' });
    expect(reply.status).toBe(422);
    const reader = new Visitor(rig.address);
    await reader.signIn('rob@ours.example');
    expect((await reader.call('POST', `/sites/${rig.sites.ours}/handover`, {})).status).toBe(403);
  });
});

test('an address that opens something by itself stands in no log', () => {
  expect(withoutToken('/api/calendars/abc_DEF-1.ics')).toBe('/api/calendars/...');
  expect(withoutToken('/h/abc/sheet?x=1')).toBe('/h/.../sheet?x=1');
  expect(withoutToken('/api/join/abc')).toBe('/api/join/...');
  expect(withoutToken('/api/sites/abc')).toBe('/api/sites/abc');
});
