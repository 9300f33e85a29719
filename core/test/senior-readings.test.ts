import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { expectedTests, judgedAlone, type Reading } from '../src/index';
import { open } from './open';

/** Readings that belong to no visit are judged too, as far as what was kept with them tells. */

const model = open(corrach);
const of = (quantity: string) =>
  expectedTests(model, { irradiance_W_m2: 900, irradianceBy: 'meter', ambient_C: 10 }).tests.find(
    (test) => test.quantity === quantity,
  )!;
const kept = (quantity: string, value: number, conditions: Reading['conditions']): Reading => {
  const { subject, position } = of(quantity);
  return { id: 'r', at: '2026-05-04T10:00:00Z', subject, quantity, value, position, conditions };
};
const light = { irradiance_W_m2: 900, irradianceBy: 'meter' as const, ambient_C: 10 };

describe('a reading without a visit', () => {
  const { expected, high } = of('stringIsc_A');
  it('in the light that was kept with it is inside where it should be, and outside where it is not', () => {
    expect(judgedAlone(model, kept('stringIsc_A', expected!, light))).toBe('inside');
    expect(judgedAlone(model, kept('stringIsc_A', high! * 1.5, light))).toBe('outside');
    expect(judgedAlone(model, kept('stringIsc_A', expected! / 2, light))).toBe('outside');
  });
  it('without its light says nothing', () =>
    expect(judgedAlone(model, kept('stringIsc_A', expected!, null))).toBeNull());
  it('of a bank at rest cannot be told inside from outside where nobody kept its charge', () => {
    const rested = { rested_h: 12, ambient_C: 10 };
    const { expected: volts } = of('rest_V');
    expect(judgedAlone(model, kept('rest_V', volts!, rested))).not.toBe('outside');
    // No charge of any bank of these volts reads half of it.
    expect(judgedAlone(model, kept('rest_V', volts! / 2, rested))).toBe('outside');
  });
});
