import { randomUUID } from 'node:crypto';
import { modelOf, nameOfRow, workOf, type PartRow, type StoredPart, type SystemFile } from '@true-lantern/core';
import type { PushResult } from '@true-lantern/wire';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { bodyOf, change, PASSWORD, startRig, Visitor, type Rig } from './site-of-two-firms';

/**
 * Every guarded fact, in every spelling that the change protocol knows (leaf, each branch above it, root, made with a new
 * row, brought in a file), by every kind of person. The spellings are generated from the fact's path: what is refused in
 * one of them is refused in all.
 */

let rig: Rig;
type Asker = 'nobody' | 'other firm' | 'removed' | 'reader' | 'technician' | 'licensed' | 'owner';
const ASKERS: Asker[] = ['nobody', 'other firm', 'removed', 'reader', 'technician', 'licensed', 'owner'];
const askers = {} as Record<Asker, { visitor: Visitor; id: string }>;

beforeAll(async () => {
  rig = await startRig();
  const { User } = rig.database.models;
  const [ann, eve] = await Promise.all(
    ['ann@ours.example', 'eve@theirs.example'].map((email) => User.findOne({ where: { email } })),
  );
  const made = async (name: string, role: 'owner' | 'technician' | 'reader', licence: string | null = null) => {
    const { id, email } = await User.create({
      id: randomUUID(),
      firmId: ann!.firmId,
      name,
      email: `${name}@ours.example`,
      role,
      licence,
      passwordHash: ann!.passwordHash,
    });
    return signedIn(id, email);
  };
  const signedIn = async (id: string, email: string) => {
    const visitor = new Visitor(rig.address);
    await visitor.signIn(email, PASSWORD);
    return { visitor, id };
  };
  askers.owner = await signedIn(ann!.id, 'ann@ours.example');
  askers['other firm'] = await signedIn(eve!.id, 'eve@theirs.example');
  askers.reader = await made('reader', 'reader');
  askers.technician = await made('technician', 'technician');
  askers.licensed = await made('licensed', 'technician', 'SK-E 1');
  askers.removed = await made('removed', 'technician');
  await askers.owner.visitor.call('DELETE', `/people/${askers.removed.id}`);
  askers.nobody = { visitor: new Visitor(rig.address), id: randomUUID() };
  for (const { visitor } of [askers.nobody, askers.removed]) visitor.token = 'x';
}, 60_000);
afterAll(() => rig.close());

const sound = modelOf(corrach as unknown as SystemFile);
const proposal = corrach.proposals.find(({ id }) => id === 'p-relay')!;
const { steps } = workOf(sound, modelOf(corrach as unknown as SystemFile, 'p-relay'));
const [LICENSED, PLAIN] = [true, false].map((wanted) => steps.find((step) => Boolean(step.licensed) === wanted)!.key);
const tick = (person: string) => ({ state: 'done', by: person, at: '2026-11-27T10:00:00Z' });

/** A fact, where it lies in its row, and who may write it at the site; nobody else ever may. */
interface Guarded {
  kind: string;
  /** The row as it stands before. */
  body: Record<string, unknown>;
  /** Where the fact lies; the person who asks may be a step of it. */
  path(asker: string): string[];
  value(asker: string): unknown;
  may: readonly Asker[];
  /** Who may make a row that says so from its first moment. Of a proposal as of a change; a signed visit may be brought. */
  mayMake: readonly Asker[];
}
const WRITERS: Asker[] = ['technician', 'licensed', 'owner'];
const relay = (more: object = {}) => ({ id: '', title: 'Relay', changes: structuredClone(proposal.changes), ...more });
const GUARDED: Record<string, Guarded> = {
  'a plain step, ticked as oneself': {
    kind: 'proposal',
    body: relay(),
    path: (asker) => ['work', 'ticks', PLAIN!, asker],
    value: tick,
    may: WRITERS,
    mayMake: WRITERS,
  },
  'a licensed step, ticked as oneself': {
    kind: 'proposal',
    body: relay(),
    path: (asker) => ['work', 'ticks', LICENSED!, asker],
    value: tick,
    may: ['licensed'],
    mayMake: ['licensed'],
  },
  'a plain step, ticked as somebody else': {
    kind: 'proposal',
    body: relay(),
    path: () => ['work', 'ticks', PLAIN!, '5b0ad1c5-3a3e-4f0e-9a51-3f1a6e1a2b01'],
    value: tick,
    may: [],
    mayMake: [],
  },
  'the title of a fitted proposal': {
    kind: 'proposal',
    body: relay({ closed: { as: 'fitted', at: 'x', by: 'Ann' } }),
    path: () => ['title'],
    value: () => 'Another',
    may: [],
    mayMake: WRITERS,
  },
  'how a fitted proposal was closed': {
    kind: 'proposal',
    body: relay({ closed: { as: 'fitted', at: 'x', by: 'Ann' } }),
    path: () => ['closed', 'as'],
    value: () => 'overtaken',
    may: [],
    mayMake: WRITERS,
  },
  'what was done at a signed visit': {
    kind: 'visit',
    body: {
      id: '',
      at: '2026-03-01T09:00:00Z',
      done: 'Looked',
      signed: { firm: { name: 'A', at: 'x', strokes: 'M' } },
    },
    path: () => ['done'],
    value: () => 'Nothing at all',
    may: [],
    mayMake: WRITERS,
  },
  'who signed a signed visit': {
    kind: 'visit',
    body: {
      id: '',
      at: '2026-03-01T09:00:00Z',
      done: 'Looked',
      signed: { firm: { name: 'A', at: 'x', strokes: 'M' } },
    },
    path: () => ['signed', 'firm', 'name'],
    value: () => 'Eve',
    may: [],
    mayMake: WRITERS,
  },
  'the conditions of a signed visit': {
    kind: 'visit',
    body: {
      id: '',
      at: '2026-03-01T09:00:00Z',
      conditions: { soc: 0.5, ambient_C: 10 },
      signed: { firm: { name: 'A', at: 'x', strokes: 'M' } },
    },
    path: () => ['conditions', 'soc'],
    value: () => 0.1,
    may: [],
    mayMake: WRITERS,
  },
};

