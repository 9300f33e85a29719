import { applyFields, modelOf, nameOfRow, RULE_BOOK, type PartRow, testKey } from '@true-lantern/core';
import { strToU8, zipSync } from 'fflate';
import * as api from '../src/data/api';
import { attachmentsOf, bytesOf, removeAttachment } from '../src/data/attachments';
import { clearBlobs, keepBlob, readBlob } from '../src/data/blobs';
import { packSite, takeBundle } from '../src/data/bundle';
import { FIELDS, fieldSpec, KIND_WORDS } from '../src/data/fields';
import { fileName } from '../src/data/files';
import { stateWord } from '../src/data/history';
import { newId } from '../src/data/ids';
import { enqueue, useOutbox } from '../src/data/outbox';
import { deviceId } from '../src/data/outbox/device';
import { state } from '../src/data/outbox/store';
import {
  addPart,
  copyLane,
  draftRow,
  duplicatePart,
  freeId,
  mayDuplicate,
  mayRemove,
  neighbours,
  nextPosition,
  recordPart,
  removePart,
} from '../src/data/parts';
import { deviceDatabase } from '../src/data/database';
import { keepQuery, keptData, restoring } from '../src/data/persistence';
import { readPreference, writePreference } from '../src/data/preferences';
import { keepMeter, metersOf } from '../src/data/meters';
import { addProposal, removeProposal, setProposal } from '../src/data/proposals';
import { addReading, readingsOf, removeReading } from '../src/data/readings';
import { beginVisit, isSigned, setVisit, visitNow, visitsOf } from '../src/data/visits';
import {
  addDeviation,
  becomeFound,
  kitKey,
  openProposals,
  overtakenBy,
  setKit,
  ticksOf,
  tickStep,
  untick,
} from '../src/data/work';
import { findingsAbout, gapsOf, guessesOf, leadOf, partName, pathName, placeOf } from '../src/data/reading';
import { bodyOfItem, noteRecent, putOnShelf, recentIds, takeOffShelf } from '../src/data/shelf';
import {
  archiveSite,
  catchUp,
  intoCache,
  siteQuery,
  movePart,
  openSite,
  queryClient,
  rowOfPart,
  setFields,
  type OpenSite,
} from '../src/data/site';
import { isGoneChunk, mayReload, reloadOnce } from '../src/data/offline';
import { readStorage, roomText } from '../src/data/storage';
import { createStore } from '../src/data/store';
import { clearTroubles, noteTrouble, useTroubles } from '../src/data/trouble';
import { METRIC, setUnits } from '../src/data/units';
import { openCorrach, siteRows, summary } from './corrach';

void useOutbox;
void useTroubles;
const site = openCorrach();
const row = (kind: PartRow['kind'], of: OpenSite = site) => of.rows.find((one) => one.kind === kind)!;
/** What went to the outbox since the last time. */
let seen = 0;
const sent = () => {
  const entries = state().entries.slice(seen);
  seen = state().entries.length;
  return entries.map((entry) => ('change' in entry ? entry.change : 'request' in entry ? entry.request : entry));
};
beforeEach(() => void sent());
/** The site with what waits laid over it, as the screens see it. */
const after = (changes: ReturnType<typeof sent>, from: OpenSite = site): OpenSite => {
  const rows = new Map(from.rows.map((one) => [one.id, { ...one, deleted: false }]));
  for (const change of changes) {
    if (!('partId' in change)) continue;
    const known = rows.get(change.partId) ?? {
      id: change.partId,
      kind: change.create!.kind,
      position: change.create!.position,
      body: {},
      evidence: {},
      revision: 0,
      deleted: false,
    };
    rows.set(change.partId, applyFields(known, change.set));
  }
  return openSite(
    'site',
    [...rows.values()].filter(({ deleted }) => !deleted),
  );
};

describe('ids', () => {
  test('a short id that is free', () => {
    expect(freeId(site, 'nothing-here')).toBe('nothing-here');
    const taken = nameOfRow(row('bank'));
    expect(freeId(site, taken)).toBe(`${taken}2`);
  });
  test('UUIDs, with and without the browser\u2019s own', () => {
    const whole = /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;
    const own = globalThis.crypto.randomUUID.bind(globalThis.crypto);
    expect(newId()).toMatch(whole);
    Object.defineProperty(globalThis.crypto, 'randomUUID', { value: undefined, configurable: true });
    expect(newId()).toMatch(whole);
    expect(newId()).not.toBe(newId());
    Object.defineProperty(globalThis.crypto, 'randomUUID', { value: own, configurable: true });
  });
  test('a device has one name', () => expect(deviceId()).toBe(deviceId()));
  test('a page that may store nothing has a name of its own, and another page another', () => {
    const closed = jest.spyOn(Object.getPrototypeOf(globalThis.localStorage), 'getItem').mockImplementation(() => {
      throw new Error('storage is closed');
    });
    const page = () => {
      let name = '';
      jest.isolateModules(() => {
        const { deviceId: own } = jest.requireActual<{ deviceId: () => string }>('../src/data/outbox/device');
        name = own();
        expect(own()).toBe(name);
      });
      return name;
    };
    expect(page()).not.toBe(page());
    closed.mockRestore();
  });
});

