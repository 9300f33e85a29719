import { openDB } from 'idb';
import * as api from '../src/data/api';
import type { PushAnswer } from '@true-lantern/wire';
import type { ChangeEntry, Entry, Taken } from '../src/data/outbox';
import { openCorrach } from './corrach';

jest.mock('../src/data/api', () => {
  const actual = jest.requireActual<typeof api>('../src/data/api');
  return { ...actual, pushChanges: jest.fn(), importSite: jest.fn(), sendRequest: jest.fn() };
});
const push = jest.mocked(api.pushChanges);
const bring = jest.mocked(api.importSite);
const request = jest.mocked(api.sendRequest);
const quiet: Taken = { changes: () => undefined, site: () => undefined, request: () => undefined };
const later = (ms = 60) => new Promise((resolve) => setTimeout(resolve, ms));
/** Waits for what happens in its own time; fails with the last reason. */
async function soon(check: () => void | Promise<void>): Promise<void> {
  for (const end = Date.now() + 4000; ; await later(10))
    try {
      return await check();
    } catch (error) {
      if (Date.now() > end) throw error;
    }
}

/** Waits of seconds, which a test ends by hand. */
function longWaits() {
  const short = globalThis.setTimeout;
  const waits: number[] = [];
  let last: (() => void) | undefined;
  const spy = jest.spyOn(globalThis, 'setTimeout').mockImplementation((act: () => void, ms = 0) => {
    if (ms < 3000) return short(act, ms);
    waits.push(ms);
    last = act;
    return short(() => undefined, 0);
  });
  return { waits, wake: () => last?.(), restore: () => spy.mockRestore() };
}

/** The browser's channel between its pages, which a test can close. */
class Channel {
  static open: Channel[] = [];
  hear: ((event: { data: unknown }) => void)[] = [];
  constructor() {
    Channel.open.push(this);
  }
  addEventListener(_: string, hear: (event: { data: unknown }) => void) {
    this.hear.push(hear);
  }
  postMessage(data: unknown) {
    for (const other of Channel.open)
      if (other !== this)
        setTimeout(() => Channel.open.includes(other) && other.hear.forEach((hear) => hear({ data })), 0);
  }
}
Object.assign(globalThis, { BroadcastChannel: Channel });
const site = openCorrach();
const row = site.rows.find(({ kind }) => kind === 'controllers')!;

type Outbox = typeof import('../src/data/outbox') &
  Pick<typeof import('../src/data/outbox/store'), 'state' | 'addEntries' | 'changeEntries'>;
/** A page of the browser: a new one each time, as after a reload or in a second tab; the device's database stays. */
const pages: Outbox[] = [];
function close() {
  for (const outbox of pages.splice(0)) outbox.setOwner('');
  Channel.open = [];
}
function page(): Outbox {
  let outbox!: Outbox;
  jest.isolateModules(() => {
    outbox = { ...jest.requireActual('../src/data/outbox'), ...jest.requireActual('../src/data/outbox/store') };
  });
  pages.push(outbox);
  return outbox;
}
async function opened(owner = 'ann', into = quiet): Promise<Outbox> {
  const outbox = page();
  await outbox.openOutbox(into);
  outbox.setOwner(owner);
  return outbox;
}
const names = (outbox: Outbox) => outbox.state().entries.map((entry) => entry.state);
const change = (set: Record<string, unknown>, partId = row.id) => ({ partId, baseRevision: 1, set });
const took = async (_: string, changes: { changeId: string; partId: string }[]): Promise<PushAnswer> => ({
  results: changes.map(({ changeId, partId }) => ({ changeId, partId, status: 'applied', conflicts: [], faults: [] })),
  revision: 2,
});
const noSignal = () => Promise.reject(new api.NoSignal(null));
const answer = (status: number) => () => Promise.reject(new api.ApiError(status, `It was ${status}.`, [], undefined));
const device = () => jest.requireActual<typeof import('../src/data/database')>('../src/data/database').deviceDatabase();
const stored = async (): Promise<Entry[]> => (await device()).getAll('outbox');

afterAll(close);
beforeEach(async () => {
  close();
  await later(20);
  push.mockReset().mockImplementation(took);
  bring.mockReset().mockResolvedValue({ id: '', warnings: [] });
  request.mockReset().mockResolvedValue(undefined);
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  await (await device()).clear('outbox');
});

