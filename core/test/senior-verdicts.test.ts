import { check, type Finding, type Model, type Run, type System } from '../src/index';
import { worstFirst } from '../src/rules/finding';
import { CONTROLLER, find, hut, hutRuns, part, wired } from './hut';

/** Verdicts as a senior gives them, each on a system that is bad in just that way and on one that is not. */

const run = (model: Model, rule: string, id: string) =>
  check(model).find((finding) => finding.rule === rule && finding.subject === id);
const withRun = (id: string, value: Partial<Run>, also: (system: System) => void = () => undefined) =>
  wired((system) => {
    system.runs = hutRuns().map((one) => (one.id === id ? { ...one, ...value } : one));
    also(system);
  });

describe('the current of a PV cable', () => {
  // One string of 6.5 A: 1.25 x Isc, and once more 1.25 in the building school alone.
  const asked = (conductor: 'building' | 'metric' | 'vehicle') => {
    const model = withRun('r3', { size: conductor === 'metric' ? '1.5mm2' : '14AWG' });
    model.schools.conductor = conductor;
    return run(model, 'run.ampacity', 'r3')?.demand;
  };
  it('is 1.5625 Isc in a building, 1.25 Isc elsewhere', () => {
    expect(asked('building')).toBeCloseTo(1.5625 * 6.5, 6);
    expect(asked('metric')).toBeCloseTo(1.25 * 6.5, 6);
    expect(asked('vehicle')).toBeCloseTo(1.25 * 6.5, 6);
  });
});

describe('a battery lead of which nobody said whether it runs in conduit', () => {
  // 6 AWG at 75 degC: 65 A in conduit, 95 A in free air. The inverter draws 111 A: over in both, 50 A holds in both.
  const lead = (watts: number, freeAir?: boolean) =>
    run(
      withRun(
        'r1',
        { size: '6AWG', insulation_C: 75, freeAir, protection: { type: 'strip', rating_A: 80 } },
        (system) => {
          system.inverters![0]!.continuous_W = watts;
        },
      ),
      'run.ampacity',
      'r1',
    );
  it('is asked where free air decides, and judged where it does not', () => {
    // 630 W / (.9 x 10 V) = 70 A, and a quarter on top: 87.5 A lies between 65 and 95.
    expect(lead(630)).toMatchObject({ verdict: 'unknown', missing: ['r1.freeAir'] });
    expect(lead(630, true)?.verdict).toBe('holds');
    expect(lead(630, false)?.verdict).toBe('over');
    expect(lead(1000)?.verdict).toBe('over');
    expect(lead(270)?.verdict).toBe('holds');
  });
});

test('insulation that nobody read is the worst that is sold: 70 degC metric, 75 in a vehicle', () => {
  const limit = (conductor: 'metric' | 'vehicle', size: string, insulation_C?: number) => {
    const model = withRun('r2', { size, insulation_C, terminal_C: 90, protection: { type: 'class-t', rating_A: 60 } });
    model.schools.conductor = conductor;
    return run(model, 'run.fuse-protects', 'r2')?.limit;
  };
  expect(limit('metric', '10mm2')).toBe(limit('metric', '10mm2', 70));
  expect(limit('vehicle', '8AWG')).toBe(limit('vehicle', '8AWG', 75));
  // 80 A of the 90 degC column, held by the 75 degC of its terminals: what was read counts where the ends bear it.
  expect(limit('metric', '10mm2', 90)).toBeGreaterThan(limit('metric', '10mm2') ?? Infinity);
});

describe('charging volts above what the cells bear', () => {
  const lithium = (absorb_V: number) =>
    hut((system) => {
      system.bank = { ...system.bank!, chemistry: 'lfp', block_V: 12.8, place: { space: 'living' } };
      system.controllers = [{ ...CONTROLLER, profiles: ['lfp', 'custom'], settings: { absorb_V } }];
    });
  // Four cells of 3.65 V: 14.6 V.
  it('are a danger on lithium, and stand before every other danger', () => {
    const findings = [...check(lithium(14.8))].sort(worstFirst);
    expect(findings[0]).toMatchObject({
      rule: 'settings',
      quantity: 'absorb_V',
      verdict: 'over',
      consequence: 'danger',
    });
    expect(find(lithium(14.2), 'settings', 'absorb_V')?.verdict).not.toBe('over');
  });
  it('are damage on lead', () => {
    const lead = hut((system) => (system.controllers = [{ ...CONTROLLER, settings: { absorb_V: 16.4 } }]));
    expect(find(lead, 'settings', 'absorb_V')).toMatchObject({ verdict: 'over', consequence: 'damage' });
  });
});

test('among dangers: cells, then nothing that interrupts, then far above a limit, then the rest', () => {
  const model = withRun('r1', { size: '16mm2', protection: { type: 'none' } }, (system) => {
    system.bank = { ...system.bank!, mixedChemistry: true };
  });
  const dangers = [...check(model)]
    .sort(worstFirst)
    .filter(({ verdict, consequence }) => verdict === 'over' && consequence === 'danger')
    .map(({ rule }) => rule);
  const at = (rule: (typeof dangers)[number]) => dangers.indexOf(rule);
  expect(at('bank.mixed')).toBe(0);
  expect(at('run.fuse-protects')).toBeGreaterThan(0);
  expect(at('run.ampacity')).toBeGreaterThan(at('run.fuse-protects'));
});

