import type { Finding, PartRow, SystemFile } from '@true-lantern/core';
import { gapsOf, leadOf, partName, placeOf } from '../src/data/reading';
import { addReadings, readingsOf, removeReading } from '../src/data/readings';
import type { OpenSite } from '../src/data/site';
import { state } from '../src/data/outbox/store';
import {
  copyLane,
  draftRow,
  freeId,
  mayRemove,
  neighbours,
  nextPosition,
  recordPart,
  removePart,
} from '../src/data/parts';
import { beginVisit, visitNow, visitsOf } from '../src/data/visits';
import { typicalRow } from '../src/data/typical';
import { walkOf } from '../src/data/walk';
import { becomeFound, kitKey, openProposals, ticksOf } from '../src/data/work';
import { openCorrach } from './corrach';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { WORDS } from '../src/ui/words';

/** What a site says of itself, and the small sums behind what is recorded. */

const site = openCorrach();
const finding = (more: Partial<Finding>): Finding => ({
  rule: 'pv.cold-voltage',
  subject: 'roof',
  quantity: null,
  verdict: 'holds',
  consequence: 'damage',
  demand: 90,
  limit: 100,
  unit: 'V',
  sense: 'max',
  use: 0.9,
  tightAbove: 0.95,
  working: [],
  assumed: [],
  missing: [],
  cautions: [],
  remedies: [],
  ...more,
});
const lead = (...findings: Finding[]) => leadOf({ ...site, findings });
const run = site.model.system.runs!.find(({ protection }) => protection?.type)!;

describe('the sentence at the head', () => {
  test('the worst: over before tight before unknown, whatever comes first', () => {
    const over = finding({ verdict: 'over', demand: 120, use: 1.2 });
    const tight = finding({ verdict: 'tight', demand: 99, use: 0.99, consequence: 'danger' });
    const said = lead(finding({}), tight, over);
    expect(said.over).toBe('damage');
    expect(said.text).toBe(lead(over).text);
    expect(lead(finding({}), tight)).toMatchObject({ over: null, text: lead(tight).text });
    expect(lead(finding({ verdict: 'unknown', use: null })).over).toBeNull();
  });
  test('nothing over: what is closest by its use, of what can be close at all', () => {
    const near = finding({ subject: 'cc', rule: 'pv.input-current', use: 0.94, demand: 94, unit: 'A' });
    const said = lead(finding({ use: 0.5 }), near, finding({ verdict: 'note', use: null }));
    expect(said.over).toBeNull();
    expect(said.text).toMatch(/^Nothing is over\. Closest: /);
    expect(said.shorter[0]).toBe(said.text.replace('Nothing is over. ', ''));
    expect(said.text).toContain('94');
    // One string of at most one is as meant, and a rule without a ratio is close to nothing.
    const meant = finding({ use: 1, tightAbove: 1 });
    expect(lead(meant, near).text).toBe(lead(near).text);
    expect(lead(meant)).toEqual({ text: 'Nothing is over.', shorter: [], over: null });
    expect(lead(finding({ use: 0.9, tightAbove: null })).text).toBe('Nothing is over.');
    expect(lead(finding({ use: null })).text).toBe('Nothing is over.');
  });
  test('without a bank and an array nothing can be judged; with either it can', () => {
    const bare = 'Nothing can be checked yet. Begin with the modules and the bank.';
    const judged = (system: object) =>
      leadOf({
        ...site,
        judged: { ...site.judged, system: { ...site.model.system, ...system } },
        findings: [finding({})],
      });
    expect(judged({ bank: null, arrays: [] }).text).toBe(bare);
    expect(judged({ bank: null }).text).not.toBe(bare);
    expect(judged({ arrays: null }).text).not.toBe(bare);
    expect(lead().text).toBe(bare);
  });
  test('where there is little room the part and its two figures; of a fuse first that it is the fuse', () => {
    const on = (more: Partial<Finding>) => lead(finding({ verdict: 'over', subject: run.id, ...more })).shorter;
    const name = partName(site, run.id);
    expect(on({ rule: 'run.interrupt', demand: 11.9, limit: 1, unit: 'kA' })).toEqual([
      `Fuse of ${name}: 11.9\u00a0kA, limit 1\u00a0kA.`,
      `${name}: 11.9\u00a0kA, limit 1\u00a0kA.`,
    ]);
    // What a conductor carries is said of the cable itself; so is what is wrong with a part that is no cable.
    expect(on({ rule: 'run.ampacity', demand: 90, limit: 80, unit: 'A' })).toEqual([
      `${name}: 90\u00a0A, limit 80\u00a0A.`,
    ]);
    expect(on({ rule: 'run.interrupt', subject: 'gel', unit: 'kA' })).toHaveLength(1);
    // Without both figures, or without the part, the whole sentence stands.
    expect([on({ demand: null }), on({ limit: null }), on({ subject: 'gone' })]).toEqual([[], [], []]);
    // A least, and a share without a unit, have words of their own.
    expect(on({ rule: 'run.drop', sense: 'min', demand: 2, limit: 4, unit: 'A' })[0]).not.toContain('limit');
    expect(on({ rule: 'run.drop', unit: '' })[0]).not.toMatch(/\u00a0, limit/);
  });
});