test('a change counts at once and survives a reload without a signal', async () => {
  push.mockImplementation(noSignal);
  const outbox = await opened();
  outbox.enqueue('site', change({ maxPv_V: 200 }));
  expect(names(outbox)).toEqual(['waiting']);
  await soon(() => {
    expect(outbox.state().trouble).toBe('no-signal');
  });

  push.mockImplementation(took);
  const taken: unknown[] = [];
  await opened('ann', { ...quiet, changes: (_, results) => void taken.push(...results) });
  await soon(() => {
    expect(taken).toMatchObject([{ status: 'applied', partId: row.id }]);
  });
  // The same change with the same id was sent both times: the server can tell.
  const ids = push.mock.calls.map(([, changes]) => changes[0]?.changeId);
  expect([ids.length, new Set(ids).size]).toEqual([2, 1]);
  expect(await stored()).toEqual([]);
});

test('an entry is on the device before it is sent', async () => {
  let then: number | null = null;
  push.mockImplementation(async (...call) => {
    then = (await stored()).length;
    return took(...call);
  });
  const outbox = await opened();
  outbox.enqueue('site', change({ maxPv_V: 200 }));
  await soon(() => {
    expect(then).toBe(1);
  });
});

describe('two pages of one browser', () => {
  test('neither erases what the other has not sent, and both show the same', async () => {
    push.mockImplementation(noSignal);
    const one = await opened();
    const two = await opened();
    one.enqueue('site', change({ maxPv_V: 200 }));
    two.enqueue('site', change({ maxPv_A: 20 }));
    one.enqueue('site', change({ selfUse_W: 2 }));
    await later(100);
    const sets = (entries: readonly Entry[]) =>
      entries.map((entry) => ('change' in entry ? Object.keys(entry.change.set)[0] : '')).sort();
    const all = ['maxPv_A', 'maxPv_V', 'selfUse_W'];
    expect([sets(await stored()), sets(one.state().entries), sets(two.state().entries)]).toEqual([all, all, all]);
  });
  test('what one has sent is gone from the other, whose cache has heard of it', async () => {
    push.mockImplementation(noSignal);
    const heard: unknown[] = [];
    const one = await opened();
    const two = await opened('ann', { ...quiet, changes: (_, results) => void heard.push(...results) });
    one.enqueue('site', change({ maxPv_V: 200 }));
    await soon(() => {
      expect(names(two)).toEqual(['waiting']);
    });
    push.mockImplementation(took);
    await one.drain();
    await soon(() => {
      expect([names(one), names(two)]).toEqual([[], []]);
    });
    expect(heard).toMatchObject([{ status: 'applied' }]);
  });
});

