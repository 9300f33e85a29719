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

/** 400: the body is no JSON, whoever found out. */
export const notJson = () => new Problem(400, 'That is not JSON.');
/** The same words whoever it belongs to: another firm's ids are none of the writer's business. */
export const idTaken = () => new Problem(409, 'That id cannot be used. Create a new one.');
/** The same answer for what is not there and for what is somebody else's. */
export const notFound = () => new Problem(404, 'There is nothing here.');
/** 503: nothing is wrong with the request; the caller waits a minute and comes again. */
export const tooBusy = () => new Problem(503, 'The server is busy. Try again in a minute.');

/** Four arguments, or Express does not take it for an error handler. */
export const problems: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
  const problem = asProblem(error);
  // Logged once, with the request: see `pinoHttp`.
  if (problem.status >= 500) (response as { err?: Error }).err = forLog(error);
  if (problem.status === 503) response.set('Retry-After', '60');
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

/** Errors of the database in which it cannot be reached, or has no connection free. */
const UNREACHABLE = /^Sequelize(Connection|HostNotFound|AccessDenied|HostNotReachable|InvalidConnection)/;
const GONE = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', '57P01', '57P02', '57P03', '53300']);

const codeOf = (error: unknown): string =>
  String((error as { code?: string })?.code ?? (error as { original?: { code?: string } })?.original?.code ?? '');

/** Errors of a disk, a memory or a database that takes no more: full, failing, or set to be read only. */
const FULL = new Set(['53100', '53200', '58030', '25006', 'ENOSPC', 'EDQUOT', 'EROFS']);

/** True for an error that says the database takes nothing just now, not that it refused. */
export const isUnreachable = (error: unknown): boolean =>
  UNREACHABLE.test((error as Error | null)?.name ?? '') || GONE.has(codeOf(error)) || FULL.has(codeOf(error));

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof FaultError) return new Problem(422, 'Something must be corrected first.', error.faults);
  const { type, limit } = (error ?? {}) as { type?: string; limit?: number };
  if (type === 'entity.too.large') return new Problem(413, `That is too large: ${sizeText(limit ?? 0)} at most.`);
  if (type === 'entity.parse.failed') return notJson();
  if (type?.startsWith('encoding') || type?.startsWith('charset') || type?.startsWith('request.'))
    return new Problem(400, 'The request could not be read.');
  if (error instanceof URIError) return new Problem(400, 'The address could not be read.');
  if (FULL.has(codeOf(error)))
    return new Problem(
      503,
      'The server cannot store anything at the moment. Nothing is lost: what you entered waits on this device.',
    );
  if (isUnreachable(error)) return tooBusy();
  return new Problem(500, 'Something went wrong on the server. Nothing was lost. Try again.');
}

const sizeText = (bytes: number) =>
  bytes >= 1e6 ? `${Math.floor(bytes / 2 ** 20)} MB` : `${Math.floor(bytes / 1024)} kB`;

/**
 * What a log may hold of an error: its kind, its code, where it was thrown. The words of a database's error quote the
 * values of a query, which are a customer's; those are left out.
 */
export function forLog(error: unknown): Error {
  if (!(error instanceof Error)) return new Error('something that is no error was thrown');
  const ofDatabase = error.name.startsWith('Sequelize') || 'original' in error || 'severity' in error;
  const frame = (error.stack ?? '')
    .split('\n')
    .find((line) => /\/(server|core|wire)\//.test(line) && !/node_modules/.test(line));
  const short = new Error(
    ofDatabase ? `the database refused (${codeOf(error) || error.name})` : error.message.split('\n')[0]?.slice(0, 200),
  );
  short.name = error.name;
  short.stack = `${short.name}: ${short.message}${frame ? `\n${frame}` : ''}`;
  return short;
}
