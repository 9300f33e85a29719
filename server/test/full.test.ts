import { randomUUID } from 'node:crypto';
import type { StoredPart } from '@true-lantern/core';
import { bodyOf, signedIn, startRig, Visitor, type Rig } from './site-of-two-firms';

/** A server that cannot store: full, or told so by its proxy. Nobody's entry is set aside for it, and no link used up. */

let rig: Rig;
let ann: Visitor;
beforeAll(async () => {
  rig = await startRig();
  ann = await signedIn(rig, 'ann@ours.example');
}, 60_000);
afterAll(() => rig.close());

const changesOf = async () => {
  const { parts } = bodyOf<{ parts: StoredPart[] }>(await ann.call('GET', `/sites/${rig.sites.ours}`));
  const part = parts.find(({ kind }) => kind === 'controllers')!;
  return [
    {
      changeId: randomUUID(),
      partId: part.id,
      baseRevision: part.revision,
      set: { maxPv_A: 41 },
      at: new Date().toISOString(),
    },
  ];
};

test.each(['53100', '58030', '25006'])('a database that answers %s: 503, wait and come again', async (code) => {
  const changes = await changesOf();
  await rig.database.pool.query(`create function no_room() returns trigger language plpgsql as
    $$ begin raise exception 'could not extend file' using errcode = '${code}'; end $$`);
  await rig.database.pool.query('create trigger no_room before insert on changes execute function no_room()');
  const many = [...changes, { ...changes[0]!, changeId: randomUUID() }];
  for (const sent of [changes, many]) {
    const full = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: sent });
    expect([full.status, full.headers.get('retry-after')]).toEqual([503, '60']);
    expect(full.body.title).toMatch(/cannot store anything at the moment. Nothing is lost/);
  }
  await rig.database.pool.query('drop function no_room() cascade');
  const then = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes });
  expect(bodyOf<{ results: unknown[] }>(then).results).toMatchObject([{ status: 'applied' }]);
});

test('https whose proxy does not say so: told at once, and the first code is still good', async () => {
  const bare = await startRig({ secure: true, trustProxy: 1 }, { empty: true });
  try {
    const stranger = new Visitor(bare.address);
    for (const path of ['/session', '/firm']) {
      const answer = await stranger.call(
        path === '/session' ? 'GET' : 'POST',
        path,
        path === '/session' ? undefined : {},
      );
      expect(answer.status).toBe(421);
      expect(answer.body.title).toMatch(/X-Forwarded-Proto.*Nothing was used up/);
    }
    expect((await stranger.call('GET', '/health')).status).toBe(200);
    const passed = await stranger.call('GET', '/session', undefined, { 'x-forwarded-proto': 'https' });
    expect(passed.status).toBe(200);
  } finally {
    await bare.close();
  }
});
