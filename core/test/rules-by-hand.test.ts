import { check, createLedger, remediesOf, sentenceOf, type Finding, type Model, type System } from '../src/index';
import { judge } from '../src/rules/finding';
import { fuseOfString } from '../src/rules/pv/strings';
import { FUSES_A } from '../src/conductors/fuses';
import { largestFuse_A } from '../src/power/conductor-limits';
import { BANK, find, hut, part } from './hut';

const offered = (model: Model, finding: Finding) => remediesOf(model, finding, check(model));
const titles = (list: readonly { title: string }[]) => list.map(({ title }) => title);
const valuesOf = (list: readonly { changes: readonly { value?: unknown }[] }[]) =>
  list.flatMap(({ changes }) => changes.map(({ value }) => value));

describe('a ratio against its limit', () => {
  test('over beyond it, tight above its share, holds at both to the last bit', () => {
    expect(judge(100, 100, 'max', 0.8)).toEqual({ use: 1, verdict: 'tight' });
    expect(judge(100.001, 100, 'max', 0.8).verdict).toBe('over');
    expect(judge(80, 100, 'max', 0.8).verdict).toBe('holds');
    expect(judge(80.001, 100, 'max', 0.8).verdict).toBe('tight');
    expect(judge(100 * (1 + 1e-10), 100, 'max', 1).verdict).toBe('holds');
    expect(judge(10, 12, 'min', 1)).toEqual({ use: 1.2, verdict: 'over' });
    expect(judge(12, 10, 'min', 1).use).toBeCloseTo(10 / 12, 12);
  });
  test('of nothing any demand is too much, and none is none', () => {
    expect(judge(1, 0, 'max', 0.8)).toEqual({ use: null, verdict: 'over' });
    expect(judge(0, 0, 'max', 0.8)).toEqual({ use: null, verdict: 'holds' });
    // A vent that wants nothing is no finding; one that is not there where it is wanted is.
    expect(judge(0, 5, 'min', 1)).toEqual({ use: null, verdict: 'over' });
  });
});

describe('vents', () => {
  const vented = (ventArea_cm2: number) =>
    hut((system) => void (system.bank = { ...BANK, place: { space: 'vented-box', ventArea_cm2, min_C: 10 } }));
  test('28 x Q, Q of six cells at their charge; the cure has a quarter more, in tens', () => {
    const finding = find(vented(1), 'bank.ventilation')!;
    const wanted = finding.limit!;
    // Flooded lead gasses 28 mA/Ah when boosted: 0.05 x 6 cells x 28 x 200 Ah / 1000 = 1.68 m3/h; 28 x 1.68 = 47 cm2.
    expect(wanted).toBeCloseTo(28 * 0.05 * 6 * 28 * 200 * 1e-3, 6);
    expect(finding.verdict).toBe('over');
    const enough = Math.ceil(wanted / 0.8 / 10) * 10;
    const [remedy] = offered(vented(1), finding);
    expect(remedy!.title).toBe(`Two openings of ${enough} cm2 each`);
    expect(remedy!.changes[0]!.value).toEqual({ place: { ventArea_cm2: enough } });
    expect(enough % 10).toBe(0);
    expect(find(vented(enough), 'bank.ventilation')!.verdict).toBe('holds');
  });
});

describe('lithium’s own limits', () => {
  const bank = (more: object) =>
    hut((system) => {
      system.bank = { ...BANK, chemistry: 'lfp', cells: 4, peakDischarge_A: 100, ...more };
      system.inverters = [
        { id: 'i', continuous_W: 1000, surge_W: 1500, surge_s: 5 },
        { id: 'j', continuous_W: 500, surge_W: 900, surge_s: 2 },
      ];
    });
  test('the longest surge of the inverters against the seconds of the pack', () => {
    const finding = find(bank({ peak_s: 3 }), 'bank.surge', 'duration')!;
    expect([finding.demand, finding.limit, finding.verdict]).toEqual([5, 3, 'over']);
    expect(find(bank({ peak_s: 5.6 }), 'bank.surge', 'duration')!.verdict).toBe('holds');
    expect(find(bank({ peak_s: 5.2 }), 'bank.surge', 'duration')!.verdict).toBe('tight');
    expect(find(bank({}), 'bank.surge', 'duration')).toBeUndefined();
  });
  test('two strings peak at nine tenths of twice one', () => {
    expect(find(bank({ parallel: 1 }), 'bank.surge', 'current')!.limit).toBe(100);
    expect(find(bank({ parallel: 2, tapping: 'busbar' }), 'bank.surge', 'current')!.limit).toBe(180);
  });
});