describe('parts', () => {
  test('a new one stands behind the last of its kind, with its evidence', () => {
    const draft = draftRow(site, 'controllers', { type: 'mppt', maxOutput_A: 20 });
    expect(draft).toMatchObject({
      kind: 'controllers',
      revision: 0,
      position: nextPosition(site, 'controllers'),
      body: { id: 'controller', type: 'mppt' },
    });
    expect(nextPosition(site, 'converters')).toBe(site.rows.filter(({ kind }) => kind === 'converters').length);
    addPart(site, { ...draft, evidence: { maxOutput_A: { grade: 'nameplate' } } });
    expect(sent()).toMatchObject([
      {
        partId: draft.id,
        baseRevision: 0,
        create: { kind: 'controllers', position: draft.position },
        set: { id: 'controller', type: 'mppt', 'evidence/maxOutput_A': { grade: 'nameplate' } },
      },
    ]);
  });
  test('a copy is another part of the same figures', () => {
    const old = row('runs');
    const id = duplicatePart(site, old);
    const copy = rowOfPart(after(sent()), id)!;
    expect(id).not.toBe(nameOfRow(old));
    expect({ ...copy.body, id: 0, label: 0 }).toEqual({ ...old.body, id: 0, label: 0 });
    expect(copy.body.label).toBe(`${String(old.body.label)} (copy)`);
    expect(copy.evidence).toEqual(old.evidence);
  });
  test('what may be copied and taken away', () => {
    expect([
      mayDuplicate(row('bank')),
      mayDuplicate(row('runs')),
      mayRemove(row('bank')),
      mayRemove(row('site')),
    ]).toEqual([false, true, true, false]);
  });
  test('taken away, what pointed at it becomes unknown; brought back, it points there again', () => {
    const controller = row('controllers');
    const id = nameOfRow(controller);
    const gone = removePart(site, controller);
    if (!('undo' in gone)) throw new Error(gone.refused);
    const first = sent();
    const without = after(first);
    expect(rowOfPart(without, id)).toBeUndefined();
    expect(without.model.system.arrays?.[0]?.controllerId ?? null).toBeNull();
    expect(without.model.system.runs?.some((run) => run.from === id || run.to === id)).toBe(false);
    gone.undo();
    expect(after([...first, ...sent()]).model.system).toEqual(site.model.system);
  });
  test('a cable on a board is taken out of its circuits, and put back into its place', () => {
    const boarded = openCorrach((file) => {
      file.system.distribution = [{ id: 'box', circuits: [file.system.runs![0]!.id, file.system.runs![1]!.id] }];
    });
    const gone = removePart(boarded, rowOfPart(boarded, boarded.model.system.runs![0]!.id)!);
    expect(sent()).toContainEqual(expect.objectContaining({ set: { circuits: [boarded.model.system.runs![1]!.id] } }));
    if ('undo' in gone) gone.undo();
    expect(sent()).toContainEqual(
      expect.objectContaining({ set: { circuits: boarded.model.system.distribution![0]!.circuits } }),
    );
  });
  test('a cable takes what opens it with it, and states let go of both; all of it comes back', () => {
    const switched = openCorrach((file) => {
      const [first, second] = file.system.runs!;
      file.system.switches = [
        { id: 'sw', kind: 'isolator', runId: first!.id },
        { id: 'other', kind: 'isolator', runId: second!.id },
      ];
      file.system.states = [{ id: 'night', label: 'Night', off: ['sw', first!.id, 'other'] }];
    });
    const gone = removePart(switched, rowOfPart(switched, switched.model.system.runs![0]!.id)!);
    if (!('undo' in gone)) throw new Error(gone.refused);
    const first = sent();
    const { system } = after(first, switched).model;
    expect(system.switches?.map(({ id }) => id)).toEqual(['other']);
    expect(system.states?.[0]?.off).toEqual(['other']);
    gone.undo();
    expect(after([...first, ...sent()], switched).model.system).toEqual(switched.model.system);
  });
  test('in a state the findings are its own; a proposal is weighed against everything on', () => {
    const { id, rows, findings } = openCorrach((file) => {
      file.system.states = [{ id: 'night', label: 'Night', off: ['roof'] }];
    });
    const night = openSite(id, rows, 'night');
    expect(night.stateId).toBe('night');
    expect(night.judged.system.arrays).toEqual([]);
    expect(night.model.system.arrays).toHaveLength(1);
    expect(night.findings.some(({ subject }) => subject === 'roof')).toBe(false);
    expect(night.allOn).toEqual(findings);
    // A state that somebody has taken out meanwhile is none.
    expect(openSite(id, rows, 'gone')).toMatchObject({ stateId: null, findings });
  });
  test('a module that an array is made of stays, and the array is named', () => {
    const array = site.model.system.arrays![0]!;
    expect(removePart(site, row('moduleTypes'))).toEqual({
      refused: `${array.label ?? array.id} uses this module. Change the array first.`,
    });
    expect(sent()).toEqual([]);
  });
  test('neighbours change places', () => {
    const [one, two] = site.rows.filter(({ kind }) => kind === 'runs').sort((a, b) => a.position - b.position);
    expect(neighbours(site, one!)).toEqual({ before: undefined, after: two });
    movePart(site, one!, two!);
    expect(sent()).toMatchObject([
      { partId: one!.id, set: { '/position': two!.position } },
      { partId: two!.id, set: { '/position': one!.position } },
    ]);
  });
  test('fields are set against the revision that was seen', () => {
    setFields(site, row('bank'), { age_y: 9 });
    expect(sent()).toMatchObject([{ partId: row('bank').id, baseRevision: row('bank').revision, set: { age_y: 9 } }]);
  });
});

