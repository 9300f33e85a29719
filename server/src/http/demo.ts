import { demoFaultSchema } from '@true-lantern/wire';
import { Router } from 'express';
import { only, writerIs } from '../auth/session';
import { parse } from '../parse';
import { body } from './body';

/** The demo's own switch: its stand-in system develops a fault while it is on. Only where there is a demo. */
export function demoRoutes(): { open: Router; own: Router } {
  let on = false;
  // Asked by the stand-in, which has no session; says nothing of anybody.
  const open = Router();
  open.get('/demo/fault', (_request, response) => {
    response.json({ on });
  });
  const own = Router();
  own.put('/demo/fault', only(writerIs), body(), (request, response) => {
    on = parse(demoFaultSchema, request.body).on;
    response.status(204).end();
  });
  return { open, own };
}
