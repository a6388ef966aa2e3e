import { CLOCK_HEADER } from '@diurna/contract';
import type { Clock } from '@diurna/core/calendar';
import type { Session } from '@diurna/contract/people';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { randomUUID } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { extname, join } from 'node:path';
import type pg from 'pg';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Db } from './db/index.ts';
import { dayHandlers } from './day/index.ts';
import { exchangeHandlers } from './exchange/index.ts';
import { fleetHandlers } from './fleet/index.ts';
import { Api, idOf } from './http/api.ts';
import { gatewayHandlers, gatewayOf } from './gateway/index.ts';
import { hiresHandlers } from './hires/index.ts';
import { loggedError, makeLogger } from './http/log.ts';
import { HttpProblem, problemOfDatabase } from './http/problem.ts';
import { AGAIN_SECONDS, databaseTrouble } from './db/away.ts';
import { COOKIE_NAME, GATEWAY_PATH, sessionMiddleware, sessionSecret } from './http/session.ts';
import { findingsHandlers } from './findings/index.ts';
import { jobsHandlers } from './jobs/index.ts';
import { Live } from './live/index.ts';
import { planSettingsHandlers, plannerHandlers } from './planner/index.ts';
import { peopleHandlers } from './people/index.ts';
import { workCalendarHandlers } from './work-calendar/index.ts';
import { recordsHandlers } from './records/index.ts';
import { wasteHandlers } from './records/waste.ts';
import { rulesHandlers } from './rules/index.ts';
import { breakInHandlers, dueHandlers, entryHandlers, FleetCache } from './service/index.ts';
import { snagsHandlers } from './snags/index.ts';
import { arrivalHandlers, placeHandlers, storesHandlers, wantedHandlers } from './stores/index.ts';
import { systemHandlers, watchLoop } from './system/index.ts';
import { usageHandlers } from './usage/index.ts';
import { keepShipped, minutesHandlers, templateHandlers } from './visit/index.ts';

export interface AppOptions {
  pool: pg.Pool;
  db: Db;
  version: string;
  /** Folder of the built web app; left out in tests of the API. */
  webRoot?: string | undefined;
  demoAccounts?: Session['demoAccounts'];
  secureCookie?: boolean;
  /** Validate every reply against the contract: on in tests. */
  checkReplies?: boolean;
  clock: Clock;
  logger?: Logger;
}

function securityHeaders() {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        'default-src': ["'none'"],
        // The exact solver of the planner is WebAssembly.
        'script-src': ["'self'", "'wasm-unsafe-eval'"],
        // Emotion writes its styles into the page.
        'style-src': ["'self'", "'unsafe-inline'"],
        'font-src': ["'self'"],
        'img-src': ["'self'", 'data:', 'blob:'],
        'connect-src': ["'self'"],
        'manifest-src': ["'self'"],
        'worker-src': ["'self'"],
        'form-action': ["'self'"],
        'base-uri': ["'none'"],
        'frame-ancestors': ["'none'"],
      },
    },
    strictTransportSecurity: false,
    crossOriginEmbedderPolicy: false,
  });
}