describe('what is missing', () => {
  const asked = (missing: string[][], change: (file: SystemFile) => void = () => undefined) => {
    const opened = openCorrach(change);
    return gapsOf({ ...opened, findings: missing.map((paths) => finding({ verdict: 'unknown', missing: paths })) });
  };
  test('counted by the findings that wait for it, the most first, those of one count by their path', () => {
    const gaps = asked([['cc.maxPv_A', 'gel.age_y'], ['gel.age_y'], ['bank']]);
    const seen = gaps.filter(({ settles }) => settles > 0);
    expect(seen.map(({ path, settles }) => [path, settles])).toEqual([
      ['gel.age_y', 2],
      ['bank', 1],
      ['cc.maxPv_A', 1],
    ]);
    expect(seen.map(({ unit }) => unit)).toEqual(['a', null, 'A'].map((unit, i) => (i === 0 ? seen[0]!.unit : unit)));
  });
  test('a fuse that nobody saw where there must be one is a gap by itself, and settles what waits for it', () => {
    const bare = (file: SystemFile) => {
      file.system.runs!.find(({ id }) => id === run.id)!.protection = null;
    };
    const path = `${run.id}.protection.type`;
    expect(asked([], bare).filter((gap) => gap.path === path)).toMatchObject([{ settles: 0 }]);
    expect(asked([[path]], bare).filter((gap) => gap.path === path)).toMatchObject([{ settles: 1 }]);
    expect(asked([])).not.toContainEqual(expect.objectContaining({ path }));
  });
  test('a part is called by its label, its name or its kind', () => {
    expect(placeOf(site, 'site.recordLow_C').question).toBe(`${site.file.site.name}: record low?`);
    expect(placeOf(site, 'nothing.at_all').question).toMatch(/\?$/);
    expect(placeOf(site, 'cc.some_new.field').question).toBe('Brackwell T60-150: some new field?');
  });
});

describe('the walk-round', () => {
  const steps = (change: (file: SystemFile) => void) => walkOf(openCorrach(change));
  test('what only eyes can tell comes last, the place before it, the parts first', () => {
    const kinds = steps((file) => {
      delete (file.site as { recordLow_C?: number }).recordLow_C;
      delete (file.site as { observations?: object }).observations;
      file.system.controllers![0]!.maxPv_V = null;
    }).map((step) => (step.type === 'part' ? 'part' : step.row.kind === 'site' ? step.spec.path : step.row.kind));
    const at = (what: string) => kinds.indexOf(what);
    expect(at('controllers')).toBeLessThan(at('recordLow_C'));
    expect(at('recordLow_C')).toBeLessThan(kinds.findIndex((path) => path.startsWith('observations.')));
    expect(kinds.slice(-1)[0]).toMatch(/^observations\./);
  });
  test('names are nobody\u2019s question, and what is there already is none', () => {
    const unnamed = steps((file) => void delete (file.system.bank as { label?: string }).label);
    expect(unnamed.some((step) => step.type === 'field' && step.spec.path === 'label')).toBe(false);
    for (const step of walkOf(site))
      if (step.type === 'field') expect(step.row.body[step.spec.path] ?? null).toBeNull();
  });
  test('a switch is asked for once there is a cable to put it on', () => {
    const asks = (list: ReturnType<typeof walkOf>, kind: string) =>
      list.some((step) => step.type === 'part' && step.kind === kind);
    const without = steps((file) => {
      file.system.runs = [];
      file.system.switches = [];
      file.system.distribution = [];
      file.evidence = {};
      file.readings = [];
      file.proposals = [];
    });
    expect(asks(without, 'runs')).toBe(true);
    expect(asks(without, 'switches')).toBe(false);
  });
});

