import { METRIC, type Units } from '@true-lantern/core/base';

const CHOICES: { readonly [K in keyof Units]: readonly Units[K][] } = {
  length: ['m', 'ft'],
  small: ['mm', 'in'],
  mass: ['kg', 'lb'],
  temperature: ['degC', 'degF'],
  size: ['mm2', 'AWG'],
};

/** A person's units out of a question's parameters; what is not said, or no unit, is metric. */
export function unitsOf(query: Record<string, unknown>): Units {
  const one = <K extends keyof Units>(name: K): Units[K] =>
    CHOICES[name].find((choice) => choice === query[name]) ?? METRIC[name];
  return {
    length: one('length'),
    small: one('small'),
    mass: one('mass'),
    temperature: one('temperature'),
    size: one('size'),
  };
}
