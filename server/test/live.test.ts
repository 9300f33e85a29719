import { bodyOf, signedIn, startRig, Visitor, type Rig } from './site-of-two-firms';
import { readDays } from '../src/jobs/rolling';
import { rollUp } from '../src/store/live';
import type { LiveAnswer, LiveAnswerOfSite, LiveReadingsAnswer } from '@true-lantern/wire';

/** What systems send is kept once, refused line by line, and never another site's. */

let rig: Rig;
let ann: Visitor;
let token: string;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
  token = bodyOf<{ token: string }>(await ann.call('POST', `/sites/${rig.sites.ours}/feeds`, {})).token;
}, 60_000);
afterAll(() => rig.close());
beforeEach(() => rig.database.pool.query("delete from limits where key like 'live%'"));

const HOUR = 3_600_000;
const now = Date.now();
const line = (ago_ms: number, value: number, more: object = {}) =>
  JSON.stringify({ at: new Date(now - ago_ms).toISOString(), subject: 'gel', quantity: 'load_V', value, ...more });
const post = (lines: readonly string[], bearer = token) =>
  fetch(`${rig.address}/api/live`, {
    method: 'POST',
    headers: { authorization: `Bearer ${bearer}`, 'content-type': 'application/x-ndjson' },
    body: lines.join('\n'),
  });
const kept = async (site = rig.sites.ours) =>
  (await rig.database.pool.query<{ n: number }>('select count(*)::integer as n from live where site_id = $1', [site]))
    .rows[0]!.n;
const shown = async (span: string) =>
  bodyOf<LiveAnswerOfSite>(await ann.call('GET', `/sites/${rig.sites.ours}/live?span=${span}`));

test('values are kept; late and doubled ones change nothing; each bad line is named, the rest is kept', async () => {
  const reply = await post([
    line(HOUR, 12.5),
    'not json',
    line(2 * HOUR, 12.6),
    line(3 * HOUR, 4000),
    JSON.stringify({ at: new Date(now).toISOString(), subject: 'gel', quantity: 'volts', value: 12 }),
    line(-10 * 60_000, 12),
    line(91 * 24 * HOUR, 12),
    '',
  ]);
  const answer = (await reply.json()) as LiveAnswer;
  expect(answer.kept).toBe(2);
  expect(answer.refused.map((one) => one.line)).toEqual([2, 4, 5, 6, 7]);
  expect(answer.refused.map(({ why }) => why).join()).toMatch(/no JSON.*outside.*expected one such.*ahead.*90 days/s);
  const before = await kept();
  expect(((await (await post([line(HOUR, 12.5), line(HOUR, 11)])).json()) as LiveAnswer).refused).toEqual([]);
  expect(await kept()).toBe(before);
});

test('no token, an ended one, another word for it: nothing is kept; a token writes to its own site alone', async () => {
  expect((await post([line(5 * HOUR, 12)], 'x'.repeat(22))).status).toBe(401);
  const made = bodyOf<{ id: string; token: string }>(await ann.call('POST', `/sites/${rig.sites.ours}/feeds`, {}));
  await ann.call('DELETE', `/sites/${rig.sites.ours}/feeds/${made.id}`);
  expect((await post([line(5 * HOUR, 12)], made.token)).status).toBe(401);
  await post([line(6 * HOUR, 12, { site: rig.sites.theirs })]);
  expect(await kept(rig.sites.theirs)).toBe(0);
  // It only writes.
  const read = await fetch(`${rig.address}/api/sites/${rig.sites.ours}/live`, {
    headers: { authorization: `Bearer ${token}` },
  });
  expect(read.status).toBe(401);
  const [rows] = await rig.database.sequelize.query('select * from links');
  expect(JSON.stringify(rows)).not.toContain(token);
});

test('what is no part of the site is kept nowhere', async () => {
  const before = await kept();
  const answer = (await (
    await post([line(7 * HOUR, 12, { subject: 'a-thousand-names' }), line(7 * HOUR, 12)])
  ).json()) as LiveAnswer;
  expect(answer.refused).toEqual([{ line: 1, why: 'subject is "a-thousand-names", no part of this site' }]);
  expect(await kept()).toBe(before + 1);
});

test('more than a thousand lines, or two thousand a minute, are turned away with when to come again', async () => {
  const many = (n: number, from: number) => Array.from({ length: n }, (_, i) => line(from + i * 1000, 12));
  expect((await post(many(1001, HOUR))).status).toBe(413);
  expect((await post(many(1000, 10 * HOUR))).status).toBe(200);
  expect((await post(many(1000, 20 * HOUR))).status).toBe(200);
  const over = await post(many(10, 30 * HOUR));
  expect(over.status).toBe(429);
  expect(Number(over.headers.get('retry-after'))).toBeGreaterThan(0);
});

test('steps of five minutes and of a day, by hand; a late value is rolled up again; twice is once', async () => {
  await rig.database.pool.query('delete from live');
  const noon = Math.floor((now - 3 * 24 * HOUR) / (24 * HOUR)) * 24 * HOUR + 12 * HOUR;
  const at = (ms: number, value: number) =>
    JSON.stringify({ at: new Date(noon + ms).toISOString(), subject: 'gel', quantity: 'load_V', value });
  await post([at(0, 12), at(60_000, 13), at(120_000, 14), at(300_000, 20)]);
  await rollUp(rig.database.pool);
  const steps = async (seconds: number) =>
    (
      await rig.database.pool.query(
        'select extract(epoch from at) * 1000 as at, least, mean, most, count from live_steps where step_s = $1 order by at',
        [seconds],
      )
    ).rows.map(({ at: when, ...rest }: Record<string, unknown>) => ({ at: Number(when) - noon, ...rest }));
  expect(await steps(300)).toEqual([
    { at: 0, least: 12, mean: 13, most: 14, count: 3 },
    { at: 300_000, least: 20, mean: 20, most: 20, count: 1 },
  ]);
  expect(await steps(86_400)).toEqual([{ at: -12 * HOUR, least: 12, mean: 14.75, most: 20, count: 4 }]);
  await post([at(180_000, 5)]);
  expect(await rollUp(rig.database.pool)).toHaveLength(1);
  expect((await steps(300))[0]).toEqual({ at: 0, least: 5, mean: 11, most: 14, count: 4 });
  expect(await rollUp(rig.database.pool)).toEqual([]);
  const month = await shown('month');
  expect(month.series[0]).toMatchObject({ subject: 'gel', quantity: 'load_V', value: 20 });
  expect(month.series[0]!.steps.filter(Boolean)).toEqual([[5, (4 * 11 + 20) / 5, 20]]);
});