describe('readings', () => {
  const sent = (from: number) =>
    state()
      .entries.slice(from)
      .map((entry) => ('change' in entry ? entry.change : null)!);
  test('those of a log stand one behind the other, and are all taken back together', () => {
    const from = state().entries.length;
    const back = addReadings(site, [
      { subject: 'gel', quantity: 'rest_V', value: 12.5, at: '2026-01-01T00:00:00Z' },
      { subject: 'gel', quantity: 'rest_V', value: 12.6, at: '2026-01-02T00:00:00Z' },
    ]);
    const made = sent(from);
    const first = nextPosition(site, 'reading');
    expect(made.map(({ create, baseRevision }) => [create?.position, baseRevision])).toEqual([
      [first, 0],
      [first + 1, 0],
    ]);
    expect(made[0]!.set.id).toBe(`r-${made[0]!.partId.slice(0, 8)}`);
    expect(made[0]!.set.at).toBe('2026-01-01T00:00:00Z');
    back();
    expect(sent(from + 2)).toMatchObject(
      made.map(({ partId }) => ({ partId, baseRevision: 1, set: { '/deleted': true } })),
    );
  });
  test('the latest last, of a part or of all; one that is not there is left alone', () => {
    const read = openCorrach((file) => {
      file.readings = [
        { id: 'b', subject: 'gel', quantity: 'rest_V', value: 2, at: '2026-02-01T00:00:00Z' },
        { id: 'a', subject: 'gel', quantity: 'rest_V', value: 1, at: '2026-01-01T00:00:00Z' },
        { id: 'c', subject: 'cc', quantity: 'pvVoltage_V', value: 3, at: '2026-01-15T00:00:00Z' },
        { id: 'undated', subject: 'gel', quantity: 'rest_V', value: 0 },
      ] as never;
    });
    expect(readingsOf(read, 'gel').map(({ id }) => id)).toEqual(['undated', 'a', 'b']);
    expect(readingsOf(read).map(({ id }) => id)).toEqual(['undated', 'a', 'c', 'b']);
    const from = state().entries.length;
    removeReading(read, 'gone')();
    expect(sent(from)).toEqual([]);
  });
});

describe('visits', () => {
  const DAY = 86_400_000;
  const visited = (...visits: object[]): OpenSite => ({ ...site, file: { ...site.file, visits: visits as never } });
  test('the latest first; the one that is on was begun less than a week ago and nobody has signed it', () => {
    const now = Date.parse('2026-05-20T12:00:00Z');
    const at = (days: number) => new Date(now - days * DAY).toISOString();
    const open = visited(
      { id: 'old', at: at(7) },
      { id: 'mine', at: at(6.9) },
      { id: 'signed', at: at(1), signed: { firm: {} } },
    );
    expect(visitsOf(open).map(({ id }) => id)).toEqual(['signed', 'mine', 'old']);
    expect(visitNow(open, undefined, now)?.id).toBe('mine');
    expect(visitNow(visited({ id: 'old', at: at(7) }), undefined, now)).toBeNull();
    const of = visited({ id: 'p', at: at(1), proposalId: 'two' }, { id: 'none', at: at(2) });
    expect([visitNow(of, 'two', now)?.id, visitNow(of, null, now)?.id, visitNow(of, 'other', now)?.id]).toEqual([
      'p',
      'none',
      undefined,
    ]);
  });
  test('begun without a proposal it names none', () => {
    const from = state().entries.length;
    const id = beginVisit(site, 'Isla', null);
    const [made] = state().entries.slice(from);
    expect(made && 'change' in made && made.change).toMatchObject({
      baseRevision: 0,
      create: { kind: 'visit', position: nextPosition(site, 'visit') },
      set: { id, people: 'Isla' },
    });
    expect(made && 'change' in made && 'proposalId' in made.change.set).toBe(false);
  });
});