describe('what lets go of a DC load', () => {
  const withLoad = (change: (system: System) => void) =>
    hut((system) => {
      system.loads = [{ id: 'l', label: 'Pump', kind: 'dc', power_W: 60, hours_d: 1 }];
      change(system);
    });
  const loads = (model: Model) => find(model, 'bank.deep-discharge', 'loads');
  const cable = { id: 'r', kind: 'dc-load', from: 'b', to: 'l', length_m: 2, size: '2.5mm2' } as const;
  const disconnect = (runId: string) => ({
    id: 's',
    kind: 'load-disconnect' as const,
    runId,
    rating_A: 40,
    lvd_V: 11.6,
  });
  test('a switch on its way; nothing; a way that is not recorded', () => {
    expect(
      loads(
        withLoad((system) => {
          system.runs = [cable];
          system.switches = [disconnect('r')];
        }),
      ),
    ).toBeUndefined();
    expect(loads(withLoad((system) => void (system.runs = [cable])))!.verdict).toBe('tight');
    expect(loads(withLoad(() => undefined))!.verdict).toBe('unknown');
    // Where nobody is there for weeks nobody notices.
    const alone = hut((system, file) => {
      file.site.layup_d = 30;
      system.loads = [{ id: 'l', label: 'Pump', kind: 'dc', power_W: 60, hours_d: 1 }];
      system.runs = [cable];
    });
    expect(loads(alone)!.verdict).toBe('over');
  });
  test('through its converter: the cable to its input is on the way', () => {
    const converted = (runId: string) =>
      withLoad((system) => {
        system.loads![0]!.converterId = 'k';
        system.converters = [{ id: 'k', in_V: 12, out_V: 5, max_A: 20 }];
        system.runs = [
          { id: 'in', kind: 'converter', from: 'b', to: 'k', length_m: 1, size: '4mm2' },
          { id: 'other', kind: 'dc-load', from: 'b', length_m: 1, size: '4mm2' },
        ];
        system.switches = [disconnect(runId)];
      });
    expect(loads(converted('in'))).toBeUndefined();
    expect(loads(converted('other'))!.verdict).toBe('tight');
  });
});

