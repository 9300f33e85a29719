import { area_mm2, check, compare, modelOf, type System } from '@true-lantern/core';
import { strokeOf } from '../src/line/facts';
import { layoutLine, type LineRow } from '../src/line/layout';
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
    const { rows } = layoutLine(site.model.system, [], '', undefined, undefined, new Set(['drill', 'roof']));
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
    expect(lanes).toBe(3);
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
    const { rows } = layoutLine(proposed.system, compare(site.findings, proposed).after, '', site.model.system);
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
