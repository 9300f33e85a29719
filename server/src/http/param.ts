import type { Request } from 'express';

/** A part of the address; empty where the route has none of that name. */
export function param(request: Request<never> | Request, name: string): string {
  const value = (request.params as Record<string, string | string[] | undefined>)[name];
  return typeof value === 'string' ? value : '';
}
