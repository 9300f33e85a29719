import { randomUUID } from 'node:crypto';
import { modelOf, workOf, type PartRow, type SystemFile } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import type { PushResult } from '@true-lantern/wire';
import { migrate } from '../src/store/migrations';
import { change, startRig, Visitor, type Rig } from './site-of-two-firms';

let rig: Rig;
let ann: Visitor;
let annId = '';
beforeAll(async () => {
  rig = await startRig();
  ann = new Visitor(rig.address);
  await ann.signIn('ann@ours.example');
  annId = (await rig.database.models.User.findOne({ where: { email: 'ann@ours.example' } }))!.id;
}, 60_000);
afterAll(() => rig.close());

const partsOf = async (who = ann, site = rig.sites.ours) =>
  ((await who.call('GET', `/sites/${site}`)).body as unknown as { parts: PartRow[] }).parts;
const controllerOf = async () => {
  const row = (await partsOf()).find(({ kind }) => kind === 'controllers');
  if (!row) throw new Error('the hut has a controller');
  return row;
};
const send = async (...changes: unknown[]) => {
  const reply = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, { changes });
  return { reply, results: (reply.body as unknown as { results: PushResult[] }).results };
};

describe('who may come in', () => {
  test('nobody reads anything without signing in', async () => {
    const stranger = new Visitor(rig.address);
    for (const path of ['/sites', `/sites/${rig.sites.ours}`, `/sites/${rig.sites.ours}/file`])
      expect((await stranger.call('GET', path)).status).toBe(401);
  });
  test('a wrong password and an unknown person get the same answer', async () => {
    const replies = [
      await new Visitor(rig.address).signIn('eve@theirs.example', 'wrong'),
      await new Visitor(rig.address).signIn('nobody@nowhere.example', 'wrong'),
    ];
    expect(replies.map(({ status }) => status)).toEqual([401, 401]);
    expect(replies[0]?.body).toEqual(replies[1]?.body);
  });
  test('a write without the CSRF token is refused', async () => {
    const reply = await ann.call(
      'POST',
      `/sites/${rig.sites.ours}/changes`,
      { changes: [] },
      { 'x-csrf-token': 'guess' },
    );
    expect(reply).toMatchObject({ status: 403, body: { code: 'csrf' } });
  });
  test('the cookie cannot be read by scripts, and the session changes at sign-in', async () => {
    const visitor = new Visitor(rig.address);
    const before = (await visitor.call('GET', '/session')).headers.get('set-cookie');
    const reply = await visitor.signIn('eve@theirs.example');
    const after = reply.headers.get('set-cookie');
    expect(after).toMatch(/HttpOnly/);
    expect(after).toMatch(/SameSite=Lax/);
    expect(after?.split(';')[0]).not.toBe(before?.split(';')[0]);
  });
  test('passwords are kept as argon2id', async () => {
    const user = await rig.database.models.User.findOne();
    expect(user?.passwordHash).toMatch(/^\$argon2id\$/);
  });
  test('after eight wrong passwords the ninth is not even looked at', async () => {
    const thief = new Visitor(rig.address);
    for (let i = 0; i < 8; i++) expect((await thief.signIn('rob@ours.example', 'wrong')).status).toBe(401);
    const reply = await thief.signIn('rob@ours.example');
    expect(reply.status).toBe(429);
    expect(reply.body.title).toMatch(/Try again in \d+ min/);
    // Others are not held up by it.
    expect((await new Visitor(rig.address).signIn('eve@theirs.example')).status).toBe(200);
  });
  test('the headers forbid scripts from elsewhere and framing', async () => {
    const policy = (await ann.call('GET', '/health')).headers.get('content-security-policy');
    expect(policy).toContain("script-src 'self'");
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toContain('unsafe-eval');
  });
});