describe('what a site says', () => {
  test('the worst in a sentence; a bare site asks to begin', () => {
    expect(leadOf(site).text).toMatch(/\d/);
    expect(
      leadOf(
        openSite('bare', [{ id: '1', kind: 'site', body: { name: 'Bare' }, evidence: {}, position: 0, revision: 1 }]),
      ).text,
    ).toBe('Nothing can be checked yet. Begin with the modules and the bank.');
  });
  test('what is missing, the one that settles most first; a fuse nobody saw among it', () => {
    const unread = openCorrach((file) => {
      file.system.controllers![0]!.maxPv_V = null;
      file.system.runs!.find(({ kind }) => kind === 'battery-inverter')!.protection = null;
    });
    const gaps = gapsOf(unread);
    // What a danger waits for is asked before what only a loss waits for, however much the latter settles.
    const dangers = gaps.map(({ path }) =>
      unread.findings.some(({ missing, consequence }) => consequence === 'danger' && missing.includes(path)),
    );
    expect(dangers.slice(0, -1)).toContain(true);
    expect(dangers.map((danger, i) => danger || gaps[i]!.field === 'protection.type')).toEqual(
      dangers.map((danger, i) => danger || gaps[i]!.field === 'protection.type').sort((a, b) => Number(b) - Number(a)),
    );
    const volts = gaps.find(({ field }) => field === 'maxPv_V')!;
    expect(volts).toMatchObject({
      question: 'Brackwell T60-150: maximum PV voltage?',
      partId: unread.model.system.controllers![0]!.id,
    });
    expect(gaps.some(({ field }) => field === 'protection.type')).toBe(true);
    expect(gapsOf(site).some(({ field }) => field === 'maxPv_V')).toBe(false);
  });
  test('a path leads to its part and field, whatever points its id has', () => {
    const controller = nameOfRow(row('controllers'));
    expect(placeOf(site, `${controller}.settings.absorb_V`)).toMatchObject({
      partId: controller,
      field: 'settings.absorb_V',
      question: 'Brackwell T60-150: absorption voltage, as set?',
    });
    expect(placeOf(site, 'bank')).toMatchObject({ partId: 'bank', field: '', question: 'bank?' });
    expect(pathName(site, 'site.recordLow_C')).toMatch(/: record low$/);
    expect(pathName(site, 'system.nominal_V')).toBe('The system: system voltage');
    const pointed = openCorrach(
      (file) =>
        void file.system.loads!.push({ id: `${controller}.2`, label: 'Second', kind: 'dc', power_W: 1, hours_d: 1 }),
    );
    expect(placeOf(pointed, `${controller}.2.power_W`)).toMatchObject({ partId: `${controller}.2`, field: 'power_W' });
  });
  test('names of parts', () => {
    expect(partName(site, nameOfRow(row('controllers')))).toBe('Brackwell T60-150');
    expect(partName(site, 'gone')).toBe('gone');
  });
  test('findings about a part, worst first; guesses by their grade alone', () => {
    const about = findingsAbout(site.findings, nameOfRow(row('controllers')));
    expect(about.length).toBeGreaterThan(0);
    expect(new Set(about.map(({ subject }) => subject)).size).toBe(1);
    const guesses = guessesOf(site);
    for (const [path, { grade }] of Object.entries(site.file.evidence ?? {}))
      expect(guesses.has(path)).toBe(grade === 'assumed');
  });
  test('every kind has a word, every field a label', () => {
    expect(KIND_WORDS).toMatchObject({ bank: 'Bank', site: 'Site', system: 'System', runs: 'Cable' });
    expect(fieldSpec('site', 'observations.mainFuse')).toMatchObject({
      label: 'Main fuse',
      choices: ['yes', 'no', 'cannot-see'],
    });
    expect(fieldSpec('bank', 'nothing')).toBeUndefined();
    for (const specs of Object.values(FIELDS)) for (const { label } of specs ?? []) expect(label).toMatch(/^[A-Z]/);
  });
});

