import * as api from '../src/data/api';
import { clearBlobs, keepBlob } from '../src/data/blobs';
import {
  dependsOn,
  drain,
  enqueue,
  enqueueRequest,
  enqueueSite,
  openOutbox,
  sendAgain,
  setOwner,
  type Entry,
  type Taken,
} from '../src/data/outbox';
import { entryTitle, mendable } from '../src/data/outbox/entry-words';
import { changeEntries, state, update } from '../src/data/outbox/store';
import { openCorrach } from './corrach';

/** In which order things go, what waits for what, and what becomes of what the server leaves out. */

jest.mock('../src/data/api', () => {
  const actual = jest.requireActual<typeof api>('../src/data/api');
  return { ...actual, pushChanges: jest.fn(), importSite: jest.fn(), sendRequest: jest.fn() };
});
const server = jest.mocked(api);
const site = openCorrach();
const taken = { changes: jest.fn(), site: jest.fn(), request: jest.fn() } satisfies Taken;
const went: string[] = [];
const applied = (changes: { changeId: string; partId: string }[]) => ({
  revision: 7,
  results: changes.map(({ changeId, partId }) => ({
    changeId,
    partId,
    status: 'applied' as const,
    conflicts: [],
    faults: [],
  })),
});
const persisted = jest.fn(async () => true);
let lock: 'free' | 'taken' = 'free';
const waited = async (until: () => boolean) => {
  for (let n = 0; n < 1000 && !until(); n++) await new Promise((resolve) => setTimeout(resolve, 10));
};
/** The device has all of it, or has said that it will not. */
const kept = () => state().entries.every((entry) => entry.n !== undefined || entry.unkept);
const settled = () => waited(() => !state().sending && kept());
/** Enters all of it while nothing is sent, then lets it go. */
async function sendTogether(enter: () => void | Promise<void>): Promise<void> {
  update({ owner: '' });
  await settled();
  update({ owner: 'ann', sending: true });
  await enter();
  await waited(kept);
  update({ sending: false });
  await drain();
  await settled();
}

beforeAll(async () => {
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: {
      storage: { persist: persisted },
      locks: {
        request: async (_: string, __: object, act: (lock: object | null) => Promise<void>) =>
          act(lock === 'free' ? {} : null),
      },
    },
  });
  await openOutbox(taken);
});
beforeEach(async () => {
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  await changeEntries(() => null);
  went.length = 0;
  lock = 'free';
  for (const heard of Object.values(taken)) heard.mockClear();
  server.pushChanges.mockReset().mockImplementation(async (siteId, changes) => {
    went.push(`${siteId}: ${changes.map(({ set }) => String(set.a ?? Object.keys(set)[0])).join(' ')}`);
    return applied(changes);
  });
  server.importSite.mockReset().mockImplementation(async (id) => {
    went.push('a site');
    return { id, warnings: [] };
  });
  server.sendRequest.mockReset().mockImplementation(async (_, path) => void went.push(path));
  await clearBlobs(new Set());
});
afterAll(() => setOwner(''));

const note = (siteId: string, a: number | string, more: object = {}) =>
  enqueue(siteId, { partId: 'p', baseRevision: 1, set: { a }, ...more });

test('words before pictures, whatever was first; the changes of a site together, in their order', async () => {
  await keepBlob('photo', new Blob(['abc']));
  await sendTogether(() => {
    enqueueRequest('s', { key: 'attachment photo', method: 'PUT', path: '/photo', blob: 'photo' });
    note('s', 1);
    note('t', 2);
    note('s', 3);
    enqueueRequest('', { key: 'shelf x', method: 'DELETE', path: '/shelf/x' });
  });
  expect(went).toEqual(['s: 1 3', 't: 2', '/shelf/x', '/photo']);
  expect(server.sendRequest.mock.calls.map(([method, , body]) => [method, body instanceof Blob])).toEqual([
    ['DELETE', false],
    ['PUT', true],
  ]);
  // The cache hears of each, as it was taken.
  expect(taken.changes.mock.calls.map(([siteId, results, revision]) => [siteId, results.length, revision])).toEqual([
    ['s', 2, 7],
    ['t', 1, 7],
  ]);
  expect(taken.request.mock.calls.map(([{ path }]) => path)).toEqual(['/shelf/x', '/photo']);
  expect(state().entries).toEqual([]);
});
test('fifty at once, no more', async () => {
  await sendTogether(() => {
    for (let n = 0; n < 51; n++) note('s', n);
  });
  expect(server.pushChanges.mock.calls.map(([, changes]) => changes.length)).toEqual([50, 1]);
});
test('what was noted after a new site was made goes after it', async () => {
  await sendTogether(() => {
    note('s', 1);
    enqueueSite(site.file);
    note('s', 2);
  });
  expect(went).toEqual(['s: 1', 'a site', 's: 2']);
  expect(taken.site.mock.calls.map(([, name, rows]) => [name, rows.length])).toEqual([
    [site.file.site.name, site.rows.length],
  ]);
});
test('a file that this device has lost is a person\u2019s matter at once, not asked for again and again', async () => {
  await sendTogether(() => enqueueRequest('s', { key: 'attachment x', method: 'PUT', path: '/photo', blob: 'lost' }));
  expect(server.sendRequest).not.toHaveBeenCalled();
  expect(state().entries).toMatchObject([
    { state: 'refused', faults: [{ path: 'site', message: 'This device no longer has the file.' }] },
  ]);
});
test.each([
  [413, 'size'],
  [500, 'server'],
  [404, 'site'],
])('after %d without faults of its own the fault is of the %s', async (status, path) => {
  server.pushChanges.mockRejectedValue(new api.ApiError(status, 'No.', [], undefined));
  await sendTogether(async () => {
    note('s', 1);
    await waited(kept);
    // A third time is the last.
    await changeEntries((entry) => ({ ...entry, tries: 2 }));
  });
  expect(state().entries).toMatchObject([{ state: 'refused', faults: [{ path, message: 'No.' }], tries: 0 }]);
});
test('faults that the server names are kept as they are', async () => {
  const faults = [{ path: 'a', message: 'is 1, expected 2' }];
  server.pushChanges.mockRejectedValue(new api.ApiError(422, 'No.', faults, undefined));
  await sendTogether(() => note('s', 1));
  expect(state().entries).toMatchObject([{ state: 'refused', faults }]);
});
test('a change that the answer leaves out stays, and is not asked about without end', async () => {
  server.pushChanges.mockImplementation(async (siteId, changes) => {
    went.push(siteId);
    return applied(changes.filter(({ set }) => set.a !== 'left out'));
  });
  await sendTogether(() => {
    note('s', 1);
    note('s', 'left out');
  });
  expect(went).toEqual(['s']);
  expect(state().entries).toMatchObject([{ state: 'waiting', change: { set: { a: 'left out' } } }]);
  expect(state().trouble).toBe('failing');
});
test('while another page sends, this one waits for it', async () => {
  lock = 'taken';
  await sendTogether(() => note('s', 1));
  expect(went).toEqual([]);
  expect(state().entries).toMatchObject([{ state: 'waiting' }]);
  lock = 'free';
  await drain();
  await settled();
  expect(went).toEqual(['s: 1']);
});
test('nobody signed in: nothing goes', async () => {
  update({ owner: '' });
  note('s', 1);
  await settled();
  await drain();
  expect(went).toEqual([]);
});

