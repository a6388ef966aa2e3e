import connectPgSimple from 'connect-pg-simple';
import { csrfSync } from 'csrf-sync';
import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import session from 'express-session';
import type { Request, RequestHandler } from 'express';
import type pg from 'pg';
import { tables, type Db } from '../db/index.ts';
import { HttpProblem } from './problem.ts';

export const COOKIE_NAME = 'diurna';
const WEEK_MS = 7 * 86_400_000;

/** The key that signs session cookies: made once, kept in the database, shared by all app processes. */
export async function sessionSecret(db: Db): Promise<string> {
  const { appSecret } = tables;
  await db.insert(appSecret).values({ name: 'session', value: randomBytes(32).toString('base64url') }).onConflictDoNothing();
  const [row] = await db.select().from(appSecret).where(eq(appSecret.name, 'session'));
  return row!.value;
}

export function sessionMiddleware(pool: pg.Pool, secret: string, secureCookie: boolean): { middleware: RequestHandler; stop: () => void } {
  const Store = connectPgSimple(session);
  const store = new Store({ pool, tableName: 'session', disableTouch: true });
  return {
    middleware: session({
      name: COOKIE_NAME,
      store,
      secret,
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: secureCookie, maxAge: WEEK_MS, path: '/' },
    }),
    stop: () => { store.close(); },
  };
}

export const TOKEN_HEADER = 'x-diurna-token';

const csrf = csrfSync({
  getTokenFromRequest: (req) => req.get(TOKEN_HEADER),
  skipCsrfProtection: (req: Request) =>
    // Nobody is signed in there yet; these two check where the request comes from themselves.
    req.path === '/api/first-run' || (req.path === '/api/session' && req.method === 'POST'),
});

export const newCsrfToken = (req: Request) => csrf.generateToken(req);

/** Every write carries the token of its session. */
export const csrfProtection: RequestHandler = (req, res, next) => {
  csrf.csrfSynchronisedProtection(req, res, (error?: unknown) => {
    if (!error) next();
    else if (req.session.personId === undefined) next(new HttpProblem(401, 'Sign in first. If you were signed in, the session has ended.'));
    else next(new HttpProblem(403, 'The page is from an earlier session. Reload it; what you typed is kept.'));
  });
};
