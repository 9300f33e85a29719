import { checkSystemFile, handOver, type HandOver, type SystemFile } from '../src/index';
import { hut } from './hut';

/** What a customer is told must be true, safe for a hand without tools, and in words of no trade. */

type System = SystemFile['system'];
/** A hut with an inverter, its cables fused, nothing that opens them. */
const told = (change: (system: System) => void = () => undefined): HandOver => {
  const { site, schools, system } = hut((made) => {
    made.inverters = [{ id: 'inv', continuous_W: 1000, idle_W: 10 }];
    const run = (id: string, kind: 'pv' | 'controller-battery' | 'battery-inverter', from: string, to: string) => ({
      id,
      kind,
      from,
      to,
      size: '95mm2',
      length_m: 1,
      freeAir: true,
      protection: { type: 'class-t' as const, rating_A: 250, breaking_kA: 20 },
    });
    made.runs = [
      run('r-pv', 'pv', 'a', 'c'),
      run('r-cc', 'controller-battery', 'c', 'b'),
      run('r-inv', 'battery-inverter', 'b', 'inv'),
    ];
    Object.assign(made.bank!, {
      chemistry: 'lfp',
      block_V: 12.8,
      cells: 4,
      blockCapacity_Ah: 400,
      maxDischarge_A: 400,
    });
    made.bank!.place = { space: 'outbuilding', min_C: 10, max_C: 25, ventArea_cm2: 400 };
    change(made);
  });
  return handOver(checkSystemFile({ format: 'true-lantern', version: 1, site, schools, system }).file, 20_000);
};

test('in an emergency nobody is sent to a fuse, a plug under load or onto the roof', () => {
  for (const page of [told(), told((system) => void (system.switches = []))])
    expect(page.off.join(' ')).not.toMatch(/take out|fuse|unplug .*array|cover|posts|lead/i);
});

test('what has no switch is named as live; what has one is opened, the inverter before the sun, the bank last', () => {
  const none = told((system) => void (system.switches = []));
  expect(none.off).toEqual(expect.arrayContaining([expect.stringContaining('stay live in daylight') as string]));
  expect(none.off.join(' ')).toMatch('cannot be switched off altogether without tools');
  const some = told((system) => {
    const run = (kind: string) => system.runs!.find((one) => one.kind === kind)!.id;
    system.switches = [
      { id: 'pv-off', label: 'Sun switch', kind: 'isolator', runId: run('pv') },
      ...system
        .runs!.filter(({ kind, from, to }) => kind !== 'pv' && (from === system.bank!.id || to === system.bank!.id))
        .map(({ id }, i) => ({ id: `main-${i}`, label: `Main switch ${i}`, kind: 'isolator' as const, runId: id })),
    ];
  });
  const place = (words: string) => some.off.findIndex((line) => line.includes(words));
  expect(place('Sun switch')).toBeGreaterThan(place('Switch off'));
  expect(place('Main switch 0')).toBeGreaterThan(place('Sun switch'));
  expect(some.off.join(' ')).not.toMatch('without tools');
  expect(some.isolators.join(' ')).toMatch('Sun switch');
  expect(some.off.at(-1)).toMatch('Do not switch on again');
});

describe('what may run at once', () => {
  const kitchen = (watts: number) =>
    told((system) => {
      system.inverters = [{ id: 'inv', continuous_W: 2000, idle_W: 10 }];
      system.loads = [
        { id: 'kettle', label: 'Kettle', kind: 'ac', power_W: watts, hours_d: 0.2, quantity: 1 },
        { id: 'hob', label: 'Hob', kind: 'ac', power_W: 1500, hours_d: 0.3, quantity: 1 },
        { id: 'lamp', label: 'Lamp', kind: 'ac', power_W: 40, hours_d: 4, quantity: 1 },
      ];
    }).atOnce.join(' ');
  test('two that are too much together are said as one or the other, small ones never', () => {
    expect(kitchen(1200)).toMatch('Kettle or Hob, not both.');
    expect(kitchen(1200)).not.toMatch('Lamp');
    expect(kitchen(300)).not.toMatch('not both');
  });
  test('what is too much by itself is told, and never offered in a pair', () => {
    expect(kitchen(2600)).toMatch('Not Kettle: it needs more');
    expect(kitchen(2600)).not.toMatch('not both');
  });
  test('no more is promised than the bank can give, and nothing where that is not known', () => {
    const watts = (change: (bank: NonNullable<System['bank']>) => void) => {
      const page = told((system) => {
        system.loads = [{ id: 'kettle', label: 'Kettle', kind: 'ac', power_W: 900, hours_d: 0.2, quantity: 1 }];
        change(system.bank!);
      });
      return Number(/Up to (\d+) W/.exec(page.atOnce.join())?.[1] ?? 0);
    };
    const strong = watts((bank) => void (bank.maxDischarge_A = 400));
    const weak = watts((bank) => void (bank.maxDischarge_A = 40));
    expect(strong).toBeGreaterThan(2 * weak);
    expect(weak % 50).toBe(0);
  });
});

test('no flame by a battery that gasses, no charge in frost of lithium; neither of the other', () => {
  const flooded = told(
    (system) => void Object.assign(system.bank!, { chemistry: 'flooded', block_V: 6, cells: 3 }),
  ).never.join();
  const lithium = told(
    (system) => void Object.assign(system.bank!, { chemistry: 'lfp', block_V: 12.8, cells: 4 }),
  ).never.join();
  expect([/flame/.test(flooded), /freezing/.test(flooded)]).toEqual([true, false]);
  expect([/flame/.test(lithium), /freezing/.test(lithium)]).toEqual([false, true]);
});

test('what is over and can hurt is told to who hands over, before the page goes out', () => {
  const bare = told((system) => {
    for (const run of system.runs ?? []) run.protection = { type: 'none' };
  });
  expect(bare.open.length).toBeGreaterThan(0);
  expect(bare.open.join()).toMatch(/fuse/i);
});
