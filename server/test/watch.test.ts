import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { dateOf, dayFrom, fleetSite, type FleetSite, type PartRow, type SystemFile } from '@true-lantern/core';
import type { AlertsAnswer } from '@true-lantern/wire';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { postOf } from '../src/http/mail';
import { digestMail, keepDigest } from '../src/jobs/digest';
import { keepWatch } from '../src/jobs/watch';
import { keepFleet } from '../src/store/fleet';
import { openNews, type SiteNews } from '../src/store/news';
import { bodyOf, change, signedIn, startRig, until, type Rig, type Visitor } from './site-of-two-firms';

/** What is out of range: into the log once, to the open pages of the firm, by mail to who asked for it. */

const mailed: { to: string; text: string }[] = [];
let smtp: SMTPServer;
let rig: Rig;
let [ann, rob, eve]: Visitor[] = [];
let token: string;
let end: () => Promise<void> = async () => undefined;
const heard: SiteNews[] = [];

beforeAll(async () => {
  smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, session, done) {
      let text = '';
      stream.on('data', (chunk: Buffer) => (text += chunk.toString('utf8')));
      stream.on('end', () => {
        mailed.push({ to: session.envelope.rcptTo.map(({ address }) => address).join(), text });
        done();
      });
    },
  });
  await new Promise<void>((ready) => smtp.listen(0, '127.0.0.1', ready));
  const { port } = smtp.server.address() as AddressInfo;
  rig = await startRig({ mailUrl: `smtp://127.0.0.1:${port}`, publicUrl: 'https://lantern.example' });
  [ann, rob, eve] = await Promise.all(
    ['ann@ours.example', 'rob@ours.example', 'eve@theirs.example'].map((email) => signedIn(rig, email)),
  );
  const { parts } = bodyOf<{ parts: PartRow[] }>(await ann!.call('GET', `/sites/${rig.sites.ours}`));
  const inverter = parts.find(({ body }) => body.id === 'inv')!;
  const changes = [change(inverter.id, inverter.revision, { ac_V: 230 })];
  expect((await ann!.call('POST', `/sites/${rig.sites.ours}/changes`, { changes })).status).toBe(200);
  token = bodyOf<{ token: string }>(await ann!.call('POST', `/sites/${rig.sites.ours}/feeds`, {})).token;
}, 60_000);
afterAll(async () => {
  await end();
  await rig.close();
  await new Promise<void>((closed) => smtp.close(() => closed()));
});