describe('one that cannot be taken steps aside', () => {
  const bad = 'bad' as unknown;
  const isBad = (changes: { set: Record<string, unknown> }[]) => changes.some(({ set }) => set.note === bad);
  test.each([400, 403, 404, 409, 413, 422])(
    'after %d everything else goes, of its site and of others',
    async (status) => {
      push.mockImplementation((siteId, changes) => (isBad(changes) ? answer(status)() : took(siteId, changes)));
      const outbox = await opened();
      outbox.enqueue('site', change({ maxPv_V: 200 }), change({ note: bad }), change({ maxPv_A: 20 }));
      outbox.enqueue('other', change({ maxPv_V: 1 }));
      await soon(() => {
        expect(outbox.state().entries).toMatchObject([
          { state: 'refused', change: { set: { note: bad } }, faults: [{ message: `It was ${status}.` }] },
        ]);
      });
      expect(outbox.state().trouble).toBe('none');
      // It stays, over a reload, and is not sent again by itself.
      push.mockClear();
      const reloaded = await opened();
      await soon(() => {
        expect(names(reloaded)).toEqual(['refused']);
      });
      expect(push).not.toHaveBeenCalled();
    },
  );
  test('a fault of the server\u2019s own: the others first, twice more, then a person\u2019s matter', async () => {
    const { wake, restore } = longWaits();
    try {
      let tried = 0;
      push.mockImplementation((siteId, changes) => {
        if (!isBad(changes)) return took(siteId, changes);
        if (changes.length === 1) tried++;
        return answer(500)();
      });
      const outbox = await opened();
      outbox.enqueue('site', change({ note: bad }), change({ maxPv_A: 20 }));
      const stands = (...as: unknown[]) =>
        soon(() => expect([tried, ...names(outbox), outbox.state().sending]).toEqual(as));
      await stands(1, 'waiting', false);
      expect(outbox.state().trouble).toBe('failing');
      wake();
      await stands(2, 'waiting', false);
      wake();
      await stands(3, 'refused', false);
      wake();
      await later(50);
      expect(tried).toBe(3);
    } finally {
      restore();
    }
  });
  test('the waits grow, and none is forgotten', async () => {
    const { wake, restore, waits } = longWaits();
    try {
      push.mockImplementation(noSignal);
      const outbox = await opened();
      outbox.enqueue('site', change({ maxPv_A: 20 }));
      for (let n = 1; n <= 5; n++) {
        await soon(() => expect([push.mock.calls.length, waits.length]).toEqual([n, n]));
        wake();
      }
      expect(waits).toEqual([5000, 10_000, 20_000, 60_000, 60_000]);
    } finally {
      restore();
    }
  });
  test.each([429, 502, 503, 504])(
    '%d is patience, not a signal and not a fault: nothing is set aside',
    async (status) => {
      push.mockImplementation(answer(status));
      const outbox = await opened();
      outbox.enqueue('site', change({ maxPv_V: 200 }));
      await soon(() => {
        expect([names(outbox), outbox.state().trouble]).toEqual([['waiting'], 'busy']);
      });
    },
  );
  test('no signal, busy, faults and an ended session each in words of their own', () => {
    const { waitingText } = page();
    const one = [{ state: 'waiting' }] as Entry[];
    const said = (['no-signal', 'busy', 'failing', 'signed-out'] as const).map((why) => waitingText(one, why));
    expect(new Set(said).size).toBe(4);
    expect(said.every((text) => text?.startsWith('1 change is saved on this device'))).toBe(true);
    expect(waitingText(one, 'none')).toBeNull();
    expect(waitingText([], 'no-signal')).toBeNull();
    expect(waitingText([...one, ...one], 'no-signal')).toBe(
      '2 changes are saved on this device until there is a signal.',
    );
  });
  test('the session has ended: all of it waits for the person', async () => {
    push.mockImplementation(answer(401));
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    await soon(() => {
      expect([names(outbox), outbox.state().trouble]).toEqual([['waiting'], 'signed-out']);
    });
    push.mockImplementation(took);
    outbox.setOwner('ann');
    await soon(() => {
      expect(names(outbox)).toEqual([]);
    });
  });
  test('work on a part or a site that was not taken waits behind it, and is given up with it', async () => {
    push.mockImplementation((siteId, changes) =>
      changes.some(({ create }) => create) ? answer(422)() : took(siteId, changes),
    );
    const outbox = await opened();
    outbox.enqueue('site', { ...change({ id: 'x' }, 'new'), baseRevision: 0, create: { kind: 'loads', position: 0 } });
    await later();
    outbox.enqueue('site', change({ power_W: 3 }, 'new'), change({ maxPv_V: 200 }));
    await soon(() => {
      expect(outbox.state().entries.map((entry) => (entry as ChangeEntry).change.partId)).toEqual(['new', 'new']);
    });
    const [making] = outbox.state().entries;
    expect(outbox.dependsOn(making!)).toBe(1);
    await outbox.giveUp(making!);
    expect(await stored()).toEqual([]);
  });
});

