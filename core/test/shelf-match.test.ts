import { itemOfPlate, type StoredItem } from '../src/index';

const item = (id: string, body: object, kind = 'moduleTypes') => ({ id, kind, label: id, body }) as StoredItem;
const M100 = item('Marlin 100', { pmax_W: 100, voc_V: 22.4, isc_A: 6.1, vmp_V: 18.6, imp_A: 5.38 });
const M110 = item('Marlin 110', { pmax_W: 110, voc_V: 22.6, isc_A: 6.6, vmp_V: 18.8, imp_A: 5.85 });

describe('a plate is of an item on the shelf', () => {
  test('each figure the same within its rounding: 22.35 V on the plate is the sheet’s 22.4', () => {
    expect(itemOfPlate('moduleTypes', { pmax_W: 100, voc_V: 22.35, isc_A: 6.1 }, [M110, M100])).toBe(M100);
  });
  test('one figure that is another: not this item', () => {
    expect(itemOfPlate('moduleTypes', { pmax_W: 100, voc_V: 24.1, isc_A: 6.1 }, [M100, M110])).toBeNull();
  });
  test('one figure alone says nothing; nor do two items that it fits alike', () => {
    expect(itemOfPlate('moduleTypes', { pmax_W: 100 }, [M100])).toBeNull();
    expect(itemOfPlate('moduleTypes', { pmax_W: 100, voc_V: 22.4 }, [M100, { ...M100, id: 'twin' }])).toBeNull();
  });
  test('the more in common, the likelier', () => {
    const bare = item('bare', { pmax_W: 100, voc_V: 22.4 });
    expect(itemOfPlate('moduleTypes', { pmax_W: 100, voc_V: 22.4, isc_A: 6.1 }, [bare, M100])).toBe(M100);
  });
  test('of another kind it is not', () => {
    expect(itemOfPlate('controllers', { pmax_W: 100, voc_V: 22.4 }, [M100])).toBeNull();
  });
  test('words are compared as they are: an AGM battery is no gel battery', () => {
    const gel = item('Gel 100', { block_V: 12, blockCapacity_Ah: 100, chemistry: 'gel' }, 'bank');
    expect(itemOfPlate('bank', { block_V: 12, blockCapacity_Ah: 100, chemistry: 'agm' }, [gel])).toBeNull();
    expect(itemOfPlate('bank', { block_V: 12, blockCapacity_Ah: 100, chemistry: 'gel' }, [gel])).toBe(gel);
  });
});
