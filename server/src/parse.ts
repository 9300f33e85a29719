import { FaultError } from '@true-lantern/core';
import { ValidationError, type InferType, type Schema } from 'yup';

/** A request's body as the schema describes it. @throws FaultError with the path of each fault */
export function parse<S extends Schema>(schema: S, body: unknown): InferType<S> {
  try {
    return schema.validateSync(body, { strict: true, abortEarly: false });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const all = error.inner.length > 0 ? error.inner : [error];
    throw new FaultError(all.map(({ path, message }) => ({ path: path || 'body', message })));
  }
}
