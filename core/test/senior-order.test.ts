import { checkSystemFile, modelOf, withChecked, workOf, type Change, type Model, type SystemFile } from '../src/index';
import { hut } from './hut';
import { CABIN, VAN } from '../src/faults/made-up';
import type { Step } from '../src/work-order/order';

/** An order of work as a careful senior technician reads it: what is live, what parts it, what hands touch and when. */

const open = (
  file: SystemFile,
  change: (system: NonNullable<SystemFile['system']>) => void = () => undefined,
): Model => {
  const copy = structuredClone(file);
  change(copy.system);
  return modelOf(checkSystemFile(copy).file);
};
const ordered = (model: Model, changes: Change[]) => workOf(model, withChecked(model, changes));
const set = (at: string, id: string, value: object): Change => ({ op: 'set', at, id, value });
const of = (steps: readonly Step[], act: string) => steps.filter((step) => step.act === act);
const text = (steps: readonly Step[], act: string) =>
  of(steps, act)
    .map((step) => step.text)
    .join(' | ');

/** A hut of known cables: posts to inverter, posts to controller, array to controller. */
const wired = (change: (system: NonNullable<SystemFile['system']>) => void = () => undefined): Model =>
  hut((system) => {
    system.inverters = [{ id: 'inv', label: 'Old inverter', continuous_W: 1500, lowCutoff_V: 10.5, idle_W: 10 }];
    system.runs = [
      {
        id: 'r-inv',
        kind: 'battery-inverter',
        label: 'Inverter cable',
        from: 'b',
        to: 'inv',
        length_m: 1.5,
        size: '50mm2',
        freeAir: true,
        protection: { type: 'class-t', rating_A: 200, voltage_V: 125, fromSource_m: 0.1 },
      },
      {
        id: 'r-cc',
        kind: 'controller-battery',
        label: 'Controller cable',
        from: 'c',
        to: 'b',
        length_m: 2,
        size: '16mm2',
        freeAir: true,
        protection: { type: 'terminal', rating_A: 60, voltage_V: 58, fromSource_m: 0.1 },
      },
    ];
    change(system);
  });
const another = set('inverters', 'inv', { label: 'New inverter', continuous_W: 2000 });

describe('what stays live beside the work', () => {
  const van = open(VAN);
  const { steps } = ordered(van, [set('inverters', van.system.inverters![0]!.id, { continuous_W: 3456 })]);
  test('the starter battery is parted at its own end, proved dead and capped, each a step of its own', () => {
    const other = van.system.otherBanks![0]!.id;
    const own = steps.filter(({ parts }) => parts.includes(other));
    expect(own.map(({ act }) => act)).toEqual(expect.arrayContaining(['engine-off', 'prove-dead', 'cap']));
    const parted = own.find(({ key }) => key === `engine-off:${other}`)!;
    expect(parted.text).toMatch(/take out the .* fuse|open |off the posts/);
    const strip = of(steps, 'strip')[0]!;
    expect(parted.n).toBeLessThan(strip.n);
    expect(own.find(({ key }) => key === `cap:${other}`)!.n).toBeLessThan(strip.n);
  });
  test('a system without another battery has no such step', () => {
    const cabin = open(CABIN);
    const plain = ordered(cabin, [set('inverters', cabin.system.inverters![0]!.id, { continuous_W: 3456 })]);
    expect(plain.steps.filter(({ key }) => key.startsWith('cap:'))).toEqual([]);
  });
});

