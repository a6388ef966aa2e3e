import { CLOCK_HEADER } from '@diurna/contract';
import type { Clock } from '@diurna/core/calendar';
import type { Session } from '@diurna/contract/people';
import compression from 'compression';
import express, { type ErrorRequestHandler, type Express, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { randomBytes, randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { extname, join } from 'node:path';
import type pg from 'pg';
import type { Logger } from 'pino';
import type { Registry } from 'prom-client';
import { pinoHttp } from 'pino-http';
import type { Db } from './db/index.ts';
import { backgroundHandlers, doersOf, MAIL_IS_DUE, Queue } from './background/index.ts';
import { changesHandlers } from './changes/index.ts';
import { dayHandlers } from './day/index.ts';
import { exchangeHandlers } from './exchange/index.ts';
import { firstDayHandlers } from './first-day/index.ts';
import { fleetHandlers } from './fleet/index.ts';
import { Api, idOf } from './http/api.ts';
import { gatewayHandlers, gatewayOf } from './gateway/index.ts';
import { hiresHandlers } from './hires/index.ts';
import { loggedError, loggedPath, makeLogger } from './http/log.ts';
import { HttpProblem, problemOfDatabase } from './http/problem.ts';
import { AGAIN_SECONDS, databaseTrouble } from './db/away.ts';
import { GATEWAY_PATH, sessionMiddleware, sessionSecret } from './http/session.ts';
import { Quotas } from './http/quota.ts';
import { Throttle } from './http/throttle.ts';
import { findingsHandlers } from './findings/index.ts';
import { mailNeeded, messagesHandlers, type MailOptions } from './messages/index.ts';
import { jobsHandlers } from './jobs/index.ts';
import { Live } from './live/index.ts';
import { orderingHandlers } from './ordering/index.ts';
import { planSettingsHandlers, plannerHandlers } from './planner/index.ts';
import { peopleHandlers } from './people/index.ts';
import { workCalendarHandlers } from './work-calendar/index.ts';
import { recordsHandlers } from './records/index.ts';
import { wasteHandlers } from './records/waste.ts';
import { rulesHandlers } from './rules/index.ts';
import { breakInHandlers, deferralHandlers, dueHandlers, entryHandlers, FleetCache } from './service/index.ts';
import { lifeHandlers } from './life/index.ts';
import { seasonHandlers } from './season/index.ts';
import { snagsHandlers } from './snags/index.ts';
import { arrivalHandlers, placeHandlers, storesHandlers, wantedHandlers } from './stores/index.ts';
import { metricsHandler, systemHandlers, Watch, type AllMetrics } from './system/index.ts';
import type { Think } from './think.ts';
import { thinkHere } from './thoughts.ts';
import { usageHandlers } from './usage/index.ts';
import { keepShipped, minutesHandlers, stepPictureHandlers, templateHandlers } from './visit/index.ts';

export interface AppOptions {
  pool: pg.Pool;
  db: Db;
  version: string;
  /** Folder of the built web app; left out in tests of the API. */
  webRoot?: string | undefined;
  demoAccounts?: Session['demoAccounts'];
  /** Reached through TLS only: cookies are bound to it, and browsers are told to come no other way. */
  secureCookie?: boolean;
  /** Addresses of proxies whose word on where a request came from is taken. */
  trustedProxies?: string[];
  /** Hosts of this network, with or without port, at which calendars may be read. */
  privateFeeds?: string[];
  /** How mail goes; left out, the book sends none. */
  mail?: MailOptions | null;
  /** Names under which the book is served, besides those of this machine. */
  hosts?: string[];
  /** Validate every reply against the contract: on in tests. */
  checkReplies?: boolean;
  clock: Clock;
  logger?: Logger;
  /** Works out what takes long; left out, it is worked out on the loop itself. */
  think?: Think | undefined;
  /** Metrics of all processes on the same port; left out, those of this one. */
  allMetrics?: AllMetrics | undefined;
}

/** A number used once, for the styles of one answer. */
const nonceOf = (res: Response): string =>
  ((res.locals as { nonce?: string }).nonce ??= randomBytes(16).toString('base64'));

/** What a page of ours never asks of a device. The camera reads labels; pictures come through the file chooser. */
const NOT_USED = [
  'microphone',
  'geolocation',
  'payment',
  'usb',
  'serial',
  'midi',
  'accelerometer',
  'gyroscope',
  'magnetometer',
  'display-capture',
  'browsing-topics',
];

const OWN_NAMES = ['localhost', '127.0.0.1', '[::1]'];
/**
 * A name somebody else pointed at this machine is no way in (DNS rebinding). @param hosts served besides this machine's
 * own
 */
function onlyUnder(hosts: string[]): RequestHandler {
  const known = new Set([...OWN_NAMES, ...hosts.map((h) => h.toLowerCase())]);
  return (req, _res, next) => {
    const host = (req.get('host') ?? '').toLowerCase();
    if (known.has(host) || known.has(host.replace(/:\d+$/, ''))) next();
    else
      throw new HttpProblem(
        421,
        'This book is not served under the name in the address. Whoever runs it names it in DIURNA_HOSTS.',
      );
  };
}

function securityHeaders(secure: boolean) {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        'default-src': ["'none'"],
        // The exact solver of the planner is WebAssembly.
        'script-src': ["'self'", "'wasm-unsafe-eval'"],
        // The style engine writes into the page, and shows the nonce of that page.
        'style-src': ["'self'", (_req, res) => `'nonce-${nonceOf(res as Response)}'`],
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
    strictTransportSecurity: secure && { maxAge: 2 * 365 * 86_400, includeSubDomains: true },
    crossOriginEmbedderPolicy: false,
  });
}

