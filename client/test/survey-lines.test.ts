import type { PastEntry, PartRow, TimeLine } from '@true-lantern/core';
import type { OpenSite } from '../src/data/site';
import { merged, surveyLines } from '../src/service/survey-lines';

/** Changes of the survey in the log: what one person did at one part at one go is one line. */

const site = { rows: [{ id: 'r1', kind: 'bank', body: { id: 'gel' } }] as unknown as PartRow[] } as OpenSite;
const change = (minute: number, more: Partial<PastEntry>): PastEntry => ({
  changeId: `c${minute}`,
  partId: 'r1',
  kind: 'bank',
  part: 'House bank',
  person: 'Ann',
  madeAt: new Date(Date.UTC(2026, 4, 4, 9, minute)).toISOString(),
  revision: 2,
  fields: {},
  before: {},
  ...more,
});

test('two figures within ten minutes are one line, the first one first; an hour later is another', () => {
  const lines = surveyLines(site, [
    change(59, { fields: { series: 2 }, before: { series: 1 } }),
    change(6, { fields: { blockCapacity_Ah: 220 }, before: { blockCapacity_Ah: 200 } }),
    change(2, { fields: { block_V: 12 }, before: { block_V: null } }),
  ]);
  expect(lines).toHaveLength(2);
  expect(lines[1]).toMatchObject({ of: 'survey', title: 'Survey: House bank', subject: 'gel', by: 'Ann' });
  expect(lines[1]!.text).toMatch(/: not known \u2192 12 \u00b7 .*: 200 \u2192 220$/);
});
test('two people, or two parts, are two lines', () => {
  const one = { fields: { series: 2 }, before: { series: 1 } };
  expect(surveyLines(site, [change(3, one), change(2, { ...one, person: 'Bob' })])).toHaveLength(2);
  expect(surveyLines(site, [change(3, one), change(2, { ...one, partId: 'r2', kind: 'loads' })])).toHaveLength(2);
});
test('what has lines of its own is not said twice; a change of order alone says what it is', () => {
  const set = { fields: { text: 'x' }, before: { text: null } };
  for (const kind of ['log', 'reading', 'visit', 'attachment', 'proposal', 'feed'])
    expect(surveyLines(site, [change(1, { ...set, kind })])).toEqual([]);
  expect(surveyLines(site, [change(1, { fields: { '/deleted': true }, before: { '/deleted': false } })])[0]!.text).toBe(
    'removed',
  );
});
test('merged, the latest is first wherever it is from', () => {
  const line = (at: string) => ({ at, id: at }) as TimeLine;
  expect(merged([line('2026-03'), line('2026-01')], [line('2026-02')]).map(({ at }) => at)).toEqual([
    '2026-03',
    '2026-02',
    '2026-01',
  ]);
});
