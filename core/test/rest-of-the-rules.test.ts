import { OBSERVED, type Finding, type System, type SystemFile } from '../src/index';
import { find, hut } from './hut';

/** Rules that the other files leave out: both sides of the threshold, the unknown, and a figure by hand. */
const one = (rule: string, change: (system: System, file: SystemFile) => void = () => undefined): Finding | undefined =>
  find(hut(change), rule);
const cable = (over: object) => (system: System) => {
  system.runs = [
    { id: 'r', kind: 'controller-battery', from: 'c', to: 'b', length_m: 2, size: '16mm2', ...over } as never,
  ];
};

describe('what is left of a hot array', () => {
  test('two modules of 16.4 V into 12 V lose nothing; one, hot, on pwm loses most', () => {
    expect(one('pv.hot-voltage')).toMatchObject({ verdict: 'holds' });
    const poor = one('pv.hot-voltage', (system) => {
      system.arrays![0]!.strings = [['m']];
      system.moduleTypes![0]!.vmp_V = 14.2;
      system.moduleTypes![0]!.voc_V = 17.4;
      system.moduleTypes![0]!.pmax_W = 87;
    });
    expect(poor?.verdict).toBe('over');
    expect(poor?.demand ?? 100).toBeLessThan(75);
  });
  test('without the record high nothing is said', () =>
    expect(one('pv.hot-voltage', (_, { site }) => void (site.recordHigh_C = null))?.missing).toContain(
      'site.recordHigh_C',
    ));
});

describe('what pwm throws away', () => {
  const pwm = (strings: string[][]) => (system: System) => {
    system.controllers![0]!.type = 'pwm';
    system.arrays![0]!.strings = strings;
  };
  test('one 36-cell-like module suits 12 V; two in series waste about half', () => {
    expect(one('pv.pwm-waste', pwm([['m']]))?.verdict).not.toBe('over');
    // By hand: at twice the volts the battery takes half of them.
    const waste = one('pv.pwm-waste', pwm([['m', 'm']]));
    expect(waste?.verdict).toBe('over');
    expect(waste?.demand ?? 0).toBeGreaterThan(45);
    expect(waste?.demand ?? 0).toBeLessThan(62);
  });
  test('an mppt controller wastes nothing that way', () => expect(one('pv.pwm-waste')).toBeUndefined());
});

describe('inverter', () => {
  const inverter = (more: object) => (system: System) => {
    system.inverters = [{ id: 'i', continuous_W: 500, ...more }];
  };
  test('its charger without a profile for this chemistry is over; custom is tight until its volts are read', () => {
    const profile = (profiles: string[], settings: object = {}) =>
      one('inverter.profile', inverter({ charger: { max_A: 20, profiles, settings } }))?.verdict;
    expect(profile(['agm'])).toBe('over');
    expect(profile(['flooded'])).toBe('holds');
    expect(profile(['custom'])).toBe('tight');
    expect(profile(['custom'], { absorb_V: 14.6 })).toBe('holds');
    expect(one('inverter.profile', inverter({ charger: { max_A: 20 } }))?.verdict).toBe('unknown');
  });
  test('idling against the harvest: 100 W of modules, 2 kWh/m2 level everywhere; unknown without the idle watts', () => {
    const site = (idle_W: number | null) => (system: System, file: SystemFile) => {
      inverter({ idle_W })(system);
      Object.assign(file.site, {
        latitude_deg: 0,
        climate: { globalHorizontal_kWh_m2_d: new Array(12).fill(2) },
      });
      Object.assign(system.arrays![0]!, { tilt_deg: 0, azimuth_deg: 180 });
    };
    // 200 W x 2 h x 0.77 = 308 Wh a day, flat on the level; 20 % of that is 61.6 Wh, so 2.57 W the day round.
    const at = (watts: number) => one('inverter.idle', site(watts));
    expect(at(2.5)?.demand).toBeCloseTo((100 * 60) / 308, 0);
    expect(at(2.5)?.verdict).toBe('tight');
    expect(at(2.7)?.verdict).toBe('over');
    expect(at(1.2)?.verdict).toBe('holds');
    expect(one('inverter.idle', site(null))?.missing).toContain('i.idle_W');
  });
});

