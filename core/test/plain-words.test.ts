import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { check, gistOf, modelOf, neededFor, remediesOf, sentenceOf, workOf } from '../src/index';
import { caseFiles } from './word-cases';

/**
 * How the application speaks: plain, contemporary English that somebody understands at the first glance who learned it at
 * school. Turns that were replaced stay replaced; what a customer reads is short and easy.
 */

const ROOT = join(__dirname, '../..');

/** Turns that may not come back, each with what is said instead. */
const TURNS: [turn: RegExp, instead: string][] = [
  [/\b(lets?|letting) go (of|at|before|too)\b/i, 'cut off, cut-off voltage'],
  [/\bsees? to the\b/i, 'manage'],
  [/\b(comes?|came) in (by|as)\b/i, 'sign in, join, role'],
  [/\bcannot be said\b/i, 'is not known yet'],
  [/\bopen volts|volts at (rest|work)|rest volts|full power\b/i, 'the quantity by its standard name'],
  [/\b(strung|joined|landed|set) anew\b/i, 'rewired, reconnected, set again'],
  [/\bthe lights go out|keeps? it lit|goes? dark|dark in \d/i, 'the power fails'],
  [/\bis asked for \d|asked (of|with) it\b/i, 'carries, needs, was checked with it'],
  [/\bsheet must (say|state)\b(?<!data sheet must say)/i, 'data sheet'],
  [/\bstands? (this bank|the volts|more volts|up to \d)/i, 'is rated for'],
  [/\bgives? out\b/i, 'reaches its limit'],
  [/\bmended\b|\bmend\b/i, 'fixed, repaired'],
  [/\b(taken|take|takes) (off|away|out of) the (shelf|list)\b/i, 'removed'],
  [/\bput (by|away)\b/i, 'archived'],
  [/\bwas not (read|seen|counted)\b/i, 'is not recorded, has not been checked'],
  [/\b(wants|want) (a|an|its|no|to be)\b/i, 'needs'],
  [/\bthere is none, or later|may wait\)|go on from here|from now on:|until now\b/i, 'skip, optional, current, new'],
  [/\bnothing was taken|w(as|ere) not taken\b/i, 'refused, not imported'],
  [/\bkeeper\b/i, 'administrator'],
  [/\bby itself it would\b/i, 'on its own'],
  [/\bthe way to the bank\b/i, 'connection'],
  [/\bstands? (alike|beside|below)\b/i, 'is'],
];
/** Words of code that a person never reads as a sentence. */
const NOT_SAID = /select |insert |update parts|className|bg-|text-ink|border-/;

/** Every text in the sources that somebody may read: a literal of two words and more. */
function textsOf(path: string): { line: number; text: string }[] {
  const source = readFileSync(join(ROOT, path), 'utf8');
  const file = ts.createSourceFile(
    path,
    source,
    ts.ScriptTarget.Latest,
    true,
    path.endsWith('x') ? ts.ScriptKind.TSX : undefined,
  );
  const found: { line: number; text: string }[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node)) return;
    const text =
      ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)
        ? node.text
        : ts.isTemplateExpression(node)
          ? [node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)].join(' 1 ')
          : ts.isJsxText(node)
            ? node.text.replace(/\s+/g, ' ').trim()
            : '';
    if (/[A-Za-z]{2} [A-Za-z0-9]/.test(text) && !NOT_SAID.test(text))
      found.push({ line: file.getLineAndCharacterOfPosition(node.getStart()).line + 1, text });
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

const sources = execFileSync('git', ['ls-files', 'core/src', 'client/src', 'client/app', 'server/src', 'cli/src'], {
  cwd: ROOT,
  encoding: 'utf8',
})
  .split('\n')
  .filter((path) => /\.tsx?$/.test(path));

test('no text in the sources uses a turn that was replaced', () => {
  const back = sources.flatMap((path) =>
    textsOf(path).flatMap(({ line, text }) =>
      TURNS.filter(([turn]) => turn.test(text)).map(([, instead]) => `${path}:${line} "${text}" - say: ${instead}`),
    ),
  );
  expect(back).toEqual([]);
}, 60_000);

/** Sentences as somebody breathes: at a full stop, a semicolon, a colon or a question mark. */
const breaths = (text: string): string[] => text.split(/[.;:?!](?=\s|$)/).map((part) => part.trim());
const words = (text: string): number => (text.match(/[A-Za-z0-9µΩ%][\w.,'’%/-]*/g) ?? []).length;
const MOST_WORDS = 20;

const models = caseFiles().map(({ name, file }) => ({ name, model: modelOf(file), file }));

test('no finding, remedy or need is longer than twenty words in one breath, on demo, reference and bad systems', () => {
  const long = models.flatMap(({ name, model }) => {
    const found = check(model);
    return found.flatMap((finding) => {
      const said = [sentenceOf(model, finding)];
      if (finding.verdict === 'over')
        said.push(
          ...remediesOf(model, finding, found).flatMap(({ title, detail }) => [title, detail ?? '']),
          neededFor(model, finding),
        );
      return said
        .flatMap(breaths)
        .filter((breath) => words(breath) > MOST_WORDS)
        .map((breath) => `${name}: ${breath}`);
    });
  });
  expect([...new Set(long)]).toEqual([]);
}, 300_000);

test('no step of an order is longer than twenty words in one breath, lists of parts apart', () => {
  const long = models.flatMap(({ name, model, file }) =>
    (file.proposals ?? [])
      .filter(({ closed }) => !closed)
      .flatMap(({ id }) => {
        const { steps } = workOf(model, modelOf(file, id));
        return steps
          .flatMap(({ text, why }) => [...breaths(text), ...breaths(why)])
          .filter((breath) => words(breath.replace(/(, [^,]+){3,}/, '')) > MOST_WORDS + 5)
          .map((breath) => `${name}: ${breath}`);
      }),
  );
  expect([...new Set(long)]).toEqual([]);
}, 120_000);

/** Syllables as they are counted for reading ease: groups of vowels, a silent e apart. */
const syllables = (word: string): number =>
  Math.max(
    1,
    (
      word
        .toLowerCase()
        .replace(/e$/, '')
        .match(/[aeiouy]+/g) ?? []
    ).length,
  );
/** Flesch's reading ease: 60 and more is plain English. */
function ease(text: string): number {
  const all = text.match(/[A-Za-z]{2,}/g) ?? [];
  const sentences = text.split(/[.;:?!](?=\s|$)/).filter((part) => /[A-Za-z]/.test(part)).length;
  if (all.length === 0 || sentences === 0) return 100;
  const beats = all.reduce((sum, word) => sum + syllables(word), 0);
  return 206.835 - 1.015 * (all.length / sentences) - 84.6 * (beats / all.length);
}

test('what stands at the head of a site is plain English, all of it taken together', () => {
  const heads = models.map(({ model }) => gistOf(model, check(model)).sentence);
  expect(ease(heads.join(' '))).toBeGreaterThan(60);
});
