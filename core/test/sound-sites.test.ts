import { check, modelInState, modelOf, readSystemFile, type Finding, type SystemFile } from '../src/index';
import { CABIN, HOUSE, VAN } from '../src/faults/made-up';

/** A sound system stays quiet: ten false alarms and nobody reads the eleventh. */

const loud = (findings: readonly Finding[]) =>
  findings
    .filter(({ verdict }) => verdict === 'over' || verdict === 'unknown')
    .map(({ rule, subject, quantity, verdict, demand, limit, missing }) =>
      [verdict, rule, subject, quantity, demand, limit, ...missing].join(' '),
    );

describe.each<[string, SystemFile]>([
  ['a van', VAN],
  ['a cabin', CABIN],
  ['a house', HOUSE],
])('%s', (_, source) => {
  const { file, warnings } = readSystemFile(JSON.stringify(source));
  const model = modelOf(file);
  test('is a file without a fault or a doubt', () => expect(warnings).toEqual([]));
  test('shows nothing over, and leaves nothing open', () => expect(loud(check(model))).toEqual([]));
  test('nor in any of its states', () => {
    for (const { id } of file.system?.states ?? [])
      expect({ id, loud: loud(check(modelInState(model, id))) }).toEqual({ id, loud: [] });
  });
  test('is told at most a handful of times to look closer', () =>
    expect(check(model).filter(({ verdict }) => verdict === 'tight').length).toBeLessThanOrEqual(6));
});