describe('parts', () => {
  test('ids count on from two, past those that a proposal would add', () => {
    expect(freeId(site, 'gel')).toBe('gel2');
    const two = openCorrach(
      (file) => void file.system.loads!.push({ id: 'gel2', label: 'Lamp', kind: 'dc', power_W: 1, hours_d: 1 }),
    );
    expect(freeId(two, 'gel')).toBe('gel3');
    // The bothy's second proposal adds a controller "cc2": recorded under that name it could not be added any more.
    expect(site.model.system.controllers).toHaveLength(1);
    expect(freeId(site, 'cc')).toBe('cc3');
    const stem = draftRow(site, 'loads', {}).body.id;
    const proposed = openCorrach((file) => {
      file.proposals!.push({
        id: 'more',
        title: 'More',
        changes: [{ op: 'add', at: 'loads', value: { id: stem, label: 'L', kind: 'dc', power_W: 1, hours_d: 1 } }],
      } as never);
    });
    expect(draftRow(proposed, 'loads', {}).body.id).toBe(`${String(stem)}2`);
  });
  test('the first of a kind stands at 0, the next behind the last, gaps or not', () => {
    expect(nextPosition(site, 'converters')).toBe(0);
    const gap = { ...site, rows: [{ kind: 'loads', position: 7 } as PartRow] };
    expect(nextPosition(gap, 'loads')).toBe(8);
  });
  test.each([
    [12.8, 1, 12],
    [6, 2, 12],
    [3.2, 8, 24],
    [2, 18, 36],
    [12, 4, 48],
    // A seventh below a bus is still that bus; a fifth is none.
    [10.3, 1, 12],
    [9.9, 1, null],
    [13.7, 1, 12],
    [14, 1, null],
  ])('blocks of %d V, %d in series: a bus of %s V', (block_V, series, bus) => {
    const bare = openCorrach((file) => Object.assign(file, { system: {}, evidence: {}, readings: [], proposals: [] }));
    const from = state().entries.length;
    recordPart(bare, draftRow(bare, 'bank', { block_V, series }));
    const set = state()
      .entries.slice(from)
      .flatMap((entry) => ('change' in entry && 'nominal_V' in entry.change.set ? [entry.change.set.nominal_V] : []));
    expect(set).toEqual(bus === null ? [] : [bus]);
  });
  test('typical values fill what was not read, each marked as a guess; what was read stays as it is', () => {
    const draft = draftRow(site, 'controllers', { type: 'pwm' });
    const typical = typicalRow(draft);
    expect(typical.body.type).toBe('pwm');
    expect(typical.evidence).not.toHaveProperty('type');
    for (const field of Object.keys(typical.evidence)) {
      expect(draft.body).not.toHaveProperty(field);
      expect(typical.evidence[field]).toEqual({ grade: 'assumed' });
    }
    const place = site.rows.find(({ kind }) => kind === 'site')!;
    expect(typicalRow(place)).toBe(place);
    expect(mayRemove(place)).toBe(false);
  });
  test('neighbours stand by their positions, however the rows came', () => {
    const runs = site.rows.filter(({ kind }) => kind === 'runs');
    const turned = { ...site, rows: [...runs].reverse() };
    const [first, second, third] = [...runs].sort((a, b) => a.position - b.position);
    expect(neighbours(turned, second!)).toEqual({ before: first, after: third });
  });
  test('an array in use keeps its module; another module may go', () => {
    const spare = openCorrach((file) => {
      file.system.moduleTypes!.push({ ...file.system.moduleTypes![0]!, id: 'spare' });
    });
    const of = (id: string) => spare.rows.find((row) => row.body.id === id)!;
    expect(removePart(spare, of('spare'))).toHaveProperty('undo');
    expect(removePart(spare, of(spare.model.system.moduleTypes![0]!.id))).toHaveProperty('refused');
  });
  test('a branch that is copied keeps labels but those of cables, and its own positions', () => {
    const from = state().entries.length;
    copyLane(site, 'cc');
    const made = state()
      .entries.slice(from)
      .flatMap((entry) => ('change' in entry ? [entry.change] : []));
    for (const { create, set } of made) {
      expect(create!.position).toBeGreaterThanOrEqual(nextPosition(site, create!.kind));
      if (create!.kind === 'runs') expect(set).not.toHaveProperty('label');
    }
    const places = made.map(({ create }) => `${create!.kind} ${create!.position}`);
    expect(new Set(places).size).toBe(places.length);
    expect(made.find(({ create }) => create!.kind === 'controllers')!.set.label).toBe(
      site.model.system.controllers![0]!.label,
    );
  });
});