describe("another firm's site", () => {
  test.each(['', '/file'])('does not exist: GET %s', async (path) => {
    const reply = await ann.call('GET', `/sites/${rig.sites.theirs}${path}`);
    expect(reply.status).toBe(404);
    expect(reply.type).toMatch(/^application\/problem\+json/);
  });
  test('takes no changes, and its parts cannot be reached through our own site', async () => {
    const eve = new Visitor(rig.address);
    await eve.signIn('eve@theirs.example');
    const [theirs] = await partsOf(eve, rig.sites.theirs);
    const reply = await ann.call('POST', `/sites/${rig.sites.theirs}/changes`, {
      changes: [change(theirs!.id, 1, { x: 1 })],
    });
    expect(reply.status).toBe(404);
    const { results } = await send(
      change(theirs!.id, 1, { x: 1 }),
      change(theirs!.id, 0, { id: 'q' }, { create: { kind: 'loads', position: 0 } }),
    );
    expect(results.map(({ status }) => status)).toEqual(['refused', 'refused']);
    expect(await partsOf(eve, rig.sites.theirs)).toEqual(expect.arrayContaining([theirs]));
  });
  test('is not on the list', async () => {
    const { sites } = (await ann.call('GET', '/sites')).body as unknown as { sites: { id: string }[] };
    expect(sites.map(({ id }) => id)).toEqual([rig.sites.ours]);
  });
});

describe('a step of licensed work', () => {
  /** The refuge's relay is on AC: who proves its bond and trips its RCD has a licence. */
  const sound = modelOf(corrach as unknown as SystemFile);
  const { steps } = workOf(sound, modelOf(corrach as unknown as SystemFile, 'p-relay'));
  const keyOf = (licensed: boolean) => steps.find((step) => Boolean(step.licensed) === licensed)!.key;
  const tick = async (key: string, state = 'done') => {
    const row = (await partsOf()).find(({ kind, body }) => kind === 'proposal' && body.id === 'p-relay')!;
    const field = `work.ticks.${key}.${annId}`;
    const { results } = await send(
      change(row.id, row.revision, { [field]: { state, by: 'Ann', at: '2026-11-27T10:00:00Z' } }),
    );
    return results[0];
  };
  test('is not ticked as done by somebody without a licence, whatever their device says; skipping it is not doing it', async () => {
    expect(await tick(keyOf(false))).toMatchObject({ status: 'applied' });
    const refused = await tick(keyOf(true));
    expect(refused).toMatchObject({
      status: 'refused',
      faults: [{ message: expect.stringContaining('licensed') as string }],
    });
    expect(refused?.faults?.[0]?.path).toBe(`work.ticks.${keyOf(true)}`);
    expect(await tick(keyOf(true), 'skipped')).toMatchObject({ status: 'applied' });
  });
  test('is ticked by somebody with one', async () => {
    const { models } = rig.database;
    await models.User.update({ licence: 'SK-E 1' }, { where: { email: 'ann@ours.example' } });
    expect(await tick(keyOf(true))).toMatchObject({ status: 'applied' });
    await models.User.update({ licence: null }, { where: { email: 'ann@ours.example' } });
  });
});

