import type { Fault, Parsed, ReplyOf, Route, RouteName } from '@diurna/contract';
import { KEY_HEADER, routes } from '@diurna/contract';
import { Router, type Request, type Response } from 'express';
import type { Clock } from '@diurna/core/calendar';
import type { Logger } from 'pino';
import type { z } from 'zod';
import { tables, transaction, type Db, type Tx } from '../db/index.ts';
import { HttpProblem } from './problem.ts';
import { answeredBefore, keepReply, keyedOf, noteDone, type Keyed } from './once.ts';
import type { Quotas } from './quota.ts';
import { needToken, type Who } from './session.ts';
import { saidBy, sendJson } from './shared.ts';
import type { Throttle } from './throttle.ts';

export type { Who } from './session.ts';

export interface AuditLine {
  act:
    | 'added'
    | 'changed'
    | 'retired'
    | 'taken back'
    | 'cancelled'
    | 'finished'
    | 'undone'
    | 'imported'
    | 'signed in'
    | 'signed out';
  subject: string;
  subjectId?: number | null;
  title?: string | null;
  before?: unknown;
  after?: unknown;
}

/** What a handler works with. */
export interface Context<R extends Route> extends Parsed<R> {
  db: Db;
  /** The instant the request is handled at: one for all that it reads and writes. */
  now: Date;
  /** Signed-in person; set on every route but those for anyone. */
  who: Who;
  req: Request;
  res: Response;
  /** The box on a boat that calls, on routes for those. */
  gatewayId: number | null;
  requestId: string;
  log: Logger;
  /** One transaction; what it writes down in `audit` stands or falls with it. */
  write: <T>(work: (tx: Tx, audit: (...lines: AuditLine[]) => Promise<void>) => Promise<T>) => Promise<T>;
}

/** A handler that streams has written its answer itself and gives nothing. */
type Streamed<R extends Route> = R extends { gives: 'application/x-ndjson' | 'text/event-stream' } ? null : never;
type Handler<R extends Route> = (context: Context<R>) => Promise<z.input<R['reply']> | ReplyOf<R> | Streamed<R>>;
export type Handlers<N extends RouteName> = { [K in N]: Handler<(typeof routes)[K]> };

/** The id a request bears in the log, the audit and its answer. */
export const idOf = (req: Request): string => req.id as string;

/** Columns that never leave the server, not even into the audit. */
const SECRET = new Set(['passwordHash', 'password', 'current', 'next', 'calendarKeyHash', 'keyHash', 'secret', 'code']);
function withoutSecrets(value: unknown): unknown {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return value ?? null;
  return Object.fromEntries(Object.entries(value).filter(([key]) => !SECRET.has(key)));
}

export async function writeAudit(
  tx: Tx | Db,
  now: Date,
  personId: number | null,
  requestId: string | null,
  ...lines: AuditLine[]
): Promise<void> {
  if (lines.length === 0) return;
  await tx
    .insert(tables.audit)
    .values(
      lines.map((line) => ({
        at: now,
        personId,
        requestId,
        act: line.act,
        subject: line.subject,
        subjectId: line.subjectId ?? null,
        title: line.title ?? null,
        before: withoutSecrets(line.before),
        after: withoutSecrets(line.after),
      })),
    );
}

/** The person of the session, if there is one who may still use the book. */
export const personOf = (req: Request): Who | null => req.session.who ?? null;

export function mayUse(route: Route, who: Who | null): boolean {
  if (route.roles === 'anyone') return true;
  if (route.roles === 'gateway') return false;
  if (who === null) return false;
  return route.roles === 'signed in' || route.roles.includes(who.role);
}

/** What is open to whoever has to set up a second factor first. */
const OF_ONESELF = '/api/session';
/** Boxes with a wrong key may come from one address so often before they wait. */
const WRONG_KEYS = { free: 60, mostWait: 60 };

/** Half a letter matches alone only: whole ones are read as one sign. */
const ODD = /\0|\p{Surrogate}/u;
/** Deeper nothing of ours is nested. */
const MOST_DEEP = 20;

/**
 * Where a value holds text that no database keeps: a NUL, or half of a letter of two parts (a lone surrogate); null =
 * nowhere.
 */
function oddText(value: unknown, path: string[] = []): string[] | null {
  if (typeof value === 'string') return ODD.test(value) ? path : null;
  if (typeof value !== 'object' || value === null || value instanceof Uint8Array || path.length > MOST_DEEP)
    return null;
  for (const [key, part] of Object.entries(value)) {
    if (oddText(key) !== null) return path;
    const found = oddText(part, [...path, key]);
    if (found !== null) return found;
  }
  return null;
}

const refusedInput = (place: string, faults: Fault[]) =>
  new HttpProblem(
    place === 'address' ? 400 : 422,
    `Some of what was sent cannot be used: ${faults
      .slice(0, 3)
      .map((f) => f.text)
      .join('; ')}.`,
    faults,
  );

