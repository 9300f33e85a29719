import { randomUUID } from 'node:crypto';
import { modelOf, nameOfRow, numberOf, workOf, type PartRow, type SystemFile } from '@true-lantern/core';
import type { PushResult } from '@true-lantern/wire';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { bodyOf, change, startRig, Visitor, type Rig } from './site-of-two-firms';

/** Rights are judged on rows as they would be afterwards: every spelling of one and the same change gets one answer. */

let rig: Rig;
let ann: Visitor;
let id = '';
beforeAll(async () => {
  rig = await startRig();
  ann = new Visitor(rig.address);
  await ann.signIn('ann@ours.example');
  id = (await rig.database.models.User.findOne({ where: { email: 'ann@ours.example' } }))!.id;
}, 60_000);
afterAll(() => rig.close());

const rowsOf = async () => bodyOf<{ parts: PartRow[] }>(await ann.call('GET', `/sites/${rig.sites.ours}`)).parts;
const rowOf = async (kind: string, name: string) =>
  (await rowsOf()).find((row) => row.kind === kind && nameOfRow(row) === name)!;
const send = async (...changes: unknown[]) =>
  bodyOf<{ results: PushResult[] }>(await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes })).results;
const make = (kind: string, set: Record<string, unknown>) =>
  change(randomUUID(), 0, set, { create: { kind: kind as 'visit', position: 90 } });

const sound = modelOf(corrach as unknown as SystemFile);
const { steps } = workOf(sound, modelOf(corrach as unknown as SystemFile, 'p-relay'));
const keyOf = (licensed: boolean) => steps.find((step) => Boolean(step.licensed) === licensed)!.key;
const [LICENSED, PLAIN] = [keyOf(true), keyOf(false)];
const done = (by = 'ann') => ({ state: 'done', by, at: '2026-11-27T10:00:00Z' });
const changesOf = () => structuredClone(corrach.proposals.find((one) => one.id === 'p-relay')!.changes);

describe('a licensed step ticked by somebody without a licence', () => {
  const spellings: [string, (step: string, person: string) => Record<string, unknown>][] = [
    ['a leaf', (step, person) => ({ [`work.ticks.${step}.${person}`]: done() })],
    ['a leaf below the tick', (step, person) => ({ [`work.ticks.${step}.${person}.state`]: 'done' })],
    ['a branch', (step, person) => ({ [`work.ticks.${step}`]: { [person]: done() } })],
    ['all ticks', (step, person) => ({ 'work.ticks': { [step]: { [person]: done() } } })],
    ['the whole work', (step, person) => ({ work: { ticks: { [step]: { [person]: done() } } } })],
  ];
  test.each(spellings)('is refused as %s; a plain step so spelled is taken', async (_, spelled) => {
    const row = await rowOf('proposal', 'p-relay');
    const [refused] = await send(change(row.id, row.revision, spelled(LICENSED, id)));
    expect(refused).toMatchObject({
      status: 'refused',
      faults: [{ path: `work.ticks.${LICENSED}`, message: expect.stringContaining('licensed') as string }],
    });
    const [taken] = await send(change(row.id, row.revision, spelled(PLAIN, id)));
    expect(taken?.status).toBe('applied');
    await send(change(row.id, taken!.part!.revision, { work: null }));
  });
  test('is refused within a proposal that is made with it, and one without it is taken', async () => {
    const made = (ticks: object) =>
      make('proposal', { id: `p-${randomUUID()}`, title: 'Relay again', changes: changesOf(), work: { ticks } });
    const results = await send(made({ [LICENSED]: { [id]: done() } }), made({ [PLAIN]: { [id]: done() } }));
    expect(results.map(({ status }) => status)).toEqual(['refused', 'applied']);
  });
  test('is refused where the proposal grows the step under a tick that is there', async () => {
    const name = `p-${randomUUID()}`;
    const [bare] = await send(
      make('proposal', { id: name, title: 'Bare', changes: [], work: { ticks: { [LICENSED]: { [id]: done() } } } }),
    );
    // Nothing is to be done yet: the key names no step.
    expect(bare?.status).toBe('applied');
    const [grown] = await send(change(bare!.part!.id, 1, { changes: changesOf() }));
    expect(grown).toMatchObject({ status: 'refused', faults: [{ path: `work.ticks.${LICENSED}` }] });
  });
  test('skipping it is not doing it; with a licence it is done', async () => {
    const row = await rowOf('proposal', 'p-relay');
    const [skipped] = await send(
      change(row.id, row.revision, { [`work.ticks.${LICENSED}.${id}`]: { ...done(), state: 'skipped' } }),
    );
    expect(skipped?.status).toBe('applied');
    await rig.database.models.User.update({ licence: 'SK-E 1' }, { where: { id } });
    const [ticked] = await send(change(row.id, skipped!.part!.revision, { [`work.ticks.${LICENSED}.${id}`]: done() }));
    expect(ticked?.status).toBe('applied');
    await rig.database.models.User.update({ licence: null }, { where: { id } });
    await send(change(row.id, ticked!.part!.revision, { work: null }));
  });
});