describe('what parts the bank is named from the file', () => {
  test('fuses one by one, where there is no switch; never a main fuse that nobody recorded', () => {
    const said = text(ordered(wired(), [another]).steps, 'bank-off');
    expect(said).toContain('class T fuse of 200 A of Inverter cable');
    expect(said).toContain('terminal fuse of 60 A of Controller cable');
    expect(said).not.toMatch(/main fuse/);
  });
  test('a switch before a fuse; a breaker recorded as protection by its handle', () => {
    const model = wired((system) => {
      system.switches = [{ id: 'iso', kind: 'isolator', label: 'Red isolator', runId: 'r-inv' }];
      system.runs![1]!.protection = { type: 'breaker', rating_A: 63, voltage_V: 60 };
    });
    const said = text(ordered(model, [another]).steps, 'bank-off');
    expect(said).toContain('open Red isolator');
    expect(said).toContain('open the DC breaker of 63 A of Controller cable');
    expect(said).not.toContain('class T');
  });
  test('behind a bar all that leave it, where each has a handle', () => {
    const model = wired((system) => {
      system.distribution = [{ id: 'bar', label: 'Bar', circuits: ['r-inv', 'r-cc'] }];
      Object.assign(system.runs![0]!, { from: 'bar' });
      Object.assign(system.runs![1]!, { to: 'bar' });
      system.runs!.push({
        id: 'r-main',
        kind: 'link',
        label: 'Main',
        from: 'b',
        to: 'bar',
        length_m: 0.5,
        size: '70mm2',
        protection: { type: 'none' },
      });
      system.switches = [
        { id: 's1', kind: 'isolator', label: 'Handle one', runId: 'r-inv' },
        { id: 's2', kind: 'breaker', label: 'Handle two', runId: 'r-cc' },
      ];
    });
    const said = text(ordered(model, [another]).steps, 'bank-off');
    expect(said).toContain('Handle one');
    expect(said).toContain('Handle two');
    // One of them without a handle leaves the bar joined: then the lug on the post.
    model.system.switches = [model.system.switches![0]!];
    expect(text(ordered(model, [another]).steps, 'bank-off')).toMatch(/off the posts/);
  });
});

describe('what parts the arrays', () => {
  const pv = (protection: object, switches: object[] = []) =>
    wired((system) => {
      system.runs!.push({
        id: 'r-pv',
        kind: 'pv',
        label: 'Array cable',
        from: 'a',
        to: 'c',
        length_m: 8,
        size: '6mm2',
        protection,
      });
      system.switches = switches as never;
    });
  test('breakers on the ground before covers on the roof', () => {
    const { steps } = ordered(pv({ type: 'breaker', rating_A: 20, voltage_V: 250 }), [another]);
    expect(text(steps, 'pv-off')).toContain('pen the DC breaker of 20 A of Array cable');
    expect(text(steps, 'pv-off')).not.toContain('cover');
    expect(text(steps, 'pv-on')).toContain('close the DC breaker of 20 A');
  });
  test('plugs are parted at no current, never opened like a switch; on again they are plugged in, and covers come off', () => {
    const { steps } = ordered(pv({ type: 'none' }, [{ id: 'plug', kind: 'plug', label: 'Roof plug', runId: 'r-pv' }]), [
      another,
    ]);
    expect(text(steps, 'pv-off')).toMatch(/cover all modules, then unplug Roof plug at no current/);
    expect(text(steps, 'pv-on')).toMatch(/plug Roof plug in/);
    const bare = ordered(pv({ type: 'none' }), [another]).steps;
    expect(text(bare, 'pv-off')).toContain('cover all modules');
    expect(text(bare, 'pv-on')).toContain('take the covers off');
  });
});

describe('what is fitted', () => {
  test('a cable of the bank begins at its far end, and comes to the posts last, after torque', () => {
    const { steps } = ordered(wired(), [set('runs', 'r-inv', { size: '70mm2' })]);
    const fit = of(steps, 'fit').find(({ parts }) => parts.includes('r-inv'))!;
    expect(fit.text).toContain('70 mm2, 1.5 m one way');
    expect(fit.text).toMatch(/Far end first; leave the bank end off its post and its fuse out/);
    const torques = of(steps, 'torque');
    expect(torques.map(({ key }) => key)).toEqual(['torque', 'torque:posts']);
    expect(torques[1]!.text).toMatch(/Last of all, at the bank/);
    expect(torques[1]!.n).toBeLessThan(of(steps, 'bank-on')[0]!.n);
  });
  test('another inverter on the same cable and fuse: landed again, nothing cut, nothing to the recycler', () => {
    const work = ordered(wired(), [another]);
    expect(work.cuts).toEqual([]);
    expect(work.removed.map(({ id }) => id)).toEqual(['inv']);
    expect(of(work.steps, 'fit').find(({ parts }) => parts.includes('r-inv'))!.text).toMatch(
      /^Reconnect the same cable/,
    );
    expect(work.kit.some(({ what }) => /cable|Lug/i.test(what))).toBe(false);
  });
  test('a cable moved to another device is landed there', () => {
    const model = wired((system) => {
      system.inverters!.push({ id: 'inv2', label: 'Other', continuous_W: 800 });
    });
    const work = ordered(model, [set('runs', 'r-inv', { to: 'inv2' })]);
    expect(work.cuts).toEqual([]);
    expect(work.removed).toEqual([]);
  });
  test('a monitor that counts what passed it by: a step a negative, a bar, lugs', () => {
    const work = ordered(wired(), [
      { op: 'add', at: 'monitor', value: { id: 'mon', label: 'Shunt', shunt_A: 500 } },
      set('runs', 'r-inv', { negativeThroughShunt: true }),
      set('runs', 'r-cc', { negativeThroughShunt: true }),
    ]);
    const moved = of(work.steps, 'fit').filter(({ text: each }) => each.startsWith('Move the negative'));
    expect(moved.map(({ parts }) => parts[0]).sort()).toEqual(['r-cc', 'r-inv']);
    expect(work.kit.map(({ what }) => what).join()).toMatch(/Negative bus bar/);
    expect(
      work.kit
        .filter(({ what }) => what.startsWith('Lugs'))
        .map(({ what }) => what)
        .join(),
    ).toMatch(/50 mm2.*16 mm2|16 mm2.*50 mm2/);
    expect(work.cuts).toEqual([]);
  });
  test('an external transfer switch is work, by a licensed person', () => {
    const work = ordered(wired(), [set('inverters', 'inv', { transfer: 'external' })]);
    expect(work.kit.map(({ what }) => what).join()).toMatch(/transfer switch/i);
    expect(of(work.steps, 'fit').find(({ parts }) => parts.includes('inv'))).toMatchObject({ licensed: true });
  });
  test('what the customer plugs in is not in the kit', () => {
    const work = ordered(wired(), [
      {
        op: 'add',
        at: 'loads',
        value: { id: 'coffee', label: 'Coffee machine', kind: 'ac', power_W: 900, hours_d: 0.2 },
      },
      set('runs', 'r-inv', { size: '70mm2' }),
    ]);
    expect(work.kit.map(({ what }) => what).join()).not.toMatch(/Coffee/);
  });
});

