import { FaultError, type Fault } from '@true-lantern/core';
import type { ProblemAnswer } from '@true-lantern/wire';
import type { ErrorRequestHandler } from 'express';

/** An answer other than success, for a person to read: problem+json (RFC 9457) with the path of each fault. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly faults: Fault[] = [],
    readonly code?: string,
  ) {
    super(message);
    this.name = 'Problem';
  }
}

/** The same words whoever it belongs to: another firm's ids are none of the writer's business. */
export const idTaken = () => new Problem(409, 'That id cannot be used; make a new one.');
export const notFound = () => new Problem(404, 'There is nothing here.');

/** Four arguments, or Express does not take it for an error handler. */
export const problems: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  const problem = asProblem(error);
  if (problem.status >= 500) request.log.error({ err: error }, 'request failed');
  response
    .status(problem.status)
    .type('application/problem+json')
    .json({
      title: problem.message,
      status: problem.status,
      ...(problem.code ? { code: problem.code } : {}),
      faults: problem.faults,
    } satisfies ProblemAnswer);
};

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof FaultError) return new Problem(422, 'Something in it must be mended first.', error.faults);
  const { type } = (error ?? {}) as { type?: string };
  if (type === 'entity.too.large') return new Problem(413, 'That is too large: 10 MB at most.');
  if (type === 'entity.parse.failed') return new Problem(400, 'That is not JSON.');
  return new Problem(500, 'Something failed on our side. Nothing was lost; try again.');
}