describe('a person ticks as themself alone', () => {
  const rob = randomUUID();
  test.each([
    ['a leaf', { [`work.ticks.${PLAIN}.${rob}`]: done('Rob') }],
    ['a branch', { [`work.ticks.${PLAIN}`]: { [rob]: done('Rob') } }],
    ['the whole work', { work: { ticks: { [PLAIN]: { [rob]: done('Rob') } } } }],
    ['skipped', { [`work.ticks.${PLAIN}.${rob}`]: { ...done('Rob'), state: 'skipped' } }],
  ])('somebody else’s tick is refused: %s', async (_, set) => {
    const row = await rowOf('proposal', 'p-relay');
    const [result] = await send(change(row.id, row.revision, set));
    expect(result).toMatchObject({ status: 'refused', faults: [{ path: `work.ticks.${PLAIN}.${rob}` }] });
  });
  test('and in their own name, whatever the device writes; taken back, it is gone', async () => {
    const row = await rowOf('proposal', 'p-relay');
    const field = `work.ticks.${PLAIN}.${id}`;
    const [ticked] = await send(change(row.id, row.revision, { [field]: done('Somebody else') }));
    const work = ticked!.part!.body.work as { ticks: Record<string, Record<string, { by: string }>> };
    expect(work.ticks[PLAIN]![id]!.by).toBe('ann');
    const [back] = await send(change(row.id, ticked!.part!.revision, { [field]: null }));
    expect(back?.status).toBe('applied');
  });
});

