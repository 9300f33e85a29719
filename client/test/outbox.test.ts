import { set } from 'idb-keyval';
import * as api from '../src/data/api';
import { openCorrach } from './corrach';

jest.mock('../src/data/api', () => {
  const actual = jest.requireActual<typeof api>('../src/data/api');
  return { ...actual, pushChanges: jest.fn() };
});
const push = jest.mocked(api.pushChanges);
const quiet = { changes: () => undefined, site: () => undefined, request: () => undefined };
const later = () => new Promise((resolve) => setTimeout(resolve, 20));
const site = openCorrach();
const row = site.rows.find(({ kind }) => kind === 'controllers')!;

/** A new outbox each time, as after a reload; what is in the device's database stays. */
function load() {
  let outbox!: typeof import('../src/data/outbox');
  jest.isolateModules(() => {
    outbox = jest.requireActual('../src/data/outbox');
  });
  return outbox;
}

beforeEach(async () => {
  push.mockReset();
  await set('lantern.outbox', []);
});

test('a change counts at once and survives a reload without a signal', async () => {
  push.mockRejectedValue(new api.NoSignal(null));
  const outbox = load();
  await outbox.openOutbox(quiet);
  outbox.setOwner('ann');
  outbox.enqueue('site', { partId: row.id, baseRevision: 1, set: { maxPv_V: 200 } });
  await later();

  const reloaded = load();
  const taken: unknown[] = [];
  push.mockImplementation(async (_, changes) =>
    changes.map(({ changeId, partId }) => ({
      changeId,
      partId,
      status: 'applied' as const,
      conflicts: [],
      faults: [],
    })),
  );
  reloaded.setOwner('ann');
  await reloaded.openOutbox({ ...quiet, changes: (_, results) => taken.push(...results) });
  await later();
  expect(taken).toMatchObject([{ status: 'applied', partId: row.id }]);
  // The same change with the same id was sent both times: the server can tell.
  const ids = push.mock.calls.map(([, changes]) => changes[0]?.changeId);
  expect(new Set(ids).size).toBe(1);
});

test('pending changes are laid over the rows of the server, in order, of this site only', () => {
  const { withPending } = load();
  const change = (value: number) => ({
    changeId: String(value),
    partId: row.id,
    baseRevision: 1,
    set: { maxPv_V: value },
    at: '',
  });
  const rows = withPending(site.rows, 'site', [
    { siteId: 'site', owner: 'ann', state: 'waiting', change: change(200) },
    { siteId: 'other', owner: 'ann', state: 'waiting', change: change(300) },
    { siteId: 'site', owner: 'ann', state: 'refused', change: change(400) },
    { siteId: 'site', owner: 'ann', state: 'waiting', change: change(250) },
  ]);
  expect(rows.find(({ id }) => id === row.id)?.body.maxPv_V).toBe(250);
});

test('a refused change is kept with its reason until somebody has seen it', async () => {
  push.mockImplementation(async (_, changes) =>
    changes.map(({ changeId, partId }) => ({
      changeId,
      partId,
      status: 'refused' as const,
      conflicts: [],
      faults: [{ path: 'x', message: 'is wrong, expected right' }],
    })),
  );
  const outbox = load();
  await outbox.openOutbox(quiet);
  outbox.setOwner('ann');
  outbox.enqueue('site', { partId: row.id, baseRevision: 1, set: { maxPv_V: -1 } });
  await later();
  const reloaded = load();
  push.mockClear();
  await reloaded.openOutbox(quiet);
  reloaded.setOwner('ann');
  await later();
  // It is not sent again by itself.
  expect(push).not.toHaveBeenCalled();
});

test("on a shared device nobody's work is sent under another name", async () => {
  push.mockImplementation(async (_, changes) =>
    changes.map(({ changeId, partId }) => ({
      changeId,
      partId,
      status: 'applied' as const,
      conflicts: [],
      faults: [],
    })),
  );
  push.mockRejectedValueOnce(new api.ApiError(401, 'Sign in first.', [], undefined));
  const outbox = load();
  await outbox.openOutbox(quiet);
  outbox.setOwner('ann');
  outbox.enqueue('site', { partId: row.id, baseRevision: 1, set: { maxPv_V: 200 } });
  await later();
  push.mockClear();
  outbox.setOwner('bob');
  await later();
  expect(push).not.toHaveBeenCalled();
  outbox.setOwner('ann');
  await later();
  expect(push).toHaveBeenCalledTimes(1);
});