describe('what a person can do about it', () => {
  test('sent again as it is; mended under an id of its own; exported to the letter', async () => {
    push.mockImplementation(async (_, changes) => ({
      revision: 2,
      results: changes.map(({ changeId, partId, set }) => ({
        changeId,
        partId,
        status: set.maxPv_V === -1 ? 'refused' : 'applied',
        conflicts: [],
        faults: [{ path: 'maxPv_V', message: 'is -1, expected 0 to 1500' }],
      })),
    }));
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: -1 }));
    await later();
    const [refused] = outbox.state().entries as ChangeEntry[];
    expect(JSON.parse(outbox.unsentText([refused!]))).toMatchObject({
      format: 'true-lantern-unsent',
      entries: [{ siteId: 'site', change: { partId: row.id, set: { maxPv_V: -1 } } }],
    });
    await outbox.sendAgain(refused!);
    await soon(() => {
      expect(names(outbox)).toEqual(['refused']);
    });
    await outbox.sendMended(outbox.state().entries[0] as ChangeEntry, { maxPv_V: 150 });
    await soon(async () => {
      expect(await stored()).toEqual([]);
    });
    const last = push.mock.calls.at(-1)![1][0]!;
    expect([last.set, last.changeId === refused!.change.changeId]).toEqual([{ maxPv_V: 150 }, false]);
  });
  test('texts and numbers can be mended by typing; a number stays one', () => {
    const { mendable, mendedValue } = page();
    expect(mendable({ a: 'x', b: 2, c: [1], d: null, '/deleted': true, 'evidence/a': 'x' })).toEqual([
      ['a', 'x'],
      ['b', 2],
    ]);
    expect([mendedValue(2, '3.5'), mendedValue(2, 'three'), mendedValue('2', '3'), mendedValue(2, ' ')]).toEqual([
      3.5,
      'three',
      '3',
      ' ',
    ]);
  });
  test('a site that was refused goes again with what was noted in it since, under the same ids', async () => {
    bring.mockImplementation(answer(422));
    const outbox = await opened();
    const id = outbox.enqueueSite(site.file);
    await later();
    const made = outbox.state().entries[0]!;
    if (!('file' in made)) throw new Error('no site');
    const rows = outbox.rowsOf(made);
    const controller = rows.find(({ kind }) => kind === 'controllers')!;
    outbox.enqueue(id, { partId: controller.id, baseRevision: 1, set: { maxPv_V: 222 } });
    await later();
    expect(push).not.toHaveBeenCalled();
    expect(outbox.withPending(rows, id, outbox.state().entries)).toContainEqual(
      expect.objectContaining({ id: controller.id, body: expect.objectContaining({ maxPv_V: 222 }) }),
    );
    bring.mockReset().mockResolvedValue({ id, warnings: [] });
    await outbox.sendAgain(outbox.state().entries[0]!);
    await later();
    const [sentId, file, rowIds] = bring.mock.calls[0]! as [string, typeof site.file, string[]];
    expect([sentId, file.system.controllers![0]!.maxPv_V]).toEqual([id, 222]);
    expect([...rowIds].sort()).toEqual(rows.map((one) => one.id).sort());
    expect(outbox.rowsOf({ file, rowIds }).find((one) => one.id === controller.id)?.body.maxPv_V).toBe(222);
    expect(await stored()).toEqual([]);
  });
});

describe('each in a person\u2019s words', () => {
  test.each<[object, string]>([
    [{ change: { partId: 'p', set: { maxPv_V: 1, 'evidence/maxPv_V': {} } } }, 'Roof: Maximum PV voltage'],
    [{ change: { partId: 'p', set: { '/deleted': true } } }, 'Roof: removed'],
    [{ change: { partId: 'p', set: { label: 'New one' }, create: { kind: 'loads', position: 0 } } }, 'New one: new'],
    [{ request: { key: 'attachment a', method: 'PUT', path: '' } }, 'Photo or spoken note'],
    [{ request: { key: 'shelf a', method: 'PUT', path: '', body: { label: 'T60' } } }, 'Shelf: T60'],
    [{ request: { key: 'shelf a', method: 'DELETE', path: '' } }, 'Removed from the shelf'],
    [{ request: { key: 'archived a', method: 'PUT', path: '' } }, 'Site archived or restored'],
    [{ request: { key: 'firm schools', method: 'PUT', path: '' } }, 'Design standards of the firm'],
    [{ file: { site: { name: 'Hut' } } }, 'New site: Hut'],
  ])('%j', (entry, title) =>
    expect(page().entryTitle(entry as Entry, { ...row, body: { ...row.body, label: 'Roof' } })).toBe(title),
  );
});

describe('a device that does not keep', () => {
  test('what it will not write is said, stays on the screen, is sent all the same, and never called kept', async () => {
    push.mockImplementation(noSignal);
    const outbox = await opened();
    const refused = jest.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('no room', 'QuotaExceededError');
    });
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    await later();
    refused.mockRestore();
    const { entries } = outbox.state();
    expect(entries).toMatchObject([{ state: 'waiting', unkept: true, change: { set: { maxPv_V: 200 } } }]);
    expect(outbox.waitingText(entries, 'no-signal')).toMatch(/^1 change is only in this open page/);
    expect(outbox.waitingText(entries, 'no-signal')).not.toContain('saved on this device');
    expect(await stored()).toEqual([]);
    push.mockImplementation(took);
    await outbox.drain();
    await soon(() => {
      expect(outbox.state().entries).toEqual([]);
    });
  });
  test('a read that fails at the start writes nothing over what is there', async () => {
    push.mockImplementation(noSignal);
    const before = await opened();
    before.enqueue('site', change({ maxPv_V: 200 }));
    await later();
    const read = jest.spyOn(IDBObjectStore.prototype, 'getAll').mockImplementation(() => {
      throw new DOMException('broken', 'UnknownError');
    });
    const broken = await opened();
    read.mockRestore();
    broken.enqueue('site', change({ maxPv_A: 20 }));
    await soon(async () => {
      expect((await stored()).map((entry) => (entry as ChangeEntry).change.set)).toEqual([
        { maxPv_V: 200 },
        { maxPv_A: 20 },
      ]);
    });
  });
});

