import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import Ajv from 'ajv/dist/2020';
import {
  applyProposal,
  checkShelfItem,
  checkSystemFile,
  FaultError,
  fromRows,
  jsonSchema,
  readSystemFile,
  toRows,
  writeSystemFile,
  type Fault,
  type SystemFile,
} from '../src/index';
import { hut } from './hut';

const folders = ['docs/format', 'demo/sites'].map((folder) => join(__dirname, '../..', folder));
const examples = folders.flatMap((folder) =>
  readdirSync(folder)
    .filter((name) => name.endsWith('.lantern.json'))
    .map((name): [string, string] => [name, readFileSync(join(folder, name), 'utf8')]),
);
const plain = (): SystemFile => {
  const { site, schools, system } = hut();
  return { format: 'true-lantern', version: 1, site, schools, system };
};
function faultsOf(act: () => unknown): Fault[] {
  try {
    act();
  } catch (error) {
    if (error instanceof FaultError) return error.faults;
    throw error;
  }
  return [];
}
/** The file with one member changed, by a path of names. */
function changed(path: string, value: unknown): unknown {
  const file = structuredClone(plain()) as unknown as Record<string, unknown>;
  const steps = path.split('.');
  const last = steps.pop() ?? '';
  let at: Record<string, unknown> = file;
  for (const step of steps) at = at[step] as Record<string, unknown>;
  at[last] = value;
  return file;
}

describe('a sound file', () => {
  test.each(examples)('%s is read, and written back as it was', (_, text) => {
    const { file } = readSystemFile(text);
    expect(JSON.parse(writeSystemFile(file))).toEqual(JSON.parse(text));
  });
  test.each(examples)('%s goes through the store and comes out the same', (_, text) => {
    let n = 0;
    const { file } = readSystemFile(text);
    expect(fromRows(toRows(file, () => `row-${n++}`))).toEqual(file);
  });
  test('unknown members are kept at every level', () => {
    const file = { ...plain(), house: { rules: [1] }, system: { ...plain().system, colour: 'red' } };
    Object.assign(file.system.controllers![0]!, { serial: 'X1' });
    let n = 0;
    const back = fromRows(toRows(readSystemFile(JSON.stringify(file)).file, () => `row-${n++}`));
    expect(back).toMatchObject({ house: { rules: [1] }, system: { colour: 'red', controllers: [{ serial: 'X1' }] } });
  });
  test('absent and null are both unknown', () => {
    expect(faultsOf(() => checkSystemFile(changed('system.controllers.0.maxPv_V', null)))).toEqual([]);
  });
  test('facts that disagree are accepted with a warning', () => {
    const { warnings } = checkSystemFile(changed('system.moduleTypes.0.isc_A', 5));
    expect(warnings).toEqual(['system.moduleTypes[0].isc_A: is 5 A, below imp_A 6.1 A, expected Isc above Imp']);
  });
});

