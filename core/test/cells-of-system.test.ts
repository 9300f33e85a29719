import { CHEMISTRIES } from '../src/chemistry/chemistry';
import { cellsOfSystem } from '../src/index';

/** Cells behind a voltage as people call it: what a resting voltage is divided by. */
test.each([
  ['flooded', 12, 6],
  ['agm', 24, 12],
  ['gel', 48, 24],
  ['lfp', 12, 4],
  ['lfp', 24, 8],
  ['lfp', 48, 16],
  // Seven cells of 3.7 V are 25.9 V, six would be 22.2 V: below what 24 V devices work at.
  ['nmc', 24, 7],
  ['nmc', 48, 14],
] as const)('%s, %d V: %d cells', (chemistry, volts, cells) => {
  expect(cellsOfSystem(volts, chemistry)).toBe(cells);
});

test('every chemistry has a count at every usual voltage', () => {
  for (const chemistry of CHEMISTRIES)
    for (const volts of [12, 24, 48]) expect(cellsOfSystem(volts, chemistry)).toBeGreaterThanOrEqual(3);
});