describe('proposals', () => {
  test('saved with what each change replaces, behind the others', () => {
    const controller = site.model.system.controllers![0]!;
    const saved = addProposal(site, 'More', [
      { op: 'set', at: 'controllers', id: controller.id, value: { maxPv_V: 250 } },
    ]);
    if (!('id' in saved)) throw new Error(saved.fault);
    const { id } = saved;
    const made = sent();
    expect(made).toMatchObject([
      {
        create: { kind: 'proposal', position: site.rows.filter(({ kind }) => kind === 'proposal').length },
        set: { id, title: 'More', changes: [{ value: { maxPv_V: 250 }, was: { maxPv_V: controller.maxPv_V } }] },
      },
    ]);
    expect(after(made).file.proposals?.at(-1)).toMatchObject({ id, title: 'More' });
  });
  test('what no file can hold is not saved, and the field is named', () => {
    const controller = site.model.system.controllers![0]!;
    const refused = addProposal(site, 'Text for a number', [
      { op: 'set', at: 'controllers', id: controller.id, value: { maxOutput_A: '60' } },
    ]);
    expect(refused).toMatchObject({ fault: expect.stringContaining('maxOutput_A') as string });
    expect(sent()).toEqual([]);
  });
  test('renamed; taken off and brought back; one that is not there is left alone', () => {
    const { id } = site.file.proposals![0]!;
    setProposal(site, id, { title: 'Other' });
    const back = removeProposal(site, id);
    back();
    expect(sent().map((change) => ('set' in change ? change.set : null))).toEqual([
      { title: 'Other' },
      { '/deleted': true },
      { '/deleted': false },
    ]);
    removeProposal(site, 'nothing')();
    setProposal(site, 'nothing', { title: 'x' });
    expect(sent()).toEqual([]);
  });
});

describe('the device', () => {
  beforeEach(() => clearTroubles());
  test('a store tells its listeners and keeps its value', () => {
    const store = createStore(1);
    store.set(2);
    expect(store.get()).toBe(2);
  });
  test('choices stay; what no longer reads is said once, and the default stands', () => {
    writePreference('recent', ['a']);
    expect(readPreference('recent')).toEqual(['a']);
    globalThis.localStorage.setItem('lantern.recent', '{broken');
    const warn = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
    expect(readPreference('recent')).toBeNull();
    expect(readPreference('recent')).toBeNull();
    expect(warn).toHaveBeenCalled();
    warn.mockRestore();
    globalThis.localStorage.removeItem('lantern.recent');
  });
  test('storage that is closed loses nothing but the choice', () => {
    const warn = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
    const closed = jest.spyOn(Object.getPrototypeOf(globalThis.localStorage), 'setItem').mockImplementation(() => {
      throw new Error('closed');
    });
    expect(() => writePreference('recent', ['a'])).not.toThrow();
    closed.mockRestore();
    warn.mockRestore();
  });
  test('a trouble is said once', () => {
    const warn = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
    noteTrouble('One.', null);
    noteTrouble('One.', null);
    warn.mockRestore();
    clearTroubles();
  });
  test('units are a person\u2019s own', () => {
    setUnits({ length: 'ft' });
    expect(readPreference('units')).toEqual({ ...METRIC, length: 'ft' });
    setUnits(METRIC);
  });
  test('used last comes first, twelve at most', () => {
    for (let i = 0; i < 14; i++) noteRecent(`i${i}`);
    noteRecent('i5');
    expect(recentIds()).toHaveLength(12);
    expect(recentIds().slice(0, 2)).toEqual(['i5', 'i13']);
  });
  test('photos come back as they were, from the device first and else from the server', async () => {
    await keepBlob('p', new Blob(['abc'], { type: 'image/jpeg' }));
    const kept = await readBlob('p');
    expect([kept?.type, kept?.size]).toEqual(['image/jpeg', 3]);
    expect(await readBlob('nothing')).toBeNull();
    const fetch = jest.spyOn(api, 'getAttachment').mockResolvedValue(new Blob(['12345'], { type: 'image/jpeg' }));
    expect((await bytesOf('s', 'q', 'small')).size).toBe(5);
    expect((await readBlob('q small'))?.size).toBe(5);
    expect((await bytesOf('s', 'q', 'small')).size).toBe(5);
    expect(fetch).toHaveBeenCalledTimes(1);
    fetch.mockRestore();
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 30));
  const query = (key: unknown[], data: unknown, more: object = {}) => ({
    queryKey: key,
    queryHash: JSON.stringify(key),
    state: { data, dataUpdatedAt: Date.now(), errorUpdatedAt: 0, status: 'error', ...more },
    setState: jest.fn(),
    isStale: () => true,
    fetch: jest.fn(() => Promise.reject(new api.NoSignal(null))),
  });
  test('the cache keeps data whose last fetch failed, a row a query, never computed answers', async () => {
    keepQuery(query(['site', 'x'], { a: 1 }) as never);
    keepQuery(query(['engine', 'x'], { a: 1 }) as never);
    keepQuery(query(['site', 'empty'], undefined) as never);
    await settle();
    expect(await (await deviceDatabase()).getAllKeys('cache')).toEqual(['q-["site","x"]']);
    expect(await keptData(['site', 'x'])).toEqual({ a: 1 });
    expect(await keptData(['site', 'other'])).toBeUndefined();
  });
  // A year back or ahead: what was fetched still opens, and is asked for again.
  test.each([-366, 0, 366, 4000])('a clock that is %d days off throws nothing away', async (days) => {
    const key = ['site', `clock ${days}`];
    keepQuery(query(key, 'rows', { dataUpdatedAt: Date.now() + days * 86_400_000 }) as never);
    await settle();
    const opened = query(key, undefined);
    const fetch = jest.fn();
    expect(await restoring(fetch, {} as never, opened as never)).toBe('rows');
    await settle();
    expect(fetch).not.toHaveBeenCalled();
    expect(opened.fetch).toHaveBeenCalledTimes(1);
    expect(opened.setState.mock.calls[0][0].dataUpdatedAt).toBeLessThanOrEqual(Date.now());
  });
  test('names of files', () =>
    expect([fileName('Corrach bothy, N\u00b0 2!'), fileName('???')]).toEqual(['corrach-bothy-n-2', 'site']));
  test('states in words', () =>
    expect((['waiting', 'refused', 'conflict'] as const).map((one) => stateWord({ state: one } as never))).toEqual([
      'waiting to be sent',
      'refused',
      'in conflict',
    ]));
});