describe('a signed visit', () => {
  const visit = `v-${randomUUID()}`;
  const reading = `r-${randomUUID()}`;
  beforeAll(async () => {
    const results = await send(
      make('visit', { id: visit, at: '2026-03-01T09:00:00Z', people: 'Ann', done: 'Looked' }),
      make('reading', { id: reading, subject: 'gel', quantity: 'rest_V', value: 25, visit }),
    );
    expect(results.map(({ status }) => status)).toEqual(['applied', 'applied']);
    const row = await rowOf('visit', visit);
    const [signed] = await send(
      change(row.id, row.revision, { 'signed.firm': { name: 'Ann', at: 'x', strokes: 'M0 0' } }),
    );
    expect(signed?.status).toBe('applied');
  });
  test.each([
    ['its words', { done: 'Nothing at all' }],
    ['another signature', { 'signed.customer': { name: 'C', at: 'x', strokes: 'M0 0' } }],
    ['its signature taken back', { signed: null }],
    ['its signature replaced', { 'signed.firm.name': 'Eve' }],
    ['its reasons', { 'reasons.x': 'cold' }],
    ['its conditions', { conditions: { soc: 0.1 } }],
    ['a member that nobody knows', { surprise: 1 }],
    ['its removal', { '/deleted': true }],
  ])('refuses a write: %s', async (_, set) => {
    const row = await rowOf('visit', visit);
    const [result] = await send(change(row.id, row.revision, set));
    expect(result).toMatchObject({ status: 'refused', faults: [{ path: 'signed' }] });
    expect(await rowOf('visit', visit)).toEqual(row);
  });
  test.each([
    ['its value', { value: 24 }],
    ['its visit', { visit: 'v-other' }],
    ['its removal', { '/deleted': true }],
    ['its evidence of how it was read', { note: 'never mind' }],
  ])('keeps its readings: %s', async (_, set) => {
    const row = await rowOf('reading', reading);
    const [result] = await send(change(row.id, row.revision, set));
    expect(result).toMatchObject({ status: 'refused', faults: [{ path: 'visit' }] });
  });
  test('takes no reading that comes late, and none that is moved into it', async () => {
    const [late] = await send(
      make('reading', { id: `r-${randomUUID()}`, subject: 'gel', quantity: 'rest_V', value: 9, visit }),
    );
    expect(late?.status).toBe('refused');
    const [free] = await send(
      make('reading', { id: `r-${randomUUID()}`, subject: 'gel', quantity: 'rest_V', value: 9 }),
    );
    const [moved] = await send(change(free!.part!.id, 1, { visit }));
    expect([free?.status, moved?.status]).toEqual(['applied', 'refused']);
  });
  test('takes a correction beside it, by who writes it, once', async () => {
    const row = await rowOf('visit', visit);
    const text = (person: string) => ({ text: 'It was 24.9 V', by: 'Ann', at: '2026-03-02T09:00:00Z', person });
    const add = (name: string, value: unknown) => change(row.id, row.revision, { [`addenda.${name}`]: value });
    expect((await send(add('a1', text(rig.sites.ours))))[0]?.status).toBe('refused');
    expect((await send(add('a1', text(id))))[0]?.status).toBe('applied');
    expect((await send(change(row.id, row.revision + 1, { 'addenda.a1.text': 'It was not' })))[0]?.status).toBe(
      'refused',
    );
    expect((await send(change(row.id, row.revision + 1, { addenda: null })))[0]?.status).toBe('refused');
    expect((await send(change(row.id, row.revision + 1, { 'addenda.a2': text(id) })))[0]?.status).toBe('applied');
  });
});

test('a fitted proposal is kept as it is; one that was overtaken may be taken away', async () => {
  const [fitted, overtaken] = await send(
    ...['fitted', 'overtaken'].map((as) =>
      make('proposal', { id: `p-${randomUUID()}`, title: 'Done', changes: [], closed: { as, at: 'x', by: 'Ann' } }),
    ),
  );
  for (const set of [
    { title: 'Other' },
    { closed: null },
    { 'closed.as': 'overtaken' },
    { '/deleted': true },
    { work: {} },
  ])
    expect((await send(change(fitted!.part!.id, 1, set)))[0]).toMatchObject({
      status: 'refused',
      faults: [{ path: 'closed' }],
    });
  expect((await send(change(overtaken!.part!.id, 1, { '/deleted': true })))[0]?.status).toBe('applied');
});

test('what a customer accepted stands: the whole offer by its number, whatever becomes of the proposal', async () => {
  const offer = { format: 'true-lantern-offer', title: 'Lithium', totals: { EUR: { net: 100, tax: 20, gross: 120 } } };
  const accepted = { name: 'M. Sand', at: '2026-12-01T10:00:00Z', by: 'Ann', strokes: 'M1 1L9 9', offer };
  const fresh = (number: string) =>
    make('proposal', { id: `p-${randomUUID()}`, title: 'Lithium', changes: [], accepted: { ...accepted, number } });
  // A number that does not follow from the offer: altered on its way.
  expect((await send(fresh('0'.repeat(64))))[0]).toMatchObject({
    status: 'refused',
    faults: [{ path: 'accepted.number' }],
  });
  const [kept] = await send(fresh(numberOf(offer)));
  expect(kept?.status).toBe('applied');
  for (const set of [
    { accepted: null },
    { 'accepted.name': 'Somebody else' },
    { 'accepted.offer': { ...offer, totals: {} } },
    { '/deleted': true },
  ])
    expect((await send(change(kept!.part!.id, 1, set)))[0]).toMatchObject({
      status: 'refused',
      faults: [{ path: 'accepted' }],
    });
  // The work may deviate from it; what was accepted does not change with it.
  expect((await send(change(kept!.part!.id, 1, { title: 'Lithium, as built' })))[0]?.status).toBe('applied');
});

