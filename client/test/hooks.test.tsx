import { notifyManager, QueryClientProvider } from '@tanstack/react-query';
import { act, configure, renderHook, waitFor } from '@testing-library/react-native';
import { RULE_BOOK } from '@true-lantern/core';
import type { Session } from '@true-lantern/wire';
import type { PropsWithChildren } from 'react';
import * as api from '../src/data/api';
import { useAttachment } from '../src/data/attachments';
import { clearBlobs, keepBlob, readBlob } from '../src/data/blobs';
import { setFirmSchools, useFirm } from '../src/data/firm';
import { undoChange, useHistory } from '../src/data/history';
import { SiteContext, useOpenSite } from '../src/data/open-site';
import { enqueue, enqueueRequest, enqueueSite, setOwner, type Entry } from '../src/data/outbox';
import { changeEntries, state, update, useMine } from '../src/data/outbox/store';
import { usePeople } from '../src/data/people';
import { readPreference, writePreference } from '../src/data/preferences';
import { SessionProvider, useIsLicensed, useMayWrite, usePerson, useSession } from '../src/data/session';
import { putOnShelf, takeOffShelf, useShelf } from '../src/data/shelf';
import { archiveSite, queryClient, useRows, useSite, useSites } from '../src/data/site';
import { chooseState, useChosenState } from '../src/data/states';
import { useStorage } from '../src/data/storage';
import { openCorrach, siteRows, summary } from './corrach';

jest.mock('../src/data/api', () => {
  const actual = jest.requireActual<typeof api>('../src/data/api');
  const off = () => Promise.reject(new actual.NoSignal(null));
  return {
    ...actual,
    getSession: jest.fn(off),
    getSites: jest.fn(off),
    getSite: jest.fn(off),
    getShelf: jest.fn(off),
    getFirm: jest.fn(off),
    getHistory: jest.fn(off),
    getAttachment: jest.fn(off),
    signIn: jest.fn(),
    signOut: jest.fn(),
    ask: jest.fn(),
  };
});
const server = jest.mocked(api);
const site = openCorrach();
const controller = site.rows.find(({ kind }) => kind === 'controllers')!;
const rowsOf = (id: string, revision?: number) => siteRows(id, site.rows, revision);

const Within = ({ children }: PropsWithChildren) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
);
const hook = <T,>(use: () => T) => renderHook(use, { wrapper: Within }).result;

// Beside other tests on few cores a moment may take long.
configure({ asyncUtilTimeout: 10_000 });
// What a query tells is a change on the screen like any other.
notifyManager.setNotifyFunction((tell) => act(tell));
beforeEach(async () => {
  await act(async () => {
    queryClient.clear();
    await changeEntries(() => null);
    update({ entries: [], owner: 'ann' });
  });
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
});
afterAll(() => setOwner(''));

test('only what is of who is signed in is shown', () => {
  act(() => {
    enqueue('s', { partId: 'p', baseRevision: 1, set: { a: 1 } });
    update({ owner: 'bob' });
    enqueue('s', { partId: 'q', baseRevision: 1, set: { a: 1 } });
  });
  expect(hook(useMine).current.map(({ owner }) => owner)).toEqual(['bob']);
});