describe('what the server took goes into the cache', () => {
  test('parts changed, new and gone; a site made here is on the list at once', () => {
    queryClient.setQueryData(['site', 's'], {
      id: 's',
      name: 'S',
      updatedAt: '',
      parts: [row('bank'), row('controllers')],
    });
    intoCache.changes(
      's',
      [
        {
          changeId: '1',
          partId: row('bank').id,
          status: 'applied',
          part: { ...row('bank'), revision: 7, deleted: false },
          conflicts: [],
          faults: [],
        },
        {
          changeId: '2',
          partId: row('controllers').id,
          status: 'applied',
          part: { ...row('controllers'), deleted: true },
          conflicts: [],
          faults: [],
        },
        { changeId: '3', partId: 'x', status: 'refused', conflicts: [], faults: [] },
      ],
      9,
    );
    expect(
      queryClient.getQueryData<{ parts: PartRow[] }>(['site', 's'])?.parts.map(({ id, revision }) => [id, revision]),
    ).toEqual([[row('bank').id, 7]]);
    queryClient.setQueryData(['sites'], []);
    intoCache.site('n', 'New', [row('site')]);
    expect(queryClient.getQueryData<{ id: string }[]>(['sites'])?.map(({ id }) => id)).toEqual(['n']);
    intoCache.site('n', 'New', [row('site')]);
    expect(queryClient.getQueryData<unknown[]>(['sites'])).toHaveLength(1);
  });
  test('what was asked for before a change was taken, and answered after it, does not turn the change back', async () => {
    const rows = (revision: number) => ({
      id: 's',
      name: 'S',
      updatedAt: '',
      revision,
      headline: null,
      parts: [row('bank')],
    });
    const answers = (...revisions: number[]) => {
      const get = jest.spyOn(api, 'getSite');
      for (const revision of revisions) get.mockResolvedValueOnce(rows(revision));
      return get;
    };
    const asked = async () =>
      (await queryClient.fetchQuery({ ...siteQuery('s'), staleTime: 0, retry: false })).revision;
    queryClient.setQueryData(['site', 's'], rows(5));
    const late = answers(4, 5);
    expect(await asked()).toBe(5);
    expect(late).toHaveBeenCalledTimes(2);
    late.mockRestore();
    // A server that was restored from a backup is older for good: it is believed the second time.
    const restored = answers(2, 2);
    expect(await asked()).toBe(2);
    restored.mockRestore();
    const plain = answers(6);
    expect(await asked()).toBe(6);
    expect(plain).toHaveBeenCalledTimes(1);
    plain.mockRestore();
  });
  test('putting a site away, the shelf: each a write that is safe to send twice', () => {
    archiveSite('s', true);
    const id = putOnShelf({ kind: 'monitor', label: 'M', body: { shunt_A: 50 }, price: 3 });
    takeOffShelf(id);
    expect(sent()).toMatchObject([
      { key: 'archived s', method: 'PUT', path: '/sites/s/archived', body: { archived: true } },
      { key: `shelf ${id}`, method: 'DELETE', path: `/shelf/${id}` },
    ]);
    expect(bodyOfItem({ kind: 'monitor', label: 'M', body: { shunt_A: 50 } })).toEqual({ shunt_A: 50, label: 'M' });
  });
});

describe('a whole job in one zip', () => {
  test('what is packed comes back as another site, its photos under ids of their own', async () => {
    await keepBlob('ph', new Blob(['jpeg'], { type: 'image/jpeg' }));
    const withPhoto = openCorrach((file) => {
      file.attachments = [{ id: 'ph', kind: 'photo', subject: file.system.controllers![0]!.id, type: 'image/jpeg' }];
    });
    expect(attachmentsOf(withPhoto, withPhoto.model.system.controllers![0]!.id)).toHaveLength(1);
    const { blob, lacking } = await packSite(withPhoto);
    expect(lacking).toBe(0);
    const id = await takeBundle(blob);
    const [made, photo] = sent() as unknown as [
      { siteId: string; file: { attachments: { id: string }[] } },
      { path: string; blob: string },
    ];
    expect(made.siteId).toBe(id);
    const fresh = made.file.attachments[0]!.id;
    expect(fresh).not.toBe('ph');
    expect(photo).toMatchObject({ path: `/sites/${id}/attachments/${fresh}`, blob: fresh });
    expect((await readBlob(fresh))?.size).toBe(4);
    removeAttachment(
      withPhoto,
      withPhoto.rows.find(({ kind }) => kind === 'attachment')!,
    )();
    expect(sent().map((change) => ('set' in change ? change.set : 0))).toEqual([
      { '/deleted': true },
      { '/deleted': false },
    ]);
  });
  test('a photo that is nowhere is counted, and the rest is packed', async () => {
    const fetch = jest.spyOn(api, 'getAttachment').mockRejectedValue(new api.NoSignal(null));
    const lost = openCorrach((file) => {
      file.attachments = [{ id: 'lost', kind: 'photo', subject: 'site', type: 'image/jpeg' }];
    });
    expect((await packSite(lost)).lacking).toBe(1);
    fetch.mockRestore();
  });
  test('a zip of something else says so', async () => {
    const other = new Blob([new Uint8Array(zipSync({ 'a.txt': strToU8('a') }))]);
    await expect(takeBundle(other)).rejects.toMatchObject({ faults: [{ path: 'site.lantern.json' }] });
    await expect(takeBundle(new Blob(['no zip']))).rejects.toMatchObject({ faults: [{ path: 'zip' }] });
  });
});

