import { ValidationError } from 'yup';
import type { Fault } from './faults';
import { isPartKind, KINDS } from '../parts/kinds';
import { feedSchema } from '../parts/feeds';
import {
  attachmentSchema,
  goneSchema,
  logSchema,
  proposalSchema,
  readingSchema,
  schoolsSchema,
  siteSchema,
  systemSchema,
  visitSchema,
} from './schema';
import type { Body, RowKind } from './rows';

/** Faults of a value by its schema, one a path. */
export function faultsBy(schema: { validateSync(value: unknown, options: object): unknown }, value: unknown): Fault[] {
  try {
    schema.validateSync(value, { strict: true, abortEarly: false });
    return [];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const all = error.inner.length > 0 ? error.inner : [error];
    const seen = new Set<string>();
    return all.flatMap(({ path = '', message }) => {
      // One path, one fault: a null that is also "not a number" is said once.
      if (seen.has(path)) return [];
      seen.add(path);
      return [{ path, message }];
    });
  }
}

/** Rows that are no parts of the system. */
const OTHERS = {
  site: siteSchema,
  schools: schoolsSchema,
  system: systemSchema,
  proposal: proposalSchema,
  reading: readingSchema,
  visit: visitSchema,
  attachment: attachmentSchema,
  log: logSchema,
  gone: goneSchema,
  feed: feedSchema,
};

/** Faults of one part by itself, paths within its body: for what is judged at every key that is typed. */
export function partFaults(kind: RowKind, body: Body): Fault[] {
  const schema = isPartKind(kind) ? KINDS[kind].schema : OTHERS[kind as keyof typeof OTHERS];
  return schema ? faultsBy(schema, body) : [];
}
