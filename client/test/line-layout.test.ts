import {
  area_mm2,
  check,
  compare,
  keyFinding,
  modelOf,
  type Finding,
  type System,
  strokeOf,
  figures,
  layoutLine,
  type LineRow,
  widthOf,
} from '@true-lantern/core';
import { openCorrach } from './corrach';

const of = (system: System) => layoutLine(system, [], '');
const names = (rows: LineRow[]) => rows.map((row) => ('id' in row ? row.id : row.type));
const site = openCorrach();

describe('the Line', () => {
  test('runs from the sun through array, controller and bus to the bank and its loads', () => {
    expect(names(of(site.model.system).rows)).toEqual([
      'sun',
      'roof',
      'r-pv',
      'cc',
      'r-cc',
      'bus',
      'gel',
      'bus',
      'r-inv',
      'inv',
      'fridge',
      'chargers',
      'drill',
      'r-box',
      'box',
      'r-lamps',
      'lamps',
      'r-radio',
      'radio',
      'r-pump',
      'pump',
    ]);
  });
  test('every part that can be touched is drawn once, and rows never overlap', () => {
    const { rows, height } = of(site.model.system);
    const ids = rows.flatMap((row) => ('id' in row ? [row.id] : []));
    expect(new Set(ids).size).toBe(ids.length);
    for (const { id } of [...(site.model.system.runs ?? []), ...(site.model.system.loads ?? [])])
      expect(ids).toContain(id);
    rows.forEach((row, i) => expect(row.y).toBe(i === 0 ? 0 : rows[i - 1]!.y + rows[i - 1]!.height));
    expect(rows.at(-1)!.y + rows.at(-1)!.height).toBe(height);
  });
  test('a switch is drawn once, at the end of its cable where it sits, whichever end was written first', () => {
    const drawn = (turned: boolean, end: 'from' | 'to') => {
      const system = structuredClone(site.model.system);
      const run = system.runs!.find(({ id }) => id === 'r-inv')!;
      const [from, to] = turned ? ['inv', 'gel'] : ['gel', 'inv'];
      Object.assign(run, { from, to });
      system.switches = [{ id: 'sw', kind: 'isolator', runId: 'r-inv', end }];
      return names(of(system).rows).filter((id) => ['r-inv', 'sw', 'inv'].includes(id));
    };
    // The bank's end of a cable below the bus comes first, the inverter's end last.
    expect(drawn(false, 'from')).toEqual(['sw', 'r-inv', 'inv']);
    expect(drawn(false, 'to')).toEqual(['r-inv', 'sw', 'inv']);
    expect(drawn(true, 'to')).toEqual(['sw', 'r-inv', 'inv']);
    const above = structuredClone(site.model.system);
    above.switches = [
      { id: 'near', kind: 'isolator', runId: 'r-cc', end: 'to' },
      { id: 'far', kind: 'breaker', runId: 'r-cc', end: 'from' },
    ];
    // Above the bus the controller's end comes first.
    expect(names(of(above).rows).slice(3, 7)).toEqual(['cc', 'far', 'r-cc', 'near']);
  });
  test('what is off in a state is drawn so, and says it', () => {
    const { rows } = layoutLine(site.model.system, [], '', { off: new Set(['drill', 'roof']) });
    const row = (wanted: string) => rows.find((one) => 'id' in one && one.id === wanted);
    expect(row('drill')).toMatchObject({ ink: 'off', fact: expect.stringMatching(/^off \u00b7 /) });
    expect(row('roof')).toMatchObject({ ink: 'off' });
    expect(row('fridge')).toMatchObject({ ink: 'plain', fact: expect.not.stringMatching(/^off/) });
  });
  test('everything that is tapped is at least 48 px high', () => {
    for (const row of of(site.model.system).rows) if ('id' in row) expect(row.height).toBeGreaterThanOrEqual(48);
  });
  test('parallel sources run in lanes of their own down to the bus', () => {
    const system = structuredClone(site.model.system);
    system.controllers!.push({ ...system.controllers![0]!, id: 'cc2' });
    system.arrays!.push({ ...system.arrays![0]!, id: 'roof2', controllerId: 'cc2' });
    const { rows, stretches, lanes } = of(system);
    const lane = (id: string) => rows.find((row) => 'id' in row && row.id === id)?.lane;
    expect([lane('roof'), lane('cc'), lane('roof2'), lane('cc2')]).toEqual([0, 0, 1, 1]);
    expect(lanes).toBe(2);
    const bus = rows.find(({ type }) => type === 'bus')!;
    // The first branch passes the second one's rows on its own lane and ends on the bus.
    expect(stretches).toContainEqual(
      expect.objectContaining({
        lane: 0,
        from: rows.find((row) => 'id' in row && row.id === 'roof2')!.y,
        to: bus.y + bus.height / 2,
      }),
    );
  });
  test('gaps are drawn as gaps: no bank, no cable, a fuse that nobody saw', () => {
    const system: System = { ...structuredClone(site.model.system), bank: null, monitor: null };
    system.runs = system.runs!.filter(
      ({ kind }) => kind !== 'pv' && kind !== 'controller-battery' && kind !== 'battery-inverter',
    );
    system.runs.forEach((run) => run.id === 'r-box' && (run.from = null));
    const { rows } = of(system);
    expect(rows.filter(({ type }) => type === 'gap').map((row) => 'text' in row && row.text)).toEqual([
      'cable from the array: size?',
      'cable to the bank: size?',
      'bank: not recorded',
      'cable to the inverter: size?',
    ]);
    expect(rows.find((row) => row.type === 'cable' && row.id === 'r-box')).toMatchObject({ fuse: '?' });
  });
  test('a station carries its worst finding', () => {
    const { rows } = layoutLine(site.model.system, check(site.model), '');
    expect(rows.find((row) => 'id' in row && row.id === 'roof')).toMatchObject({
      worst: { rule: 'pv.cold-voltage', verdict: 'over' },
    });
  });
  test('a proposal: what stays is plain, what changes is in the second ink with what it was, what goes is struck through', () => {
    const proposed = modelOf(
      {
        ...site.file,
        proposals: [
          {
            id: 'p',
            title: 'P',
            changes: [
              {
                op: 'set',
                at: 'arrays',
                id: 'roof',
                value: {
                  strings: [
                    ['m235', 'm235'],
                    ['m235', 'm235'],
                  ],
                },
              },
              { op: 'add', at: 'loads', value: { id: 'new', label: 'Freezer', kind: 'ac', power_W: 90, hours_d: 8 } },
              { op: 'remove', at: 'monitor' },
            ],
          },
        ],
      },
      'p',
    );
    const { rows } = layoutLine(proposed.system, compare(site.findings, proposed).after, '', {
      base: site.model.system,
    });
    const row = (id: string) => rows.find((candidate) => 'id' in candidate && candidate.id === id);
    expect(row('roof')).toMatchObject({
      ink: 'changed',
      fact: '4 \u00d7 235 W \u00b7 2 in series, 2 strings',
      was: '3 \u00d7 235 W \u00b7 one string',
    });
    expect(row('new')).toMatchObject({ ink: 'new' });
    expect(row('cc')).toMatchObject({ ink: 'plain', was: null });
    expect(row('mon')).toMatchObject({ ink: 'gone' });
  });
});