test('what was entered counts at once', () => {
  enqueue('site', { partId: 'x', baseRevision: 1, set: { a: 1 } });
  expect(state().entries.at(-1)).toMatchObject({
    siteId: 'site',
    state: 'waiting',
    change: { set: { a: 1 }, device: deviceId() },
  });
});

describe('what this device keeps', () => {
  test.each([
    [12e6, 4.012e9, '12 MB used, about 4.0 GB left.'],
    [0, 999, '0 kB used, about 1 kB left.'],
    [5e9, 4e9, '5.0 GB used, about 0 kB left.'],
  ])('%d of %d bytes', (usage, quota, text) => expect(roomText(usage, quota)).toBe(text));
  test('told where the browser tells, null where it does not', async () => {
    const manager = (persisted: boolean) =>
      ({ estimate: async () => ({ usage: 1e6, quota: 3e6 }), persisted: async () => persisted }) as never;
    expect(await readStorage(manager(true))).toEqual({ room: '1 MB used, about 2 MB left.', lasting: true });
    expect((await readStorage(manager(false)))?.lasting).toBe(false);
    expect(await readStorage({ estimate: () => Promise.reject(new Error('no')) } as never)).toBeNull();
    expect(await readStorage({ estimate: async () => ({}) } as never)).toBeNull();
  });
  test('photos that were sent are cleared, those that wait are not', async () => {
    await keepBlob('sent', new Blob(['a']));
    await keepBlob('waits', new Blob(['b']));
    await keepBlob('waits small', new Blob(['c']));
    await clearBlobs(new Set(['waits']));
    expect(await Promise.all(['sent', 'waits', 'waits small'].map(readBlob))).toEqual([
      null,
      expect.anything(),
      expect.anything(),
    ]);
  });
});

describe('a part of the program that is gone', () => {
  class Memory {
    kept: Record<string, string> = {};
    getItem = (key: string) => this.kept[key] ?? null;
    setItem = (key: string, value: string) => void (this.kept[key] = value);
  }
  test.each([
    [new Error('Loading module https://x/y.js failed.'), true],
    [new TypeError('Failed to fetch dynamically imported module: /a.js'), true],
    [Object.assign(new Error('x'), { name: 'AsyncRequireError' }), true],
    [new Error('x is undefined'), false],
    ['a text', false],
  ])('%s: %s', (error, gone) => expect(isGoneChunk(error)).toBe(gone));
  test('not without a signal, nor while this page alone has an entry', async () => {
    const head = jest.spyOn(globalThis, 'fetch').mockResolvedValue({ ok: true } as Response);
    expect(await mayReload(true)).toBe(false);
    expect(head).not.toHaveBeenCalled();
    expect(await mayReload(false)).toBe(true);
    head.mockResolvedValue({ ok: false } as Response);
    expect(await mayReload(false)).toBe(false);
    head.mockRejectedValue(new TypeError('Failed to fetch'));
    expect(await mayReload(false)).toBe(false);
    head.mockRestore();
  });
  test('the page is loaded anew once, and again only later; a clock set back does not forbid it', () => {
    const reload = jest.fn();
    Object.assign(globalThis, { sessionStorage: new Memory(), location: { replace: reload } });
    expect([1e6, 1e6 + 29_000, 1e6 + 31_000, 5].map((now) => reloadOnce('/here', now))).toEqual([
      true,
      false,
      true,
      true,
    ]);
    expect(reload.mock.calls).toEqual([['/here'], ['/here'], ['/here']]);
  });
});