describe('a wrong file', () => {
  test.each([
    [
      'system.moduleTypes.0.voc_V',
      5000,
      'system.moduleTypes[0].voc_V',
      'is 5000, expected a number above 0 up to 1500',
    ],
    ['system.moduleTypes.0.voc_V', 0, 'system.moduleTypes[0].voc_V', 'is 0, expected a number above 0 up to 1500'],
    [
      'system.moduleTypes.0.voc_V',
      '20',
      'system.moduleTypes[0].voc_V',
      'is "20", expected a number above 0 up to 1500',
    ],
    ['site.recordLow_C', -300, 'site.recordLow_C', 'is -300, expected a number from -90 to 90'],
    ['system.bank.series', 65, 'system.bank.series', 'is 65, expected a whole number from 1 to 64'],
    ['system.bank.series', 1.5, 'system.bank.series', 'is 1.5, expected a whole number from 1 to 64'],
    [
      'system.bank.chemistry',
      'lead',
      'system.bank.chemistry',
      'is "lead", expected one of flooded, tubular, agm, gel, lfp, nmc',
    ],
    ['system.controllers.0.limitsOutput', 1, 'system.controllers[0].limitsOutput', 'is 1, expected true or false'],
    [
      'system.arrays.0.strings',
      [[]],
      'system.arrays[0].strings[0]',
      'is empty, expected at least one module in a string',
    ],
    [
      'system.arrays.0.strings',
      [['x']],
      'system.arrays[0].strings[0][0]',
      'is "x", expected the id of a module type in this system',
    ],
    [
      'system.arrays.0.controllerId',
      'b',
      'system.arrays[0].controllerId',
      'is "b", expected the id of a controller in this system',
    ],
    [
      'system.arrays.0.id',
      'm',
      'system.arrays[0].id',
      'is "m" again (also at system.moduleTypes[0].id), expected an id unique in the file',
    ],
    ['format', 'other', 'format', 'is not "true-lantern", expected a True Lantern system file'],
    ['version', 2, 'version', 'is not a version this program reads, expected 1'],
    [
      'evidence',
      { 'zz.voc_V': { grade: 'stated' } },
      'evidence["zz.voc_V"]',
      'names no part, expected "componentId.field"',
    ],
    [
      'evidence',
      { 'm.voc_V': { grade: 'guess' } },
      'evidence["m.voc_V"].grade',
      'is "guess", expected one of measured, nameplate, datasheet, stated, assumed',
    ],
    [
      'system.runs',
      [{ id: 'r', kind: 'pv', length_m: 1, size: '6 mm2' }],
      'system.runs[0].size',
      'is "6 mm2", expected a size like "6mm2", "10AWG" or "2/0AWG"',
    ],
    [
      'system.runs',
      [{ id: 'r', kind: 'pv', length_m: 1, size: '5/0AWG' }],
      'system.runs[0].size',
      'is "5/0AWG", expected a size like "6mm2", "10AWG" or "2/0AWG"',
    ],
    [
      'system.runs',
      [{ id: 'r', kind: 'pv', from: 'a', length_m: 1, size: '6mm2', strings: [1] }],
      'system.runs[0].strings[0]',
      'is 1, expected a string of that array, 0 to 0',
    ],
  ])('%s = %j', (path, value, where, message) => {
    expect(faultsOf(() => checkSystemFile(changed(path, value)))).toContainEqual({ path: where, message });
  });
  test('broken JSON is shown by line and column', () => {
    expect(faultsOf(() => readSystemFile('{\n  "format": "true-lantern",\n  oops\n}'))).toEqual([
      { path: 'line 3, column 3', message: expect.stringContaining('is not JSON') as string },
    ]);
  });
  test.each([['[]'], ['null'], ['7'], ['""']])('%s is no system file', (text) => {
    expect(faultsOf(() => readSystemFile(text))).toHaveLength(1);
  });
  test('a bottomless or endless file is refused before it is read', () => {
    expect(faultsOf(() => readSystemFile(`{"a":${'['.repeat(200)}${']'.repeat(200)}}`))[0]?.message).toContain(
      'nested deeper than 64',
    );
    const many = { ...plain(), junk: Array.from({ length: 5001 }, () => 0) };
    expect(faultsOf(() => checkSystemFile(many))).toEqual([
      { path: 'junk', message: 'has 5001 items, expected at most 5,000 in all lists together' },
    ]);
    const just = { ...plain(), junk: Array.from({ length: 5000 - itemsOf(plain()) }, () => 0) };
    expect(checkSystemFile(just).file).toEqual(just);
  });
  test('an object with more members than anything has is refused before they are read', () => {
    const many = Object.fromEntries(Array.from({ length: 20_001 }, (_, i) => [`o${i}`, 'bad']));
    expect(faultsOf(() => checkSystemFile(changed('site.observations', many)))).toEqual([
      { path: 'site.observations', message: 'has 20001 members, expected at most 20,000' },
    ]);
    const fewer = Object.fromEntries(Array.from({ length: 50 }, (_, i) => [`o${i}`, 'bad']));
    expect(faultsOf(() => checkSystemFile(changed('site.observations', fewer)))).toHaveLength(20);
  });
  test('what is too deep or too long is named by its place', () => {
    const deep = (levels: number): unknown => (levels === 0 ? 1 : [deep(levels - 1)]);
    const fault = faultsOf(() => checkSystemFile(changed('site.horizon', deep(70))));
    expect(fault).toEqual([{ path: 'site.horizon', message: expect.stringContaining('deeper than 64') as string }]);
    const loads = Array.from({ length: 5001 }, (_, i) => ({ id: `l${i}` }));
    expect(faultsOf(() => checkSystemFile(changed('system.loads', loads)))[0]?.path).toBe('system.loads');
  });
  // A database keeps no NUL and a file in UTF-8 no half of a pair: such text would be lost, or hold up all after it.
  test.each([
    ['a NUL', 'rust\0', 'holds a NUL character, expected readable text'],
    ['the first half of a pair', 'sun \ud83c', 'holds half a character, expected readable text'],
    ['the second half', '\udf1e', 'holds half a character, expected readable text'],
    ['the halves the wrong way round', '\udf1e\ud83c', 'holds half a character, expected readable text'],
  ])('text with %s is refused at its place', (_, note, message) => {
    expect(faultsOf(() => checkSystemFile(changed('site.note', note)))).toEqual([{ path: 'site.note', message }]);
    expect(faultsOf(() => checkShelfItem({ kind: 'controllers', label: 'A', note }))).toEqual([
      { path: 'note', message },
    ]);
    expect(faultsOf(() => checkSystemFile({ ...plain(), [note]: 1 }))[0]?.path).toBe('file');
  });
  test('a whole pair is a letter like any other', () =>
    expect(checkSystemFile(changed('site.note', 'sun \ud83c\udf1e')).warnings).toBeDefined());
  test.each(['constructor', 'prototype', '__proto__'])('no member is called %s', (name) =>
    expect(
      faultsOf(() => checkSystemFile(JSON.parse(JSON.stringify(plain()).replace('{', `{"${name}":1,`)))),
    ).toHaveLength(1),
  );
  test('at most twenty faults are reported', () => {
    const modules = Array.from({ length: 30 }, () => ({ id: 7 }));
    expect(faultsOf(() => checkSystemFile(changed('system.moduleTypes', modules)))).toHaveLength(20);
  });
  test('infinity in disguise is out of range', () => {
    expect(
      faultsOf(() => readSystemFile(JSON.stringify(plain()).replace('"length_m":1', '').replace('20,', '1e999,')))[0]
        ?.message,
    ).toContain('Infinity');
  });
});