describe('between "Save" and the database\u2019s own answer', () => {
  const journals = () =>
    Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!).filter((key) =>
      key.startsWith('lantern.unwritten.'),
    );
  afterEach(() => journals().forEach((key) => localStorage.removeItem(key)));
  test('it is written down in the same moment, and no longer than until the database has it', async () => {
    push.mockImplementation(noSignal);
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    // Nothing has been waited for: a page that is killed now has lost nothing.
    expect(journals()).toHaveLength(1);
    expect(JSON.parse(localStorage.getItem(journals()[0]!)!)).toMatchObject([
      { siteId: 'site', owner: 'ann', state: 'waiting', change: { set: { maxPv_V: 200 } } },
    ]);
    await soon(async () => expect(await stored()).toHaveLength(1));
    await soon(() => expect(journals()).toEqual([]));
  });
  test('a page that is gone by then: the next one writes it, once, and sends it', async () => {
    push.mockImplementation(noSignal);
    const gone = await opened();
    const killed = jest.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('gone', 'AbortError');
    });
    gone.enqueue('site', change({ maxPv_V: 200 }));
    await soon(() => expect(gone.state().entries).toMatchObject([{ unkept: true }]));
    killed.mockRestore();
    expect(await stored()).toEqual([]);
    const next = await opened();
    expect(next.state().entries).toMatchObject([{ state: 'waiting', change: { set: { maxPv_V: 200 } } }]);
    expect(next.state().entries[0]).not.toHaveProperty('unkept');
    expect((await stored()).map((entry) => (entry as ChangeEntry).change.set)).toEqual([{ maxPv_V: 200 }]);
    // The page that wrote it there is not the one that forgets it: a third finds it known.
    const third = await opened();
    expect(third.state().entries).toHaveLength(1);
    await soon(() => expect([third.state().trouble, third.state().sending]).toEqual(['no-signal', false]));
    push.mockImplementation(took);
    await third.drain();
    await soon(async () => expect(await stored()).toEqual([]));
  });
  test('what no longer reads is no entry, and holds nothing up', async () => {
    localStorage.setItem('lantern.unwritten.x', '{broken');
    localStorage.setItem('lantern.unwritten.y', '{"a":1}');
    const outbox = await opened();
    expect(outbox.state().entries).toEqual([]);
    expect(journals()).toEqual([]);
  });
  test('what was written before does not outlive a write for which there is no room', async () => {
    push.mockImplementation(noSignal);
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    expect(journals()).toHaveLength(1);
    const full = jest.spyOn(Object.getPrototypeOf(localStorage), 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    outbox.enqueue('site', change({ maxPv_A: 20 }));
    expect(journals()).toEqual([]);
    full.mockRestore();
    await soon(async () => expect(await stored()).toHaveLength(2));
  });
  test('where storage is closed the database is still there', async () => {
    push.mockImplementation(noSignal);
    const closed = jest.spyOn(Object.getPrototypeOf(localStorage), 'setItem').mockImplementation(() => {
      throw new DOMException('closed', 'SecurityError');
    });
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    await soon(async () => expect(await stored()).toHaveLength(1));
    closed.mockRestore();
    expect(names(outbox)).toEqual(['waiting']);
  });
});

