import { randomUUID } from 'node:crypto';
import { checkSystemFile, linkFaultsByRow, toRows, type PartRow } from '@true-lantern/core';
import gannet from '../../demo/sites/gannet-ledge.lantern.json';
import { createSite } from '../src/store/sites';
import type { Links } from '../src/sync/astray';
import { push } from '../src/sync/push';
import { startRig, type Rig } from './site-of-two-firms';

/** A change that leads into nothing among many that are sound: it alone is refused, and the job is not read once for each. */

let rig: Rig;
let rows: PartRow[];
let siteId: string;
let ann: { firmId: string; userId: string };
beforeAll(async () => {
  rig = await startRig();
  const user = await rig.database.models.User.findOne({ where: { email: 'ann@ours.example' }, rejectOnEmpty: true });
  ann = { firmId: user.firmId, userId: user.id };
}, 60_000);
afterAll(() => rig.close());
beforeEach(async () => {
  rows = toRows(checkSystemFile(structuredClone(gannet)).file, randomUUID);
  siteId = randomUUID();
  await createSite(rig.database, { id: siteId, ...ann, name: 'Gannet Ledge', rows });
});

const at = '2026-11-20T09:00:00Z';
const set = (partId: string, fields: object) => ({ changeId: randomUUID(), partId, baseRevision: 1, set: fields, at });
const load = (n: number) => ({
  changeId: randomUUID(),
  partId: randomUUID(),
  baseRevision: 0,
  create: { kind: 'loads', position: 100 + n },
  set: { id: `lamp-${n}`, label: `Lamp ${n}`, kind: 'dc', power_W: 5, hours_d: 2 },
  at,
});

/** Sends changes, and counts how often the job was read as a whole. */
async function sent(changes: readonly object[]) {
  let readings = 0;
  const links: Links = (all) => {
    readings += 1;
    return Promise.resolve(linkFaultsByRow(all));
  };
  const answer = await push(rig.database, { ...ann, siteId, name: 'Ann', licensed: false }, changes, undefined, {
    links,
  });
  return { readings, results: answer!.results, statuses: answer!.results.map(({ status }) => status) };
}
const row = (kind: string) => rows.find((one) => one.kind === kind)!;

test('fifty sound changes are one reading, and one bad one among them is one more', async () => {
  expect((await sent(Array.from({ length: 50 }, (_, n) => load(n)))).readings).toBe(1);
  const bad = set(row('arrays').id, { controllerId: 'nowhere' });
  const { readings, statuses, results } = await sent([
    ...Array.from({ length: 30 }, (_, n) => load(100 + n)),
    bad,
    ...Array.from({ length: 19 }, (_, n) => load(200 + n)),
  ]);
  expect(readings).toBe(2);
  expect(statuses.filter((one) => one === 'applied')).toHaveLength(49);
  expect(results[30]).toMatchObject({
    status: 'refused',
    faults: [{ path: expect.stringMatching(/controllerId/) as string }],
  });
});

test('ten bad ones of ten parts are found together', async () => {
  const dangling = Array.from({ length: 10 }, (_, n) => ({
    ...load(n),
    set: { ...load(n).set, converterId: 'nowhere' },
  }));
  const { readings, statuses } = await sent([...dangling, ...Array.from({ length: 5 }, (_, n) => load(50 + n))]);
  expect(readings).toBe(2);
  expect(statuses).toEqual([...Array<string>(10).fill('refused'), ...Array<string>(5).fill('applied')]);
});

test('what something else still refers to cannot be taken out; the rest goes on', async () => {
  const controller = row('controllers');
  const { statuses } = await sent([load(1), set(controller.id, { '/deleted': true }), load(2)]);
  expect(statuses).toEqual(['applied', 'refused', 'applied']);
});

test('of two changes of one part the one that leads astray is refused, whichever comes first', async () => {
  const array = row('arrays');
  const { statuses } = await sent([set(array.id, { controllerId: 'nowhere' }), set(array.id, { label: 'South wall' })]);
  expect(statuses).toEqual(['refused', 'applied']);
});

test('a part and what refers to it may come in any order in one push', async () => {
  const box = {
    ...load(1),
    create: { kind: 'converters', position: 9 },
    set: { id: 'new-box', in_V: 24, out_V: 12, max_A: 20 },
  };
  const lamp = { ...load(2), set: { ...load(2).set, converterId: 'new-box' } };
  const { statuses, results } = await sent([lamp, box]);
  expect([statuses, results.flatMap(({ faults }) => faults)]).toEqual([['applied', 'applied'], []]);
});