describe('the list', () => {
  const headline = { verdict: 'over', sentence: 'As told.', over: 2, revision: 3, rules: RULE_BOOK };
  test('a headline counts where it is of what stands, by the rule book of today; else nothing is said yet', async () => {
    server.getSites.mockResolvedValueOnce([
      summary('c', { headline: { ...headline, rules: RULE_BOOK - 1 } }),
      summary('a', { headline }),
      summary('b', { headline: { ...headline, revision: 2 } }),
    ] as never);
    const list = hook(useSites);
    await waitFor(() => expect(list.current.sites).toHaveLength(3));
    expect(list.current.sites.map(({ id, gist }) => [id, gist?.sentence ?? null])).toEqual([
      ['a', 'As told.'],
      ['b', null],
      ['c', null],
    ]);
  });
  test('what waits here counts at once, for its own site', async () => {
    queryClient.setQueryData(['sites'], [summary('a', { headline }), summary('b', { headline })]);
    queryClient.setQueryData(['site', 'a'], rowsOf('a'));
    server.getSite.mockImplementation(async (id) => rowsOf(id));
    act(() => enqueue('a', { partId: controller.id, baseRevision: 1, set: { maxPv_V: 600, maxPv_A: 100 } }));
    const gists = hook(useSites).current.sites.map(({ gist }) => gist?.sentence);
    expect(gists[0]).not.toBe('As told.');
    expect(gists[1]).toBe('As told.');
  });
  test('a site made here stands among the others by its name; once the server lists it, it stands once', () => {
    queryClient.setQueryData(['sites'], [summary('a', { headline })]);
    let id = '';
    act(() => void (id = enqueueSite(site.file)));
    const list = () => hook(useSites).current.sites;
    expect(list().map((one) => one.name)).toEqual(['a', site.file.site.name]);
    expect(list()[1]!.gist?.verdict).toBe('over');
    queryClient.setQueryData(['sites'], [summary('a'), summary(id)]);
    expect(list().map((one) => one.id)).toEqual([...(['a', id] as const)].sort());
  });
  test('put away here it is gone at once; taken back, or refused by the server, it is there', () => {
    queryClient.setQueryData(['sites'], [summary('a'), summary('b')]);
    const ids = () => hook(useSites).current.sites.map(({ id }) => id);
    act(() => archiveSite('a', true));
    expect(ids()).toEqual(['b']);
    act(() => update({ entries: state().entries.map((entry): Entry => ({ ...entry, state: 'refused' })) }));
    expect(ids()).toEqual(['a', 'b']);
    act(() => archiveSite('b', false));
    expect(ids()).toEqual(['a', 'b']);
  });
});

describe('one site', () => {
  test('with what waits laid over it, in the state that is chosen on this device', async () => {
    const stated = openCorrach((file) => void (file.system.states = [{ id: 'night', label: 'Night', off: ['roof'] }]));
    queryClient.setQueryData(['site', 'a'], { ...rowsOf('a'), parts: stated.rows });
    act(() => enqueue('a', { partId: controller.id, baseRevision: 1, set: { maxPv_V: 222 } }));
    act(() => enqueue('other', { partId: controller.id, baseRevision: 1, set: { maxPv_V: 333 } }));
    const opened = hook(() => useSite('a'));
    expect(opened.current.site?.model.system.controllers?.[0]?.maxPv_V).toBe(222);
    // Nothing chosen: the worst of the states, here the only one.
    expect(opened.current.site?.stateId).toBe('night');
    act(() => chooseState('a', null));
    expect(opened.current.site?.stateId).toBeNull();
    act(() => chooseState('a', 'night'));
    expect(opened.current.site?.stateId).toBe('night');
    expect(hook(() => useChosenState('other')).current).toBeUndefined();
    act(() => chooseState('a', null));
    expect(hook(() => useChosenState('a')).current).toBeNull();
  });
  test('one that only this device knows is not asked for; one that is nowhere is null until it comes', async () => {
    server.getSite.mockClear();
    let id = '';
    act(() => void (id = enqueueSite(site.file)));
    expect(hook(() => useSite(id)).current.site?.file.site.name).toBe(site.file.site.name);
    expect(server.getSite).not.toHaveBeenCalled();
    server.getSite.mockClear().mockRejectedValue(new api.ApiError(404, 'No.', [], undefined));
    const nowhere = hook(() => useSite('nowhere'));
    expect(nowhere.current.site).toBeNull();
    await waitFor(() => expect(nowhere.current.error).toMatchObject({ status: 404 }));
    // Asked once more, in case it was the way there.
    expect(server.getSite).toHaveBeenCalledTimes(2);
  });
  test('rows of any site, whichever is open', async () => {
    server.getSite.mockImplementation(async (one) => rowsOf(one));
    let made = '';
    act(() => void (made = enqueueSite(site.file)));
    const look = hook(() => useRows(['a', '', 'a', made]));
    await waitFor(() => expect(look.current('a', controller.id)?.kind).toBe('controllers'));
    const own = state().entries.find((entry) => 'file' in entry)!;
    expect('rowIds' in own && look.current(made, own.rowIds[0]!)?.id).toBe('rowIds' in own && own.rowIds[0]);
    expect([look.current('b', controller.id), look.current('a', 'none')]).toEqual([undefined, undefined]);
    expect(server.getSite.mock.calls.map(([one]) => one)).not.toContain('');
  });
  test('outside a site there is none to be had', () => {
    expect(() => hook(useOpenSite)).toThrow('useOpenSite outside a site');
    const { result } = renderHook(useOpenSite, {
      wrapper: ({ children }: PropsWithChildren) => (
        <SiteContext.Provider value={site}>{children}</SiteContext.Provider>
      ),
    });
    expect(result.current).toBe(site);
  });
});