/** Items in all lists of a value together. */
const itemsOf = (value: unknown): number =>
  value === null || typeof value !== 'object'
    ? 0
    : (Array.isArray(value) ? value.length : 0) +
      Object.values(value).reduce((sum: number, member) => sum + itemsOf(member), 0);

describe('proposals', () => {
  const withChanges = (...changes: unknown[]) =>
    ({ ...plain(), proposals: [{ id: 'p', title: 'Plan', changes }] }) as unknown as SystemFile;
  const apply = (...changes: unknown[]) => applyProposal(withChanges(...changes), 'p');
  test('set merges deeply, null takes out, lists are replaced whole', () => {
    const system = apply(
      { op: 'set', at: 'bank', value: { place: { space: 'living', min_C: 5 } } },
      { op: 'set', at: 'bank', value: { place: { min_C: null }, health_pct: null } },
      { op: 'set', at: 'controllers', id: 'c', value: { profiles: ['lfp'] } },
    );
    expect(system.bank).toMatchObject({ place: { space: 'living' } });
    expect(system.bank).not.toHaveProperty('health_pct');
    expect(system.bank?.place).not.toHaveProperty('min_C');
    expect(system.controllers?.[0]?.profiles).toEqual(['lfp']);
  });
  test('the system as found is never touched', () => {
    const file = withChanges({ op: 'remove', at: 'bank' });
    const before = JSON.stringify(file.system);
    applyProposal(file, 'p');
    expect(JSON.stringify(file.system)).toBe(before);
  });
  test.each([
    [{ op: 'set', at: 'controllers', id: 'zz', value: {} }, 'proposals[0].changes[0].id'],
    [
      { op: 'add', at: 'controllers', value: { id: 'c', type: 'mppt', maxOutput_A: 10 } },
      'proposals[0].changes[0].value.id',
    ],
    [{ op: 'remove', at: 'controllers', id: 'c' }, 'proposals[0] > system.arrays[0].controllerId'],
    [{ op: 'remove', at: 'monitor' }, 'proposals[0].changes[0]'],
    [{ op: 'set', at: 'nowhere', id: 'c', value: {} }, 'proposals[0].changes[0].at'],
    [{ op: 'set', at: 'bank', value: { series: 99 } }, 'proposals[0] > system.bank.series'],
    [{ op: 'set', at: 'bank' }, 'proposals[0].changes[0].value'],
  ])('%j is an error at the change', (change, path) => {
    expect(faultsOf(() => checkSystemFile(withChanges(change))).map((fault) => fault.path)).toContain(path);
  });
  test('two proposals may add the same id', () => {
    const add = { op: 'add', at: 'controllers', value: { id: 'new', type: 'mppt', maxOutput_A: 10 } };
    const file = { ...plain(), proposals: ['p', 'q'].map((id) => ({ id, title: id, changes: [add] })) };
    expect(faultsOf(() => checkSystemFile(file))).toEqual([]);
  });
});

describe('the shipped JSON Schema', () => {
  const shipped = JSON.parse(readFileSync(join(__dirname, '../../docs/format/lantern.schema.json'), 'utf8')) as object;
  const validate = new Ajv({ strict: false }).compile(shipped);
  test("is the program's own", () => expect(shipped).toEqual(JSON.parse(JSON.stringify(jsonSchema()))));
  test.each(examples)('accepts %s', (_, text) => {
    expect(validate(JSON.parse(text)) || validate.errors).toBe(true);
  });
  test.each([
    ['system.moduleTypes.0.voc_V', 5000],
    ['system.moduleTypes.0.voc_V', 0],
    ['site.recordLow_C', -300],
    ['system.bank.chemistry', 'lead'],
    ['system.bank.series', 1.5],
    ['version', 2],
    ['evidence', { 'm.voc_V': { grade: 'guess' } }],
    ['system.arrays.0.strings', [[]]],
  ])('refuses %s = %j as the program does', (path, value) => expect(validate(changed(path, value))).toBe(false));
});
