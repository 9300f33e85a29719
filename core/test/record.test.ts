import { createHash } from 'node:crypto';
import {
  conditionsOf,
  expectedTests,
  makeRecord,
  modelOf,
  numberOf,
  provedOf,
  readSystemFile,
  recordToShow,
  type SystemFile,
  type Visit,
} from '../src/index';
import { hut } from './hut';

/** A signed record is a document: what is fitted, renamed or ruled later changes nothing in it. */

const lead = (change: (file: SystemFile) => void = () => undefined): SystemFile => {
  const { site, system, schools } = hut((one) => {
    one.bank = { ...one.bank!, label: 'Old bank', place: { space: 'living', min_C: 10, max_C: 30 } };
  });
  const file = {
    format: 'true-lantern',
    version: 1,
    site,
    schools,
    system,
    visits: [{ id: 'v', at: '2026-03-01T09:00:00Z', people: 'Ann', conditions: { soc: 1 } }],
    readings: [{ id: 'r', at: '2026-03-01T09:10:00Z', subject: 'b', quantity: 'rest_V', value: 12.73, visit: 'v' }],
  } as unknown as SystemFile;
  change(file);
  return file;
};
const signed = { firm: { name: 'Ann', at: '2026-03-01T10:00:00Z', strokes: 'M0 0L1 1' } };

/** Signs the visit of a file as the phone does. */
function sign(file: SystemFile): SystemFile {
  const visit = file.visits![0]!;
  const model = modelOf(file);
  const proved = provedOf(expectedTests(model, conditionsOf(visit, 0.5)).tests, file.readings!, visit);
  const record = makeRecord(file, model, visit, proved, { at: '2026-03-01T10:00:00Z', signed });
  const next = structuredClone(file);
  Object.assign(next.visits![0]!, { signed, record, recordHash: numberOf(record) });
  return readSystemFile(JSON.stringify(next)).file;
}
const verdictOf = (file: SystemFile) => Object.values(recordToShow(file, 'v')!.record.read).map(({ judged }) => judged);

describe('a record', () => {
  const kept = sign(lead());
  const shown = recordToShow(kept, 'v')!;
  it('holds what was measured, what was expected, how it was judged, and by which rules', () => {
    const [reading] = Object.values(shown.record.read);
    // Six cells of 2.122 V, full and at rest.
    expect(reading).toMatchObject({
      what: expect.stringContaining('Old bank') as string,
      value: 12.73,
      unit: 'V',
      judged: 'inside',
    });
    expect(reading!.expected).toBeCloseTo(12.732, 2);
    expect(shown.record).toMatchObject({
      site: 'Hut',
      signed,
      visit: { people: 'Ann' },
      rules: expect.any(Number) as number,
    });
    expect(shown.state).toBe('kept');
  });
  it('stands when the bank becomes another: "inside" in March is not "outside" in April', () => {
    const april = structuredClone(kept);
    Object.assign(april.system.bank!, { chemistry: 'lfp', block_V: 12.8, label: 'Lithium' });
    expect(recordToShow(april, 'v')).toEqual(shown);
    // Worked out anew, as it was before records were kept, it would have turned over.
    const anew = structuredClone(april);
    for (const name of ['record', 'recordHash'] as const) delete anew.visits![0]![name];
    expect(verdictOf(anew)).not.toEqual(verdictOf(april));
    expect(recordToShow(anew, 'v')!.state).toBe('before-records');
  });
  it('stands when its readings, its parts or its site are gone or have other names', () => {
    const later = structuredClone(kept);
    later.readings = [];
    later.site.name = 'Another name';
    delete (later.system as { controllers?: unknown }).controllers;
    expect(recordToShow(later, 'v')).toEqual(shown);
  });
  it('has a number that any program can check: SHA-256 of its JSON with sorted members', () => {
    const sorted = (value: unknown): unknown =>
      value !== null && typeof value === 'object' && !Array.isArray(value)
        ? Object.fromEntries(
            Object.entries(value)
              .sort(([a], [b]) => (a < b ? -1 : 1))
              .map(([name, member]) => [name, sorted(member)]),
          )
        : value;
    const text = JSON.stringify(sorted(shown.record));
    expect(shown.hash).toBe(createHash('sha256').update(text).digest('hex'));
  });
  it('keeps its number through a database that orders members as it likes, and loses it to any change', () => {
    const other = structuredClone(kept);
    const visit = other.visits![0] as Visit & { record: Record<string, unknown> };
    visit.record = Object.fromEntries(Object.entries(visit.record).reverse());
    expect(recordToShow(other, 'v')!.state).toBe('kept');
    (visit.record.read as Record<string, { value: number }>)['1']!.value = 12.74;
    expect(recordToShow(other, 'v')!.state).toBe('changed');
  });
});

describe('before it is signed', () => {
  it('is a draft of what is there now', () => {
    const draft = recordToShow(lead(), 'v')!;
    expect([draft.state, draft.hash]).toEqual(['draft', null]);
    expect(verdictOf(lead())).toEqual(['inside']);
  });
  it('of a visit that is not there is none', () => expect(recordToShow(lead(), 'x')).toBeNull());
  it('says what was not tested and why, and what nobody expected', () => {
    const file = lead((one) => {
      one.visits![0]!.untested = { 'b~resistance_mohm': 'no clamp' };
      one.readings!.push({ id: 'o', subject: 'b', quantity: 'temp_C', value: 18, visit: 'v', note: 'cold room' });
    });
    const { record } = recordToShow(file, 'v')!;
    expect(Object.values(record.untested)).toEqual([
      { what: expect.stringContaining('Old bank') as string, reason: 'no clamp' },
    ]);
    expect(Object.values(record.read)[1]).toMatchObject({
      value: 18,
      judged: null,
      expected: null,
      reason: 'cold room',
    });
  });
});