test('a session that ended while something was fetched asks who is there; any other refusal does not', async () => {
  const session = { csrfToken: 't', person: { id: 'ann' } };
  queryClient.setQueryData(['session'], session);
  const refused = async (status: number) => {
    server.getSite.mockRejectedValue(new api.ApiError(status, 'No.', [], undefined));
    await queryClient
      .fetchQuery({ queryKey: ['site', `${status}`], queryFn: () => api.getSite('x'), retry: 0 })
      .catch(() => undefined);
    return queryClient.getQueryData<Session>(['session'])?.person;
  };
  expect(await refused(403)).toEqual({ id: 'ann' });
  expect(await refused(401)).toBeNull();
});

test('history: what waits here above, the latest first, of this site only', async () => {
  server.getHistory.mockResolvedValueOnce({ changes: [{ changeId: 'past' }], more: true } as never);
  act(() => {
    enqueue('a', { partId: 'one', baseRevision: 1, set: { a: 1 } });
    enqueue('b', { partId: 'other', baseRevision: 1, set: { a: 1 } });
    enqueueRequest('a', { key: 'k', method: 'PUT', path: '/x' });
    enqueue('a', { partId: 'two', baseRevision: 1, set: { a: 1 } });
  });
  const history = hook(() => useHistory('a'));
  expect(history.current.waiting.map(({ change }) => change.partId)).toEqual(['two', 'one']);
  expect(history.current.past).toEqual([]);
  await waitFor(() => expect(history.current.past).toEqual([{ changeId: 'past' }]));
  // The first page ends where an earlier one begins.
  server.getHistory.mockResolvedValueOnce({ changes: [{ changeId: 'first' }], more: false } as never);
  await act(() => history.current.query.fetchNextPage());
  expect(server.getHistory).toHaveBeenLastCalledWith('a', 'past');
  await waitFor(() => expect(history.current.past.map(({ changeId }) => changeId)).toEqual(['past', 'first']));
  expect(history.current.query.hasNextPage).toBe(false);
  act(() =>
    undoChange('a', {
      changeId: 'c',
      partId: 'p',
      kind: 'loads',
      part: 'x',
      person: 'Ann',
      madeAt: '',
      revision: 4,
      fields: { power_W: 9 },
      before: { power_W: 7 },
    }),
  );
  expect(history.current.waiting[0]!.change).toMatchObject({ partId: 'p', baseRevision: 4, set: { power_W: 7 } });
});

