import { candidates, specify, type ShelfItem } from '../src/index';
import { hut, wired } from './hut';

/** Parts of a shelf put in the place of one that goes: what meets, what nearly does, in which order and at what price. */

const controller = (label: string, more: object = {}, price: number | null = null): ShelfItem => ({
  kind: 'controllers',
  label,
  price,
  currency: 'GBP',
  body: {
    type: 'mppt',
    maxPv_V: 150,
    maxPv_A: 40,
    maxOutput_A: 60,
    maxPv_W: { '12': 800 },
    minBattery_V: 8,
    maxBattery_V: 64,
    startAbove_V: 5,
    limitsOutput: true,
    temperatureSensor: true,
    selfUse_W: 1,
    profiles: ['flooded', 'custom'],
    ...more,
  },
});
const labels = (list: readonly { item: ShelfItem }[]) => list.map(({ item }) => item.label);

describe('a controller', () => {
  const model = wired();
  const spec = specify(model, 'c')!;
  const of = (...shelf: ShelfItem[]) => candidates(model, spec, shelf);
  test('what meets every line, the cheapest first; without a price last, then by name', () => {
    const { meet, nearly, others } = of(
      controller('B none'),
      controller('Dear', {}, 300),
      controller('A none'),
      controller('Cheap', {}, 100),
    );
    expect(labels(meet)).toEqual(['Cheap', 'Dear', 'A none', 'B none']);
    expect(meet.map(({ price }) => price)).toEqual([100, 300, null, null]);
    expect([nearly, others]).toEqual([[], 0]);
  });
  test('nearly: up to two lines short, fewer that fail before more, fewer not stated before more; the rest is counted', () => {
    const found = of(
      controller('fails two', { maxPv_V: 40, maxPv_A: 5 }, 1),
      controller('fails one', { maxPv_A: 5 }, 9),
      controller('one not stated', { maxPv_A: null }, 9),
      controller('two not stated', { maxPv_A: null, maxPv_V: null }, 1),
      controller('fails one, one not stated', { maxPv_A: 5, maxPv_V: null }, 1),
      controller('fails three', { maxPv_V: 40, maxPv_A: 5, maxOutput_A: 5 }, 1),
      controller('three not stated', { maxPv_V: null, maxPv_A: null, maxOutput_A: null }, 1),
    );
    expect(labels(found.meet)).toEqual([]);
    expect(labels(found.nearly)).toEqual([
      'one not stated',
      'two not stated',
      'fails one',
      'fails one, one not stated',
      'fails two',
    ]);
    // One without its output is no controller that a file could hold: it is not counted.
    expect(found.others).toBe(1);
  });
  test('how far it is, is told from nothing to all', () => {
    const told: number[] = [];
    candidates(model, spec, [controller('A'), controller('B'), { ...controller('C'), kind: 'monitor' }], (share) =>
      told.push(share),
    );
    expect(told).toEqual([0, 0.5]);
  });
});

describe('prices', () => {
  test('a cable by the metres that are cut of it, both ways', () => {
    const model = wired();
    const spec = specify(model, 'r2', 'cable')!;
    const cable = (price: number | null): ShelfItem => ({
      kind: 'cable',
      label: 'C',
      price,
      currency: 'GBP',
      body: { size: '25mm2', insulation_C: 90, material: 'copper' },
    });
    const priced = (price: number | null) => {
      const { meet, nearly } = candidates(model, spec, [cable(price)]);
      return [...meet, ...nearly][0]?.price;
    };
    // 3 m one way: there and back, and a tenth more.
    expect(priced(1)).toBeCloseTo(6.6, 9);
    expect(priced(2)).toBeCloseTo(13.2, 9);
    expect([priced(null), priced(0)]).toEqual([null, 0]);
  });
  test('blocks by their number: 24 V of 6 V blocks are four, and a whole string more where one is too little', () => {
    const model = hut((system) => {
      system.nominal_V = 24;
      system.bank = { ...system.bank!, block_V: 12, series: 2 };
      system.controllers![0]!.maxBattery_V = 64;
    });
    const spec = specify(model, 'b')!;
    const block: ShelfItem = {
      kind: 'bank',
      label: 'Six',
      price: 100,
      currency: 'GBP',
      body: { chemistry: 'flooded', block_V: 6, blockCapacity_Ah: 220, rate_h: 20, cells: 3 },
    };
    const { meet, nearly } = candidates(model, spec, [block]);
    const [one] = [...meet, ...nearly];
    expect(one!.grouping).toMatchObject({ series: 4 });
    expect(one!.price).toBe(100 * 4 * one!.grouping!.parallel);
  });
});

describe('another battery that is joined', () => {
  const joined = (joinedBy: string | null) =>
    specify(
      wired((system) => {
        system.otherBanks = [{ id: 'o', role: 'starter', chemistry: 'flooded', nominal_V: 12, joinedBy } as never];
      }),
      'o',
    )!.lines.map(({ label }) => label);
  test.each(['none', 'dc-dc', null])('by %s: there is nothing to change', (by) =>
    expect(joined(by)).toEqual(['Nothing connects it to the bank']),
  );
  test.each(['relay', 'diode', 'switch'])('by a %s: a charger between the two', (by) =>
    expect(joined(by).length).toBeGreaterThan(3),
  );
});
