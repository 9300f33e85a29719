import type { Request } from 'express';
import type { Config } from '../config';

/** Where this server is reached: as it was told, else by the address by which the person has come. */
export const addressOf = ({ publicUrl }: Config, request: Request): string =>
  publicUrl ?? `${request.protocol}://${request.get('host')}`;