describe('what belongs to the firm', () => {
  test('its schools, as set here before the server has heard of it', async () => {
    server.getFirm.mockResolvedValue({ name: 'F', schools: { absorb: 'a' } } as never);
    const firm = hook(useFirm);
    expect(firm.current.firm).toBeNull();
    await waitFor(() => expect(firm.current.firm?.schools).toEqual({ absorb: 'a' }));
    act(() => enqueueRequest('', { key: 'other', method: 'PUT', path: '/shelf/x', body: { schools: 'no' } }));
    expect(firm.current.firm?.schools).toEqual({ absorb: 'a' });
    act(() => setFirmSchools({ wire: 'iec' } as never));
    expect(firm.current.firm?.schools).toEqual({ wire: 'iec' });
    act(() => update({ entries: state().entries.map((entry): Entry => ({ ...entry, state: 'refused' })) }));
    expect(firm.current.firm?.schools).toEqual({ absorb: 'a' });
  });
  test('its shelf, likewise; an item keeps its price, or has none', async () => {
    server.getShelf.mockResolvedValue([{ id: 'a', kind: 'monitor', label: 'A', body: {} }] as never);
    const shelf = hook(useShelf);
    await waitFor(() => expect(shelf.current.items).toHaveLength(1));
    act(() => void putOnShelf({ kind: 'monitor', label: 'B', body: {}, price: 12, currency: 'GBP' }, 'b'));
    expect(shelf.current.items[1]).toEqual({
      id: 'b',
      kind: 'monitor',
      label: 'B',
      body: {},
      price: 12,
      currency: 'GBP',
      note: null,
    });
    act(() => takeOffShelf('a'));
    expect(shelf.current.items.map(({ id }) => id)).toEqual(['b']);
  });
  test('its people are asked for by an owner only', () => {
    const asked = server.ask.mockResolvedValue({ people: [] });
    asked.mockClear();
    hook(() => usePeople(false));
    expect(asked).not.toHaveBeenCalled();
    hook(() => usePeople(true));
    expect(asked).toHaveBeenCalledWith('GET', '/people');
  });
});

describe('who is signed in', () => {
  const ann: Session = {
    csrfToken: 't',
    person: { id: 'ann', name: 'Ann', email: 'a@b.c', role: 'reader', firm: 'F', licence: null } as never,
  };
  const bob: Session = { csrfToken: 't', person: { ...ann.person!, id: 'bob', role: 'owner', licence: 'L' } };
  const open = () =>
    renderHook(useSession, {
      wrapper: ({ children }: PropsWithChildren) => (
        <Within>
          <SessionProvider>{children}</SessionProvider>
        </Within>
      ),
    }).result;
  const as = <T,>(session: Session, use: () => T) => {
    queryClient.setQueryData(['session'], session);
    return renderHook(use, {
      wrapper: ({ children }: PropsWithChildren) => (
        <Within>
          <SessionProvider>{children}</SessionProvider>
        </Within>
      ),
    }).result.current;
  };
  beforeEach(async () => {
    writePreference('leaving', false);
    writePreference('person', 'ann');
    server.getSession.mockReset().mockResolvedValue(ann);
    server.signOut.mockReset().mockResolvedValue(undefined);
    await clearBlobs(new Set());
  });
  test('what they may do: a reader writes nothing, AC work wants a licence; nobody is an error of ours', () => {
    expect([as(ann, useMayWrite), as(ann, useIsLicensed)]).toEqual([false, false]);
    expect([as(bob, useMayWrite), as(bob, useIsLicensed), as(bob, usePerson).id]).toEqual([true, true, 'bob']);
    expect(() => as({ csrfToken: '', person: null }, usePerson)).toThrow('usePerson outside the gate');
    expect(() => hook(useSession)).toThrow('useSession outside SessionProvider');
  });
  test('the outbox follows who is there', async () => {
    open();
    await waitFor(() => expect(state().owner).toBe('ann'));
  });
  test('the same person in again keeps what was fetched; another finds nothing of it, but what waits is kept', async () => {
    const session = open();
    await waitFor(() => expect(session.current.session?.person?.id).toBe('ann'));
    queryClient.setQueryData(['site', 'a'], rowsOf('a'));
    await keepBlob('sent', new Blob(['a']));
    await keepBlob('waits', new Blob(['b']));
    act(() => enqueueRequest('a', { key: 'attachment waits', method: 'PUT', path: '/x', blob: 'waits' }));
    server.signIn.mockResolvedValueOnce(ann).mockResolvedValueOnce(bob);
    await act(() => session.current.enter('a@b.c', 'p'));
    expect(queryClient.getQueryData(['site', 'a'])).toBeDefined();
    await act(() => session.current.enter('b@b.c', 'p'));
    expect(queryClient.getQueryData(['site', 'a'])).toBeUndefined();
    expect([await readBlob('sent'), (await readBlob('waits'))?.size]).toEqual([null, 1]);
    await waitFor(() => expect(session.current.session?.person?.id).toBe('bob'));
    expect(readPreference('person')).toBe('bob');
  });
  test('signing out without a signal lets nobody in by itself, and is told before anything else is asked', async () => {
    const session = open();
    await waitFor(() => expect(session.current.session?.person?.id).toBe('ann'));
    server.getSession.mockRejectedValue(new api.NoSignal(null));
    await act(() => session.current.leave());
    await waitFor(() => expect(session.current.session?.person).toBeNull());
    expect([readPreference('leaving'), readPreference('person')]).toEqual([true, '']);
    expect(server.signOut).not.toHaveBeenCalled();
    server.getSession.mockReset().mockResolvedValueOnce(ann).mockResolvedValueOnce({ csrfToken: '', person: null });
    act(() => session.current.retry());
    await waitFor(() => expect(readPreference('leaving')).toBe(false));
    expect(server.signOut).toHaveBeenCalledTimes(1);
    expect(session.current.session?.person).toBeNull();
  });
  test('a session that ended keeps what is known but asks who is there', async () => {
    const session = open();
    await waitFor(() => expect(session.current.session?.person?.id).toBe('ann'));
    act(() => session.current.askAgain());
    await waitFor(() => expect(session.current.session).toEqual({ csrfToken: 't', person: null }));
  });
});