const begin = () => {
  const { database, pool, log } = rig.around;
  const publicUrl = 'https://lantern.example';
  end = keepWatch({ database, pool, log, post: postOf(rig.config, () => undefined), publicUrl }, 60);
};
/** What the inverter says of its mains, in volts. */
const say = async (volts: number) => {
  const answer = await fetch(`${rig.address}/api/live`, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}` },
    body: JSON.stringify({ subject: 'inv', quantity: 'ac_V', value: volts }),
  });
  expect(await answer.json()).toMatchObject({ kept: 1 });
};
const entries = async (who = ann!) => {
  const { parts } = bodyOf<{ parts: PartRow[] }>(await who.call('GET', `/sites/${rig.sites.ours}`));
  return parts.filter(({ kind, body }) => kind === 'log' && body.by === 'True Lantern').map(({ body }) => body);
};
const watched = async () =>
  until(async () => {
    const { rows } = await rig.database.pool.query(
      'select 1 from live_heard where watched_at is null or watched_at < came_at',
    );
    return rows.length === 0;
  });
const choose = (who: Visitor, more: object) =>
  who.call('PUT', '/alerts', { mail: false, digest: false, quietFrom: 0, quietTo: 0, zone: 'Europe/Lisbon', ...more });

test('nobody is mailed who did not ask; what is chosen is one’s own, and has its limits', async () => {
  expect(bodyOf<AlertsAnswer>(await ann!.call('GET', '/alerts'))).toEqual({
    alerts: { mail: false, digest: false, quietFrom: 22, quietTo: 7, zone: 'UTC' },
    mails: true,
  });
  expect((await choose(ann!, { zone: 'Nowhere/At all' })).status).toBe(422);
  expect((await choose(ann!, { quietFrom: 24 })).status).toBe(422);
  expect((await choose(ann!, { mail: true })).status).toBe(204);
  // A reader may ask for it, too; here in quiet hours, whenever this test runs.
  const hour = new Date().getUTCHours();
  expect((await choose(rob!, { mail: true, quietFrom: hour, quietTo: (hour + 2) % 24, zone: 'UTC' })).status).toBe(204);
  expect((await choose(eve!, { mail: true })).status).toBe(204);
  expect(bodyOf<AlertsAnswer>(await ann!.call('GET', '/alerts')).alerts).toMatchObject({
    mail: true,
    zone: 'Europe/Lisbon',
  });
});

test('a sound voltage begins nothing; one out of range is logged once, told once, mailed once, in peace at night', async () => {
  const news = openNews(rig.url, rig.around.log);
  await until(async () => news.open());
  const firm = (await rig.database.models.User.findOne({ where: { email: 'ann@ours.example' } }))!.firmId;
  news.listen(
    firm,
    (one) => heard.push(one),
    () => undefined,
  );
  try {
    await say(230);
    begin();
    await watched();
    expect(await entries()).toEqual([]);
    for (const volts of [196, 195, 197, 196]) {
      await say(volts);
      await watched();
    }
    await until(async () => (await entries()).length > 0 && mailed.length > 0);
    const [entry, ...more] = await entries();
    expect(more).toEqual([]);
    expect(entry).toMatchObject({ kind: 'fault', subject: 'inv' });
    expect(String(entry!.text)).toMatch(/is out of range: 196.V; expected 230.V, /);
    const outside = heard.filter((one) => one.outside);
    expect(outside).toHaveLength(1);
    expect(outside[0]).toMatchObject({ siteId: rig.sites.ours, firmId: firm });
    expect(outside[0]!.outside).toContain('ours hut: ');
    expect(mailed.map(({ to }) => to)).toEqual(['ann@ours.example']);
    expect(mailed[0]!.text.replace(/=\r?\n/g, '')).toContain(`https://lantern.example/site/${rig.sites.ours}/live`);
    // In the morning whoever slept is told of what still stands.
    await choose(rob!, { mail: true });
    await until(async () => mailed.length > 1);
    expect(mailed.map(({ to }) => to)).toEqual(['ann@ours.example', 'rob@ours.example']);
  } finally {
    await news.close();
  }
});

test('a server that begins anew, or dies before the entry was written, writes no second one', async () => {
  await end();
  // As it is when a server dies between the entry and the note that it was written.
  await rig.database.pool.query('update live_outside set logged_at = null');
  begin();
  await until(async () => {
    const { rows } = await rig.database.pool.query('select 1 from live_outside where logged_at is null');
    return rows.length === 0;
  });
  await say(194);
  await watched();
  expect(await entries()).toHaveLength(1);
  expect(mailed).toHaveLength(2);
});

test('a mail that was not taken is tried again', async () => {
  await end();
  await rig.database.pool.query('delete from alerts_sent');
  const { database, pool, log } = rig.around;
  let tries = 0;
  const post = async () => {
    tries += 1;
    return tries > 2;
  };
  end = keepWatch({ database, pool, log, post, publicUrl: 'https://lantern.example' }, 60);
  await until(async () => tries >= 4);
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(tries).toBe(4);
});

