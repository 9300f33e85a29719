import { existsSync } from 'node:fs';
import { extname, join } from 'node:path';
import compression from 'compression';
import express, { type Express } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { signInLimits } from '../auth/limits';
import { csrfCheck, identify, overHttps, sessions } from '../auth/session';
import type { Config } from '../config';
import type { Fleet } from '../jobs/fleet';
import { openIngest, type Ingest } from '../live/ingest';
import type { Database } from '../store/database';
import type { News } from '../store/news';
import type { Pool } from '../threads/pool';
import { alertRoutes } from './alerts';
import { attachmentRoutes } from './attachments';
import { demoRoutes } from './demo';
import { dueRoutes } from './due';
import { eventRoutes } from './events';
import { firmRoutes } from './firm';
import { fleetRoutes } from './fleet';
import { handOverPages, handOverRoutes } from './handover';
import { offerPages, offerRoutes } from './offers';
import { paperRoutes } from './papers';
import { invitationRoutes } from './invitations';
import { feedRoute, liveRoutes } from './live';
import { joiningRoutes } from './joining';
import { passkeyRoutes } from './passkeys';
import { postOf } from './mail';
import { peopleRoutes } from './people';
import { forLog, notFound, problems } from '../problem';
import { recordRoutes } from './records';
import { sessionRoutes } from './session';
import { shelfRoutes } from './shelf';
import { siteRoutes } from './sites';
import { tripRoutes } from './trips';

/** Stateless: sessions, limits and data are in the database, so that more of these can stand behind a balancer. */
export interface Surroundings {
  database: Database;
  pool: Pool;
  log: Logger;
  /** What opens an empty server; printed where only its keeper can read it. */
  firstCode: string;
  /** Absent: no jobs of the fleet. */
  fleet?: Fleet;
  /** The way in for live values; absent: the app opens its own. */
  ingest?: Ingest;
  /** News of sites for open pages; absent: they ask. */
  news?: News;
}

/** The app, and what ends the streams that it holds open. */
export type App = Express & { endStreams(): void };

/** The whole application over its surroundings: limits, sessions, routes, the web app, and problems last. */
export function createApp(config: Config, { database, pool, log, firstCode, fleet, ingest, news }: Surroundings): App {
  const app = express();
  const events = news ? eventRoutes(database, news) : null;
  // Behind a proxy the address and the protocol are what the proxy says, if it is one that we were told of.
  app.set('trust proxy', config.trustProxy);
  app.disable('x-powered-by');
  app.use(heads(config));
  app.use(compression());
  app.use(
    pinoHttp({
      logger: log,
      serializers: {
        err: (error: Error) => ({ type: error.name, message: error.message, stack: forLog(error).stack }),
        req: (read: { url: string }) => ({ ...read, url: withoutToken(read.url) }),
      },
      redact: [
        'req.headers.cookie',
        'req.headers.authorization',
        'req.headers["x-csrf-token"]',
        'res.headers["set-cookie"]',
      ],
      autoLogging: { ignore: ({ url }) => url === '/api/health' || !url?.startsWith('/api') },
    }),
  );

  const api = express.Router();
  api.get('/health', async (_request, response) => {
    await database.sequelize.query('select 1');
    response.json({ ok: true });
  });
  api.use((_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  api.use(overHttps(config));
  api.use(feedRoute(ingest ?? openIngest(database)));
  const demo = config.demoSignIn ? demoRoutes() : null;
  if (demo) api.use(demo.open);
  // Who is asking, before the request is read.
  api.use(sessions(config, database.pool));
  api.use(identify(database));
  api.use(csrfCheck);
  const limits = signInLimits(database.pool);
  api.use(sessionRoutes(config, database, limits));
  const post = postOf(config, (error) => log.error({ err: { message: error.message } }, 'a link was not mailed'));
  api.use(joiningRoutes(config, database, limits, firstCode));
  api.use(invitationRoutes(config, database, post));
  api.use(peopleRoutes(database));
  api.use(passkeyRoutes(config, database, limits));
  if (events) api.use(events.router);
  api.use(siteRoutes(database, pool));
  api.use(attachmentRoutes(database, pool));
  api.use(paperRoutes(database, pool));
  api.use(dueRoutes(config, database, pool));
  api.use(handOverRoutes(config, database, pool));
  api.use(offerRoutes(config, database, pool));
  api.use(liveRoutes(config, database));
  api.use(alertRoutes(database, post !== null));
  api.use(fleetRoutes(database, fleet ?? null));
  if (demo) api.use(demo.own);
  api.use(tripRoutes(database));
  api.use(recordRoutes(database));
  api.use(shelfRoutes(database));
  api.use(firmRoutes(database, pool));
  api.use(() => {
    throw notFound();
  });
  app.use('/api', api);
  app.use(handOverPages(config, database));
  app.use(offerPages(database));
  if (config.webRoot) serveWeb(app, config.webRoot);
  app.use(problems);
  return Object.assign(app, { endStreams: () => events?.end() });
}

/** An address that opens something by itself is written to no log: its token is left out. */
export const withoutToken = (url: string): string => url.replace(/\/(join|calendars|h|o)\/[^/?#]+/g, '/$1/...');

/** What a page may load and do, told with every answer. */
const heads = (config: Config) =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        objectSrc: ["'none'"],
        scriptSrc: ["'self'"],
        workerSrc: ["'self'", 'blob:'],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'", 'data:'],
        connectSrc: ["'self'"],
        manifestSrc: ["'self'"],
      },
    },
    strictTransportSecurity: config.secure,
    // The app is never framed or embedded; the other defaults of helmet stand.
    crossOriginEmbedderPolicy: false,
  });

function serveWeb(app: Express, root: string) {
  if (!existsSync(join(root, 'index.html'))) throw new Error(`WEB_ROOT ${root} holds no index.html: build the web app`);
  // Hashed names never change their content; everything else is asked for anew.
  const year = 'public, max-age=31536000, immutable';
  app.use(
    express.static(root, {
      setHeaders(response, path) {
        const hashed = /[\\/](_expo[\\/]static|assets)[\\/]/.test(path);
        response.setHeader('Cache-Control', hashed ? year : 'no-cache');
        // The reader of photos compiles its own program, in its own thread alone: nothing else here may.
        if (/[\\/]reader[\\/]/.test(path))
          response.setHeader('Content-Security-Policy', "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'");
      },
    }),
  );
  app.get('/{*path}', (request, response, next) => {
    if (extname(request.path)) return next(notFound());
    response.set('Cache-Control', 'no-cache');
    response.sendFile(join(root, 'index.html'));
  });
}