test('what was logged is struck out or corrected, never rewritten or erased', async () => {
  const entry = { id: `l-${randomUUID()}`, at: '2026-11-27T10:00:00Z', kind: 'watered', subject: 'site', text: '3 L' };
  const [written] = await send(make('log', entry));
  expect(written?.status).toBe('applied');
  const { id: row, revision } = written!.part!;
  for (const set of [{ text: '30 L' }, { at: '2026-11-20T10:00:00Z' }, { kind: 'note' }, { '/deleted': true }]) {
    const [refused] = await send(change(row, revision, set));
    expect(refused).toMatchObject({ status: 'refused', faults: [{ path: 'log' }] });
  }
  const [struck] = await send(change(row, revision, { struckOut: true }));
  expect(struck?.status).toBe('applied');
  const [back] = await send(change(row, struck!.part!.revision, { struckOut: null }));
  expect(back?.status).toBe('applied');
});

test('the row of the site itself is not removed by a push', async () => {
  const row = (await rowsOf()).find(({ kind }) => kind === 'site')!;
  const [result] = await send(change(row.id, row.revision, { '/deleted': true }));
  expect(result).toMatchObject({ status: 'refused', faults: [{ path: '/deleted' }] });
});

test('one change of a batch that may not be made holds up none of the others', async () => {
  const row = await rowOf('proposal', 'p-relay');
  const cc = (await rowsOf()).find(({ kind }) => kind === 'controllers')!;
  const results = await send(
    change(cc.id, cc.revision, { selfUse_W: 3 }),
    change(row.id, row.revision, { [`work.ticks.${LICENSED}.${id}`]: done() }),
    change(cc.id, cc.revision, { startAbove_V: 4 }),
  );
  expect(results.map(({ status }) => status)).toEqual(['applied', 'refused', 'applied']);
});

describe('a file that is brought', () => {
  const rob = async () => (await rig.database.models.User.findOne({ where: { email: 'rob@ours.example' } }))!;
  const brought = async (who: Visitor, ticks: Record<string, Record<string, unknown>>) => {
    const site = randomUUID();
    const file = structuredClone(corrach) as unknown as { proposals: { id: string; work?: unknown }[] };
    file.proposals = file.proposals.filter((one) => one.id === 'p-relay');
    file.proposals[0]!.work = { ticks };
    const reply = await who.call('POST', '/sites', { id: site, file });
    expect(reply.status).toBe(201);
    const { parts } = bodyOf<{ parts: PartRow[] }>(await who.call('GET', `/sites/${site}`));
    const work = parts.find((row) => row.kind === 'proposal')!.body.work as { ticks: Record<string, object> };
    return {
      ticks: Object.entries(work.ticks).flatMap(([step, people]) => Object.keys(people).map((one) => [step, one])),
      warnings: bodyOf<{ warnings: string[] }>(reply).warnings.join(),
    };
  };
  test('loses a licensed tick that nobody with a licence set, and says so; plain ones stay', async () => {
    const { ticks, warnings } = await brought(ann, { [LICENSED]: { [id]: done() }, [PLAIN]: { [id]: done() } });
    expect(ticks).toEqual([[PLAIN, id]]);
    expect(warnings).toContain('One tick left out');
  });
  test('keeps it where a licensed member set it and an owner brings it', async () => {
    const other = await rob();
    await other.update({ licence: 'SK-E 2' });
    const { ticks } = await brought(ann, { [LICENSED]: { [other.id]: done('rob') } });
    expect(ticks).toEqual([[LICENSED, other.id]]);
    await other.update({ licence: null });
  });
  test('a technician brings nobody else’s ticks', async () => {
    const other = await rob();
    await other.update({ role: 'technician' });
    const bob = new Visitor(rig.address);
    await bob.signIn('rob@ours.example');
    const { ticks } = await brought(bob, { [PLAIN]: { [id]: done(), [other.id]: done('rob'), stranger: done('x') } });
    expect(ticks.map(([, person]) => person).sort()).toEqual([other.id, 'stranger'].sort());
    await other.update({ role: 'reader' });
  });
});