describe('lithium that is joined', () => {
  const packs = (parallel: number) => ({
    chemistry: 'lfp',
    block_V: 12.8,
    cells: 4,
    blockCapacity_Ah: 100,
    series: 1,
    parallel,
    tapping: 'busbar',
    link: { length_m: 0.5, size: '35mm2' },
    maxDischarge_A: 100,
    maxCharge_A: 50,
    stringFuse: { type: 'class-t', rating_A: 110, voltage_V: 125, fromSource_m: 0 },
  });
  const lithium = (parallel: number) => wired((system) => void Object.assign(system.bank!, packs(parallel)));
  test('new packs are charged alone before the visit, at the workshop', () => {
    const steps = ordered(lithium(1), [set('bank', 'b', { ...packs(3), age_y: 0 })]).steps;
    const alone = of(steps, 'charge-alone');
    expect(alone.map(({ phase }) => phase)).toEqual(['tell', 'fit']);
    expect(alone[0]!.text).toMatch(/^Before the visit, at the workshop: charge each of the 2 new packs separately/);
    // The one that is in service is parted before it is charged by itself.
    expect(alone[1]!.text).toMatch(/^Disconnect the pack in service/);
  });
});

describe('a proposal that leaves a danger', () => {
  // The inverter's cable without any fuse: the order must not join the bank to it.
  const bad = wired((system) => void (system.runs![0]!.protection = { type: 'none' }));
  const { steps } = ordered(bad, [set('runs', 'r-cc', { size: '25mm2' })]);
  test('opens with it, and asks who answers for it', () => {
    expect(steps[0]).toMatchObject({ act: 'tell', asksReason: true });
    expect(steps[0]!.text).toMatch(/Who takes responsibility/);
    expect(steps.slice(1).every(({ after }) => after.length > 0)).toBe(true);
  });
  test('the bank is not joined', () => expect(of(steps, 'bank-on').map(({ withheld }) => withheld)).toEqual([true]));
  test('a sound proposal opens with telling people, and withholds nothing', () => {
    const sound = open(CABIN);
    const plain = ordered(sound, [set('inverters', sound.system.inverters![0]!.id, { idle_W: 7 })]).steps;
    expect(plain.some(({ asksReason, withheld }) => asksReason || withheld)).toBe(false);
  });
  test('a damage asks for the reason alone', () => {
    const high = wired((system) => {
      system.controllers![0]!.maxPv_V = 50;
      system.arrays![0]!.strings = [['m', 'm', 'm']];
    });
    const found = ordered(high, [
      set('runs', 'r-inv', { protection: { type: 'class-t', rating_A: 225, voltage_V: 125 } }),
    ]).steps;
    const dangers = found.filter(({ withheld }) => withheld);
    expect(found[0]!.asksReason).toBe(true);
    expect(dangers.filter(({ act }) => act === 'pv-on')).toEqual([]);
  });
});