describe('loads, boards, joints', () => {
  test('only DC loads whose highest volts are known are asked; 15.48 V of equalising on a load for 15', () => {
    const model = hut((system) => {
      system.loads = [
        { id: 'a1', label: 'Radio', kind: 'dc', power_W: 10, hours_d: 1, max_V: 15 },
        { id: 'a2', label: 'Lamp', kind: 'dc', power_W: 10, hours_d: 1 },
        { id: 'a3', label: 'Drill', kind: 'ac', power_W: 10, hours_d: 1, max_V: 15 },
      ];
    });
    const asked = check(model).filter(({ rule }) => rule === 'load.window');
    expect(asked.map(({ subject }) => subject)).toEqual(['a1']);
    expect(asked[0]!.demand).toBeCloseTo(15.48, 9);
    expect(asked[0]!.verdict).toBe('over');
  });
  test('behind a converter it stands the converter’s volts', () => {
    const model = hut((system) => {
      system.converters = [{ id: 'k', in_V: 24, out_V: 12, max_A: 20 }];
      system.loads = [{ id: 'a1', label: 'Radio', kind: 'dc', power_W: 10, hours_d: 1, max_V: 12, converterId: 'k' }];
    });
    expect(find(model, 'load.window')).toMatchObject({ demand: 12, verdict: 'holds' });
  });
  test('seven circuits on six slots: a board of eight; a rating at four fifths', () => {
    const model = hut((system) => {
      system.distribution = [{ id: 'd', slots: 6, rating_A: 30, circuits: ['1', '2', '3', '4', '5', '6', '7'] }];
    });
    const finding = find(model, 'distribution.slots')!;
    expect([finding.demand, finding.limit, finding.verdict]).toEqual([7, 6, 'over']);
    expect(titles(offered(model, finding))[0]).toBe('A board with 8 ways instead of the distribution');
    expect(sentenceOf(model, finding)).toBe('7 circuits on a board with 6 ways.');
    expect(
      check(hut((system) => void (system.distribution = []))).some(({ rule }) => rule === 'distribution.slots'),
    ).toBe(false);
  });
  test('three joints are noted with their heat: 0.25 mohm each by the square of the current', () => {
    const jointed = (joints: number) =>
      hut(
        (system) =>
          void (system.runs = [
            { id: 'r', kind: 'controller-battery', from: 'c', to: 'b', length_m: 3, size: '10mm2', joints },
          ]),
      );
    const finding = find(jointed(3), 'run.joints')!;
    expect(finding.verdict).toBe('note');
    // 200 W / 12 V = 16.67 A.
    const watts = 3 * 0.00025 * (200 / 12) ** 2;
    expect(finding.working.at(-1)).toBe(`3 joints of 0.25 mohm at 16.67 A: ${watts.toFixed(4)} W of heat`);
    // The sentence says the joints, not how their current was found.
    expect(sentenceOf(jointed(3), finding)).toMatch(
      /^This cable has more joints than it needs: 3 joints of 0\.25 mohm/,
    );
    expect(find(jointed(2), 'run.joints')).toBeUndefined();
  });
});

describe('the sun’s side', () => {
  test('more watts than the controller takes: one for the watts at 95 %, in tens', () => {
    const model = hut((system) => {
      part.array(system).strings = [
        ['m', 'm'],
        ['m', 'm'],
        ['m', 'm'],
      ];
      Object.assign(part.controller(system), { maxPv_W: { 12: 500 }, limitsOutput: false });
    });
    const finding = find(model, 'pv.power')!;
    expect([finding.demand, finding.limit, finding.verdict]).toEqual([600, 500, 'over']);
    // 600 / 0.95 = 631.6.
    const [remedy] = offered(model, finding);
    expect(remedy!.title).toBe('Controller for 640 W at 12 V or more');
    expect(valuesOf([remedy!])).toEqual([{ maxPv_W: { 12: 640 } }]);
    // One that limits its own output only loses.
    const limits = hut((system) => {
      part.array(system).strings = [
        ['m', 'm'],
        ['m', 'm'],
        ['m', 'm'],
      ];
      Object.assign(part.controller(system), { maxPv_W: { 12: 500 }, limitsOutput: true });
    });
    expect(find(limits, 'pv.power')!.verdict).toBe('tight');
  });
  test('a string’s own fuse: the run that carries just it, what the array has in each, a plain figure', () => {
    const model = (runs: unknown[], array: object) =>
      hut((system) => {
        part.array(system).strings = [['m'], ['m']];
        Object.assign(part.array(system), array);
        system.runs = runs as never;
      });
    const fuse = (of: Model, index: number) => fuseOfString(of, { array: of.system.arrays![0]!, index });
    const cable = (id: string, strings: number[] | undefined, rating_A: number | null) => ({
      id,
      kind: 'pv',
      from: 'a',
      to: 'c',
      length_m: 5,
      size: '4mm2',
      ...(strings ? { strings } : {}),
      protection: { type: 'nh', rating_A },
    });
    const own = model([cable('p0', [0], 12), cable('p1', [1], 15)], {});
    expect([fuse(own, 0), fuse(own, 1)]).toMatchObject([
      { path: 'p0.protection.rating_A', ratings: [12], unread: false },
      { path: 'p1.protection.rating_A', ratings: [15], unread: false },
    ]);
    // A cable for both strings, or for all, fuses none of them alone.
    expect(fuse(model([cable('p', [0, 1], 20)], {}), 0).ratings).toEqual([]);
    expect(fuse(model([cable('p', undefined, 20)], {}), 0).ratings).toEqual([]);
    expect(fuse(model([], { stringProtection: { type: 'breaker', rating_A: 16 } }), 1).ratings).toEqual([16]);
    expect(fuse(model([], { stringFuse_A: 10 }), 1)).toMatchObject({
      path: 'a.stringProtection.rating_A',
      ratings: [10],
    });
    expect(fuse(model([cable('p0', [0], null)], {}), 0)).toMatchObject({ ratings: [], unread: true });
    expect(fuse(model([{ ...cable('p0', [0], null), protection: { type: 'none' } }], {}), 0).unread).toBe(false);
  });
  test('on the hottest noon what is left of the current at the bank’s volts: a volt above absorb for a tracker, half for pwm', () => {
    const hot = (type: 'mppt' | 'pwm') =>
      hut((system) => {
        part.controller(system).type = type;
        part.array(system).strings = [['m']];
        part.array(system).mounting = 'flush';
      });
    const [tracker, relay] = [find(hot('mppt'), 'pv.hot-voltage')!, find(hot('pwm'), 'pv.hot-voltage')!];
    expect(tracker.working[0]).toContain('and 15.58 V');
    expect(relay.working[0]).toContain('and 15.08 V');
    expect(relay.demand!).toBeGreaterThan(tracker.demand!);
    expect([tracker.limit, tracker.unit, tracker.sense]).toEqual([75, '%', 'min']);
  });
});