test('a day comes to readings as somebody would have taken them, told to the firm alone, and again where more comes', async () => {
  const { database, pool, log } = rig.around;
  await rig.database.pool.query('delete from live');
  const midnight = Math.floor((now - 5 * 24 * HOUR) / (24 * HOUR)) * 24 * HOUR;
  const at = (hour: number, quantity: string, value: number) =>
    JSON.stringify({ at: new Date(midnight + hour * HOUR).toISOString(), subject: 'gel', quantity, value });
  const night = (from: number, to: number) =>
    Array.from({ length: (to - from) * 12 }, (_, i) => from + i / 12).flatMap((hour) => [
      at(hour, 'head_A', 0),
      at(hour, 'load_V', 24.9),
      at(hour, 'head_soc', 0.7),
    ]);
  await post(night(0, 1));
  await readDays(database, pool, await rollUp(database.pool), log);
  const told = async (who = ann) =>
    bodyOf<LiveReadingsAnswer>(await who.call('GET', `/sites/${rig.sites.ours}/live/readings`)).readings;
  expect(await told()).toEqual([]);
  await post(night(1, 4));
  await readDays(database, pool, await rollUp(database.pool), log);
  const found = await told();
  expect(found.map(({ quantity, value }) => [quantity, value])).toEqual([
    ['rest_V', 24.9],
    ['head_soc', 0.7],
  ]);
  expect(found[0]).toMatchObject({ subject: 'gel', conditions: { rested_h: 2 } });
});

test('a day is drawn from the values themselves, with gaps as gaps', async () => {
  await rig.database.pool.query('delete from live');
  await post([line(2 * HOUR, 12), line(HOUR, 13), line(HOUR - 1000, 15)]);
  const { series, step_s } = await shown('day');
  expect(step_s).toBe(300);
  const drawn = series[0]!.steps.filter(Boolean);
  expect(drawn).toHaveLength(2);
  expect(series[0]!.value).toBe(15);
  expect(series[0]!.steps.length).toBeGreaterThan(280);
});

test('a day that was rolled up goes on: what came since is drawn at once, in the step that was begun too', async () => {
  const { database } = rig;
  await database.pool.query('delete from live');
  await database.pool.query('delete from live_steps');
  await database.pool.query('delete from live_touched');
  const step_ms = 300_000;
  const begin = Math.floor((Date.now() - 3 * HOUR) / step_ms) * step_ms;
  const at = (ms: number, value: number, quantity = 'load_V') =>
    JSON.stringify({ at: begin + ms, subject: 'gel', quantity, value });
  await post([at(0, 10), at(step_ms, 12), at(0, 3, 'head_A')]);
  await rollUp(database.pool);
  const drawn = async () =>
    Object.fromEntries((await shown('day')).series.map(({ quantity, steps }) => [quantity, steps.filter(Boolean)]));
  expect(await drawn()).toEqual({
    head_A: [[3, 3, 3]],
    load_V: [
      [10, 10, 10],
      [12, 12, 12],
    ],
  });
  await post([at(step_ms + 1000, 14), at(2 * step_ms, 20), at(3 * step_ms, 5, 'head_A'), at(1000, 30)]);
  const soon = await drawn();
  expect(soon.load_V).toEqual([
    [10, 10, 10],
    [12, 13, 14],
    [20, 20, 20],
  ]);
  expect(soon.head_A).toHaveLength(2);
  // The late one within five minutes.
  await rollUp(database.pool);
  expect((await drawn()).load_V![0]).toEqual([10, 20, 30]);
});

test('the newest of each quantity, whatever month it is of, in the order of their parts', async () => {
  const { database } = rig;
  await database.pool.query('delete from live');
  const one = (days: number, quantity: string, value: number) =>
    JSON.stringify({ at: Date.now() - days * 24 * HOUR, subject: 'gel', quantity, value });
  await post([
    one(70, 'load_V', 1),
    one(40, 'load_V', 2),
    one(1, 'load_V', 3),
    one(65, 'temp_C', 4),
    one(2, 'head_A', 5),
  ]);
  const { series } = await shown('month');
  expect(series.map(({ quantity, value }) => [quantity, value])).toEqual([
    ['head_A', 5],
    ['load_V', 3],
    ['temp_C', 4],
  ]);
});

test('months that no late value can reach any more are dropped, later ones stay', async () => {
  await post([line(80 * 24 * HOUR, 12), line(HOUR, 12)]);
  const tables = async () =>
    (await rig.database.pool.query("select count(*)::integer as n from pg_inherits where inhparent = 'live'::regclass"))
      .rows[0].n as number;
  const before = await tables();
  await rollUp(rig.database.pool);
  expect(await tables()).toBe(before);
  await rollUp(rig.database.pool, now + 95 * 24 * HOUR);
  expect(await tables()).toBeLessThan(before);
});
