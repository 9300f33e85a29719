import { modelOf, type SystemFile } from '@true-lantern/core';
import corrach from '../../demo/sites/corrach-bothy.lantern.json';
import { serialOf } from '../src/plate/code';
import { caseText, readCase, type SentCase } from '../src/visits/practice-case';

/** What comes from outside in a code or a file: taken for what it is, and nothing more. */

describe('the serial number of a code', () => {
  test.each([
    ['KX-20418', 'KX-20418'],
    ['SN: KX-20418', 'KX-20418'],
    ['S/N 0042A17', '0042A17'],
    ['serial number 77120', '77120'],
    // Of an address what stands last.
    ['https://maker.example/p?sn=AB12345', 'AB12345'],
    ['https://maker.example/device/99-102', '99-102'],
  ])('%s', (code, serial) => expect(serialOf(code)).toBe(serial));
  test.each([
    ['an address without a number', 'https://maker.example/support'],
    ['a word', 'WARRANTY'],
    ['too short for one', 'A1'],
    ['a script', 'A1234"><script>'],
    ['nothing', ''],
  ])('%s is none', (_, code) => expect(serialOf(code)).toBeNull());
});

describe('a practice case as a file', () => {
  const model = modelOf(corrach as unknown as SystemFile);
  const text = caseText({ seed: 12, level: 3, model });
  test('comes back as the same system, number and level', () => {
    const back = readCase(text) as SentCase;
    expect([back.seed, back.level]).toEqual([12, 3]);
    expect(back.model.system.bank).toEqual(model.system.bank);
    expect(back.model.system.arrays).toEqual(model.system.arrays);
  });
  test('says nothing of whose system it is', () => {
    expect(text).not.toContain(corrach.site.name);
    // The degree is enough for the sun, and finds nobody.
    expect((readCase(text) as SentCase).model.site.latitude_deg).toBe(Math.round(corrach.site.latitude_deg));
    expect(text).not.toContain('"notes"');
    expect(Object.keys((JSON.parse(text) as { file: object }).file).sort()).toEqual([
      'format',
      'schools',
      'site',
      'system',
      'version',
    ]);
  });
  test.each([
    ['no JSON', 'hello', 'not a practice case'],
    ['another file', JSON.stringify(corrach), 'not a practice case'],
    ['a level that there is not', text.replace('"level": 3', '"level": 9'), 'no number or level'],
    ['a system that is none', text.replace('"nominal_V": ', '"nominal_V": -'), 'cannot be read'],
  ])('%s is told in a sentence', (_, given, says) => expect(readCase(given)).toContain(says));
});
