import { textFault } from '@true-lantern/core/base';
import type { StringSchema } from 'yup';

/** A text that a database and a file in UTF-8 can keep. */
export const keepable = <S extends StringSchema<string | undefined>>(schema: S): S =>
  schema.test(
    'text',
    'holds a character that cannot be kept, expected readable text',
    (value) => !textFault(value ?? ''),
  );
