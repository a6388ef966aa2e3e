import connectPgSimple from 'connect-pg-simple';
import { csrfSync } from 'csrf-sync';
import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import session from 'express-session';
import type { Request, RequestHandler } from 'express';
import type pg from 'pg';
import { machineNow } from '../clock.ts';
import { TOKEN_HEADER, type Role } from '@diurna/contract';
import { tables, type Db } from '../db/index.ts';
import { HttpProblem } from './problem.ts';

export interface Who {
  id: number;
  name: string;
  role: Role;
  baseId: number | null;
}

declare module 'express-session' {
  interface SessionData {
    personId: number;
    /** The person as the book has them now; read with the session, never stored in it. */
    who: Who | null;
  }
}

export const COOKIE_NAME = 'diurna';
const WEEK_MS = 7 * 86_400_000;

/** The key that signs session cookies: made once, kept in the database, shared by all app processes. */
export async function sessionSecret(db: Db): Promise<string> {
  const { appSecret } = tables;
  await db
    .insert(appSecret)
    .values({ name: 'session', value: randomBytes(32).toString('base64url') })
    .onConflictDoNothing();
  const [row] = await db.select().from(appSecret).where(eq(appSecret.name, 'session'));
  return row!.value;
}

/**
 * Sessions in PostgreSQL, each read together with its person in one statement, so that a changed role or
 * leaving counts at the next request.
 */
function personStore(pool: pg.Pool): InstanceType<ReturnType<typeof connectPgSimple>> {
  class PersonStore extends connectPgSimple(session) {
    override get(sid: string, done: (error: unknown, found?: session.SessionData | null) => void): void {
      pool
        .query<{ sess: session.SessionData; who: Who | null }>({
          name: 'session',
          text: `select s.sess, case when p.active
            then json_build_object('id', p.id, 'name', p.name, 'role', p.role, 'baseId', p.base_id) end as who
               from session s left join person p on p.id = (s.sess ->> 'personId')::int
               where s.sid = $1 and s.expire >= to_timestamp($2)`,
          // Browsers end a cookie by the machine's clock, so a session ends by it too.
          values: [sid, Math.ceil(machineNow() / 1000)],
        })
        .then(({ rows: [row] }) => {
          done(null, row ? { ...row.sess, who: row.who } : null);
        }, done);
    }

    override set(sid: string, found: session.SessionData, done?: (error?: unknown) => void): void {
      const { who: _, ...kept } = found;
      super.set(sid, kept as session.SessionData, done);
    }
  }
  return new PersonStore({ pool, tableName: 'session', disableTouch: true });
}

export function sessionMiddleware(
  pool: pg.Pool,
  secret: string,
  secureCookie: boolean,
): { middleware: RequestHandler; stop: () => void } {
  const store = personStore(pool);
  return {
    middleware: session({
      name: COOKIE_NAME,
      store,
      secret,
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: secureCookie, maxAge: WEEK_MS, path: '/' },
    }),
    stop: () => {
      store.close();
    },
  };
}

/** Boxes on boats carry a key of their own, no cookie. */
export const GATEWAY_PATH = '/api/gateway/messages';

const csrf = csrfSync({ getTokenFromRequest: (req) => req.get(TOKEN_HEADER) });

export const newCsrfToken = (req: Request) => csrf.generateToken(req);

/**
 * A write carries the token of its session; asked for by the route itself, wherever and under whatever spelling of its
 * address it is reached.
 * @throws 403 when it does not
 */
export function needToken(req: Request): void {
  if (!csrf.isRequestValid(req))
    throw new HttpProblem(403, 'The page is from an earlier session. Reload it; what you typed is kept.');
}
