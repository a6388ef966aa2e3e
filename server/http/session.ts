import connectPgSimple from 'connect-pg-simple';
import { csrfSync } from 'csrf-sync';
import { randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import session from 'express-session';
import type { Request, RequestHandler } from 'express';
import type pg from 'pg';
import { machineNow } from '../clock.ts';
import { PRESENT_HEADER, TOKEN_HEADER, type Role } from '@diurna/contract';
import { z } from 'zod';
import { json, parsed, tables, type Db } from '../db/index.ts';
import { HttpProblem } from './problem.ts';

export interface Who {
  id: number;
  name: string;
  role: Role;
  baseId: number | null;
  /** The yard asks a second factor of them and they have none yet: nothing is open to them but setting it up. */
  halfway: boolean;
}

declare module 'express-session' {
  interface SessionData {
    personId: number;
    /** When it began, by the machine's clock (ms). */
    begun: number;
    /** Signed in on a device that others use too. */
    shared: boolean;
    /** The browser, in words. */
    device: string;
    /** The person as the book has them now, and when they were last there (ms); read with the session, never in it. */
    who: Who | null;
    seen: number;
  }
}

const MINUTE_MS = 60_000;
/**
 * How long a session lasts with nobody there, and in all; shorter where others use the device too. `noted`: how exactly
 * it is kept when somebody was last there.
 */
export const LASTS = {
  own: { idle: 12 * 60 * MINUTE_MS, all: 7 * 24 * 60 * MINUTE_MS, noted: 5 * MINUTE_MS },
  shared: { idle: 15 * MINUTE_MS, all: 12 * 60 * MINUTE_MS, noted: MINUTE_MS },
};

/** Behind TLS the cookie's name binds it to this host and to all of it (RFC 6265bis, 4.1.3.2). */
export const cookieName = (secure: boolean): string => (secure ? '__Host-diurna' : 'diurna');

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

/** When somebody was last there; a session of an older build tells neither, and ends by its cookie. */
const SEEN = `coalesce(s.seen_at, to_timestamp((s.sess ->> 'begun')::float8 / 1000))`;
/** Neither over nor left alone too long; $1 = now (s). Browsers end a cookie by the machine's clock, so it counts. */
const ALIVE = `s.expire >= to_timestamp($1) and coalesce(${SEEN} >= to_timestamp($1)
  - case when (s.sess ->> 'shared')::boolean then ${LASTS.shared.idle} else ${LASTS.own.idle} end * interval '1 ms', true)`;

const nowSeconds = () => Math.ceil(machineNow() / 1000);

/** Which of these sessions go on. */
export async function aliveSessions(pool: pg.Pool, ids: string[]): Promise<Set<string>> {
  const { rows } = await pool.query(`select s.sid from session s where ${ALIVE} and s.sid = any($2)`, [
    nowSeconds(),
    ids,
  ]);
  return new Set(parsed(z.object({ sid: z.string() }), rows).map((r) => r.sid));
}

const openSession = z.object({
  sid: z.string(),
  begun: z.number(),
  seen: z.number(),
  shared: z.boolean(),
  device: z.string(),
});
/** A session as its person sees it. */
export type OpenSession = z.infer<typeof openSession>;

/** Where somebody is signed in, the last seen first. */
export async function sessionsOf(pool: pg.Pool, personId: number): Promise<OpenSession[]> {
  const { rows } = await pool.query(
    `select s.sid, coalesce((s.sess ->> 'begun')::float8, 0) as begun, coalesce(extract(epoch from ${SEEN})::float8 * 1000, 0) as seen,
       coalesce((s.sess ->> 'shared')::boolean, false) as shared, coalesce(s.sess ->> 'device', '') as device
     from session s where ${ALIVE} and (s.sess ->> 'personId')::int = $2 order by seen desc`,
    [nowSeconds(), personId],
  );
  return parsed(openSession, rows);
}

const ofSession = z.object({ sess: json<session.SessionData>(), seen: z.number().nullable(), who: json<Who | null>() });

/**
 * Sessions in PostgreSQL, each read together with its person in one statement, so that a changed role or
 * leaving counts at the next request.
 */
function personStore(pool: pg.Pool, asDemo: boolean): InstanceType<ReturnType<typeof connectPgSimple>> {
  class PersonStore extends connectPgSimple(session) {
    override get(sid: string, done: (error: unknown, found?: session.SessionData | null) => void): void {
      pool
        .query({
          name: 'session',
          text: `select s.sess, extract(epoch from ${SEEN})::float8 * 1000 as seen,
            case when p.active and (not p.open_password or ($3 and g.demo))
            then json_build_object('id', p.id, 'name', p.name, 'role', p.role, 'baseId', p.base_id, 'halfway',
              g.second_factor and p.role in ('administrator', 'coordinator') and f.confirmed_at is null) end as who
               from session s left join person p on p.id = (s.sess ->> 'personId')::int
                 left join setting g on g.id = 1 left join second_factor f on f.person_id = p.id
               where ${ALIVE} and s.sid = $2`,
          values: [nowSeconds(), sid, asDemo],
        })
        .then(({ rows }) => {
          const [row] = parsed(ofSession, rows);
          done(null, row ? { ...row.sess, who: row.who, seen: row.seen ?? machineNow() } : null);
        }, done);
    }

    override set(sid: string, found: session.SessionData, done?: (error?: unknown) => void): void {
      const { who: _, seen: __, ...kept } = found;
      super.set(sid, kept as session.SessionData, done);
    }
  }
  return new PersonStore({ pool, tableName: 'session', disableTouch: true });
}

/**
 * Keeps when somebody was last there: a write, or a page that says so; what screens ask by themselves does not count.
 */
function notePresence(pool: pg.Pool): RequestHandler {
  return async (req, _res, next) => {
    const { personId, shared, seen } = req.session;
    const there = req.method !== 'GET' || req.get(PRESENT_HEADER) !== undefined;
    const now = machineNow();
    if (personId !== undefined && there && now - (seen ?? now) > LASTS[shared ? 'shared' : 'own'].noted) {
      await pool.query('update session set seen_at = to_timestamp($2) where sid = $1', [req.sessionID, now / 1000]);
    }
    next();
  };
}

/** @param asDemo the book is run as the demo: people whose password anyone may read are let in */
export function sessionMiddleware(
  pool: pg.Pool,
  secret: string,
  { secureCookie, asDemo }: { secureCookie: boolean; asDemo: boolean },
): { middleware: RequestHandler[]; stop: () => void } {
  const store = personStore(pool, asDemo);
  return {
    middleware: [
      session({
        name: cookieName(secureCookie),
        store,
        secret,
        resave: false,
        saveUninitialized: false,
        cookie: { httpOnly: true, sameSite: 'lax', secure: secureCookie, maxAge: LASTS.own.all, path: '/' },
      }),
      notePresence(pool),
    ],
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