describe('a system that falls silent', () => {
  /** As if all that was heard had come so many hours earlier. */
  const agedBy = (hours: number) =>
    rig.database.pool.query(
      `with moved as (update live set at = at - $1 * interval '1 hour' where site_id = $2)
        update live_heard set at = at - $1 * interval '1 hour' where site_id = $2`,
      [hours, rig.sites.ours],
    );
  const silences = async () => (await entries()).filter(({ text }) => String(text).startsWith('Nothing heard since'));

  test('is told once, as what was heard last; what was out of range before it is not told again', async () => {
    await end();
    mailed.length = 0;
    await rig.database.pool.query('delete from live_outside');
    await choose(ann!, { mail: true });
    await choose(rob!, {});
    await agedBy(0.5);
    begin();
    await new Promise((resolve) => setTimeout(resolve, 300));
    // Half an hour without a word is a router that starts again.
    expect(await silences()).toEqual([]);
    await agedBy(1);
    await until(async () => (await silences()).length > 0 && mailed.length > 0);
    await new Promise((resolve) => setTimeout(resolve, 300));
    const [entry, ...more] = await silences();
    expect(more).toEqual([]);
    expect(entry).toMatchObject({ kind: 'fault', subject: 'site' });
    expect(entry!.text).toMatch(
      /^Nothing heard since \d{4}-\d{2}-\d{2} \d{2}:\d{2} UTC: the device that sends, its network or the system may be off\.$/,
    );
    expect(mailed.map(({ to }) => to)).toEqual(['ann@ours.example']);
  });

  test('heard again, it is over; silent another time, it is told again', async () => {
    await say(230);
    await until(async () => {
      const { rows } = await rig.database.pool.query(`select 1 from live_outside where quantity = 'silent'`);
      return rows.length === 0;
    });
    await agedBy(2);
    await until(async () => (await silences()).length === 2);
  });

  test('a device that reports every few hours is not silent in between', async () => {
    await end();
    const { pool } = rig.around.database;
    await pool.query(`delete from live_outside`);
    await pool.query('delete from live where site_id = $1', [rig.sites.ours]);
    for (const hours of [14, 10, 6, 2])
      await pool.query(
        `insert into live (site_id, subject, quantity, at, value) values ($1, 'inv', 'ac_V', now() - $2 * interval '1 hour', 230)`,
        [rig.sites.ours, hours],
      );
    await pool.query(`update live_heard set at = now() - interval '2 hours' where site_id = $1`, [rig.sites.ours]);
    begin();
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect(await silences()).toHaveLength(2);
  });
});

describe('the day’s list by mail', () => {
  const on = '2026-12-01';
  const found = (dark: number | null): FleetSite => ({
    ...fleetSite(corrach as unknown as SystemFile, dayFrom(on)!, 'week', 10),
    dark,
    lines: ['Leave off the heater.'],
  });

  test('goes once, to who asked, after four in the afternoon, and not before the figures are there', async () => {
    await end();
    mailed.length = 0;
    const asked: string[] = [];
    const fleet = {
      ask: async (firm: string) => asked.push(firm),
      waiting: async () => 0,
      stop: async () => undefined,
      close: async () => undefined,
    };
    let hour = 15;
    await choose(ann!, { digest: true });
    await choose(rob!, {});
    const { database, log } = rig.around;
    const post = postOf(rig.config, () => undefined)!;
    const publicUrl = 'https://lantern.example';
    end = keepDigest({ database, fleet, log, post, publicUrl, today: () => dayFrom(on)!, hour: () => hour }, 60);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(asked).toEqual([]);
    hour = 16;
    await until(async () => asked.length > 0);
    expect(mailed).toEqual([]);
    const site = (await database.models.Site.findByPk(rig.sites.ours))!;
    const job = { siteId: site.id, firmId: site.firmId, span: 'week' as const, revision: site.revision, on };
    await keepFleet(database.pool, { ...job, found: found(0.4) });
    await until(async () => mailed.length > 0);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(mailed.map(({ to }) => to)).toEqual(['ann@ours.example']);
  });

  test('the worst first, what is small as a count, what cannot be judged said as such', () => {
    const rows = [0.02, 0.31, null, 0.07].map((dark, i) => ({ id: `s${i}`, name: `hut ${i}`, found: found(dark) }));
    const { subject, text } = digestMail('a@b.example', {
      firm: 'Ferry',
      on: dateOf(dayFrom(on)!),
      publicUrl: 'https://x.example',
      rows,
    });
    expect(subject).toBe('Ferry, 2026-12-01: 2 sites may lose power');
    expect(text.indexOf('hut 1: 31 %')).toBeGreaterThanOrEqual(0);
    expect(text.indexOf('hut 1')).toBeLessThan(text.indexOf('hut 3: 7 %'));
    expect(text).not.toContain('hut 0');
    expect(text).toContain('1 more sites: below 5 %.'.replace('1 more sites', '1 more site'));
    expect(text).toContain('1 site could not be judged');
    expect(text).toContain('charge assumed');
  });
});