describe('the work of a proposal', () => {
  test('of two ticks the earlier is shown, whoever is listed first; what was taken back is none', () => {
    const ticks = (people: object) => ticksOf({ id: 'p', title: 'P', changes: [], work: { ticks: { step: people } } });
    const [early, late] = [
      { state: 'done', by: 'A', at: '2026-01-01T08:00:00Z' },
      { state: 'done', by: 'B', at: '2026-01-01T09:00:00Z' },
    ];
    expect(ticks({ a: early, b: late }).step).toMatchObject({ by: 'A', person: 'a' });
    expect(ticks({ b: late, a: early }).step).toMatchObject({ by: 'A', person: 'a' });
    expect(ticks({ a: null, b: late }).step).toMatchObject({ by: 'B', person: 'b' });
    expect(ticks({ a: null })).toEqual({});
  });
  test('a line of the kit is known by what it is, 80 letters at most', () => {
    expect(kitKey('x'.repeat(100))).toHaveLength(80);
    expect(kitKey('x'.repeat(79))).toHaveLength(79);
  });
  test('of several parts that were fitted each has its own place behind those that were there', () => {
    const from = state().entries.length;
    const of = (id: string) => ({ id, label: id, kind: 'dc', power_W: 1, hours_d: 1 });
    const { system } = site.model;
    const after = { ...system, loads: [...system.loads!, of('one'), of('two')] } as typeof system;
    becomeFound(site, { id: 'none', title: 'N', changes: [] }, { ...site.model, system: after }, 'Isla');
    const places = state()
      .entries.slice(from)
      .flatMap((entry) => ('change' in entry && entry.change.create ? [entry.change.create.position] : []));
    const behind = site.rows.filter(({ kind }) => kind === 'loads').length;
    expect(places).toEqual([behind, behind + 1]);
  });
  test('what is closed is not open any more', () => {
    const open = { ...site, file: { ...site.file, proposals: [{ id: 'a' }, { id: 'b', closed: { as: 'fitted' } }] } };
    expect(openProposals(open as never).map(({ id }) => id)).toEqual(['a']);
  });
});

describe('the words that come back stand in one table', () => {
  const folder = join(__dirname, '../src');
  const screens = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.tsx'));

  test('no screen writes one of its verbs by itself: another language replaces the table', () => {
    const own = screens.flatMap((name) => {
      const text = readFileSync(join(folder, name), 'utf8');
      return Object.values(WORDS).flatMap((word) =>
        text.includes(`label="${word}"`) || new RegExp(`label=\\{[^}\\n]*'${word}'`).test(text)
          ? [`${name}: ${word}`]
          : [],
      );
    });
    expect(own).toEqual([]);
  });

  test('one verb, one meaning: no two entries say the same', () => {
    const words = Object.values(WORDS);
    expect(new Set(words).size).toBe(words.length);
  });
});
