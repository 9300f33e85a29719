import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  check,
  checkWithRemedies,
  convert,
  eachPart,
  FIELDS,
  interim,
  partsListOf,
  lowered,
  modelOf,
  nameInSentence,
  partTitle,
  readSystemFile,
  said,
  sentenceOf,
  titleOf,
  type Model,
  type System,
} from '@true-lantern/core';

const ROOT = join(__dirname, '../..');
const PLACES = ['demo/sites', 'docs/format', 'docs/format/reference'];
const FILES = PLACES.flatMap((place) =>
  readdirSync(join(ROOT, place))
    .filter((file) => file.endsWith('.lantern.json'))
    .map((file) => join(place, file)),
);

describe('what parts are called', () => {
  const pwm = { type: 'pwm' as const, maxOutput_A: 30 };
  const system: System = {
    nominal_V: 24,
    controllers: [
      { id: 'c1', ...pwm },
      { id: 'c2', ...pwm },
      { id: 'c3', label: 'Pell P30', ...pwm },
    ],
    bank: { id: 'b', chemistry: 'agm', block_V: 12, blockCapacity_Ah: 100, series: 2, parallel: 1 },
    loads: [
      { id: 'l1', label: 'lamp', kind: 'dc', power_W: 5, hours_d: 1 },
      { id: 'l2', label: 'lamp', kind: 'dc', power_W: 5, hours_d: 1 },
    ],
    chargers: [{ id: 'd', kind: 'dc-dc', max_A: 30 }],
    runs: [
      { id: 'r1', kind: 'controller-battery', from: 'c1', to: 'b', length_m: 2, size: '16mm2' },
      { id: 'r2', kind: 'controller-battery', from: 'c2', to: 'b', length_m: 2, size: '16mm2' },
      { id: 'r3', kind: 'controller-battery', from: 'c3', to: 'b', length_m: 2, size: '25mm2' },
      { id: 'r4', kind: 'dc-load', from: 'b', length_m: 2, size: '2.5mm2' },
      { id: 'r5', kind: 'dc-load', from: 'b', length_m: 2, size: '2.5mm2' },
      { id: 'r6', kind: 'charger', from: 'd', to: 'b', label: 'From the engine', length_m: 2, size: '10mm2' },
    ],
  };
  const names = (...ids: string[]) => ids.map((id) => partTitle(system, id));
  test('a cable by what it joins and its size; two alike by where they go', () => {
    expect(names('r3', 'r6')).toEqual(['Controller to bank, 25 mm2', 'From the engine']);
    expect(names('r1', 'r2')).toEqual(['Controller 1 to bank, 16 mm2', 'Controller 2 to bank, 16 mm2']);
  });
  test('where not even that tells them apart they are counted', () => {
    expect(names('r4', 'r5')).toEqual(['Load cable, 2.5 mm2 (1)', 'Load cable, 2.5 mm2 (2)']);
    expect(names('l1', 'l2')).toEqual(['Lamp 1', 'Lamp 2']);
  });
  test('what has no name is called what it is; in a sentence with its article', () => {
    expect(names('c3', 'b', 'd')).toEqual(['Pell P30', 'Bank', 'DC-DC charger']);
    const called = (id: string) => nameInSentence({ system }, id);
    expect([called('b'), called('c1'), called('d'), called('c3'), called('nobody')]).toEqual([
      'the bank',
      'controller 1',
      'the DC-DC charger',
      'Pell P30',
      'the site',
    ]);
  });
  test('no two parts of any site are called alike', () => {
    for (const file of FILES) {
      const { system } = modelOf(readSystemFile(readFileSync(join(ROOT, file), 'utf8')).file);
      const cables = (system.runs ?? []).map(({ id }) => partTitle(system, id));
      expect(new Set(cables).size).toBe(cables.length);
    }
  });
});

describe('no word of the file is read by a person', () => {
  test('every choice of the format has its word', () => {
    const choices = Object.values(FIELDS).flatMap((fields) => fields.flatMap(({ choices }) => choices ?? []));
    const words = [...new Set(choices.filter((choice) => typeof choice === 'string'))].map(said);
    expect(words.length).toBeGreaterThan(60);
    for (const word of words)
      expect(word).not.toMatch(/_|[a-z][A-Z]|\b(agm|lfp|nmc|mppt|pwm|nh|cca|ac|dc)\b|(class|vented|thermal)-/);
    expect([lowered('Voc coefficient'), lowered('DC voltage'), lowered('A fuse'), lowered('Notes')]).toEqual([
      'Voc coefficient',
      'DC voltage',
      'a fuse',
      'notes',
    ]);
    expect(said('class-t')).toBe('class T');
    expect(said('thermal-breaker')).toBe('thermal breaker');
  });
  /** camelCase and snake_case, but for units; acronyms written small; types as the file has them. */
  const RAW =
    /\b(?!kWh|kW\b|kVA|kA\b|mA\b|mF\b|mV\b|degC|degF|mAh)[a-z]+[A-Z]\w*|\b[A-Za-z]+_\w+|\b(mppt|pwm|agm|lfp|nmc|nh|cca|dc-dc|class-t|thermal-breaker|same-end|sealed-vented-box|load-disconnect)\b/;
  const spoken = (model: Model, demo: boolean): string[] => [
    // What cures is worked out for the demo's sites alone: the others are judged by the same rules.
    ...(demo ? checkWithRemedies(model) : check(model)).flatMap((finding) => [
      sentenceOf(model, finding),
      titleOf(finding),
      ...finding.working,
      ...finding.cautions,
      ...finding.remedies.flatMap(({ title, detail }) => [title, detail]),
    ]),
    ...eachPart(model.system).flatMap(({ part }) => partTitle(model.system, part.id) ?? []),
  ];
  test.each(FILES)('%s: sentences, working, remedies, names', (file) => {
    const source = readSystemFile(readFileSync(join(ROOT, file), 'utf8')).file;
    for (const proposal of [undefined, ...(source.proposals ?? []).map(({ id }) => id)]) {
      const model = modelOf(source, proposal);
      // Ids that are no words of their own: "r-pv", "c1"; one that is also somebody's label may be read.
      const labels = JSON.stringify(eachPart(model.system).map(({ part }) => ('label' in part ? part.label : '')));
      const ids = new Set(
        eachPart(model.system)
          .map(({ part }) => part.id)
          .filter((id) => /[-.\d]/.test(id) && !labels.includes(id)),
      );
      const texts = spoken(model, file.startsWith('demo') && !proposal);
      if (!proposal) texts.push(...interim(model).limits.map(({ text }) => text), ...conversionTexts(model));
      else texts.push(...planTexts(source, proposal));
      for (const text of texts) {
        expect(text).not.toMatch(RAW);
        expect(text.split(/[\s,;:()"'\u2019]+/).filter((word) => ids.has(word))).toEqual([]);
      }
    }
  });
});

function conversionTexts(model: Model): string[] {
  const { parts, gate } = convert(model);
  return [...parts.map(({ why }) => why), ...gate.flatMap(({ label, why }) => [label, why])];
}

/** What the parts list of a proposal says. */
const planTexts = (source: Parameters<typeof modelOf>[0], proposal: string): string[] =>
  partsListOf(modelOf(source).system, modelOf(source, proposal).system, []).lines.flatMap(({ label, detail }) => [
    label,
    detail ?? '',
  ]);