describe('the darkest month', () => {
  const month = (sources: System['sources'], use_W: number) =>
    hut((system, file) => {
      file.site.climate = {
        globalHorizontal_kWh_m2_d: [0.5, 1, 2, 3, 4, 5, 5, 4, 3, 2, 1, 0.4],
        meanTemp_C: Array(12).fill(10),
      };
      file.site.latitude_deg = 55;
      Object.assign(part.array(system), { tilt_deg: 45, azimuth_deg: 180 });
      system.loads = [{ id: 'l', label: 'L', kind: 'dc', power_W: use_W, hours_d: 10 }];
      if (sources) system.sources = sources;
    });
  const generator = { id: 'g', kind: 'generator', power_W: 1000 } as const;
  test('what a generator makes up is said in hours at four fifths of its watts, and lets the month off', () => {
    const bare = find(month([], 60), 'energy.worst-month')!;
    expect(bare.verdict).toBe('over');
    const helped = find(month([generator], 60), 'energy.worst-month')!;
    expect(helped.verdict).toBe('tight');
    const lacking = helped.limit! - helped.demand!;
    expect(helped.working.at(-1)).toContain(`${Number((lacking / 800).toPrecision(4))} h a day at most load`);
    // Half of what is used goes through the bank, which gives three quarters back: 600 x (0.5 + 0.5 / 0.75).
    expect(helped.limit!).toBeCloseTo(700, 9);
    // Where nothing lacks it is not spoken of.
    const enough = find(month([generator], 1), 'energy.worst-month')!;
    expect(enough.working.join()).not.toContain('generator');
  });
});

describe('the largest fuse for a conductor', () => {
  const of = (size: string, conductor: 'building' | 'metric' | 'vehicle') => {
    const model = hut((system, file) => {
      file.schools = { ...file.schools, conductor };
      system.runs = [{ id: 'r', kind: 'battery-inverter', from: 'b', length_m: 1, size, ambient_C: 30 }];
    });
    return largestFuse_A(createLedger(model), model.system.runs![0]!);
  };
  test('metric: the rating below what it carries; elsewhere the next above; small ones by the building’s cap', () => {
    for (const size of ['4mm2', '10mm2', '25mm2', '50mm2']) {
      const [below, above] = [of(size, 'metric'), of(size, 'building')];
      expect(FUSES_A).toContain(below);
      expect(FUSES_A).toContain(above);
    }
    expect([of('14AWG', 'building'), of('12AWG', 'building'), of('10AWG', 'building')]).toEqual([15, 20, 30]);
    // 4 AWG at 75 degC: 85 A, the next rating is 90.
    expect(of('4AWG', 'building')).toBe(90);
  });
});