describe('the list is caught up with quietly', () => {
  const rows = (id: string, revision?: number) => siteRows(id, site.rows, revision);
  const worked = { verdict: 'over', sentence: 'x', over: 1, revision: 3, rules: RULE_BOOK };
  let fetched: jest.SpyInstance;
  let told: jest.SpyInstance;
  beforeEach(() => {
    queryClient.clear();
    fetched = jest.spyOn(api, 'getSite').mockImplementation(async (id) => rows(id));
    told = jest.spyOn(api, 'putHeadline').mockResolvedValue(undefined);
  });
  afterEach(() => {
    fetched.mockRestore();
    told.mockRestore();
    queryClient.clear();
  });
  test('what nobody has worked out is worked out and told, with the revision and the rule book it is of', async () => {
    const list = [
      summary('a'),
      summary('b', { headline: worked }),
      summary('c', { headline: { ...worked, revision: 2 } }),
    ];
    queryClient.setQueryData(['sites'], list);
    await catchUp(list, () => false);
    expect(fetched.mock.calls.map(([id]) => id).sort()).toEqual(['a', 'b', 'c']);
    expect(told.mock.calls.map(([id]) => id).sort()).toEqual(['a', 'c']);
    const [, headline] = told.mock.calls[0];
    expect(headline).toMatchObject({ revision: 3, rules: RULE_BOOK, verdict: 'over' });
    expect(headline.sentence).toBe(leadOf(site).text);
    expect(headline.over).toBe(site.findings.filter(({ verdict }) => verdict === 'over').length);
    const laid = queryClient.getQueryData<{ headline: object | null }[]>(['sites'])!;
    expect(laid.every((one) => one.headline !== null)).toBe(true);
  });
  test('what is here as it stands is not fetched again; an older rule book counts for nothing', async () => {
    for (const id of ['here', 'old']) queryClient.setQueryData(['site', id], rows(id));
    const list = [
      summary('here', { headline: worked }),
      summary('old', { headline: { ...worked, rules: RULE_BOOK - 1 } }),
    ];
    await catchUp(list, () => false);
    expect(fetched).not.toHaveBeenCalled();
    expect(told.mock.calls.map(([id]) => id)).toEqual(['old']);
  });
  test('it stops when the list is left, and where there is no signal', async () => {
    await catchUp([summary('a')] as never, () => true);
    expect(fetched).not.toHaveBeenCalled();
    fetched.mockRejectedValue(new api.NoSignal(null));
    await expect(catchUp([summary('never fetched')] as never, () => false)).resolves.toBeUndefined();
    expect(told).not.toHaveBeenCalled();
  });
});

describe('what follows from a new part', () => {
  interface Sent {
    partId: string;
    set: Record<string, unknown>;
    create?: { kind: string };
  }
  const changes = () => sent() as unknown as Sent[];
  test('a bank\u2019s volts become the system\u2019s where nobody said otherwise', () => {
    const bare = openCorrach((file) => Object.assign(file, { system: {}, evidence: {}, readings: [], proposals: [] }));
    const bank = draftRow(bare, 'bank', {
      chemistry: 'agm',
      block_V: 6,
      blockCapacity_Ah: 200,
      series: 4,
      parallel: 1,
    });
    recordPart(bare, bank);
    expect(sent().at(-1)).toMatchObject({ set: { nominal_V: 24 } });
  });
  test('a known voltage is left alone', () => {
    recordPart(site, draftRow(site, 'bank', { block_V: 6, series: 4 }));
    expect(sent()).toHaveLength(1);
  });
  test('an array that waited for its controller is joined to it', () => {
    const { moduleTypes, arrays } = site.file.system;
    const system = { moduleTypes, arrays: [{ ...arrays![0]!, controllerId: null }] };
    const waiting = openCorrach((file) => Object.assign(file, { system, evidence: {}, readings: [], proposals: [] }));
    const controller = draftRow(waiting, 'controllers', { type: 'mppt', maxOutput_A: 30 });
    recordPart(waiting, controller);
    const array = waiting.rows.find(({ kind }) => kind === 'arrays')!;
    expect(changes().filter(({ partId }) => partId === array.id)).toMatchObject([
      { set: { controllerId: controller.body.id } },
    ]);
  });
  test('a branch copied whole: array, cable, controller, cable, joined among themselves and to the same bank', () => {
    const made = copyLane(site, 'cc');
    const created = changes().filter(({ create }) => create);
    expect(created.map(({ create }) => create!.kind).sort()).toEqual(['arrays', 'controllers', 'runs', 'runs']);
    const body = (kind: string) => created.filter(({ create }) => create!.kind === kind).map(({ set }) => set);
    expect(body('controllers')[0]).toMatchObject({ id: made });
    expect(body('arrays')[0]).toMatchObject({ controllerId: made });
    const array = body('arrays')[0]!.id;
    expect(body('runs')).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ kind: 'pv', from: array, to: made }),
        expect.objectContaining({ kind: 'controller-battery', from: made, to: 'gel' }),
      ]),
    );
    expect(new Set(created.map(({ set }) => set.id)).size).toBe(4);
  });
});

