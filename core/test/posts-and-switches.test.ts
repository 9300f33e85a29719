import { createLedger, type Bank, type Model } from '../src/index';
import { sagBank_ohm, tableBlock_mohm } from '../src/bank/resistance';

/** What lies between the cells and the lugs, restated by hand from the book's section 4. */

const bank = (more: Partial<Bank>): Bank => ({
  id: 'b',
  chemistry: 'lfp',
  block_V: 12.8,
  blockCapacity_Ah: 100,
  series: 1,
  parallel: 1,
  health_pct: 100,
  link: { length_m: 0, size: '35mm2' },
  ...more,
});

describe('a short circuit meets the table\u2019s resistance and the posts', () => {
  test.each<[string, Partial<Bank>, number]>([
    // 6 cells x .10 ohm Ah / 100 Ah = 6 mohm and .2 of posts; a single cell's posts are .05.
    ['a lead block of 12 V', { chemistry: 'flooded', block_V: 12 }, 6.2],
    ['a lead cell of 2 V', { chemistry: 'flooded', block_V: 2, blockCapacity_Ah: 500 }, 0.25],
    // 4 x .045 / 100 Ah = 1.8 mohm and 1.0 of switch, leads and posts; a bare cell has none, salvaged ones neither.
    ['a lithium block', {}, 2.8],
    ['a lithium cell', { block_V: 3.2 }, 0.45],
    ['a salvaged module', { salvaged: true }, 1.8],
  ])('%s', (_, more, mohm) => expect(tableBlock_mohm(bank(more))).toBeCloseTo(mohm, 9));
});

describe('a protection circuit adds 1.5 mohm', () => {
  const ohm = (more: Partial<Bank>) => {
    const whole = bank(more);
    const model: Model = { site: { name: 'S', kind: 'hut' }, schools: {}, system: { bank: whole }, evidence: {} };
    return sagBank_ohm(createLedger(model), whole, false);
  };
  const added_mohm = (more: Partial<Bank>, cells: number) =>
    1000 * (ohm({ ...more, protection: { cells } }) - ohm({ ...more, protection: null }));
  test('in each block; once where one circuit guards the whole string, and over single cells', () => {
    expect(added_mohm({ series: 2 }, 4)).toBeCloseTo(3, 9);
    expect(added_mohm({ series: 2 }, 8)).toBeCloseTo(1.5, 9);
    expect(added_mohm({ series: 4, block_V: 3.2 }, 4)).toBeCloseTo(1.5, 9);
    expect(added_mohm({ series: 1 }, 4)).toBeCloseTo(1.5, 9);
  });
  test('strings side by side share it', () => expect(added_mohm({ series: 1, parallel: 3 }, 4)).toBeCloseTo(0.5, 9));
});