/** @param anySigns files, and boxes message by message, say themselves what cannot be read */
function parse(schema: z.ZodType | undefined, value: unknown, place: string, anySigns = false): unknown {
  if (!schema) return undefined;
  const odd = anySigns ? null : oddText(value);
  if (odd !== null)
    throw refusedInput(place, [
      { path: odd.join('.') || place, text: `${odd.at(-1) ?? place} holds a sign that cannot be kept; type it anew` },
    ]);
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const faults = result.error.issues
    .slice(0, 100)
    .map((issue) => ({
      path: issue.path.join('.') || place,
      text: `${String(issue.path.at(-1) ?? place)} ${issue.message}`,
    }));
  throw refusedInput(place, faults);
}

/**
 * Registers handlers on the routes of the contract. There is no other way to add a route, so none can
 * exist without its roles stated.
 */
export class Api {
  readonly router = Router({ caseSensitive: true });
  readonly #handled = new Set<string>();
  readonly #db: Db;
  readonly #checkReplies: boolean;
  readonly #clock: Clock;
  readonly #guards: { throttle: Throttle; quotas: Quotas };
  readonly #gatewayOf: (db: Db, req: Request) => Promise<number | null>;

  constructor(
    db: Db,
    clock: Clock,
    checkReplies: boolean,
    gatewayOf: (db: Db, req: Request) => Promise<number | null>,
    guards: { throttle: Throttle; quotas: Quotas },
  ) {
    this.#guards = guards;
    this.#db = db;
    this.#clock = clock;
    this.#gatewayOf = gatewayOf;
    this.#checkReplies = checkReplies;
  }

  add<N extends RouteName>(handlers: Handlers<N>): this {
    for (const name of Object.keys(handlers) as N[]) this.#register(name, handlers[name]);
    return this;
  }

  /** Names of contract routes nobody handles; must be empty before serving. */
  missing(): string[] {
    return Object.keys(routes).filter((name) => !this.#handled.has(name));
  }

  /** Who asks, when the route is open to them. @throws 401 or 403 in words, 429 when it is too often */
  async #admit(route: Route, req: Request): Promise<{ who: Who | null; gatewayId: number | null }> {
    const { throttle, quotas } = this.#guards;
    if (route.roles === 'gateway') {
      const gatewayId = await this.#gatewayOf(this.#db, req);
      if (gatewayId !== null) return { who: null, gatewayId };
      await throttle.attempt([{ key: `box:${req.ip}`, ...WRONG_KEYS }]);
      throw new HttpProblem(
        401,
        'This address is for boxes on boats. Send the box’s key as "Authorization: Bearer ...".',
      );
    }
    if (route.roles === 'anyone') return { who: null, gatewayId: null };
    const who = personOf(req);
    if (who === null)
      throw new HttpProblem(
        401,
        'Sign in first. If you were signed in, the session has ended; what you typed is still on your screen.',
      );
    if (!mayUse(route, who))
      throw new HttpProblem(403, `This is not open to the role "${who.role}". Ask an administrator if you need it.`);
    if (who.halfway && !route.path.startsWith(OF_ONESELF))
      throw new HttpProblem(403, 'The yard asks a second factor of your role. Set it up first, then go on.');
    // Whoever is not known yet is kept to this site at the door itself.
    if (route.method !== 'get') needToken(req);
    if (route.quota) await quotas.use(route.quota, who.id, req.ip ?? 'unknown');
    return { who, gatewayId: null };
  }

  /**
   * One transaction a call; the first notes the key of the request, so that it stands or falls with what was written.
   */
  #writer(
    who: Who | null,
    requestId: string,
    now: Date,
    keyed: Keyed | null,
  ): { write: Context<Route>['write']; noted: () => boolean } {
    let noted = false;
    return {
      noted: () => noted,
      write: async (work) => {
        const done = await transaction(this.#db, async (tx) => {
          if (keyed && !noted) await noteDone(tx, keyed, now);
          return work(tx, (...lines) => writeAudit(tx, now, who?.id ?? null, requestId, ...lines));
        });
        noted = true;
        return done;
      },
    };
  }

  #register(name: RouteName, handler: Handler<Route>): void {
    const route: Route = routes[name];
    this.#handled.add(name);
    this.router[route.method](route.path, async (req: Request, res: Response) => {
      const db = this.#db;
      (res.locals as { route?: string }).route = name;
      const { who, gatewayId } = await this.#admit(route, req);
      const now = this.#clock();
      const keyed = route.method === 'get' || !who ? null : keyedOf(req, req.get(KEY_HEADER), who.id);
      const before = keyed && (await answeredBefore(db, keyed));
      if (before !== null) {
        res.type('json').send(before);
        return;
      }
      const { write, noted } = this.#writer(who, idOf(req), now, keyed);
      const params = parse(route.params, req.params, 'address');
      const query = parse(route.query, req.query, 'address');
      const body = parse(route.body, req.body, 'the form', route.roles === 'gateway' || route.takes !== undefined);
      const context: Context<Route> = {
        params,
        query,
        body,
        db,
        now,
        req,
        res,
        gatewayId,
        requestId: idOf(req),
        who: who!,
        log: req.log,
        write,
      };
      const reply = await handler(context);
      if (res.headersSent) return;
      if (route.gives) {
        res.type(`${route.gives}; charset=utf-8`).send(reply);
        return;
      }
      if (this.#checkReplies) route.reply.parse(saidBy(reply));
      if (keyed && noted() && !route.showsSecret) await keepReply(db, keyed, JSON.stringify(saidBy(reply)));
      await sendJson(req, res, reply);
    });
  }
}
