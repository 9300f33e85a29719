import {
  arrangementOf,
  bayOf,
  movedTo,
  quarterTurned,
  restingPlace,
  standSentences,
  standsOf,
  type Bank,
  type Bay,
  type System,
} from '../src/index';
import { hut, part } from './hut';

/** A bay of 700 x 400 x 400 mm with two blocks of 300 x 180 x 200 mm, and what stands beside them. */

const bankWith = (more: Partial<Bank> = {}): Bank => ({
  ...part.bank(hut().system),
  chemistry: 'lfp',
  series: 1,
  parallel: 2,
  place: { length_mm: 700, width_mm: 400, height_mm: 400 },
  block: { length_mm: 300, width_mm: 180, height_mm: 200 },
  stands: null,
  ...more,
});
type Body = NonNullable<NonNullable<System['inverters']>[number]['body']>;
const inverters = (body: Body): System['inverters'] => [
  { id: 'i', label: 'Inv', continuous_W: 1000, body: { inBay: true, ...body } },
];
const SMALL: Body = { length_mm: 150, width_mm: 100, height_mm: 100, air_mm: 50 };
const bayFor = (bank: Bank): Bay => {
  const bay = bayOf({ runs: [] }, bank);
  if (typeof bay === 'string') throw new Error(bay);
  return bay;
};
const arranged = (bank: Bank, body: Body | null) =>
  arrangementOf({ inverters: body ? inverters(body) : [] }, bank, bayFor(bank));
const said = (bank: Bank, body: Body | null) =>
  standSentences(
    arranged(bank, body),
    () => 'the inverter',
    (mm) => `${mm} mm`,
  );
const at = (partId: string, x_mm: number, y_mm: number, turned = false) => ({
  partId,
  x_mm,
  y_mm,
  turned,
  lies: null,
});

describe('what stands in a bay', () => {
  test('blocks as they go in, the inverter where nothing is wrong', () => {
    const { items, faults, left } = arranged(bankWith(), SMALL);
    expect(items.map(({ block }) => block)).toEqual([0, 1, null]);
    expect([faults, left]).toEqual([[], []]);
  });
  test('an inverter elsewhere takes no room; one that is not measured is not drawn', () => {
    expect(arranged(bankWith(), { ...SMALL, inBay: false }).items).toHaveLength(2);
    expect(arranged(bankWith(), { ...SMALL, height_mm: null }).items).toHaveLength(2);
  });
  test('no place left is said, and nothing is drawn over another', () => {
    const big: Body = { length_mm: 400, width_mm: 300, height_mm: 150 };
    expect(arranged(bankWith(), big)).toMatchObject({ left: ['i'], items: { length: 2 } });
    expect(said(bankWith(), big)).toEqual(['There is no place left for the inverter with air around it.']);
  });
  test('an inverter has no place in a bay with lead: hydrogen', () => {
    for (const chemistry of ['flooded', 'tubular', 'agm', 'gel'] as const)
      expect(said(bankWith({ chemistry }), SMALL)[0]).toMatch(/must not stand in a bay with lead batteries.*hydrogen/);
    expect(said(bankWith({ chemistry: 'nmc' }), SMALL)).toEqual([]);
  });
});