/** The branch at a path, with the fact put in it; nothing else of the row changes. */
const withFact = (body: unknown, [step, ...rest]: string[], value: unknown): unknown =>
  step === undefined
    ? value
    : { ...(body ?? {}), [step]: withFact((body as Record<string, unknown> | null)?.[step], rest, value) };
const at = (body: unknown, path: readonly string[]) =>
  path.reduce<unknown>((found, step) => (found as Record<string, unknown> | undefined)?.[step], body);
/** One fact as every `set` that says it: at its leaf, and at each branch above. */
const spellings = (body: object, path: string[], value: unknown): Record<string, unknown>[] => {
  const after = withFact(body, path, value);
  return path.map((_, i) => {
    const upTo = path.slice(0, path.length - i);
    return { [upTo.join('.')]: at(after, upTo) };
  });
};

const rowsOf = async (site: string) =>
  bodyOf<{ parts: StoredPart[] }>(await askers.owner.visitor.call('GET', `/sites/${site}`)).parts;
const push = async (asker: Asker, one: unknown) => {
  const reply = await askers[asker].visitor.call('POST', `/sites/${rig.sites.ours}/changes`, { changes: [one] });
  return reply.status === 200 ? bodyOf<{ results: PushResult[] }>(reply).results[0]! : reply.status;
};
/** What the door says to who is not let in at all. */
const AT_THE_DOOR: Partial<Record<Asker, number>> = { nobody: 401, removed: 401, 'other firm': 404, reader: 403 };

describe.each(Object.entries(GUARDED))('%s', (name, { kind, body, path, value, may, mayMake }) => {
  test.each(ASKERS)('by %s, in every spelling', async (asker) => {
    const person = askers[asker].id;
    const id = randomUUID();
    const own = { ...body, id: `${kind}-${id}` };
    const made = await push('owner', change(id, 0, own, { create: { kind: kind as 'visit', position: 90 } }));
    expect(made).toMatchObject({ status: 'applied' });
    for (const set of spellings(own, path(person), value(person))) {
      const [row] = (await rowsOf(rig.sites.ours)).filter((one) => one.id === id);
      const answer = await push(asker, change(id, row!.revision, set));
      const [after] = (await rowsOf(rig.sites.ours)).filter((one) => one.id === id);
      const label = Object.keys(set)[0];
      if (may.includes(asker)) {
        expect([label, answer]).toMatchObject([label, { status: 'applied' }]);
        await push(asker, change(id, after!.revision, { [path(person)[0]!]: null }));
      } else {
        const door = AT_THE_DOOR[asker];
        if (door) expect([label, answer]).toEqual([label, door]);
        else expect([label, answer]).toMatchObject([label, { status: 'refused' }]);
        expect(after!.body).toEqual(row!.body);
      }
    }
  });
  test.each(ASKERS)('by %s, made with a new row', async (asker) => {
    const person = askers[asker].id;
    const id = randomUUID();
    const whole = withFact({ ...body, id: `${kind}-${id}` }, path(person), value(person)) as Record<string, unknown>;
    const answer = await push(asker, change(id, 0, whole, { create: { kind: kind as 'visit', position: 90 } }));
    const stands = (await rowsOf(rig.sites.ours)).some((one) => one.id === id);
    const door = AT_THE_DOOR[asker];
    if (door) expect(answer).toBe(door);
    else expect(answer).toMatchObject({ status: mayMake.includes(asker) ? 'applied' : 'refused' });
    expect(stands).toBe(mayMake.includes(asker));
  });
  // A visit that is in a file is that file's: it makes a site of its own and touches no record.
  if (kind !== 'proposal' || path('x')[0] !== 'work') return;
  test.each(ASKERS)('by %s, in a file', async (asker) => {
    const person = askers[asker].id;
    const site = randomUUID();
    const file = structuredClone(corrach) as unknown as { proposals: unknown[] };
    file.proposals = [withFact({ ...body, id: 'p-relay' }, path(person), value(person))];
    const reply = await askers[asker].visitor.call('POST', '/sites', { id: site, file });
    if (asker === 'other firm') return expect(reply.status).toBe(201);
    const door = AT_THE_DOOR[asker];
    if (door) return expect(reply.status).toBe(door);
    expect(reply.status).toBe(201);
    const row = (await rowsOf(site)).find((one: PartRow) => nameOfRow(one) === 'p-relay')!;
    const stands = at(row.body, path(person)) !== undefined;
    // Ticks of people who are nobody here are a history, not a claim: they stay.
    expect(stands).toBe(name.includes('somebody else') || may.includes(asker));
  });
});
