import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run } from '../src/run';

const example = join(__dirname, '../../docs/format/example-12v-mountain-hut.lantern.json');
const folder = mkdtempSync(join(tmpdir(), 'lantern-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = (text: string) => {
  const path = join(folder, `${Math.abs(text.length)}.lantern.json`);
  writeFileSync(path, text);
  return path;
};

interface Printed {
  findings: { rule: string; subject: string; quantity: string | null; verdict: string; demand: number | null }[];
}
const findings = (...argv: string[]) => (JSON.parse(run(argv).out) as Printed).findings;

test('check prints every member of a finding, sorted by rule, subject and quantity', () => {
  const all = findings('check', example);
  expect(
    Object.keys(all[0] ?? {})
      // Said only where there is something to say.
      .filter((name) => name !== 'school' && name !== 'needed')
      .sort(),
  ).toEqual([
    'assumed',
    'cautions',
    'consequence',
    'demand',
    'limit',
    'missing',
    'quantity',
    'remedies',
    'rule',
    'sense',
    'subject',
    'unit',
    'use',
    'verdict',
    'working',
  ]);
  const names = all.map(({ rule, subject, quantity }) => `${rule}\n${subject}\n${quantity ?? ''}`);
  expect(names).toEqual([...names].sort());
});

test('the mountain hut: 3 x 45.1 V, 49 K colder, 0.28 %/K: 153.9 V into 150 V', () => {
  const cold = findings('check', example).find(
    ({ rule, quantity }) => rule === 'pv.cold-voltage' && quantity === 'controller',
  );
  expect(cold?.demand).toBeCloseTo(3 * 45.1 * (1 + 0.0028 * 49), 9);
  expect(cold?.verdict).toBe('over');
});

test('a proposal is checked in place of the system as found', () => {
  const cold = findings('check', example, '--proposal', 'p-two').find(
    ({ rule, quantity }) => rule === 'pv.cold-voltage' && quantity === 'controller',
  );
  expect(cold).toMatchObject({ verdict: 'holds' });
});

test('the same file gives the same bytes', () => expect(run(['check', example])).toEqual(run(['check', example])));

test('validate prints nothing for a sound file', () =>
  expect(run(['validate', example])).toEqual({ code: 0, out: '', err: '' }));

test('facts that disagree are a warning, exit 0', () => {
  const text = readFileSync(example, 'utf8').replace('"isc_A": 6.85', '"isc_A": 6.2');
  expect(run(['validate', file(text)])).toMatchObject({
    code: 0,
    err: expect.stringContaining('expected Isc above Imp') as string,
  });
});

test.each([
  [[], 'call: is empty, expected one of '],
  [['frobnicate'], 'call: is "frobnicate", expected one of '],
  [['check'], 'call: has 0 arguments, expected lantern check FILE [--proposal ID]'],
  [['check', 'a', 'b'], 'call: has 2 arguments, expected lantern check FILE [--proposal ID]'],
  [['check', example, '--loud'], "call: Unknown option '--loud'"],
  [['check', '/no/such/file'], '/no/such/file: cannot be read (no such file), expected a system file'],
  [['check', example, '--proposal', 'zz'], 'proposals: has no "zz", expected one of "p-lantern", "p-two", "p-relay"'],
])('%j is refused in one sentence, exit 2', (argv, sentence) => {
  const { code, out, err } = run(argv);
  expect(code).toBe(2);
  expect(out).toBe('');
  expect(err.startsWith(sentence)).toBe(true);
  expect(err.trim().split('\n')).toHaveLength(1);
});

test('each fault of a bad file is a line: path, what is wrong, what was expected', () => {
  const { code, err } = run([
    'check',
    file('{"format":"true-lantern","version":1,"site":{"name":"x","recordLow_C":-300},"system":{"nominal_V":"12"}}'),
  ]);
  expect(code).toBe(2);
  expect(err.trim().split('\n')).toEqual([
    'site.recordLow_C: is -300, expected a number from -90 to 90',
    'system.nominal_V: is "12", expected a number above 0 up to 1500',
  ]);
});

describe('the other questions', () => {
  const demo = (name: string) => join(__dirname, `../../demo/sites/${name}.lantern.json`);
  const ask = (...argv: string[]) => {
    const { code, out, err } = run(argv);
    expect([code, err]).toEqual([0, '']);
    return JSON.parse(out) as Record<string, never>;
  };
  const SITES = ['corrach-bothy', 'gannet-ledge', 'harbour-workshop', 'seal-sound', 'whelk-bank'];
  test.each(SITES)('%s: every verb answers, and twice the same', (name) => {
    const array = (JSON.parse(readFileSync(demo(name), 'utf8')) as { system: { arrays: { id: string }[] } }).system
      .arrays[0];
    for (const argv of [
      ['check', demo(name)],
      ['curve', demo(name), array?.id ?? '', '--shade', '0.0=0.3'],
      ['sharing', demo(name)],
      ['headroom', demo(name)],
      ['flips', demo(name)],
    ])
      expect(run(argv)).toEqual(run(argv));
  });
  test('headroom has both ladders, energy and modules', () => {
    const answer = ask('headroom', demo('whelk-bank'));
    expect(Object.keys(answer)).toEqual(['load', 'surgingLoad', 'energy', 'modules', 'partMargins', 'unknown']);
    expect((answer as unknown as { load: { extra_W: number }[] }).load[0]?.extra_W).toBeGreaterThan(0);
  });
  test('flips names the field, both ends, and what turns', () => {
    const { flips } = ask('flips', demo('gannet-ledge')) as unknown as { flips: unknown[] };
    expect(flips).toContainEqual(
      expect.objectContaining({
        field: 'bank.ageSpread_months',
        low: 0,
        high: 18,
        findings: [expect.objectContaining({ rule: 'bank.mixed', subject: 'bank', from: 'tight', to: 'holds' })],
      }),
    );
  });
  test('layouts puts what holds before what is over, and says why', () => {
    const { layouts } = ask('layouts', demo('corrach-bothy'), '--modules', '5') as unknown as {
      layouts: { controllers: { series: number; parallel: number }[]; unused: number; verdict: string; why: string }[];
    };
    expect(layouts.length).toBeGreaterThan(2);
    for (const { controllers, unused, why } of layouts) {
      expect(unused + controllers.reduce((sum, { series, parallel }) => sum + series * parallel, 0)).toBe(5);
      expect(why).not.toBe('');
    }
  });
  test('the sun, west of Greenwich and south of the line', () => {
    const reference = ask(
      'sun',
      '39.742476',
      '-105.1786',
      '2003-10-17T19:30:30Z',
      '--elevation',
      '1830.14',
    ) as unknown as {
      zenith_deg: number;
      azimuth_deg: number;
    };
    expect(Math.abs(reference.zenith_deg - 50.111)).toBeLessThan(0.05);
    expect(Math.abs(reference.azimuth_deg - 194.34)).toBeLessThan(0.05);
    expect(run(['sun', '95', '0', '2026-01-01T00:00:00Z']).err).toMatch(/^LAT: is "95"/);
    expect(run(['sun', '50', '0', 'noon']).err).toMatch(/^UTC: is "noon"/);
  });
  test('a conversion: what is needed, options, parts and settings', () => {
    const answer = ask('convert', demo('gannet-ledge')) as unknown as {
      needed_Wh: number;
      options: unknown[];
      parts: { verdict: string; why: string }[];
      settings: unknown[];
    };
    expect(answer.needed_Wh).toBeGreaterThan(1000);
    expect(answer.options.length).toBeGreaterThan(0);
    for (const { verdict, why } of answer.parts) {
      expect(['keep', 'keep-reset', 'reconfigure', 'replace', 'add', 'remove']).toContain(verdict);
      expect(why).not.toBe('');
    }
  });
  test('a wrong number of modules is named', () => {
    expect(run(['layouts', demo('corrach-bothy'), '--modules', '2.5'])).toMatchObject({ code: 2 });
    expect(run(['layouts', demo('corrach-bothy'), '--modules', 'many']).err).toMatch(/^--modules: is "many"/);
  });
});

describe('what Plan asks, for scripts', () => {
  const site = (name: string) => join(__dirname, `../../demo/sites/${name}.lantern.json`);
  const json = (...argv: string[]) => JSON.parse(run(argv).out) as Record<string, unknown>;
  test('replace prints each line with its rule and its working; a fuse is asked for by its aspect', () => {
    const { lines } = json('replace', site('whelk-bank'), 'cc') as {
      lines: { field: string; value: number; rule: string; why: string[] }[];
    };
    expect(lines.find(({ field }) => field === 'maxPv_V')).toMatchObject({ value: 175, rule: 'pv.cold-voltage' });
    expect(json('replace', site('whelk-bank'), 'r-cc', '--aspect', 'fuse')).toMatchObject({
      aspect: 'fuse',
      shelf: 'fuse',
    });
  });
  test('replace with a part that is not there, or an aspect it has not, says what was expected', () => {
    expect(run(['replace', site('whelk-bank'), 'nobody'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('PART_ID: is "nobody"') as string,
    });
    expect(run(['replace', site('whelk-bank'), 'cc', '--aspect', 'fuse'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('expected part') as string,
    });
  });
  test('interim prints limits, what stays off and what is left; twice the same', () => {
    const once = run(['interim', site('corrach-bothy')]);
    expect(JSON.parse(once.out)).toMatchObject({
      // The roof is the only charge: its string gets a module shorter. An inverter that cuts off at a start is told, not limited.
      limits: [{ kind: 'modules', id: 'roof', value: 2, rule: 'pv.cold-voltage' }],
      off: [],
      left: [{ rule: 'system.sag' }],
    });
    expect(json('interim', site('seal-sound'))).toMatchObject({
      limits: [{ kind: 'load', value: 800, unit: 'W', rule: 'run.ampacity', whenBack: true }],
    });
    expect(run(['interim', site('corrach-bothy')]).out).toBe(once.out);
  });
  test('voltage prints what it replaces and the currents; no step down', () => {
    expect(json('voltage', site('gannet-ledge'), '48')).toMatchObject({ from_V: 24, to_V: 48 });
    expect(run(['voltage', site('whelk-bank'), '24'])).toMatchObject({
      code: 2,
      err: expect.stringContaining('VOLTS: is 24') as string,
    });
  });
  test('layouts over one more controller like one that is there', () => {
    const { layouts } = json('layouts', site('harbour-workshop'), '--modules', '7', '--one-more', 'cc') as {
      layouts: { verdict: string; controllers: { controllerId: string }[] }[];
    };
    expect(layouts[0]?.verdict).toBe('holds');
    expect(
      layouts.some(({ controllers }) => controllers.some(({ controllerId }) => controllerId === 'added-controller')),
    ).toBe(true);
    expect(run(['layouts', site('harbour-workshop'), '--one-more', 'x']).code).toBe(2);
  });
  test('layouts of a proposal and with a larger controller, as a proposal would hold them', () => {
    const { layouts } = json('layouts', site('seal-sound'), '--proposal', 'p-set', '--larger', 'cc') as {
      layouts: { changes: { at: string }[]; fuses: object[]; unused: number }[];
    };
    expect(layouts[0]).toMatchObject({ fuses: expect.any(Array) as object[], unused: expect.any(Number) as number });
    expect(layouts.some(({ changes }) => changes.some(({ at }) => at === 'controllers'))).toBe(true);
    expect(run(['layouts', site('seal-sound'), '--larger', 'x']).code).toBe(2);
    expect(run(['layouts', site('seal-sound'), '--proposal', 'x']).code).toBe(2);
  });
  test('the curve of a controller is that of all its strings; one cell group may be shaded alone', () => {
    const best = (...args: string[]) =>
      (json('curve', site('harbour-workshop'), ...args) as { best: { p: number } }).best.p;
    const full = best('cc', '--unshaded');
    const group = best('cc', '--unshaded', '--shade', '0.0.0=0');
    expect(group).toBeLessThan(full);
    expect(group).toBeGreaterThan(best('cc', '--unshaded', '--shade', '0.0=0') - 1e-6);
    expect(run(['curve', site('harbour-workshop'), 'cc', '--shade', '0.0.9=0']).code).toBe(2);
    expect(run(['curve', site('harbour-workshop'), 'nowhere']).code).toBe(2);
  });
});

describe('year', () => {
  const reference = (name: string) => join(__dirname, `../../docs/format/reference/${name}.lantern.json`);
  interface Years {
    years: { months: { harvest_kWh: number }[]; totals: Record<string, number>; balanceError: number; seed: number }[];
    days?: { p5: number; p50: number }[];
    outageChance?: number[];
  }
  const years = (...argv: string[]) => JSON.parse(run(['year', ...argv]).out) as Years;
  test('of the mean weather: twelve months, totals, a balance', () => {
    const { years: all, days } = years(reference('sound-48v'), '--weather', 'mean');
    expect(all).toHaveLength(1);
    expect(all[0]!.months).toHaveLength(12);
    // 1577 kWh, worked out by another program.
    expect(Math.abs(all[0]!.totals.harvest_kWh! / 1577.15 - 1)).toBeLessThan(0.015);
    expect(all[0]!.balanceError).toBeLessThanOrEqual(1e-6);
    expect(days).toBeUndefined();
  });
  test('seeded: the same seed the same year, another another; bands and chances of several', () => {
    const file = reference('sagging-12v');
    expect(years(file, '--seed', '3')).toEqual(years(file, '--seed', '3'));
    expect(years(file, '--seed', '3')).not.toEqual(years(file, '--seed', '4'));
    const many = years(file, '--years', '3');
    expect([many.years.length, many.days!.length, many.outageChance!.length]).toEqual([3, 365, 12]);
  });
  test('a proposal and a state have years of their own', () => {
    const found = years(reference('upgrade-24v'), '--weather', 'mean').years[0]!.totals.harvest_kWh;
    expect(
      years(reference('upgrade-24v'), '--weather', 'mean', '--proposal', 'p1').years[0]!.totals.harvest_kWh,
    ).not.toBe(found);
    const road = years(reference('motorhome'), '--weather', 'mean', '--state', 'road').years[0]!.totals;
    expect(road.engine_kWh).toBeGreaterThan(0);
    expect(road.generator_h).toBe(0);
  });
  test('hour by hour as a table', () => {
    const lines = run(['year', reference('sound-48v'), '--weather', 'mean', '--hours'])
      .out.trim()
      .split('\n');
    expect(lines[0]).toBe('hour,soc,available_W,demand_W,served_W,generator');
    expect(lines).toHaveLength(8761);
    expect(lines[13]!.split(',')).toHaveLength(6);
  });
  test.each([
    [['--years', '0'], '--years: is "0", expected a number from 1 to 10000'],
    [['--years', '1.5'], '--years: is "1.5", expected a whole number from 1 to 10000'],
    [['--seed', 'x'], '--seed: is "x", expected a number'],
    [['--weather', 'nowhere.epw'], 'nowhere.epw: cannot be read (no such file), expected an EPW weather file, or mean'],
  ])('%s is refused by name', (flags, message) => {
    const { code, err } = run(['year', reference('sound-48v'), ...flags]);
    expect(code).toBe(2);
    expect(err).toContain(message);
  });
  test('what is lacking is named by its path, a line each', () => {
    const text = JSON.parse(readFileSync(reference('sound-48v'), 'utf8')) as {
      site: Record<string, unknown>;
      system: { arrays: Record<string, unknown>[] };
    };
    delete text.site.climate;
    delete text.site.latitude_deg;
    const { code, err } = run(['year', file(JSON.stringify(text)), '--weather', 'mean']);
    expect(code).toBe(2);
    expect(err.split('\n').map((line) => line.split(':')[0])).toEqual([
      'site.latitude_deg',
      'site.climate.globalHorizontal_kWh_m2_d',
      'site.climate.meanTemp_C',
      '',
    ]);
  });
});

test('a folder of sites over many weathers: a line each, the same for one thread and for two', () => {
  const root = join(__dirname, '../..');
  const sites = mkdtempSync(join(folder, 'sites-'));
  const reference = join(root, 'docs/format/reference/sound-48v.lantern.json');
  const bare = JSON.parse(readFileSync(reference, 'utf8')) as { site: Record<string, unknown> };
  writeFileSync(join(sites, 'b.lantern.json'), JSON.stringify(bare));
  bare.site.name = '=1+1, a name';
  delete bare.site.climate;
  writeFileSync(join(sites, 'a.lantern.json'), JSON.stringify(bare));
  writeFileSync(join(sites, 'c.lantern.json'), '{');
  const table = (workers: string) =>
    spawnSync(process.execPath, ['tools/years.mjs', sites, '--years', '3', '--workers', workers], {
      cwd: root,
      encoding: 'utf8',
    }).stdout;
  const lines = table('2').trim().split('\n');
  expect(lines).toHaveLength(4);
  // What is lacking is named; what a spreadsheet would take for a formula is a text; broken JSON does not stop the rest.
  expect(lines[1]).toMatch(/^"'=1\+1, a name",a\.lantern\.json,,,.*site\.climate/);
  expect(lines[2]).toMatch(/^Sound 48,b\.lantern\.json,0\.0,,0\.0,0\.0,/);
  expect(lines[3]).toContain('c.lantern.json');
  expect(table('1')).toBe(table('2'));
});

describe('work and expect', () => {
  const upgrade = join(__dirname, '../../docs/format/reference/upgrade-24v.lantern.json');
  const printed = <T>(...argv: string[]) => JSON.parse(run(argv).out) as T;

  test('work prints kit, cuts, coils, what comes out, tools, labels and steps of a proposal', () => {
    const work = printed<Record<string, unknown[]>>('work', upgrade, '--proposal', 'p1');
    expect(Object.keys(work)).toEqual(['kit', 'cuts', 'coils', 'removed', 'tools', 'labels', 'steps']);
    expect(work.cuts).toEqual([
      expect.objectContaining({ run: 'r-bi', size: '50mm2', poles: 2, perPole: 1, oneWay_m: 2, cut_m: 2.2, lugs: 4 }),
    ]);
    expect(work.coils).toEqual([
      expect.objectContaining({ size: '50mm2', total_m: 4.4, coil_m: 10, count: 1, offcut_m: 5.6 }),
    ]);
    expect(work.steps![0]).toEqual(expect.objectContaining({ n: 1, phase: 'tell', act: 'tell', after: [] }));
  });

  test('without a proposal, or with one that is not there or no longer applies, there is no order', () => {
    expect(run(['work', upgrade]).err).toMatch(/^--proposal: is missing, expected the id of a proposal/);
    expect(run(['work', upgrade]).code).toBe(2);
    expect(run(['work', upgrade, '--proposal', 'p9']).err).toMatch(/^proposals: has no "p9"/);
    const stale = JSON.parse(readFileSync(upgrade, 'utf8')) as {
      proposals: { changes: unknown[]; closed?: unknown }[];
    };
    // Fitted already: what it added is there, so it cannot be laid over the system again.
    stale.proposals[0]!.closed = { as: 'fitted' };
    stale.proposals[0]!.changes.push({ op: 'remove', at: 'controllers', id: 'nobody' });
    const gone = run(['work', file(JSON.stringify(stale)), '--proposal', 'p1']);
    expect([gone.code, gone.out]).toEqual([2, '']);
    expect(gone.err).toMatch(/"nobody", expected the id of a part in controllers/);
  });

  test('expect prints what a meter should read under the conditions that are given', () => {
    interface Test {
      subject: string;
      quantity: string;
      expected: number;
      low: number | null;
      high: number | null;
      cannotTell?: string;
    }
    const of = (quantity: string, ...flags: string[]) =>
      printed<{ tests: Test[] }>('expect', upgrade, ...flags).tests.find((one) => one.quantity === quantity)!;
    expect(Object.keys(of('rest_V'))).toEqual([
      'id',
      'subject',
      'quantity',
      'unit',
      'expected',
      'low',
      'high',
      'how',
      'tool',
      'minutes',
      'cautions',
    ]);
    // Flooded, 12 cells: 2.083 V each at .8, 1.893 empty.
    expect(of('rest_V').expected).toBeCloseTo(12 * 2.083, 9);
    expect(of('rest_V', '--soc', '0').expected).toBeCloseTo(12 * 1.893, 9);
    expect(of('stringVoc_V', '--irradiance', '1000', '--cell', '25').expected).toBeGreaterThan(
      of('stringVoc_V', '--ambient', '40').expected,
    );
    expect(of('stringImp_A', '--irradiance', '200').cannotTell).toMatch(/300 W\/m2/);
    expect(of('drop_V', '--share', '1').expected).toBeCloseTo(2 * of('drop_V').expected, 9);
    expect(of('rest_V', '--meter-pct', '3').high).toBeGreaterThan(of('rest_V').high!);
    expect(of('rest_V', '--proposal', 'p1').expected).toBeCloseTo(8 * 3.33, 9);
  });

  test('conditions that cannot be are refused by name', () => {
    const refused = (...flags: string[]) => run(['expect', upgrade, ...flags]).err;
    expect(refused('--soc', '80')).toMatch(/^--soc: is "80", expected a number from 0 to 1/);
    expect(refused('--irradiance', '-5')).toMatch(/^--irradiance: .*from 0 to 2000/);
    expect(refused('--share', 'half')).toMatch(/^--share: /);
    expect(refused('--meter-pct', '101')).toMatch(/^--meter-pct: /);
    expect(refused('--cell', '500')).toMatch(/^--cell: /);
    expect(refused('--ambient', '')).toMatch(/^--ambient: /);
  });
});

describe('faults and practice', () => {
  const hut = join(__dirname, '../../demo/sites/corrach-bothy.lantern.json');
  test('faults: a ranking that sums to 1, what is alike, what to read next, what was not used', () => {
    const answer = JSON.parse(run(['faults', hut]).out) as {
      ranking: { probability: number; hypothesis: string; cure: { text: string } }[];
      next: { gain_bits: number; gain_per_min: number; how: string }[];
      alike: unknown[];
      unused: string[];
    };
    expect(answer.ranking.reduce((sum, { probability }) => sum + probability, 0)).toBeCloseTo(1, 9);
    expect(answer.next.every(({ gain_bits, gain_per_min }) => gain_bits >= 0 && gain_per_min >= 0)).toBe(true);
    expect(answer.ranking[0]!.cure.text.length).toBeGreaterThan(10);
  });
  test.each([
    [['--visit', 'nobody'], '--visit: is "nobody", expected the id of a visit in this file'],
    [['--since', 'soon'], '--since: is "soon", expected a moment like 2026-05-04T09:10:00Z'],
    [['--complaint', 'blue'], '--complaint: is "blue", expected one of dim-at-night'],
  ])('faults %p says what was expected', (flags, said) => {
    const { code, err } = run(['faults', hut, ...flags]);
    expect([code, err]).toEqual([2, expect.stringContaining(said)]);
  });
  test('practice wants a seed, and takes several readings', () => {
    expect(run(['practice', hut, '--level', '1']).err).toContain('--seed: is missing');
    expect(run(['practice', hut, '--seed', '1', '--level', '5']).code).toBe(2);
    const answer = JSON.parse(
      run(['practice', hut, '--seed', '4', '--level', '1', '--read', 'gel.rest_V', '--read', 'r-inv.drop_V']).out,
    ) as { read: unknown[]; practice: boolean };
    expect([answer.read.length, answer.practice]).toEqual([2, true]);
  });
});
