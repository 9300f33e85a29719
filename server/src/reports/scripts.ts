import bidiFactory from 'bidi-js';
import type { Content } from 'pdfmake/interfaces';

/** Names and notes as people write them, anywhere: Hebrew and Arabic from the right, Greek and Cyrillic, words without a space. */

/** Fonts by the letters that our own typeface lacks. */
const SCRIPTS: [font: string, letters: RegExp][] = [
  ['Hebrew', /[\u0590-\u05ff\ufb1d-\ufb4f]/],
  ['Arabic', /[\u0600-\u06ff\u0750-\u077f\u08a0-\u08ff\ufb50-\ufdff\ufe70-\ufeff]/],
  // Greek, Cyrillic, Devanagari and what Latin letters carry beyond Western Europe.
  // oxlint-disable-next-line no-misleading-character-class -- whole blocks are meant, marks and all
  ['Sans', /[\u0370-\u058f\u0900-\u097f\u1e00-\u1fff\u200b]/],
];
const FROM_THE_RIGHT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/;

const bidi = bidiFactory();

/** A line from the right is cut after so many letters: a column's width is not known where its words are put in order. */
const LINE_LETTERS = 44;
/** A word longer than this is cut, or it would run out of its column. */
const WORD_LETTERS = 28;

interface Run {
  text: string;
  font?: string;
}

/**
 * A document with each of its texts in fonts that have its letters, in the order in which they are seen. Texts in our own
 * typeface's letters stay as they are.
 */
export function inScripts<T>(content: T): T {
  return walked(content) as T;
}

function walked(node: unknown): unknown {
  if (typeof node === 'string') return written(node);
  if (Array.isArray(node)) return node.map(walked);
  if (node === null || typeof node !== 'object') return node;
  const copy: Record<string, unknown> = { ...node };
  for (const key of ['stack', 'columns', 'ul', 'ol']) if (Array.isArray(copy[key])) copy[key] = copy[key].map(walked);
  if (typeof copy.text === 'string') {
    const made = written(copy.text);
    if (typeof made === 'object')
      Object.assign(copy, { ...made, ...('alignment' in node ? { alignment: node.alignment } : {}) });
    else copy.text = made;
  } else if (Array.isArray(copy.text)) copy.text = copy.text.map(walked);
  const table = copy.table as { body?: unknown[][] } | undefined;
  if (table?.body) copy.table = { ...table, body: table.body.map((row) => row.map(walked)) };
  return copy;
}

function written(text: string): string | Content {
  const whole = text.replaceAll(new RegExp(`[^\\s\\u200b-]{${WORD_LETTERS + 1},}`, 'g'), cut);
  if (!SCRIPTS.some(([, letters]) => letters.test(whole))) return whole;
  const lines = whole.split('\n').flatMap((line) => (FROM_THE_RIGHT.test(line) ? linesOf(line) : [line]));
  const runs = lines.flatMap((line, i): Run[] => [...(i > 0 ? [{ text: '\n' }] : []), ...runsOf(line)]);
  const rightward = (bidi.getEmbeddingLevels(whole).paragraphs[0]?.level ?? 0) % 2 === 1;
  return { text: runs, ...(rightward ? { alignment: 'right' as const } : {}) };
}

/** Where a line may end within a word: no letter of its own, so that a number is read as it is. */
const MAY_BREAK = '\u200b';

/** A long word in pieces of a line each. */
const cut = (word: string): string => (word.match(new RegExp(`.{1,${WORD_LETTERS}}`, 'gu')) ?? [word]).join(MAY_BREAK);

/** A paragraph from the right in lines, the first words first. */
function linesOf(text: string): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + word.length < LINE_LETTERS) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

/** A line's words in the order in which they are seen from the left, each with the font that has its letters. */
function runsOf(line: string): Run[] {
  const { levels, paragraphs } = bidi.getEmbeddingLevels(line);
  const seen = bidi.getReorderedIndices(line, { levels, paragraphs });
  const mirrored = bidi.getMirroredCharactersMap(line, levels);
  const runs: (Run & { odd: boolean })[] = [];
  for (const at of seen) {
    const letter = mirrored.get(at) ?? line.charAt(at);
    const odd = (levels[at] ?? 0) % 2 === 1;
    const font = SCRIPTS.find(([, letters]) => letters.test(letter))?.[0];
    const last = runs.at(-1);
    // Marks and brackets within a word go with its font; a blank ends it, so that each word is shaped by itself.
    const joins =
      last &&
      (letter === MAY_BREAK) === (last.text === MAY_BREAK) &&
      last.odd === odd &&
      letter !== ' ' &&
      !last.text.endsWith(' ') &&
      (font ?? last.font) === last.font;
    // A word from the right is handed over as it is written: the font's own shaping turns it round.
    if (joins) last.text = odd ? letter + last.text : last.text + letter;
    else runs.push({ text: letter, odd, ...(font ? { font } : {}) });
  }
  return runs.map(({ text, font }) => ({ text, ...(font ? { font } : {}) }));
}
