import { check, modelOf, type System, type SystemFile } from '../src/index';

/** Cautions by what is there: a caution that is wrong for the bank in front of somebody teaches him to skip them. */

const found = (chemistry: 'flooded' | 'agm' | 'lfp', more: object = {}) =>
  check(
    modelOf({
      format: 'true-lantern',
      version: 2,
      site: { name: 'Made up', recordLow_C: -5 },
      system: {
        nominal_V: 12,
        bank: {
          id: 'b',
          chemistry,
          block_V: chemistry === 'lfp' ? 12.8 : 12,
          blockCapacity_Ah: 200,
          rate_h: 20,
          series: 1,
          parallel: 1,
          place: { space: 'living' },
          ...more,
        },
      } as System,
    } as unknown as SystemFile),
  );
const cautions = (...of: Parameters<typeof found>) =>
  [...new Set(found(...of).flatMap((one) => one.cautions))].join(' ');

describe('cautions', () => {
  it('speak of hydrogen and acid at a flooded bank, and at no other', () => {
    expect(cautions('flooded')).toMatch(/hydrogen/);
    expect(cautions('agm')).not.toMatch(/hydrogen/);
    expect(cautions('lfp')).not.toMatch(/hydrogen/);
  });
  it('speak of charging in the cold at a lithium bank alone', () => {
    expect(cautions('lfp')).toMatch(/Never charge lithium/);
    expect(cautions('flooded')).not.toMatch(/lithium/);
  });
  it('speak of vehicle modules where they are salvaged', () => {
    expect(cautions('lfp')).not.toMatch(/Salvaged/);
    expect(cautions('lfp', { salvaged: true })).toMatch(/Salvaged/);
  });
});
