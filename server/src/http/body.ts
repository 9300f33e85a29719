import express, { type RequestHandler } from 'express';

/** JSON is read only behind the question of who asks, and no more of it than the route has use for. */
export const body = (limit: '64kb' | '256kb' | '2mb' | '10mb' = '64kb'): RequestHandler => express.json({ limit });

/** A body left as it came, for a thread to read: what takes the main thread 50 ms to take apart holds everybody up. */
export const unread = (limit: '10mb'): RequestHandler => express.raw({ limit, type: 'application/json' });
