import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  ValidationError,
  type AnyObject,
  type ISchema,
  type ObjectShape,
  type Schema,
} from 'yup';

import './words';

/**
 * Building blocks of the system file's schema. Every optional field may be absent or null, and both mean *unknown*;
 * 0 is a value. Messages read "is ..., expected ...", so that a fault can be printed as `path: message`.
 */

/** How a value that was refused is shown to the person who has to mend it; long ones are cut. */
export function shown(value: unknown): string {
  if (value === undefined) return 'missing';
  if (value === null) return 'null';
  if (typeof value === 'number') return String(value);
  if (Array.isArray(value)) return 'a list';
  const text = typeof value === 'object' ? 'an object' : (JSON.stringify(value) ?? String(value));
  return text.length > 60 ? `${text.slice(0, 57)}..."` : text;
}

const wrong =
  (expected: string) =>
  ({ value, originalValue }: { value?: unknown; originalValue?: unknown }) => {
    const got = originalValue === undefined ? value : originalValue;
    return got === undefined ? `is missing, expected ${expected}` : `is ${shown(got)}, expected ${expected}`;
  };

type Bound = 'from' | 'above';

function bounded(min: number, max: number, bound: Bound, whole: boolean) {
  const kind = whole ? 'a whole number' : 'a number';
  const expected = `${kind} ${bound === 'above' ? 'above' : 'from'} ${min} ${bound === 'above' ? 'up to' : 'to'} ${max}`;
  let schema = number().typeError(wrong(expected));
  schema =
    bound === 'above'
      ? schema.moreThan(min, wrong(expected)).max(max, wrong(expected))
      : schema.min(min, wrong(expected)).max(max, wrong(expected));
  if (whole) schema = schema.integer(wrong(expected));
  return { schema, expected };
}

/** A number within a closed range; unknown when absent or null. */
export const num = (min: number, max: number) => bounded(min, max, 'from', false).schema.nullable().optional();
/** As `num`, but the lower bound itself is impossible (a module of 0 V, a bank of 0 Ah). */
export const positive = (max: number) => bounded(0, max, 'above', false).schema.nullable().optional();
/** A whole number within bounds, or nothing. */
export const whole = (min: number, max: number) => bounded(min, max, 'from', true).schema.nullable().optional();

/** A moment as ISO 8601 has it, or a day alone; unknown when absent or null. */
export const moment = () =>
  text().test('moment', wrong('a moment like 2026-05-04T09:10:00Z'), (value) =>
    value === null || value === undefined ? true : ISO_MOMENT.test(value) && !Number.isNaN(Date.parse(value)),
  );
const ISO_MOMENT = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}|$)/;

/** Needed for the part to exist. */
export const requiredPositive = (max: number) => {
  const { schema, expected } = bounded(0, max, 'above', false);
  return schema.required(wrong(expected)).nonNullable(wrong(expected));
};
/** A number within bounds that a part cannot be without. */
export const requiredNum = (min: number, max: number) => {
  const { schema, expected } = bounded(min, max, 'from', false);
  return schema.required(wrong(expected)).nonNullable(wrong(expected));
};
/** A whole number within bounds that a part cannot be without. */
export const requiredWhole = (min: number, max: number) => {
  const { schema, expected } = bounded(min, max, 'from', true);
  return schema.required(wrong(expected)).nonNullable(wrong(expected));
};

/** Volts, 0 to 1500. */
export const volts = () => num(0, 1500);
/** Amperes, 0 to 100,000. */
export const amps = () => num(0, 100_000);
/** Watts, 0 to a million. */
export const watts = () => num(0, 1e6);
/** Degrees Celsius, -90 to 90. */
export const celsius = () => num(-90, 90);
/** Metres, 0 to 10,000. */
export const metres = () => num(0, 10_000);
/** Millimetres, 0 to 100,000. */
export const millimetres = () => num(0, 100_000);
/** Hours of a day, 0 to 24. */
export const hours = () => num(0, 24);
/** How many of a thing, 1 to 64. */
export const count = () => whole(1, 64);

/** Words of at most 10,000 characters, or nothing. */
export const text = () =>
  string().typeError(wrong('text')).max(10_000, wrong('text of at most 10,000 characters')).nullable().optional();
