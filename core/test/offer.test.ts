import {
  compare,
  check,
  partsListOf,
  makeOffer,
  modelOf,
  numberOf,
  totalsWithTax,
  withSystem,
  type PartsList,
  type Proposal,
} from '../src/index';
import { hut } from './hut';

/** An offer is kept whole: what is signed does not follow the shelf. */

const proposal: Proposal = { id: 'p', title: 'A second module string' };
const before = hut();
const after = withSystem(before, {
  ...before.system,
  arrays: [
    {
      ...before.system.arrays![0]!,
      strings: [
        ['m', 'm'],
        ['m', 'm'],
      ],
    },
  ],
});
const offerAt = (price: number, more: object = {}) => {
  const partsList: PartsList = { ...partsListOf(before.system, after.system, []), totals: { EUR: price }, unpriced: 0 };
  const terms = { firm: 'Ferry Solar', tax_pct: 20, validity_d: 30, payment: '30 days', ...more };
  const result = compare(check(before), after);
  return makeOffer(before, after, { proposal, result, partsList, terms, at: '2026-12-01T10:00:00.000Z' });
};

test('tax is rounded once, on the sum; without tax the sum stands', () => {
  expect(totalsWithTax({ EUR: 99.99, GBP: 10 }, 19)).toEqual({
    EUR: { net: 99.99, tax: 19, gross: 118.99 },
    GBP: { net: 10, tax: 1.9, gross: 11.9 },
  });
  expect(totalsWithTax({ EUR: 10.005 }, null)).toEqual({ EUR: { net: 10.01, tax: 0, gross: 10.01 } });
  expect(totalsWithTax({}, 20)).toEqual({});
});
test('who offers what to whom, until when; what it fixes and leaves over in sentences; every line as it was', () => {
  const offer = offerAt(120);
  expect(offer).toMatchObject({
    firm: 'Ferry Solar',
    site: 'Hut',
    title: proposal.title,
    validUntil: '2026-12-31',
    tax_pct: 20,
  });
  expect(offer.lines.some(({ what }) => what === 'buy')).toBe(true);
  const result = compare(check(before), after);
  expect(offer.stillOver).toHaveLength(result.broken.length + result.worse.length + result.remaining.length);
  expect(offerAt(120, { validity_d: null }).validUntil).toBeNull();
});
test('another price, another line or another day is another number; the same offer has the same', () => {
  const number = numberOf(offerAt(120));
  expect(numberOf(offerAt(120))).toBe(number);
  expect(numberOf(offerAt(121))).not.toBe(number);
  expect(numberOf({ ...offerAt(120), stillOver: [] })).not.toBe(numberOf({ ...offerAt(120), stillOver: ['x'] }));
  expect(numberOf({ ...offerAt(120), at: '2026-12-02T10:00:00.000Z' })).not.toBe(number);
});
test('what has no price is counted, not taken for nothing', () => {
  const partsList: PartsList = partsListOf(before.system, after.system, []);
  expect(partsList.unpriced).toBeGreaterThan(0);
  const offer = makeOffer(
    before,
    modelOf({ format: 'true-lantern', version: 1, site: before.site, system: after.system }),
    {
      proposal,
      result: compare(check(before), after),
      partsList,
      terms: { firm: 'x' },
      at: '2026-12-01T10:00:00.000Z',
    },
  );
  expect(offer).toMatchObject({ unpriced: partsList.unpriced, totals: {}, payment: null, tax_pct: null });
});
