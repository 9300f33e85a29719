import { inScripts } from '../src/reports/scripts';

/** Papers for people who write from the right, in other letters, or without a blank. */

type Written = { text: { text: string; font?: string }[]; alignment?: string };
const seen = (text: string) => (inScripts<unknown>(text) as Written).text.map((run) => run.text).join('');
const runs = (text: string) => inScripts<unknown>(text) as Written;

test('our own letters stay as they are', () => {
  for (const text of ['Whelk Bank, 12 °C', 'Größe à ø Ł', '']) expect(inScripts(text)).toBe(text);
});

test('words from the right stand from right to left, each as it is written, numbers as they are', () => {
  // Logical order: shalom, olam. Seen from the left: olam, shalom.
  expect(seen('שלום עולם')).toBe('עולם שלום');
  expect(runs('שלום עולם').alignment).toBe('right');
  // Read from the right: the battery, 24, V.
  expect(seen('סוללה 24 V')).toBe('V 24 סוללה');
  // Within a text from the left only the Hebrew words change places.
  expect(seen('Hut שלום עולם north')).toBe('Hut עולם שלום north');
  expect(runs('Hut שלום').alignment).toBeUndefined();
});

test('brackets open towards their words', () => {
  // As drawn: the font turns what is written from the right.
  const drawn = runs('(צפון)')
    .text.map(({ text, font }) => (font === 'Hebrew' ? [...text].reverse().join('') : text))
    .join('');
  expect(drawn).toBe('(ןופצ)');
});

test('each letter in a font that has it', () => {
  expect(runs('Ωmega').text).toEqual([{ text: 'Ωmega', font: 'Sans' }]);
  expect(runs('شركة').text).toEqual([{ text: 'شركة', font: 'Arabic' }]);
  expect(runs('Улица').text).toEqual([{ text: 'Улица', font: 'Sans' }]);
});

test('everywhere in a document: tables, columns, lists; alignment that is set stays', () => {
  const made = inScripts({
    table: { body: [['שלום', { text: 'שלום', alignment: 'center' }]] },
    columns: [{ text: 'שלום', bold: true }],
  }) as unknown as { table: { body: Written[][] }; columns: (Written & { bold: boolean })[] };
  expect(made.table.body[0]!.map(({ text }) => text[0]!.font)).toEqual(['Hebrew', 'Hebrew']);
  expect(made.table.body[0]![1]!.alignment).toBe('center');
  expect(made.columns[0]).toMatchObject({ bold: true, alignment: 'right' });
});
