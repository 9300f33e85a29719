import { textFault } from '@true-lantern/core/base';
import { string, type StringSchema } from 'yup';

/** A text of one line: names stand in heads of papers and in the lines of mails. */
export const oneLine = <S extends StringSchema<string | undefined>>(schema: S): S =>
  schema.test('line', 'has a line break, expected one line', (value) => !/[\r\n\u0085\u2028\u2029]/.test(value ?? ''));

/** A text that a database and a file in UTF-8 can keep. */
export const keepable = <S extends StringSchema<string | undefined>>(schema: S): S =>
  schema.test(
    'text',
    'holds a character that cannot be kept, expected readable text',
    (value) => !textFault(value ?? ''),
  );

/** A text of so many letters at most, its ends trimmed. */
export const text = (what: string, most: number) =>
  keepable(
    string()
      .typeError(`is no text, expected ${what}`)
      .trim()
      .max(most, `is longer than ${most} letters, expected a shorter one`),
  );