describe('a charger for another voltage', () => {
  const site = (output_V?: number) =>
    wired((system) => {
      system.chargers = [{ id: 'x', kind: 'mains', max_A: 30, ...(output_V && { output_V }) }];
      system.runs = [...hutRuns(), { id: 'rx', kind: 'charger', from: 'x', to: 'b', length_m: 2, size: '10mm2' }];
    });
  const demand = (output_V?: number) => find(site(output_V), 'bank.charge-max')?.demand ?? Number.NaN;
  it('is in no sum of the bank; within a quarter of its volts it is', () => {
    expect(demand() - demand(24)).toBeCloseTo(30, 6);
    expect(demand(14.4)).toBeCloseTo(demand(), 6);
  });
  it('is named by a note', () =>
    expect(check(site(24)).some(({ subject, verdict }) => subject === 'x' && verdict === 'note')).toBe(true));
});

describe('what an inlet is asked for', () => {
  const inlet = (inputLimit_A?: number) =>
    hut((system) => {
      system.sources = [{ id: 's', kind: 'inlet', ac_V: 230, inlet_A: 6 }];
      system.inverters = [
        {
          id: 'i',
          label: 'Inv',
          continuous_W: 2000,
          transfer: 'built-in',
          ...(inputLimit_A && { inputLimit_A }),
          charger: { max_A: 70 },
        },
      ];
      system.loads = [{ id: 'l', label: 'Kettle', kind: 'ac', power_W: 1500, hours_d: 0.2, inverterId: 'i' }];
    });
  it('is unknown where no limit is recorded and it would be over; with one it holds', () => {
    expect(find(inlet(), 'charger.input')).toMatchObject({ verdict: 'unknown', missing: ['i.inputLimit_A'] });
    expect(find(inlet(16), 'charger.input')?.verdict).toBe('over');
  });
});

describe('a controller that limits its own output', () => {
  // Two modules of 100 W at 12 V push 16.7 A.
  const clipping = (maxOutput_A: number, type: 'mppt' | 'pwm' = 'mppt', limitsOutput: boolean | null = null) => {
    const model = hut((system) => (system.controllers = [{ ...CONTROLLER, type, maxOutput_A, limitsOutput }]));
    model.schools.controllerOutput = 'plain';
    return find(model, 'pv.output-current')?.verdict;
  };
  it('may clip up to 1.15 of it, tight; more is over; what does not limit is over at once', () => {
    expect(clipping(200 / 12 / 1.14)).toBe('tight');
    expect(clipping(200 / 12 / 1.16)).toBe('over');
    // A pwm passes the array's 6.5 A whatever it is rated for.
    expect(clipping(6.5 / 1.1, 'pwm')).toBe('over');
    expect(clipping(6.5 / 1.1, 'pwm', true)).toBe('tight');
  });
});

describe('a start', () => {
  const surge = (type: 'electronic' | 'induction', softStart?: boolean) =>
    find(
      wired((system) => {
        system.loads = [
          {
            id: 'l',
            label: 'L',
            kind: 'ac',
            type,
            power_W: 500,
            hours_d: 1,
            inverterId: 'i',
            ...(softStart && { softStart }),
          },
        ];
      }),
      'inverter.surge',
    )?.demand;
  it('is five times a motor, twice one with a soft start, and none of a hob', () => {
    expect(surge('induction')).toBeCloseTo(2500, 6);
    expect(surge('induction', true)).toBeCloseTo(1000, 6);
    expect(surge('electronic')).toBeCloseTo(500, 6);
  });
});

test('a breaker below its current trips: an outage; an isolator burns: a danger', () => {
  const on = (kind: 'breaker' | 'isolator') =>
    check(
      wired((system) => {
        system.switches = [{ id: 'sw', runId: 'r1', kind, poles: 2, rating_A: 60, voltage_V: 60, interrupt_A: 10_000 }];
      }),
    ).find(({ rule, quantity }) => rule === 'switch.rating' && quantity === 'current');
  expect(on('breaker')).toMatchObject({ verdict: 'over', consequence: 'outage' });
  expect(on('isolator')).toMatchObject({ verdict: 'over', consequence: 'danger' });
});

describe('the health of a bank', () => {
  const health = (health_pct?: number, chemistry: 'flooded' | 'lfp' = 'flooded') =>
    find(
      hut((system) => {
        system.bank = { ...part.bank(system), chemistry, block_V: chemistry === 'lfp' ? 12.8 : 12, health_pct };
      }),
      'bank.health',
    );
  it('is judged where it was measured, and an age condemns nothing', () => {
    expect(health()).toBeUndefined();
    expect(health(95)?.verdict).toBe('holds');
    const worn = health(45) as Finding;
    expect(worn).toMatchObject({ verdict: 'over', consequence: 'outage' });
    expect(health(58)).toMatchObject({ consequence: 'life' });
  });
});