describe('changes', () => {
  test('set a field and its evidence, and raise the revision', async () => {
    const row = await controllerOf();
    const { results } = await send(
      change(row.id, row.revision, { maxPv_A: 45, 'evidence/maxPv_A': { grade: 'measured' } }),
    );
    expect(results[0]).toMatchObject({
      status: 'applied',
      part: { revision: row.revision + 1, body: { maxPv_A: 45 }, evidence: { maxPv_A: { grade: 'measured' } } },
    });
  });
  test('sent twice count once', async () => {
    const row = await controllerOf();
    const once = change(row.id, row.revision, { maxPv_A: 46 });
    await send(once);
    const { results } = await send(once, once);
    expect(results.map(({ status }) => status)).toEqual(['duplicate', 'duplicate']);
    expect((await controllerOf()).revision).toBe(row.revision + 1);
  });
  test('two phones on two fields merge; on one field they conflict, nothing lost', async () => {
    const row = await controllerOf();
    await send(change(row.id, row.revision, { selfUse_W: 2 }, { device: 'phone' }));
    const { results } = await send(change(row.id, row.revision, { selfUse_W: 3, startAbove_V: 4 }, { device: 'desk' }));
    expect(results[0]).toMatchObject({
      status: 'conflict',
      conflicts: [{ field: 'selfUse_W', current: 2, wanted: 3 }],
      part: { body: { selfUse_W: 2, startAbove_V: 4 } },
    });
    const kept = await rig.database.models.Change.findByPk(results[0]!.changeId);
    expect(kept?.conflicts).toEqual([{ field: 'selfUse_W', current: 2, wanted: 3 }]);
  });
  test.each([
    [{ maxPv_V: 5000 }, 'system.controllers[0].maxPv_V', 'is 5000, expected a number above 0 up to 1500'],
    [{ maxPv_V: '150' }, 'system.controllers[0].maxPv_V', 'is "150", expected a number above 0 up to 1500'],
    [
      { id: 'roof' },
      'system.controllers[0].id',
      'is "roof" again (also at system.arrays[0].id), expected an id unique in the file',
    ],
    [{ '__proto__.polluted': 1 }, 'set["__proto__.polluted"]', 'is no field, expected a path such as "maxPv_V"'],
  ])('%j is refused with the path and what was expected, and changes nothing', async (set, path, message) => {
    const row = await controllerOf();
    const { results } = await send(change(row.id, row.revision, set));
    expect(results[0]).toMatchObject({
      status: 'refused',
      faults: expect.arrayContaining([{ path, message }]) as unknown,
    });
    expect(await controllerOf()).toEqual(row);
  });
  test('a figure alone can part what must have volts in common: refused like any other', async () => {
    const made = ['one', 'two'].map((id) =>
      change(
        randomUUID(),
        0,
        { id: `${id}-${randomUUID()}`, continuous_W: 500, group: 'pair', minDc_V: 20, maxDc_V: 30 },
        {
          create: { kind: 'inverters', position: 9 },
        },
      ),
    );
    const { results } = await send(...made);
    expect(results.map(({ status }) => status)).toEqual(['applied', 'applied']);
    const [first, second] = results;
    const apart = await send(change(second!.partId, 1, { minDc_V: 40, maxDc_V: 60 }));
    expect(apart.results[0]).toMatchObject({
      status: 'refused',
      faults: [expect.objectContaining({ message: expect.stringMatching(/of other DC volts/) as string })],
    });
    const plain = await send(change(second!.partId, 1, { continuous_W: 600 }));
    expect(plain.results[0]?.status).toBe('applied');
    for (const { partId } of [first!, second!]) await send(change(partId, 2, { '/deleted': true }));
  });
  test('one refused change does not hold up the others of the batch', async () => {
    const row = await controllerOf();
    const { results } = await send(
      change(row.id, row.revision, { maxPv_V: -1 }),
      change(row.id, row.revision, { label: 'Renamed' }),
    );
    expect(results.map(({ status }) => status)).toEqual(['refused', 'applied']);
  });
  test('a part is created under the id its maker gave it, deleted, and brought back', async () => {
    const id = randomUUID();
    const load = { id: 'saw', label: 'Saw', kind: 'ac', power_W: 900, hours_d: 0.5 };
    expect((await send(change(id, 0, load, { create: { kind: 'loads', position: 9 } }))).results[0]?.status).toBe(
      'applied',
    );
    await send(change(id, 1, { '/deleted': true }));
    expect((await partsOf()).some((row) => row.id === id)).toBe(false);
    await send(change(id, 2, { '/deleted': false }));
    expect((await partsOf()).find((row) => row.id === id)?.body).toEqual(load);
  });
  test('what is unknown must be said to be new: no kind, or a revision that nobody has given, is refused', async () => {
    const body = { id: 'axe', label: 'Axe', kind: 'ac', power_W: 900, hours_d: 0.5 };
    const create = { kind: 'loads', position: 9 } as const;
    for (const one of [change(randomUUID(), 0, body), change(randomUUID(), 3, body, { create })]) {
      const { results } = await send(one);
      expect(results[0]).toMatchObject({ status: 'refused', faults: [{ path: 'partId' }] });
    }
    expect((await partsOf()).some(({ body: { id } }) => id === 'axe')).toBe(false);
  });
  test("the site's own name is the name in the list; another part's name is not", async () => {
    const named = async () => {
      const { sites } = (await ann.call('GET', '/sites')).body as unknown as { sites: { id: string; name: string }[] };
      return sites.find(({ id }) => id === rig.sites.ours)?.name;
    };
    const site = (await partsOf()).find(({ kind }) => kind === 'site')!;
    const was = await named();
    await send(change(site.id, site.revision, { name: 'Hut by the burn' }));
    expect(await named()).toBe('Hut by the burn');
    const row = await controllerOf();
    await send(change(row.id, row.revision, { name: 'Not a site' }));
    expect(await named()).toBe('Hut by the burn');
    await send(change(site.id, site.revision + 1, { name: was }));
    expect(await named()).toBe(was);
  });
  test('a part that others refer to cannot be taken away under them', async () => {
    const row = await controllerOf();
    const { results } = await send(change(row.id, row.revision, { '/deleted': true }));
    expect(results[0]).toMatchObject({ status: 'refused' });
    expect(results[0]?.faults.map(({ path }) => path)).toContain('system.arrays[0].controllerId');
  });
  test('the log keeps who set what, from what', async () => {
    const row = await controllerOf();
    const { results } = await send(change(row.id, row.revision, { efficiency_pct: 96 }));
    const entry = await rig.database.models.Change.findByPk(results[0]!.changeId);
    expect(entry).toMatchObject({ fields: { efficiency_pct: 96 }, before: { efficiency_pct: 97 }, partId: row.id });
    expect(entry?.userId).toBeTruthy();
  });
  test('twenty phones at once: every change is taken, revisions never repeat', async () => {
    const row = await controllerOf();
    const all = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        send(change(row.id, row.revision, { [`note${i}`]: i }, { device: String(i) })),
      ),
    );
    const revisions = all.map(({ results }) => results[0]?.part?.revision);
    expect(new Set(revisions).size).toBe(20);
    expect((await controllerOf()).revision).toBe(row.revision + 20);
  });
  test.each([
    [{}, 'changes'],
    [{ changes: [] }, 'changes'],
  ])('a malformed request %# is answered with the path of the fault', async (body, path) => {
    const reply = await ann.call('POST', `/sites/${rig.sites.ours}/changes`, body);
    expect(reply.status).toBe(422);
    expect(reply.body.faults.map((fault) => fault.path)).toContain(path);
  });
  test.each([
    [{ partId: 'x' }, 'partId'],
    [{ at: 'yesterday' }, 'at'],
    [{ at: '+200000-01-01T00:00:00Z' }, 'at'],
    [{ baseRevision: -1 }, 'baseRevision'],
    [{ set: [1] }, 'set'],
    [{ set: { label: 'a\0b' } }, 'label'],
    [{ set: { label: '\ud800' } }, 'label'],
    [{ set: { label: 'x'.repeat(100_001) } }, 'label'],
    [{ set: { '/else': 1 } }, 'set["/else"]'],
    [{ set: { 'a.__proto__': 1 } }, 'set["a.__proto__"]'],
    [{ create: { kind: 'nonsense', position: 0 }, partId: randomUUID(), baseRevision: 0 }, 'kind'],
    [{ device: '\0' }, 'device'],
    ['nonsense', 'body'],
  ])('a wrong change %j is refused by its path, and those around it are taken', async (wrong, path) => {
    const row = await controllerOf();
    const { results } = await send(
      change(row.id, row.revision, { label: 'before' }),
      typeof wrong === 'string' ? wrong : { ...change(row.id, row.revision, { label: 'wrong' }), ...wrong },
      change(row.id, row.revision, { selfUse_W: 7 }),
    );
    expect(results.map(({ status }) => status)).toEqual(['applied', 'refused', 'applied']);
    expect(results[1]?.faults[0]?.path).toContain(path);
    expect((await controllerOf()).body).toMatchObject({ label: 'before', selfUse_W: 7 });
  });
  test('a second bank from another phone: what it adds is taken over, what differs is for a person', async () => {
    const bank = (await partsOf()).find(({ kind }) => kind === 'bank')!;
    const mine = randomUUID();
    const making = change(
      mine,
      0,
      { ...bank.body, id: 'other', age_y: 17, note: 'in the bow' },
      { create: { kind: 'bank', position: 0 } },
    );
    const more = change(mine, 1, { note: 'in the stern' });
    const { results } = await send(making, more);
    expect(results[0]).toMatchObject({
      status: 'conflict',
      part: { id: bank.id, body: { age_y: bank.body.age_y, note: 'in the bow' } },
    });
    expect(results[0]?.conflicts).toEqual([
      { field: 'id', current: bank.body.id, wanted: 'other' },
      { field: 'age_y', current: bank.body.age_y, wanted: 17 },
    ]);
    expect(results[1]).toMatchObject({ part: { id: bank.id } });
    // Sent again (the answer was lost): the same answer, and the rest still finds its part.
    const again = await send(making, change(mine, 9, { label: 'Bank' }));
    expect(again.results.map(({ status, part }) => [status, part?.id])).toEqual([
      ['duplicate', bank.id],
      ['applied', bank.id],
    ]);
    expect((await partsOf()).filter(({ kind }) => kind === 'bank')).toHaveLength(1);
  });
  test('a part is never of another kind than it was made', async () => {
    const row = await controllerOf();
    const { results } = await send(change(row.id, 0, { id: 'x' }, { create: { kind: 'loads', position: 0 } }));
    expect(results[0]).toMatchObject({ status: 'refused', faults: [{ path: 'create.kind' }] });
  });
  test('another device set it since, the whole of the settings or one of them: a conflict either way', async () => {
    const row = await controllerOf();
    const theirs = (set: object) => change(row.id, row.revision, set as Record<string, unknown>, { device: 'theirs' });
    await send(theirs({ 'settings.absorb_V': 14.2 }));
    const whole = await send(change(row.id, row.revision, { settings: { absorb_V: 14.8 } }, { device: 'mine' }));
    expect(whole.results[0]?.conflicts).toMatchObject([{ field: 'settings' }]);
    const now = await controllerOf();
    await send(change(now.id, now.revision, { settings: { absorb_V: 14.3 } }, { device: 'theirs' }));
    const one = await send(change(now.id, now.revision, { 'settings.absorb_V': 14.9 }, { device: 'mine' }));
    expect(one.results[0]?.conflicts).toMatchObject([{ field: 'settings.absorb_V', current: 14.3 }]);
    // What the same device set is no conflict to it, nor what was seen.
    const same = await send(change(now.id, now.revision, { 'settings.absorb_V': 14.4 }, { device: 'theirs' }));
    expect(same.results[0]?.status).toBe('applied');
  });
  test('a field of one part is no other\u2019s, though both came in one batch', async () => {
    const rows = await partsOf();
    const [one, two] = rows.filter(({ kind }) => kind === 'runs');
    const of = (row: typeof one, set: object, device: string) =>
      change(row!.id, row!.revision, set as Record<string, unknown>, { device });
    // The second has been written to since: its revision is behind.
    await send(of(two, { notes: 'seen' }, 'theirs'));
    const { results } = await send(of(one, { length_m: 3.1 }, 'theirs'), of(two, { length_m: 4.1 }, 'mine'));
    expect(results.map(({ status }) => status)).toEqual(['applied', 'applied']);
    // Of one part it is a conflict, in one batch as in two.
    const now = (await partsOf()).find(({ id }) => id === one!.id)!;
    const both = await send(of(now, { length_m: 3.2 }, 'theirs'), of(now, { length_m: 3.3 }, 'mine'));
    expect(both.results.map(({ status }) => status)).toEqual(['applied', 'conflict']);
  });
  test('what would make the site too large to be read again is refused', async () => {
    const text = 'x'.repeat(90_000);
    const wide = Object.fromEntries(Array.from({ length: 2 }, (_, i) => [`extra${i}`, text]));
    let status = '';
    let taken = -1;
    for (let i = 0; i < 60 && status !== 'refused'; i++) {
      const made = change(
        randomUUID(),
        0,
        { id: `big${i}`, label: 'L', kind: 'dc', hours_d: 1, power_W: 1, ...wide },
        { create: { kind: 'loads', position: i } },
      );
      const [result] = (await send(made)).results;
      status = result?.status ?? '';
      taken += 1;
      if (result?.status === 'refused') expect(result.faults).toMatchObject([{ path: 'file' }]);
    }
    expect(status).toBe('refused');
    expect(taken).toBeGreaterThan(1);
    const file = await ann.call('GET', `/sites/${rig.sites.ours}/file`);
    expect((await ann.call('POST', '/sites', { id: randomUUID(), file: file.body })).status).toBe(201);
    await rig.database.pool.query(`update parts set deleted_at = now() where body->>'id' like 'big%'`);
  });
  test('a reader changes nothing', async () => {
    await rig.database.sequelize.query('delete from limits');
    const rob = new Visitor(rig.address);
    await rob.signIn('rob@ours.example');
    const row = await controllerOf();
    expect(
      (await rob.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [change(row.id, 1, { label: 'x' })] }))
        .status,
    ).toBe(403);
    expect((await rob.call('GET', `/sites/${rig.sites.ours}`)).status).toBe(200);
  });
});

