import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { FIELDS, GLOSSARY, glossaryPage, QUANTITIES, RULES, SCHOOLS, termFor } from '../src/index';

/** Help at the word itself: what it is, and how to find or measure it. */

const subjects = new Set([
  ...Object.values(FIELDS).flatMap((fields) => fields.map(({ path }) => path)),
  ...RULES.map(({ id }) => id),
  ...Object.keys(QUANTITIES),
  ...SCHOOLS.map(({ path }) => path),
]);

test('each term explains something that is there, and nothing has two terms', () => {
  const of = GLOSSARY.flatMap((term) => term.of.map((subject) => ({ term: term.id, subject })));
  expect(of.filter(({ subject }) => !subjects.has(subject))).toEqual([]);
  expect(of.map(({ subject }) => subject).filter((one, i, all) => all.indexOf(one) !== i)).toEqual([]);
});

test('each is two sentences of twenty words at most', () => {
  const words = (text: string) => text.split(/\s+/).length;
  for (const { name, is, find } of GLOSSARY)
    for (const sentence of [is, find]) {
      expect([name, sentence.split(/[;:]/).every((part) => words(part) <= 20)]).toEqual([name, true]);
      expect([name, /^[A-Z].*\.$/.test(sentence)]).toEqual([name, true]);
    }
});

test('every quantity that is measured, and every figure of a module, has its term', () => {
  for (const quantity of ['stringVoc_V', 'rest_V', 'drop_V', 'idle_A', 'parasitic_A', 'density_kg_L', 'absorb_V'])
    expect([quantity, termFor(quantity)?.name]).toEqual([quantity, expect.any(String)]);
  for (const { path } of FIELDS.moduleTypes.filter(({ path }) => /^(voc|isc|vmp|imp|beta)/.test(path)))
    expect([path, termFor(path)?.name]).toEqual([path, expect.any(String)]);
});

test('the page of the docs is this glossary', () => {
  expect(readFileSync(join(__dirname, '../../docs/glossary.md'), 'utf8')).toBe(glossaryPage());
});