describe('the work of a proposal', () => {
  const who = { id: 'isla', name: 'Isla' };
  const of = (open: OpenSite, id = 'p-two') => open.file.proposals!.find((one) => one.id === id)!;
  test('a tick stands by its step and by who set it; two who ticked one step never meet in one field', () => {
    const back = tickStep(site, 'p-two', 'pv-off:roof', who, { state: 'done', value: 1 });
    tickStep(site, 'p-two', 'pv-off:roof', { id: 'morag', name: 'Morag' }, { state: 'skipped', reason: 'dark' });
    const changes = sent();
    expect(changes.flatMap((change) => Object.keys((change as { set: object }).set))).toEqual([
      'work.ticks.pv-off:roof.isla',
      'work.ticks.pv-off:roof.morag',
    ]);
    const ticked = after(changes);
    // The first of the two is shown.
    expect(ticksOf(of(ticked))).toMatchObject({
      'pv-off:roof': { state: 'done', by: 'Isla', person: 'isla', value: 1 },
    });
    untick(ticked, of(ticked), 'pv-off:roof');
    expect(ticksOf(of(after(sent(), ticked)))).toEqual({});
    back();
    expect(sent()).toMatchObject([{ set: { 'work.ticks.pv-off:roof.isla': null } }]);
  });
  test('kit and what was done otherwise are kept with the proposal', () => {
    setKit(site, 'p-two', 'NH fuse 2.5 A', 'ordered');
    addDeviation(site, 'p-two', 'fit:x', 'led round the chimney', 'Isla');
    const { work } = of(after(sent()));
    expect(work?.kit).toEqual({ [kitKey('NH fuse 2.5 A')]: 'ordered' });
    expect(kitKey('a.b/c')).toBe('a~b~c');
    expect(Object.values(work!.deviations as object)).toMatchObject([
      { step: 'fit:x', text: 'led round the chimney', by: 'Isla' },
    ]);
  });
  test('signed, it is the system as found: what it changed, with its evidence; itself and what it overtakes are closed', () => {
    const twice = openCorrach((file) => {
      const converter = { id: 'conv-new', in_V: 12, out_V: 5, max_A: 3 };
      // Nothing leads to it by cable.
      const unwired = file.system.loads!.find(({ id }) => !file.system.runs!.some(({ to }) => to === id))!.id;
      const add = { op: 'add' as const, at: 'converters', value: converter };
      file.proposals = [
        { id: 'one', title: 'One', changes: [add, { op: 'remove', at: 'loads', id: unwired }] },
        { id: 'same', title: 'The same', changes: [add] },
        { id: 'other', title: 'Another thing', changes: [{ op: 'set', at: 'bank', value: { age_y: 1 } }] },
      ];
      file.readings = [];
      file.evidence = {};
    });
    const fitted = modelOf(twice.file, 'one');
    expect(overtakenBy(twice, 'one', fitted.system).map(({ id }) => id)).toEqual(['same']);
    becomeFound(twice, of(twice, 'one'), fitted, 'Isla');
    const now = after(sent(), twice);
    expect(now.model.system.converters?.map(({ id }) => id)).toContain('conv-new');
    expect(now.model.system.loads).toHaveLength(twice.model.system.loads!.length - 1);
    expect(now.file.evidence?.['conv-new.max_A']).toEqual({ grade: 'nameplate' });
    expect(now.file.proposals!.map(({ id, closed }) => [id, closed?.as ?? null])).toEqual([
      ['one', 'fitted'],
      ['same', 'overtaken'],
      ['other', null],
    ]);
    expect(openProposals(now).map(({ id }) => id)).toEqual(['other']);
  });
});

describe('readings and visits', () => {
  test('a visit begins with what is written first; another is begun once it is signed or a week old', () => {
    const id = beginVisit(site, 'Isla', 'p-two', { 'conditions.ambient_C': 4 });
    const begun = after(sent());
    const visit = visitNow(begun, 'p-two')!;
    expect(visit).toMatchObject({ id, people: 'Isla', proposalId: 'p-two', conditions: { ambient_C: 4 } });
    expect(visitNow(begun, null)).toBeNull();
    expect(visitNow(begun)?.id).toBe(id);
    expect(visitNow(begun, 'p-two', Date.now() + 8 * 86_400_000)).toBeNull();
    setVisit(begun, id, { 'signed.firm': { name: 'Isla', strokes: 'M0 0L1 1' } });
    const signed = after(sent(), begun);
    expect(visitNow(signed, 'p-two')).toBeNull();
    expect(visitsOf(signed).map(isSigned)).toEqual([true]);
    expect(testKey('a.b.string0')).toBe('a~b~string0');
  });
  test('a reading is a row of its own; taken out it can be brought back', () => {
    const back = addReading(site, { subject: 'gel', quantity: 'rest_V', value: 12.7 });
    const read = after(sent());
    const last = readingsOf(read, 'gel').at(-1)!;
    expect(last).toMatchObject({ quantity: 'rest_V', value: 12.7 });
    expect(Date.parse(last.at!)).toBeGreaterThan(Date.now() - 60_000);
    const again = removeReading(read, last.id);
    const without = after(sent(), read);
    expect(readingsOf(without).map(({ id }) => id)).not.toContain(last.id);
    again();
    expect(sent()).toMatchObject([{ set: { '/deleted': false } }]);
    back();
    expect(sent()).toMatchObject([{ set: { '/deleted': true } }]);
  });
  test('meters are a person\u2019s own, the last used first', () => {
    keepMeter('isla', { name: 'A', pct: 0.5 });
    keepMeter('isla', { name: 'B', pct: 1 });
    keepMeter('isla', { name: 'A', pct: 0.3 });
    expect(metersOf('isla')).toEqual([
      { name: 'A', pct: 0.3 },
      { name: 'B', pct: 1 },
    ]);
    expect(metersOf('morag')).toEqual([]);
  });
});