export async function createApp(
  options: AppOptions,
): Promise<{ app: Express; api: Api; fleet: FleetCache; queue: Queue; metrics: Registry; stop: () => void }> {
  const { pool, db } = options;
  const logger = options.logger ?? makeLogger('silent');
  const fleet = new FleetCache(db);
  const secureCookie = options.secureCookie ?? false;
  const demoAccounts = options.demoAccounts ?? [];
  const asDemo = demoAccounts.length > 0;
  const sessions = sessionMiddleware(pool, await sessionSecret(db), { secureCookie, asDemo });
  const throttle = new Throttle(pool);
  await keepShipped(db, options.clock());
  const live = new Live(pool);
  const watch = new Watch(db, options.clock, logger);
  pool.on('slow', (statement, ms) => {
    watch.slowStatement(statement, ms);
  });
  const think = options.think ?? thinkHere({ db, fleet });
  const mail = options.mail ?? null;
  const queue = new Queue(
    pool,
    doersOf(db, options.clock, { privateFeeds: options.privateFeeds ?? [], mail, think }),
    logger,
  );
  const api = new Api(db, options.clock, options.checkReplies ?? false, gatewayOf, {
    throttle,
    quotas: new Quotas(pool),
  })
    .add(systemHandlers(options.version, watch, () => queue.open))
    .add(peopleHandlers(pool, { demoAccounts, secureCookie }, throttle))
    .add(firstDayHandlers)
    .add(fleetHandlers(fleet))
    .add(usageHandlers(fleet))
    .add(hiresHandlers(fleet, { privateFeeds: options.privateFeeds ?? [], logger }))
    .add(rulesHandlers(fleet, think))
    .add(snagsHandlers())
    .add(seasonHandlers(think))
    .add(lifeHandlers(fleet))
    .add(gatewayHandlers())
    .add({ ...dueHandlers(fleet), ...breakInHandlers(fleet), ...deferralHandlers(fleet), ...entryHandlers() })
    .add(jobsHandlers)
    .add(storesHandlers(fleet, think))
    .add({ ...placeHandlers, ...wantedHandlers, ...arrivalHandlers })
    .add(
      orderingHandlers(
        think,
        mailNeeded(mail),
        (tx) => queue.send(MAIL_IS_DUE, { tx }),
        (tx, subjectId, title) =>
          queue.send({ kind: 'order', title, subjectId, personId: null, requestId: null }, { tx }),
      ),
    )
    .add(workCalendarHandlers)
    .add({ ...plannerHandlers(fleet, think), ...planSettingsHandlers })
    .add(changesHandlers)
    .add(messagesHandlers(mail, (tx) => queue.send(MAIL_IS_DUE, { tx })))
    .add(dayHandlers(fleet, think))
    .add(recordsHandlers)
    .add(backgroundHandlers(queue))
    .add(wasteHandlers())
    .add({ ...templateHandlers, ...minutesHandlers, ...stepPictureHandlers })
    .add(findingsHandlers(fleet))
    .add(live.handlers())
    .add(exchangeHandlers(think));
  if (api.missing().length > 0) throw new Error(`routes without a handler: ${api.missing().join(', ')}`);

  const app = express();
  app.disable('x-powered-by');
  // One spelling of an address: what is checked for it is checked for all that reaches it.
  app.enable('case sensitive routing');
  // What a request says of where it came from is believed of these alone.
  app.set('trust proxy', options.trustedProxies ?? false);
  app.use(securityHeaders(secureCookie), onlyUnder(options.hosts ?? []));
  app.use((_req, res, next) => {
    res.set('permissions-policy', ['camera=(self)', ...NOT_USED.map((what) => `${what}=()`)].join(', '));
    next();
  });
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
          url: loggedPath(r.url),
        }),
        res: (r: { statusCode: number }) => ({ status: r.statusCode }),
      },
    }),
  );
  app.use('/api', watch.middleware());
  app.get('/metrics', metricsHandler(watch.registry, options.allMetrics));
  app.use('/api', express.raw({ type: 'application/octet-stream', limit: '1mb' }));
  app.use('/api', express.json({ limit: '1mb' }), express.text({ type: ['text/csv', 'text/calendar'], limit: '24mb' }));
  const withSession = express.Router().use(...sessions.middleware);
  app.use('/api', (req, res, next) => {
    // Health, description and boxes on boats need no session.
    if (
      (req.method === 'GET' && (req.path === '/health' || req.path === '/openapi.json')) ||
      req.originalUrl === GATEWAY_PATH
    )
      next();
    else withSession(req, res, next);
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
    watch.stop();
    live.stop();
    sessions.stop();
  };
  return { app, api, fleet, queue, metrics: watch.registry, stop };
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
  const page = readFileSync(join(root, 'index.html'), 'utf8');
  const sendPage: RequestHandler = (_req, res) => {
    res
      .set('cache-control', 'no-cache')
      .type('html')
      .send(page.replace('NONCE-OF-THE-PAGE', nonceOf(res)));
  };
  app.get('/index.html', sendPage);
  app.use(express.static(root, { index: false, maxAge: 0 }));
  app.get('/{*path}', sendPage);
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
    const again = problem.again ?? (problem.status === 503 ? AGAIN_SECONDS : null);
    if (again !== null) res.set('retry-after', String(again));
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