describe('a record that is signed whole', () => {
  const visit = `v-${randomUUID()}`;
  const record = { format: 'true-lantern-record', version: 1, read: { 1: { value: 25 } } };
  const ask = async (hash: string, who = new Visitor(rig.address)) => {
    const { status, body } = await who.call('GET', `/records/${hash}`);
    return { status, body: body as unknown as { unchanged?: boolean; corrections?: number } };
  };
  test('is taken under its own number alone, and whoever holds the number may ask for it', async () => {
    const [made] = await send(make('visit', { id: visit, at: '2026-03-01T09:00:00Z' }));
    const sign = (hash: string) =>
      change(made!.part!.id, 1, { 'signed.firm': { name: 'Ann', at: 'x', strokes: 'M0 0' }, record, recordHash: hash });
    const [wrong] = await send(sign('0'.repeat(64)));
    expect(wrong).toMatchObject({ status: 'refused', faults: [{ path: 'recordHash' }] });
    const hash = numberOf(record);
    expect(await ask(hash)).toMatchObject({ status: 404 });
    expect((await send(sign(hash)))[0]?.status).toBe('applied');
    expect(await ask(hash)).toMatchObject({ status: 200, body: { unchanged: true, corrections: 0 } });
    // As it is printed, in groups; nothing of what it says is told.
    expect(await ask(encodeURIComponent(hash.match(/.{8}/g)!.join(' ')))).toMatchObject({ status: 200 });
    expect(Object.keys((await ask(hash)).body).sort()).toEqual(['corrections', 'keptAt', 'unchanged']);
  });
  test('its number stays with it: a correction counts, a record altered in the database shows', async () => {
    const row = await rowOf('visit', visit);
    await send(change(row.id, row.revision, { 'addenda.a': { text: 'Was 24.9', by: 'Ann', at: 'x', person: id } }));
    expect(await ask(numberOf(record))).toMatchObject({ body: { unchanged: true, corrections: 1 } });
    await rig.database.sequelize.query(
      `update parts set body = jsonb_set(body, '{record,read,1,value}', '24') where id = $1`,
      {
        bind: [row.id],
      },
    );
    expect(await ask(numberOf(record))).toMatchObject({ status: 200, body: { unchanged: false } });
  });
  test.each(['', 'x', '0'.repeat(64), `${'0'.repeat(63)}'`])('no record has the number "%s"', async (hash) =>
    expect((await ask(encodeURIComponent(hash))).status).toBe(404),
  );
});

