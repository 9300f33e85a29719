import { checkShelfItem, FaultError, type SystemFile } from '@true-lantern/core';
import { templateOf } from '../src/data/bundle';
import { undoOf } from '../src/data/history';
import { itemOfPart, withWaiting } from '../src/data/shelf';
import { openSite } from '../src/data/site';
import { walkOf } from '../src/data/walk';
import { readShelfFile } from '../src/shelf/exchange';
import { openCorrach } from './corrach';

const site = openCorrach();
const past = (fields: Record<string, unknown>, before: Record<string, unknown>, revision = 2) => ({
  changeId: 'c',
  partId: 'p',
  kind: 'controllers',
  part: 'cc',
  person: 'Ann',
  madeAt: '2026-05-04T09:10:00Z',
  revision,
  fields,
  before,
});

describe('undoing a change of the past', () => {
  test('puts back what stood there, against the revision that it made', () => {
    expect(undoOf(past({ maxPv_V: 175 }, { maxPv_V: 150 }))).toEqual({
      partId: 'p',
      baseRevision: 2,
      set: { maxPv_V: 150 },
    });
  });
  test('makes unknown again what was unknown', () => {
    expect(undoOf(past({ maxPv_A: 30 }, { maxPv_A: null })).set).toEqual({ maxPv_A: null });
  });
  test('of a part that was made takes the part away; of one removed brings it back', () => {
    expect(undoOf(past({ id: 'x', type: 'mppt' }, { id: null, type: null }, 1)).set).toEqual({ '/deleted': true });
    expect(undoOf(past({ '/deleted': true }, { '/deleted': false }, 5)).set).toEqual({ '/deleted': false });
  });
});

describe('the walk-round', () => {
  const bare = openSite('bare', [
    { id: '1', kind: 'site', body: { name: 'Bare' }, evidence: {}, position: 0, revision: 1 },
    { id: '2', kind: 'system', body: {}, evidence: {}, position: 0, revision: 1 },
  ]);
  test('of a bare site begins with the module and asks from the sun down', () => {
    const steps = walkOf(bare);
    const kinds = steps.flatMap((step) => (step.type === 'part' ? [step.kind] : []));
    expect(kinds.slice(0, 4)).toEqual(['moduleTypes', 'arrays', 'controllers', 'bank']);
    expect(steps.find(({ type }) => type === 'field')).toMatchObject({ question: 'Record low?' });
  });
  test('asks nothing twice: what is recorded is not a question', () => {
    const keys = walkOf(site).map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    for (const step of walkOf(site))
      if (step.type === 'part') expect(site.rows.some(({ kind }) => kind === step.kind)).toBe(false);
  });
  test('a number that becomes unknown becomes a question', () => {
    const unread = openCorrach((file) => {
      if (file.system?.controllers?.[0]) file.system.controllers[0].maxPv_V = null;
    });
    expect(walkOf(unread).map(({ question }) => question)).toContain('Brackwell T60-150: maximum PV voltage?');
  });
});

describe('the shelf on the device', () => {
  const stored = { id: 'a', kind: 'monitor' as const, label: 'Tally', body: { shunt_A: 500 } };
  const request = (method: 'PUT' | 'DELETE', id: string, body?: unknown) => ({
    siteId: '',
    owner: 'ann',
    state: 'waiting' as const,
    request: { key: `shelf ${id}`, method, path: `/shelf/${id}`, body },
  });
  test('shows what is still waiting to be sent', () => {
    expect(withWaiting([stored], [request('PUT', 'b', { ...stored, label: 'New' })]).map(({ label }) => label)).toEqual(
      ['Tally', 'New'],
    );
    expect(withWaiting([stored], [request('DELETE', 'a')])).toEqual([]);
  });
  test('a recorded part goes on the shelf without what belongs to its site', () => {
    const bank = site.rows.find(({ kind }) => kind === 'bank')!;
    const item = checkShelfItem(itemOfPart(bank));
    expect(item.body).not.toHaveProperty('parallel');
    expect(item.body).not.toHaveProperty('place');
    expect(item.body).toMatchObject({ chemistry: 'gel', block_V: 12 });
  });
  test('a file that is neither a table nor a shelf says so', () => {
    const fault = (text: string) => {
      try {
        readShelfFile(text);
      } catch (error) {
        return error instanceof FaultError ? `${error.faults[0]?.path}: ${error.faults[0]?.message}` : String(error);
      }
      return null;
    };
    expect(fault('')).toMatch(/^line 1: has no column/);
    expect(fault('part,label\n')).toMatch(/^file: holds no items/);
    expect(fault('{"items": 3}')).toMatch(/^items: is missing/);
    expect(fault('{"items": [')).toMatch(/^file: is not JSON/);
    expect(fault('[{"kind":"monitor","label":"M","body":{"shunt_A":"x"}}]')).toMatch(/^items\[0\]\.body\.shunt_A/);
    expect(fault('part,label,shunt_A\nmonitor,"M,5\n')).toMatch(/quotation mark/);
  });
  test('a byte order mark and empty lines are a spreadsheet\u2019s habit', () => {
    expect(readShelfFile('\uFEFFpart;label;shunt_A\r\nmonitor;M;50,5\r\n;;\r\n')).toMatchObject([
      { label: 'M', body: { shunt_A: 50.5 } },
    ]);
  });
});

test('a template keeps the parts and leaves readings, photos and what was seen behind', () => {
  const file = {
    ...site.file,
    attachments: [{ id: 'x', kind: 'photo' as const, subject: 'cc' }],
    readings: [{ id: 'r', subject: 'cc', quantity: 'pvVoltage_V', value: 3 }],
  } as SystemFile;
  const made = templateOf(file, 'Next');
  expect(made.system).toEqual(file.system);
  expect(made.site.name).toBe('Next');
  expect(made).not.toHaveProperty('readings');
  expect(made).not.toHaveProperty('attachments');
  expect(made.site).not.toHaveProperty('observations');
});