describe('whole files', () => {
  test('imported and exported, a file is the same', async () => {
    const id = randomUUID();
    expect((await ann.call('POST', '/sites', { id, file: corrach })).status).toBe(201);
    const file = (await ann.call('GET', `/sites/${id}/file`)).body as unknown as SystemFile;
    expect(file).toEqual(corrach);
    // Again, as after a lost answer: no second site.
    expect((await ann.call('POST', '/sites', { id, file: corrach })).status).toBe(200);
    expect(await rig.database.models.Site.count({ where: { id } })).toBe(1);
  });
  test('a bad file is not imported by halves', async () => {
    const id = randomUUID();
    const bad = structuredClone(corrach) as unknown as { system: { bank: { series: number } } };
    bad.system.bank.series = 0;
    const reply = await ann.call('POST', '/sites', { id, file: bad });
    expect(reply.status).toBe(422);
    expect(reply.body.faults).toContainEqual({
      path: 'system.bank.series',
      message: 'is 0, expected a whole number from 1 to 64',
    });
    expect(await rig.database.models.Part.count({ where: { siteId: id } })).toBe(0);
    expect(await rig.database.models.Site.count({ where: { id } })).toBe(0);
  });
  test.each([
    ['not json', '{oops', 400],
    ['too large', JSON.stringify({ id: randomUUID(), file: 'x'.repeat(11e6) }), 413],
  ])('%s is one sentence of problem+json', async (_, body, status) => {
    const reply = await ann.call('POST', '/sites', body);
    expect(reply).toMatchObject({ status, type: expect.stringContaining('application/problem+json') as string });
  });
});

describe('the database', () => {
  test('migrations run again and at once do nothing twice', async () => {
    await Promise.all([migrate(rig.database.sequelize), migrate(rig.database.sequelize)]);
    const [rows] = await rig.database.sequelize.query('select name from migrations');
    expect(new Set((rows as { name: string }[]).map(({ name }) => name)).size).toBe(rows.length);
  });
  test('the health route asks the database', async () =>
    expect((await ann.call('GET', '/health')).body).toEqual({ ok: true }));
  test('an unknown route is a 404 with a sentence', async () =>
    expect((await ann.call('GET', '/nothing')).status).toBe(404));
});