describe('the stroke of a conductor', () => {
  test('2/0 AWG is 67.4 mm2 and 10 AWG 5.26 mm2 (ASTM B258)', () => {
    expect(area_mm2('2/0AWG')).toBeCloseTo(67.43, 1);
    expect(area_mm2('10AWG')).toBeCloseTo(5.261, 2);
    expect(area_mm2('16mm2')).toBe(16);
  });
  test('grows with the area, from 3 to 14 px', () => {
    const strokes = ['1mm2', '6mm2', '16mm2', '35mm2', '70mm2', '240mm2'].map((size) => strokeOf(size));
    expect([...strokes].sort((a, b) => a - b)).toEqual(strokes);
    expect(strokes[0]).toBe(3);
    expect(strokes.at(-1)).toBe(14);
  });
});

describe('no figure is ever cut', () => {
  const widths = [320, 360, 390, 430];
  /** The same array, controller and cable so many times. */
  const withLanes = (count: number): System => {
    const system = structuredClone(site.model.system);
    for (let i = 2; i <= count; i++) {
      system.arrays!.push({ ...system.arrays![0]!, id: `roof${i}`, controllerId: `cc${i}` });
      system.controllers!.push({ ...system.controllers![0]!, id: `cc${i}` });
      for (const run of site.model.system.runs!.filter(({ id }) => id === 'r-pv' || id === 'r-cc'))
        system.runs!.push({
          ...run,
          id: `${run.id}${i}`,
          from: `${run.from === 'roof' ? 'roof' : 'cc'}${i}`,
          to: run.to === 'cc' ? `cc${i}` : run.to,
        });
    }
    return system;
  };
  test.each([1, 2, 3, 4, 5, 6])('with %d lanes: what stands in a row has the room that its words take', (count) => {
    const system = withLanes(count);
    const findings = check({ ...site.model, system });
    for (const width of widths) {
      const { rows, gutter, lanes } = layoutLine(system, findings, '', { width });
      expect(lanes).toBeGreaterThanOrEqual(Math.max(2, count));
      const room = width - gutter - 20;
      for (const row of rows) {
        if (!('said' in row) || !row.said || row.form.figure === 'none') continue;
        const figure = widthOf(row.said.text, row.said.figures ? 20 : 16);
        const word = widthOf(row.said.word, 16) + 8;
        const wick = row.form.wick === 0 ? 0 : row.form.wick + 10;
        if (row.form.figure === 'under') expect(word + figure + wick).toBeLessThanOrEqual(room);
        if (row.form.figure === 'beside' && row.type === 'station')
          expect(widthOf(row.title, 18) + 12 + word + figure).toBeLessThanOrEqual(room);
        // Over several lines each word of it fits by itself.
        if (row.form.figure === 'stacked')
          for (const part of row.said.text.split(' ')) expect(widthOf(part, 20)).toBeLessThanOrEqual(room);
        // And the row is as high as its lines.
        const lines = row.form.titleLines * 24 + row.form.factLines * 21 + row.form.figureLines * 26;
        const least = row.type === 'station' ? (row.form.figure === 'beside' ? lines - 26 : lines) : lines - 24;
        expect(row.height).toBeGreaterThanOrEqual(least);
      }
    }
  });
  test('words give way before figures: wick first, then a line of its own', () => {
    const findings = check(site.model);
    const form = (width: number) =>
      layoutLine(site.model.system, findings, '', { width }).rows.find((row) => 'id' in row && row.id === 'roof')!.form;
    const forms = Array.from({ length: 45 }, (_, i) => form(600 - 10 * i));
    const stages = forms.map(({ figure, wick }) => `${figure} ${wick}`).filter((one, i, all) => one !== all[i - 1]);
    expect(stages).toEqual(['beside 104', 'under 104', 'under 56', 'under 0', 'stacked 56', 'stacked 0']);
  });
  test('every station that is judged says a figure, or what it is about', () => {
    for (const row of layoutLine(site.model.system, check(site.model), '').rows)
      if (row.type === 'station' && row.worst) expect(row.said?.text).toMatch(/\d|[A-Z]/);
  });
  test('a fault in thousands of amperes, and as many digits as tell the two apart', () => {
    const finding = (demand: number, limit: number, unit: string, sense: 'max' | 'min' = 'max') =>
      figures({ demand, limit, unit, sense } as Finding);
    expect(finding(11_117, 3000, 'A')).toBe('11.1 / 3 kA');
    expect(finding(154.2, 150, 'V')).toBe('154 / 150 V');
    expect(finding(150.04, 150, 'V')).toBe('150.04 / 150 V');
    expect(finding(10.7, 10.8, 'V', 'min')).toBe('10.7 < 10.8 V');
    expect(finding(11.5, 9, 'V', 'min')).toBe('11.5 \u2265 9 V');
    expect(finding(52_000, 48_000, 'Wh')).toBe('52,000 / 48,000 Wh');
  });
});

