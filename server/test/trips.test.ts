import { randomUUID } from 'node:crypto';
import type { TripsAnswer } from '@true-lantern/wire';
import { bodyOf, signedIn, startRig, type Rig, type Visitor } from './site-of-two-firms';

/** Trips are a firm's own: their sites, their people, nobody else's. */

let rig: Rig;
let ann: Visitor;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
}, 60_000);
afterAll(() => rig.close());

const trip = (more: object = {}) => ({
  title: 'North round',
  day: '2026-12-04',
  sites: [rig.sites.ours],
  note: '',
  ...more,
});
const list = async (who = ann) => bodyOf<TripsAnswer>(await who.call('GET', '/trips')).trips;

test('kept, changed, removed; sent twice is once', async () => {
  const id = randomUUID();
  for (let k = 0; k < 2; k++) expect((await ann.call('PUT', `/trips/${id}`, trip())).status).toBe(204);
  expect(await list()).toEqual([{ id, ...trip() }]);
  await ann.call('PUT', `/trips/${id}`, trip({ day: '', title: 'South round' }));
  expect(await list()).toMatchObject([{ title: 'South round', day: '' }]);
  expect((await ann.call('DELETE', `/trips/${id}`)).status).toBe(204);
  expect(await list()).toEqual([]);
});

test('a site of another firm is refused by its place; another firm neither sees nor changes a trip', async () => {
  const id = randomUUID();
  const strange = await ann.call('PUT', `/trips/${id}`, trip({ sites: [rig.sites.ours, rig.sites.theirs] }));
  expect(strange).toMatchObject({ status: 422, body: { faults: [{ path: 'sites[1]' }] } });
  await ann.call('PUT', `/trips/${id}`, trip());
  const eve = await signedIn(rig, 'eve@theirs.example');
  expect(await list(eve)).toEqual([]);
  expect((await eve.call('PUT', `/trips/${id}`, trip({ sites: [] }))).status).toBe(409);
  await eve.call('DELETE', `/trips/${id}`);
  expect(await list()).toHaveLength(1);
});

test.each([
  [{ title: '' }, 'title'],
  [{ day: '4 Dec' }, 'day'],
  [{ day: '2026-13-40' }, 'day'],
  [{ day: '2026-04-31' }, 'day'],
  [{ sites: ['x'] }, 'sites[0]'],
  [{ note: 'a\0b' }, 'note'],
])('%j is refused by its path', async (wrong, path) => {
  const reply = await ann.call('PUT', `/trips/${randomUUID()}`, trip(wrong));
  expect(reply).toMatchObject({ status: 422, body: { faults: [{ path }] } });
});