describe('how things stand', () => {
  const bank = (stands: Bank['stands'], more: Partial<Bank> = {}) => bankWith({ stands, ...more });
  const ID = bankWith().id;
  test('10 mm of air between blocks and to the walls: a millimetre less is told, the limit holds', () => {
    expect(said(bank([at(ID, 10, 10), at(ID, 320, 10)]), null)).toEqual([]);
    expect(said(bank([at(ID, 10, 10), at(ID, 319, 10)]), null)).toEqual(['Block 1 is 1 mm too near block 2.']);
    expect(said(bank([at(ID, 10, 9), at(ID, 320, 10)]), null)).toEqual(['Block 1 is 1 mm too near the wall.']);
    expect(said(bank([at(ID, 10, 10), at(ID, 391, 10)]), null)).toEqual(['Block 2 is 1 mm too near the wall.']);
    expect(said(bank([at(ID, 10, 10), at(ID, 320, 211)]), null)).toEqual(['Block 2 is 1 mm too near the wall.']);
  });
  test('blocks over one another are told by how far they must part', () => {
    expect(said(bank([at(ID, 10, 10), at(ID, 110, 10)]), null)).toEqual(['Block 1 is 190 mm too near block 2.']);
  });
  test('an inverter keeps its own air, beside blocks too', () => {
    const with_ = (x: number, y: number) => bank([at(ID, 10, 10), at(ID, 320, 10), at('i', x, y)]);
    expect(said(with_(400, 240), SMALL)).toEqual(['Block 2 cannot be taken out: the inverter stands in front of it.']);
    expect(said(with_(400, 239), SMALL)).toContain('Block 2 is 1 mm too near the inverter.');
    expect(said(with_(400, 251), SMALL)).toContain('the inverter is 1 mm too near the wall.');
    expect(said(with_(400, 240), { ...SMALL, height_mm: 351 })).toContain(
      'the inverter is 1 mm too tall for the bay with air above it.',
    );
    // 100 mm where its maker does not say more.
    expect(said(with_(400, 240), { ...SMALL, air_mm: null })).toContain('Block 2 is 50 mm too near the inverter.');
  });
  test('a block is taken out in front, or through the lid', () => {
    const stands = [at(ID, 10, 10), at(ID, 320, 10), at('i', 400, 240)];
    expect(said(bank(stands), SMALL)).toHaveLength(1);
    const lid = { length_mm: 700, width_mm: 400, height_mm: 400, opens: 'above' as const };
    expect(said(bank(stands, { place: lid }), SMALL)).toEqual([]);
    // Beside the way out it is in nobody's way.
    const beside = [at(ID, 10, 10), at(ID, 10, 210), at('i', 400, 240)];
    expect(said(bank(beside), SMALL)).toEqual([]);
  });
  test('a bay that opens above needs no room for a hand under its ceiling', () => {
    const low = (opens: 'front' | 'above' | null) =>
      bayFor(bankWith({ place: { length_mm: 700, width_mm: 400, height_mm: 220, opens } }));
    expect([low(null).hand, low('front').hand, low('above').hand]).toEqual([false, false, true]);
  });
  test('blocks of another number than were arranged stand as they go in', () => {
    const { items } = arranged(bank([at(ID, 300, 200)]), null);
    expect(items).toHaveLength(2);
    expect(items[0]).toMatchObject({ x_mm: 10, y_mm: 10 });
  });
  test('stored and read again it stands the same, turned and lying too', () => {
    const { items } = arranged(bankWith(), SMALL);
    const turned = quarterTurned(movedTo(items, 2, 401.4, 243), 2);
    expect(arranged(bank(standsOf(turned)), SMALL).items).toEqual(turned);
    const upright = bankWith({ place: { length_mm: 700, width_mm: 400, height_mm: 195 } });
    const lying = arranged(upright, null).items;
    expect(lying.map(({ lies }) => lies)).toEqual(['side', 'side']);
    expect(arranged({ ...upright, stands: standsOf(lying) }, null).items).toEqual(lying);
  });
});

describe('what is moved', () => {
  const { items } = arranged(bankWith(), SMALL);
  const bay = bayFor(bankWith());
  test('comes to rest at its air from a wall or another thing, else on the whole centimetre', () => {
    expect(restingPlace(items, 0, bay, [4, 214], 12)).toEqual([10, 210]);
    expect(restingPlace(items, 0, bay, [387, 77], 12)).toEqual([390, 80]);
    // 50 mm of air beside block 1, which ends at 310.
    expect(restingPlace(items, 2, bay, [366, 160], 8)[0]).toBe(360);
  });
  test('turned about its middle, and back where it was', () => {
    const turned = quarterTurned(items, 2)[2]!;
    expect(turned.x_mm + turned.along_mm / 2).toBeCloseTo(items[2]!.x_mm + items[2]!.along_mm / 2, 9);
    expect(quarterTurned(quarterTurned(items, 2), 2)).toEqual(items);
  });
});