describe('where things hang', () => {
  test('the bank hangs in the fold of the bus: what charges ends above it, what draws begins below', () => {
    const { rows, arrows, stretches } = of(site.model.system);
    const y = (id: string) => rows.find((row) => 'id' in row && row.id === id)!.y;
    const [upper, lower] = rows.filter(({ type }) => type === 'bus');
    expect([y('cc') < upper!.y, upper!.y < y('gel'), y('gel') < lower!.y, lower!.y < y('inv')]).toEqual([
      true,
      true,
      true,
      true,
    ]);
    expect(arrows.map(({ way }) => way)).toEqual(['down', 'both', 'down', 'down']);
    // One conductor: its two sides are joined by a rail.
    expect(stretches).toContainEqual(
      expect.objectContaining({ lane: 0, from: upper!.y + upper!.height / 2, to: lower!.y + lower!.height / 2 }),
    );
  });
  test('a combiner stands between its arrays and the controller', () => {
    const system = structuredClone(site.model.system);
    system.arrays!.push({ ...system.arrays![0]!, id: 'roof2' });
    const pv = system.runs!.find(({ id }) => id === 'r-pv')!;
    Object.assign(pv, { to: 'comb' });
    system.runs!.push({ ...pv, id: 'r-pv2', from: 'roof2' }, { ...pv, id: 'r-down', from: 'comb', to: 'cc' });
    system.distribution!.push({ id: 'comb', label: 'Combiner', circuits: ['r-pv', 'r-pv2'] });
    expect(names(of(system).rows).slice(1, 8)).toEqual(['roof', 'r-pv', 'roof2', 'r-pv2', 'comb', 'r-down', 'cc']);
  });
  test('a DC-DC charger is fed from the starter battery: that side is drawn above it, the bank\u2019s below', () => {
    const system = structuredClone(site.model.system);
    system.otherBanks = [{ id: 'starter', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy: 'dc-dc' }];
    system.chargers = [{ id: 'dd', kind: 'dc-dc', max_A: 30 }];
    system.runs!.push(
      { id: 'r-in', kind: 'charger', from: 'starter', to: 'dd', length_m: 4, size: '10mm2' },
      { id: 'r-out', kind: 'charger', from: 'dd', to: 'gel', length_m: 1, size: '10mm2' },
    );
    const drawn = names(of(system).rows);
    const from = drawn.indexOf('starter');
    expect(drawn.slice(from, from + 4)).toEqual(['starter', 'r-in', 'dd', 'r-out']);
  });
  test('one branch alone keeps the bank; loads fold into a row that says the worst of them', () => {
    const findings = check(site.model);
    const only = layoutLine(site.model.system, findings, '', { only: 'cc' });
    expect(names(only.rows)).toEqual(['sun', 'roof', 'r-pv', 'cc', 'r-cc', 'bus', 'gel']);
    expect(only.branches.map(({ name }) => name)).toContain('Ostrum 1200 sine');
    const folded = layoutLine(site.model.system, findings, '', { foldLoads: true });
    const row = folded.rows.find(({ type }) => type === 'loads')!;
    expect(row).toMatchObject({ title: '3 loads', id: 'inv' });
    expect(folded.height).toBeLessThan(layoutLine(site.model.system, findings, '').height);
    const open = layoutLine(site.model.system, findings, '', { foldLoads: true, unfolded: new Set(['inv']) });
    expect(names(open.rows)).toContain('fridge');
  });
  test('the figure that tells most: of a controller that holds its amperes, not its window', () => {
    const holds = (rule: Finding['rule'], demand: number | null): Finding => ({
      rule,
      subject: 'cc',
      quantity: null,
      verdict: 'holds',
      consequence: 'loss',
      demand,
      limit: demand === null ? null : 100,
      unit: 'A',
      sense: 'max',
      use: demand === null ? null : demand / 100,
      tightAbove: 0.9,
      working: [],
      assumed: [],
      missing: [],
      cautions: [],
      remedies: [],
    });
    const window = { ...holds('controller.voltage', 80), consequence: 'damage' as const };
    const amps = holds('pv.output-current', 40);
    expect(keyFinding('controllers', [window, amps])).toBe(amps);
    const over = { ...window, verdict: 'over' as const };
    expect(keyFinding('controllers', [amps, over])).toBe(over);
    expect(keyFinding('loads', [holds('load.window', null), holds('load.unserved', 5)])?.rule).toBe('load.unserved');
    expect(keyFinding('controllers', [{ ...amps, verdict: 'note' }])).toBeNull();
  });
});