export async function createApp(
  options: AppOptions,
): Promise<{ app: Express; api: Api; fleet: FleetCache; stop: () => void }> {
  const { pool, db } = options;
  const logger = options.logger ?? makeLogger('silent');
  const fleet = new FleetCache(db);
  const sessions = sessionMiddleware(pool, await sessionSecret(db), options.secureCookie ?? false);
  await keepShipped(db, options.clock());
  const live = new Live(pool);
  const loop = watchLoop();
  const api = new Api(db, options.clock, options.checkReplies ?? false, gatewayOf)
    .add(systemHandlers(options.version, loop.delay))
    .add(peopleHandlers(pool, { demoAccounts: options.demoAccounts ?? [], cookieName: COOKIE_NAME }))
    .add(fleetHandlers(fleet))
    .add(usageHandlers(fleet))
    .add(hiresHandlers(fleet))
    .add(rulesHandlers(fleet))
    .add(snagsHandlers())
    .add(gatewayHandlers())
    .add({ ...dueHandlers(fleet), ...breakInHandlers(fleet), ...entryHandlers() })
    .add(jobsHandlers())
    .add(storesHandlers(fleet))
    .add({ ...placeHandlers, ...wantedHandlers, ...arrivalHandlers })
    .add(workCalendarHandlers)
    .add({ ...plannerHandlers(fleet), ...planSettingsHandlers })
    .add(dayHandlers(fleet))
    .add(recordsHandlers)
    .add(wasteHandlers())
    .add({ ...templateHandlers, ...minutesHandlers })
    .add(findingsHandlers(fleet))
    .add(live.handlers())
    .add(exchangeHandlers());
  if (api.missing().length > 0) throw new Error(`routes without a handler: ${api.missing().join(', ')}`);

  const app = express();
  app.disable('x-powered-by');
  // One spelling of an address: what is checked for it is checked for all that reaches it.
  app.enable('case sensitive routing');
  if (options.secureCookie) app.set('trust proxy', 1);
  app.use(securityHeaders());
  // Answers are made anew each time: compress them lightly, and make no hash of what is never stored.
  app.use(
    compression({
      level: 1,
      filter: (req, res) =>
        !String(res.getHeader('content-type')).startsWith('text/event-stream') && compression.filter(req, res),
    }),
  );
  app.set('etag', false);
  app.use('/api', (_req, res, next) => {
    res.set({ 'cache-control': 'no-store', [CLOCK_HEADER]: options.clock().toISOString() });
    next();
  });
  app.use(
    pinoHttp({
      logger,
      genReqId: (_req, res) => {
        const id = randomUUID();
        res.setHeader('x-request-id', id);
        return id;
      },
      customLogLevel: (_req, res, error) =>
        res.statusCode === 503
          ? 'warn'
          : error || res.statusCode >= 500
            ? 'error'
            : res.statusCode >= 400
              ? 'warn'
              : 'info',
      // Ours get the things themselves.
      wrapSerializers: false,
      serializers: {
        err: loggedError,
        req: (r: { id: string; method: string; url: string }) => ({
          id: r.id,
          method: r.method,
          url: r.url.split('?')[0],
        }),
        res: (r: { statusCode: number }) => ({ status: r.statusCode }),
      },
    }),
  );
  app.use('/api', express.raw({ type: 'application/octet-stream', limit: '1mb' }));
  app.use('/api', express.json({ limit: '1mb' }), express.text({ type: ['text/csv', 'text/calendar'], limit: '24mb' }));
  app.use('/api', (req, res, next) => {
    // Health, description and boxes on boats need no session.
    if (
      (req.method === 'GET' && (req.path === '/health' || req.path === '/openapi.json')) ||
      req.originalUrl === GATEWAY_PATH
    )
      next();
    else sessions.middleware(req, res, next);
  });
  app.use(api.router);
  app.use('/api', (req) => {
    throw new HttpProblem(404, `There is nothing at ${req.originalUrl.split('?')[0]}.`);
  });
  if (options.webRoot) serveWeb(app, options.webRoot);
  app.use((req) => {
    throw new HttpProblem(404, `There is nothing at ${req.originalUrl.split('?')[0]}.`);
  });
  app.use(errors(logger));
  const stop = () => {
    loop.stop();
    live.stop();
    sessions.stop();
  };
  return { app, api, fleet, stop };
}

function serveWeb(app: Express, root: string): void {
  const packed = new Set(readdirSync(join(root, 'assets')).filter((name) => name.endsWith('.gz')));
  app.use(
    '/assets',
    (req, res, next) => {
      // The build packs scripts and styles once, so that no reader waits for it.
      if (packed.has(`${req.path.slice(1)}.gz`) && req.acceptsEncodings('gzip')) {
        res.set('content-encoding', 'gzip').vary('accept-encoding').type(extname(req.path));
        req.url = `${req.path}.gz`;
      }
      next();
    },
    express.static(join(root, 'assets'), { immutable: true, maxAge: '1y', index: false }),
    // A page in its place would be taken for the script that is gone.
    () => {
      throw new HttpProblem(404, 'This part of the app is of an older build. Reload the page.');
    },
  );
  app.use(express.static(root, { index: false, maxAge: 0 }));
  app.get('/{*path}', (_req, res) => {
    res.set('cache-control', 'no-cache').sendFile(join(root, 'index.html'));
  });
}

function errors(logger: Logger): ErrorRequestHandler {
  return (error: unknown, req, res, _next) => {
    const problem = asProblem(error);
    // A busy answer we gave ourselves is no failure; a database that is away is one.
    if (problem.status >= 500 && !(error instanceof HttpProblem))
      logger.error({ err: error, id: req.id }, 'request failed');
    if (res.headersSent) {
      res.destroy();
      return;
    }
    if (problem.status === 503) res.set('retry-after', String(AGAIN_SECONDS));
    res
      .status(problem.status)
      .type('application/problem+json')
      .json(problem.body(idOf(req)));
  };
}

function asProblem(error: unknown): HttpProblem {
  if (error instanceof HttpProblem) return error;
  const known = problemOfDatabase(error);
  if (known) return known;
  const trouble = databaseTrouble(error);
  if (trouble !== null)
    return new HttpProblem(
      503,
      trouble === 'away'
        ? 'The database does not answer. What you typed is kept on your screen; try again in a moment.'
        : 'Too much is under way in the database just now. Nothing was written; try again in a moment.',
    );
  const { status, type } = error as { status?: number; type?: string };
  if (type === 'entity.parse.failed')
    return new HttpProblem(400, 'What was sent is not readable. Reload the page and try again.');
  if (type === 'entity.too.large')
    return new HttpProblem(413, 'The file is larger than 24 MB. Split it and read the parts in one after the other.');
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new HttpProblem(status, 'The request could not be read.');
  return new HttpProblem(
    500,
    'Something went wrong on our side and nothing was written. Try again; if it stays, tell the administrator the number below.',
  );
}