describe('whose it is', () => {
  test('on a shared device nobody\u2019s work is sent under another name', async () => {
    push.mockImplementationOnce(answer(401));
    const outbox = await opened();
    outbox.enqueue('site', change({ maxPv_V: 200 }));
    await later();
    push.mockClear();
    outbox.setOwner('bob');
    await later();
    expect(push).not.toHaveBeenCalled();
    outbox.setOwner('ann');
    await soon(() => {
      expect(push).toHaveBeenCalledTimes(1);
    });
  });
  test('a request of one does not take the place of another\u2019s, only of the same person\u2019s earlier one', async () => {
    request.mockImplementation(noSignal);
    const outbox = await opened();
    const put = (n: number) =>
      outbox.enqueueRequest('', { key: 'shelf x', method: 'PUT', path: '/shelf/x', body: { n } });
    put(1);
    put(2);
    await later();
    outbox.setOwner('bob');
    put(3);
    await soon(() => {
      expect(outbox.state().entries.map((entry) => [entry.owner, 'request' in entry && entry.request.body])).toEqual([
        ['ann', { n: 2 }],
        ['bob', { n: 3 }],
      ]);
    });
  });
  test('a request that was replaced while it was under way is sent in its last form', async () => {
    const outbox = await opened();
    const put = (n: number) =>
      outbox.enqueueRequest('', { key: 'shelf x', method: 'PUT', path: '/shelf/x', body: { n } });
    request.mockImplementationOnce(async () => {
      put(2);
      await later(20);
    });
    put(1);
    await soon(() => {
      expect(request.mock.calls.map(([, , body]) => body)).toEqual([{ n: 1 }, { n: 2 }]);
    });
    expect(await stored()).toEqual([]);
  });
});

test('the one bank of a site, made on two devices: the rest of mine goes to the one that stands', async () => {
  push.mockImplementation(noSignal);
  const outbox = await opened();
  outbox.enqueue('site', {
    ...change({ id: 'bank', age_y: 3 }, 'mine'),
    baseRevision: 0,
    create: { kind: 'bank', position: 0 },
  });
  await later();
  outbox.enqueue('site', change({ series: 2 }, 'mine'));
  await soon(async () => expect(await stored()).toHaveLength(2));
  push
    .mockReset()
    .mockImplementation(took)
    .mockImplementationOnce(async (_, changes) => ({
      revision: 2,
      results: [
        {
          changeId: changes[0]!.changeId,
          partId: 'mine',
          status: 'conflict',
          part: { ...row, kind: 'bank', id: 'theirs', deleted: false },
          conflicts: [{ field: 'age_y', current: 9, wanted: 3 }],
          faults: [],
        },
      ],
    }));
  await outbox.drain();
  await soon(() => {
    expect(push.mock.calls.map(([, changes]) => changes.map(({ partId }) => partId))).toEqual([
      ['mine', 'mine'],
      ['theirs'],
    ]);
  });
  expect(outbox.state().entries).toMatchObject([
    { state: 'conflict', change: { partId: 'theirs', set: { age_y: 3 } }, conflicts: [{ field: 'age_y' }] },
  ]);
  expect((outbox.state().entries[0] as ChangeEntry).change.create).toBeUndefined();
});

test('pending changes are laid over the rows of the server, in order, of this site only', () => {
  const { withPending } = page();
  const entry = (siteId: string, state: Entry['state'], value: number): Entry => ({
    siteId,
    owner: 'ann',
    state,
    change: { changeId: String(value), partId: row.id, baseRevision: 1, set: { maxPv_V: value }, at: '' },
  });
  const rows = withPending(site.rows, 'site', [
    entry('site', 'waiting', 200),
    entry('other', 'waiting', 300),
    entry('site', 'refused', 400),
    entry('site', 'waiting', 250),
  ]);
  expect(rows.find(({ id }) => id === row.id)?.body.maxPv_V).toBe(250);
});

test('what a phone of the version before left waiting is brought over once, in order, and sent', async () => {
  const old = await openDB('keyval-store', 1, { upgrade: (database) => void database.createObjectStore('keyval') });
  const entry = (value: number): Entry => ({
    siteId: 'site',
    owner: 'ann',
    state: 'waiting',
    change: { changeId: `c${value}`, partId: row.id, baseRevision: 1, set: { maxPv_V: value }, at: '', device: 'd' },
  });
  await old.put('keyval', [entry(1), entry(2)], 'lantern.outbox');
  await old.put('keyval', '{}', 'lantern.cache');
  await opened();
  await soon(() => {
    expect(push.mock.calls.map(([, changes]) => changes.map(({ changeId }) => changeId))).toEqual([['c1', 'c2']]);
  });
  expect(await old.getAllKeys('keyval')).toEqual([]);
  // Killed after it was taken over and before it was taken away there: not twice.
  push.mockImplementation(noSignal);
  const again = await opened();
  await again.addEntries([entry(3)]);
  await old.put('keyval', [entry(3), entry(4)], 'lantern.outbox');
  await opened();
  await soon(async () => {
    expect((await stored()).map((kept) => (kept as ChangeEntry).change.changeId)).toEqual(['c3', 'c4']);
  });
  old.close();
});