describe('what waits behind what the server did not take', () => {
  const entry = (more: object): Entry => ({ siteId: 's', owner: 'ann', state: 'waiting', ...more }) as Entry;
  const change = (partId: string, more: object = {}, of: object = {}) =>
    entry({
      change: { changeId: `${partId}${Math.random()}`, partId, baseRevision: 1, set: {}, at: '', ...of },
      ...more,
    });
  const making = (more: object = {}) =>
    change('new', { state: 'refused', ...more }, { create: { kind: 'loads', position: 0 } });
  const held = (first: Entry, second: Entry) => {
    update({ entries: [first, second] });
    return dependsOn(first);
  };
  test.each<[string, Entry, Entry, number]>([
    ['work on a part that was not made', making(), change('new'), 1],
    ['another part of the same site', making(), change('old'), 0],
    ['the same id in another site', making(), change('new', { siteId: 't' }), 0],
    ['the same id of another person', making(), change('new', { owner: 'bob' }), 0],
    ['one in conflict was made all the same', making({ state: 'conflict' }), change('new'), 0],
    ['a refused change that made nothing', change('new', { state: 'refused' }), change('new'), 0],
    ['everything of a site that was not made', entry({ file: {}, state: 'refused' }), change('any'), 1],
    ['photos of it too', entry({ file: {}, state: 'refused' }), entry({ request: { key: 'k' } }), 1],
    ['what stepped aside itself does not wait', making(), change('new', { state: 'refused' }), 0],
  ])('%s', (_, first, second, waits) => expect(held(first, second)).toBe(waits));
});

describe('sent again', () => {
  test('with its faults forgotten, and only that one', async () => {
    server.pushChanges.mockRejectedValueOnce(new api.ApiError(422, 'No.', [], undefined));
    await sendTogether(() => note('s', 1));
    server.pushChanges.mockRejectedValueOnce(new api.ApiError(422, 'No.', [], undefined));
    await sendTogether(() => note('t', 2));
    const [first] = state().entries;
    await sendAgain(first!);
    await settled();
    expect(went).toEqual(['s: 1']);
    expect(state().entries).toMatchObject([{ state: 'refused', siteId: 't' }]);
  });
});

test('the browser is asked once to keep what is on the device', async () => {
  await sendTogether(() => note('s', 1));
  await sendTogether(() => note('s', 2));
  expect(persisted).toHaveBeenCalledTimes(1);
});

describe('what it is, in words', () => {
  const of = (set: Record<string, unknown>, more: object = {}) =>
    entryTitle(
      { change: { set, ...more } } as never,
      site.rows.find(({ kind }) => kind === 'controllers'),
    );
  test('of three fields each, of four that there are more; evidence is none of them', () => {
    const fields = { maxPv_V: 1, maxPv_A: 1, maxOutput_A: 1 };
    expect(of({ ...fields, 'evidence/maxPv_V': {} })).not.toMatch(/\.\.\.$/);
    expect(of({ ...fields, selfUse_W: 1 })).toMatch(/: .+, .+, .+ \.\.\.$/);
    expect(of({ 'evidence/maxPv_V': {} })).not.toContain(':');
  });
  test('a part without a name is called by its kind, one of no known kind a part', () => {
    expect(entryTitle({ change: { set: { a: 1 }, create: { kind: 'loads' } } } as never)).toBe('Load: new');
    expect(entryTitle({ change: { set: { a: 1 } } } as never)).toBe('a part: a');
    expect(of({ '/deleted': false })).not.toContain('taken away');
  });
  test('only texts and numbers are typed again', () =>
    expect(mendable({ '/position': 1, 'evidence/a': 'x', t: '', n: 0, f: false })).toEqual([
      ['t', ''],
      ['n', 0],
    ]));
});