describe('links', () => {
  const ownerOf = async (name: string) => {
    const ours = (await rig.database.models.User.findByPk(id))!;
    const made = await rig.database.models.User.create({
      id: randomUUID(),
      firmId: ours.firmId,
      name,
      email: `${name}@ours.example`,
      role: 'owner',
      passwordHash: ours.passwordHash,
    });
    const visitor = new Visitor(rig.address);
    await visitor.signIn(`${name}@ours.example`);
    return { user: made, visitor };
  };
  const tokenOf = async (visitor: Visitor, path: string, body: object) =>
    bodyOf<{ token: string }>(await visitor.call('POST', path, body)).token;
  const opens = async (token: string) => (await new Visitor(rig.address).call('GET', `/join/${token}`)).status;

  test.each([
    ['removed', (person: string) => ann.call('DELETE', `/people/${person}`)],
    ['made a technician', (person: string) => ann.call('PUT', `/people/${person}/role`, { role: 'technician' })],
  ])('that an owner handed out end when they are %s', async (_, go) => {
    const { user, visitor } = await ownerOf(`going-${randomUUID().slice(0, 8)}`);
    const own = await tokenOf(visitor, '/invitations', { role: 'owner' });
    const another = await tokenOf(visitor, `/people/${id}/password-link`, {});
    const anns = await tokenOf(ann, '/invitations', { role: 'reader' });
    expect([await opens(own), await opens(another)]).toEqual([200, 200]);
    expect((await go(user.id)).status).toBe(204);
    expect([await opens(own), await opens(another)]).toEqual([404, 404]);
    // Gone with them, not only good for nothing.
    expect(await rig.database.models.Invitation.count({ where: { madeBy: user.id } })).toBe(0);
    // Those of others stay.
    expect(await opens(anns)).toBe(200);
  });
  test('for a password of somebody who is removed open nothing', async () => {
    const { user } = await ownerOf(`gone-${randomUUID().slice(0, 8)}`);
    const token = await tokenOf(ann, `/people/${user.id}/password-link`, {});
    expect(await opens(token)).toBe(200);
    await ann.call('DELETE', `/people/${user.id}`);
    expect(await opens(token)).toBe(404);
    expect(await rig.database.models.Invitation.count({ where: { userId: user.id } })).toBe(0);
  });
  test('made in the very moment of their going let nobody in', async () => {
    const { user, visitor } = await ownerOf(`racing-${randomUUID().slice(0, 8)}`);
    const token = await tokenOf(visitor, '/invitations', { role: 'owner' });
    // The row of the link was not seen by the transaction that took them out.
    await user.update({ role: 'reader' });
    expect(await opens(token)).toBe(404);
  });
});

test('what is said of a site is said by who may write, with whose it is and when', async () => {
  const { revision } = bodyOf<{ revision: number }>(await ann.call('GET', `/sites/${rig.sites.ours}`));
  const headline = { revision, rules: 4, verdict: 'over', sentence: 'Made up.', over: 1 };
  expect((await ann.call('PUT', `/sites/${rig.sites.ours}/headline`, headline)).status).toBe(204);
  const { sites } = bodyOf<{ sites: { id: string; headline: object }[] }>(await ann.call('GET', '/sites'));
  expect(sites.find((site) => site.id === rig.sites.ours)?.headline).toMatchObject({ by: id, sentence: 'Made up.' });
  const rob = new Visitor(rig.address);
  await rob.signIn('rob@ours.example');
  expect((await rob.call('PUT', `/sites/${rig.sites.ours}/headline`, headline)).status).toBe(403);
});

