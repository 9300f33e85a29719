import express, { type RequestHandler } from 'express';

/** JSON is read only behind the question of who asks, and no more of it than the route has use for. */
export const body = (limit: '64kb' | '256kb' | '2mb' | '10mb' = '64kb'): RequestHandler => express.json({ limit });