describe('a photo on the screen', () => {
  beforeEach(() => {
    let n = 0;
    Object.assign(URL, { createObjectURL: jest.fn(() => `blob:${++n}`), revokeObjectURL: jest.fn() });
  });
  test('has an address as long as it is looked at', async () => {
    await keepBlob('p', new Blob(['abc']));
    const { result, unmount } = renderHook(() => useAttachment('s', 'p', 'whole'));
    expect(result.current).toEqual({ url: null, trouble: null });
    await waitFor(() => expect(result.current).toEqual({ url: 'blob:1', trouble: null }));
    expect(URL.revokeObjectURL).not.toHaveBeenCalled();
    unmount();
    expect(URL.revokeObjectURL).toHaveBeenCalledWith('blob:1');
  });
  test('that is nowhere says that it comes with the signal', async () => {
    server.getAttachment.mockRejectedValueOnce(new api.NoSignal(null));
    const { result } = renderHook(() => useAttachment('s', 'none', 'small'));
    await waitFor(() =>
      expect(result.current.trouble).toBe('Not on this device. It will load when you have a signal.'),
    );
    expect(result.current.url).toBeNull();
  });
  test('that was left before it came makes no address', async () => {
    await keepBlob('late', new Blob(['abc']));
    const { unmount } = renderHook(() => useAttachment('s', 'late', 'whole'));
    unmount();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(URL.createObjectURL).not.toHaveBeenCalled();
  });
});

test('the room on the device comes when the browser has told', async () => {
  const storage = { estimate: async () => ({ usage: 0, quota: 2e9 }), persisted: async () => true };
  Object.defineProperty(globalThis, 'navigator', { value: { storage }, configurable: true });
  const room = hook(useStorage);
  expect(room.current).toBeNull();
  await waitFor(() => expect(room.current).toEqual({ room: '0 kB used, about 2.0 GB left.', lasting: true }));
});