describe('the history', () => {
  const page = async (before?: string) =>
    bodyOf<{ changes: { changeId: string; fields: Record<string, unknown> }[]; more: boolean }>(
      await ann.call('GET', `/sites/${rig.sites.ours}/changes${before ? `?before=${before}` : ''}`),
    );
  test('is reached to its first entry, page by page, each change once', async () => {
    const row = (await rowsOf()).find(({ kind }) => kind === 'controllers')!;
    for (let batch = 0; batch < 5; batch++)
      await send(
        ...Array.from({ length: 50 }, (_, i) =>
          change(row.id, row.revision, { notes: `${batch} ${i}` }, { device: 'd' }),
        ),
      );
    const count = await rig.database.models.Change.count({ where: { siteId: rig.sites.ours } });
    const seen: string[] = [];
    for (let next = await page(); ; next = await page(seen.at(-1))) {
      expect(next.changes.length).toBeLessThanOrEqual(200);
      seen.push(...next.changes.map(({ changeId }) => changeId));
      if (!next.more) break;
    }
    expect(seen).toHaveLength(count);
    expect(new Set(seen).size).toBe(count);
  });
  test('is bounded in bytes: large changes come a few at a time, each whole', async () => {
    const row = (await rowsOf()).find(({ kind }) => kind === 'inverters')!;
    for (let i = 0; i < 6; i++)
      await send(
        change(row.id, row.revision, { notes: `${i}`.repeat(15_000), extra: 'x'.repeat(230_000) + i }, { device: 'd' }),
      );
    const { changes, more } = await page();
    expect(more).toBe(true);
    expect(changes.length).toBeGreaterThanOrEqual(1);
    expect(JSON.stringify(changes).length).toBeLessThan(1_600_000);
  });
  test('one change is at most 256 kB', async () => {
    const row = (await rowsOf()).find(({ kind }) => kind === 'inverters')!;
    const [large] = await send(change(row.id, row.revision, { extra: 'x'.repeat(257 * 1024) }));
    expect(large).toMatchObject({
      status: 'refused',
      faults: [{ path: 'set', message: expect.stringContaining('256 kB') as string }],
    });
  });
});

test('an edit of a part that somebody else removed is for a person to settle, and stands in the history', async () => {
  const [made] = await send(
    make('loads', { id: `l-${randomUUID()}`, label: 'Lamp', kind: 'dc', power_W: 10, hours_d: 2 }),
  );
  const part = made!.part!.id;
  await send(change(part, 1, { '/deleted': true }, { device: 'desk' }));
  const [late] = await send(change(part, 1, { power_W: 14 }, { device: 'phone' }));
  expect(late).toMatchObject({
    status: 'conflict',
    conflicts: [
      { field: '/deleted', current: true, wanted: false },
      { field: 'power_W', current: 10, wanted: 14 },
    ],
    part: { deleted: true, body: { power_W: 10 } },
  });
  const { changes } = bodyOf<{ changes: { changeId: string; conflicts?: object[] }[] }>(
    await ann.call('GET', `/sites/${rig.sites.ours}/changes`),
  );
  expect(changes.find(({ changeId }) => changeId === late!.changeId)?.conflicts).toContainEqual({
    field: 'power_W',
    current: 10,
    wanted: 14,
  });
  // Brought back knowingly, with the value.
  const [back] = await send(change(part, 2_147_483_647, { '/deleted': false, power_W: 14 }, { device: 'phone' }));
  expect(back).toMatchObject({ status: 'applied', part: { deleted: false, body: { power_W: 14 } } });
});

describe('what no database could keep is refused with its path', () => {
  test.each([1e15, -1, 1.5, '3', null])('a place in a list: %p', async (position) => {
    const row = (await rowsOf()).find(({ kind }) => kind === 'loads')!;
    const [result] = await send(change(row.id, row.revision, { '/position': position }));
    expect(result).toMatchObject({ status: 'refused', faults: [{ path: '/position' }] });
  });
  test('an e-mail address with a NUL in it, or without an end', async () => {
    for (const email of ['ann\u0000@ours.example', `${'a'.repeat(300)}@ours.example`]) {
      const reply = await new Visitor(rig.address).signIn(email, 'wrong');
      expect(reply).toMatchObject({ status: 422, body: { faults: [{ path: 'email' }] } });
    }
  });
  test('the name of a firm of two lines', async () => {
    const reply = await ann.call('PUT', '/firm/sheet', { name: 'Ours\nBcc: everybody@example' });
    expect(reply).toMatchObject({ status: 422, body: { faults: [{ path: 'name' }] } });
  });
  test('ids that are given twice', async () => {
    const twice = randomUUID();
    const reply = await ann.call('POST', '/sites', { id: randomUUID(), file: corrach, rowIds: [twice, twice] });
    expect(reply).toMatchObject({ status: 422, body: { faults: [{ path: 'rowIds' }] } });
  });
});
