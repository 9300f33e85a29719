import { randomUUID } from 'node:crypto';
import type { PartRow } from '@true-lantern/core';
import type { PushAnswer } from '@true-lantern/wire';
import { bodyOf, change, startRig, Visitor, type Rig } from './site-of-two-firms';

/** Many changes in one push: each is judged by the revision that its writer had seen, though the past is asked once. */

let rig: Rig;
let ann: Visitor;
let controller: PartRow & { revision: number };
const push = async (...changes: object[]) =>
  bodyOf<PushAnswer>(await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes }));
const statuses = ({ results }: PushAnswer) => results.map(({ status }) => status);

beforeAll(async () => {
  rig = await startRig();
  ann = new Visitor(rig.address);
  await ann.signIn('ann@ours.example');
  const { parts } = (await ann.call('GET', `/sites/${rig.sites.ours}`)).body as unknown as {
    parts: (PartRow & { revision: number })[];
  };
  controller = parts.find(({ kind }) => kind === 'controllers')!;
}, 60_000);
afterAll(() => rig.close());

test('what was seen is written over, what was not seen is a conflict, change by change', async () => {
  const { id, revision } = controller;
  const phone = { device: 'phone' };
  await push(change(id, revision, { selfUse_W: 1 }, phone));
  await push(change(id, revision + 1, { maxPv_A: 21 }, phone));
  const answer = await push(
    // Knew neither, knew the first, knew the first but not the second, knew both.
    change(id, revision, { selfUse_W: 2 }, { device: 'tablet' }),
    change(id, revision + 1, { selfUse_W: 3 }, { device: 'tablet' }),
    change(id, revision + 1, { maxPv_A: 22 }, { device: 'tablet' }),
    change(id, revision + 2, { maxPv_A: 23 }, { device: 'tablet' }),
  );
  expect(statuses(answer)).toEqual(['conflict', 'applied', 'conflict', 'applied']);
  expect(answer.results[0]!.conflicts).toMatchObject([{ field: 'selfUse_W', current: 1, wanted: 2 }]);
  expect(answer.results.at(-1)!.part!.body).toMatchObject({ selfUse_W: 3, maxPv_A: 23 });
});

test('a device does not stand in its own way, within one push as over several', async () => {
  const { id } = controller;
  const { parts } = (await ann.call('GET', `/sites/${rig.sites.ours}`)).body as unknown as {
    parts: { id: string; revision: number }[];
  };
  const { revision } = parts.find((part) => part.id === id)!;
  const many = Array.from({ length: 50 }, (_, i) => change(id, revision, { selfUse_W: i / 10 }, { device: 'phone' }));
  const answer = await push(...many);
  expect(new Set(statuses(answer))).toEqual(new Set(['applied']));
  expect(answer.results.at(-1)!.part!.body.selfUse_W).toBe(4.9);
  // Another, that had seen none of the fifty, has not seen the first either.
  expect(statuses(await push(change(id, revision, { selfUse_W: 7 }, { device: 'tablet' })))).toEqual(['conflict']);
});

test('a new part whose id is taken elsewhere is refused in the same words, whoever it belongs to, and holds nothing up', async () => {
  const { rows } = await rig.database.pool.query<{ id: string }>(
    `select id from parts where site_id = $1 and kind = 'loads' limit 1`,
    [rig.sites.theirs],
  );
  const create = { kind: 'loads' as const, position: 90 };
  const load = { label: 'Lamp', kind: 'dc', power_W: 5, hours_d: 2 };
  const answer = await push(
    change(rows[0]!.id, 0, { ...load, id: 'theirs' }, { create }),
    change(randomUUID(), 0, { ...load, id: 'lamp-of-ours' }, { create }),
  );
  expect(statuses(answer)).toEqual(['refused', 'applied']);
  expect(answer.results[0]!.faults[0]!.message).toContain('cannot be used');
});