/** Words that a part cannot be without, at most 500 characters. */
export const requiredText = (expected = 'text') =>
  string()
    .typeError(wrong(expected))
    .min(1, wrong(expected))
    .max(500, wrong('text of at most 500 characters'))
    .required(wrong(expected))
    .nonNullable(wrong(expected));
/** Yes, no, or not known. */
export const flag = () => boolean().typeError(wrong('true or false')).nullable().optional();

/** One of some words, or nothing. */
export const oneOf = <T extends string>(values: readonly T[]) =>
  string<T>()
    .typeError(wrong(`one of ${values.join(', ')}`))
    .nullable()
    .oneOf([...values, null], wrong(`one of ${values.join(', ')}`))
    .optional();
/** One of some words that a part cannot be without. */
export const requiredOneOf = <T extends string>(values: readonly T[]) =>
  string<T>()
    .typeError(wrong(`one of ${values.join(', ')}`))
    .oneOf([...values], wrong(`one of ${values.join(', ')}`))
    .required(wrong(`one of ${values.join(', ')}`))
    .nonNullable(wrong(`one of ${values.join(', ')}`));

/** Conductor size: `6mm2`, `10AWG`, `2/0AWG`; an area of nothing is no conductor. */
export const sizeText = () => {
  const expected = 'a size like "6mm2", "10AWG" or "2/0AWG"';
  return string()
    .typeError(wrong(expected))
    .matches(/^(\d+(\.\d+)?mm2|(\d+|[1-4]\/0)AWG)$/, { message: wrong(expected), excludeEmptyString: false })
    .meta({ size: true })
    .test('possible', wrong('0.1 to 5000 mm2, or 40 to 4/0 AWG'), (value) => {
      if (value === null || value === undefined) return true;
      const size = Number.parseFloat(value);
      return value.endsWith('AWG') ? value.includes('/') || size <= 40 : size >= 0.1 && size <= 5000;
    });
};

/** An object of some members. */
export const part = <S extends ObjectShape>(shape: S) => object(shape).typeError(wrong('an object'));
/** A nested object that may be absent or null. */
export const optionalPart = <S extends ObjectShape>(shape: S) =>
  object(shape).typeError(wrong('an object')).default(undefined).nullable().optional();

/** A list of at most 5,000, or nothing. */
export const list = <T>(item: ISchema<T, AnyObject>) =>
  array(item).typeError(wrong('a list')).max(5000, wrong('a list of at most 5,000 items')).nullable().optional();
/** A list of at most 5,000 that a part cannot be without. */
export const requiredList = <T>(item: ISchema<T, AnyObject>) =>
  array(item)
    .typeError(wrong('a list'))
    .max(5000, wrong('a list of at most 5,000 items'))
    .required(wrong('a list'))
    .nonNullable(wrong('a list'));
/** A list of just so many. */
export const exactly = <T>(item: ISchema<T, AnyObject>, length: number) =>
  array(item)
    .typeError(wrong(`a list of ${length}`))
    .length(length, wrong(`a list of ${length}`))
    .nullable()
    .optional();

/** At most this many are reported at once; more would only hide the first. */
export const MOST_FAULTS = 20;

/** An object whose members all follow one schema, under names of the writer's choosing. */
export function record<T extends object | string | null | undefined>(each: Schema<T>) {
  return mixed<Record<string, T>>()
    .meta({ record: each as Schema<unknown> })
    .nullable()
    .optional()
    .test('record', wrong('an object'), function check(value) {
      if (value === null || value === undefined) return true;
      if (typeof value !== 'object' || Array.isArray(value)) return false;
      const faults: ValidationError[] = [];
      for (const [key, member] of Object.entries(value)) {
        // More would only hide the first, and each takes its time.
        if (faults.length >= MOST_FAULTS) break;
        try {
          each.validateSync(member, { strict: true, abortEarly: false });
        } catch (error) {
          const { inner, path, message } = error as {
            inner: { path?: string; message: string }[];
            path?: string;
            message: string;
          };
          const all = inner.length > 0 ? inner : [{ path, message }];
          for (const fault of all)
            faults.push(
              this.createError({
                path: `${this.path}["${key}"]${fault.path ? `.${fault.path}` : ''}`,
                message: fault.message,
              }),
            );
        }
      }
      return faults.length === 0 || new ValidationError(faults, value, this.path);
    });
}

/** Anything at all, kept as it is. */
export const anything = () => mixed<NonNullable<unknown>>().nullable().optional();