describe('left alone', () => {
  const away =
    (days: number, idle_W: number | null = 5) =>
    (system: System, file: SystemFile) => {
      file.site.layup_d = days;
      file.site.livingSpace = true;
      system.bank!.place = { space: 'living', min_C: 25 };
      system.inverters = [{ id: 'i', continuous_W: 500, idle_W }];
    };
  test('200 Ah at 12 V, half of it, a tenth more when drawn slowly: 1320 Wh; 5 W and 5 % a month draw 124 Wh a day', () => {
    // 12 x 200 x 1.1 x 0.5 = 1320 Wh; 5 x 24 + 2400 x 0.05 / 30 = 124 Wh a day: 10.6 days.
    const finding = one('energy.layup', away(8));
    expect(finding?.limit).toBeCloseTo(1320 / 124, 1);
    expect(finding?.verdict).toBe('holds');
    expect(one('energy.layup', away(9))?.verdict).toBe('tight');
    expect(one('energy.layup', away(11))?.verdict).toBe('over');
    expect(one('energy.layup', away(9, null))?.missing).toContain('i.idle_W');
    expect(one('energy.layup')).toBeUndefined();
  });
});

describe('cables', () => {
  test('the controller reads the drop as volts of the bank: by hand 0.05 V a cell at full current', () => {
    // Push 200 W / 12 V = 16.7 A; 16 mm2: 1.21 mohm/m x 1.118 x 2 x L. Six cells: 0.30 V is the most.
    const drop = (length_m: number) => (16.667 * 2 * 1.21e-3 * 1.1179 * length_m) / 6;
    const at = (length_m: number, more: object = {}) => one('run.charge-sense', cable({ length_m, ...more }));
    expect(at(4)?.demand).toBeCloseTo(drop(4), 3);
    expect(at(4)?.verdict).toBe('holds');
    expect(at(6)?.verdict).toBe('tight');
    expect(at(8)?.verdict).toBe('over');
    expect(at(8, { remoteSense: true })?.verdict ?? 'none').not.toBe('over');
  });
  test('two joints pass, a third is noted', () => {
    expect(one('run.joints', cable({ joints: 2 }))).toBeUndefined();
    expect(one('run.joints', cable({ joints: 3 }))?.verdict).toBe('note');
  });
  test('a fuse below another wants to be the smaller by 1.6', () => {
    const fused = (rating_A: number) => (system: System) => {
      system.distribution = [{ id: 'box', circuits: ['r'] }];
      system.loads = [{ id: 'l', label: 'Lamp', kind: 'dc', power_W: 10, hours_d: 1 }];
      system.runs = [
        {
          id: 'feed',
          kind: 'dc-load',
          from: 'b',
          to: 'box',
          length_m: 1,
          size: '16mm2',
          protection: { type: 'terminal', rating_A: 80 },
        },
        {
          id: 'r',
          kind: 'dc-load',
          from: 'box',
          to: 'l',
          length_m: 1,
          size: '4mm2',
          protection: { type: 'blade', rating_A },
        },
      ] as never;
    };
    expect(one('run.selectivity', fused(50))?.verdict).toBe('holds');
    expect(one('run.selectivity', fused(60))?.verdict).toBe('note');
  });
  test('a cable between two batteries is fused at both ends, or said not to be', () => {
    const dcdc = (farProtection: object | null) => (system: System) => {
      system.chargers = [{ id: 'd', kind: 'dc-dc', max_A: 20, input_V: 12 } as never];
      system.otherBanks = [{ id: 'start', role: 'starter', chemistry: 'flooded', nominal_V: 12 } as never];
      system.runs = [
        { id: 'r', kind: 'charger', from: 'start', to: 'd', length_m: 3, size: '10mm2', farProtection } as never,
      ];
    };
    expect(one('run.both-ends', dcdc({ type: 'none' }))?.verdict).toBe('over');
    expect(one('run.both-ends', dcdc({ type: 'strip', rating_A: 40 }))?.verdict).toBe('holds');
    expect(one('run.both-ends', dcdc(null))?.verdict).toBe('unknown');
  });
});

test('above 120 V of modules a hand may touch what kills: noted; below it is not', () => {
  const series = (count: number) => (system: System) => {
    system.arrays![0]!.strings = [Array.from({ length: count }, () => 'm')];
  };
  // 20 V x (1 + 0.003 x 40) = 22.4 V each: five are 112 V, six are 134.4 V.
  expect(one('dc.touch', series(5))).toBeUndefined();
  expect(one('dc.touch', series(6))?.verdict).toBe('note');
});

describe.each(Object.keys(OBSERVED))('what only eyes can tell: %s', (name) => {
  const seen = (answer: string | null) =>
    one(`observed.${name}`, (_, { site }) => void (site.observations = answer ? { [name]: answer as never } : {}))
      ?.verdict;
  test('yes holds, no speaks, not seen is not a pass', () => {
    const advice = ['surgeArrester', 'gasDetector', 'smokeDetector'].includes(name);
    expect(seen('yes') ?? 'holds').toBe('holds');
    expect(seen('no')).toBe(advice ? 'note' : 'over');
    expect(seen('cannot-see') ?? 'none').not.toBe('holds');
    expect(seen(null) ?? 'none').not.toBe('holds');
  });
});
