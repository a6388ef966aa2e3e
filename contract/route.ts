import type { z } from 'zod';
import type { Role } from './common.ts';

/**
 * One route of the API: the only statement of its path, its roles and its shapes. The server
 * registers routes from these, the web takes its types from them, OpenAPI is printed from them.
 */
export interface Route {
  method: 'get' | 'post' | 'put' | 'delete';
  path: `/api/${string}`;
  /** Who may use it. Every route has to say so. `gateway`: a box on a boat, by its key. */
  roles: 'anyone' | 'signed in' | 'gateway' | readonly Role[];
  summary: string;
  params?: z.ZodType;
  query?: z.ZodType;
  /** JSON unless `takes` names another format; the answer likewise by `gives`. */
  body?: z.ZodType;
  takes?: 'text/csv' | 'text/calendar' | 'application/octet-stream';
  gives?: 'text/csv' | 'application/pdf' | 'text/calendar' | 'image/*' | 'text/event-stream' | 'application/x-ndjson';
  reply: z.ZodType;
  /** What it takes much of: counted for each person, with a limit an hour. */
  quota?: Quota;
  /** The answer shows a secret once: it is not kept for whoever asks again. */
  showsSecret?: true;
}

/** Work that costs the server much or sends much away. */
export const QUOTAS = {
  import: { anHour: 120, words: 'files read in' },
  export: { anHour: 300, words: 'files written' },
  plan: { anHour: 120, words: 'plans worked out on the server' },
  picture: { anHour: 6000, words: 'pieces of pictures' },
} as const;
export type Quota = keyof typeof QUOTAS;

/** States a route, keeping its own types. */
export function route<const R extends Route>(spec: R): R {
  return spec;
}

type Out<T> = T extends z.ZodType ? z.output<T> : undefined;
type In<T> = T extends z.ZodType ? z.input<T> : undefined;

/** What a handler gets, parsed. */
export type Parsed<R extends Route> = { params: Out<R['params']>; query: Out<R['query']>; body: Out<R['body']> };
/** What a client sends. */
export type BodyOf<R extends Route> = In<R['body']>;
export type QueryOf<R extends Route> = In<R['query']>;
export type ReplyOf<R extends Route> = z.output<R['reply']>;

type None = Record<never, never>;
type Keys<T> = T extends undefined ? never : keyof T;
type Or<T> = T extends undefined ? None : T;
/** True where a type is a union of several. */
type Several<T, U = T> = T extends unknown ? ([U] extends [T] ? false : true) : never;
type Given<R extends Route> = R extends { takes: 'application/octet-stream' }
  ? { bytes: Uint8Array<ArrayBuffer> }
  : R extends { takes: string }
    ? { text: string }
    : Or<In<R['body']>>;
/**
 * What a caller gives for a route: the names of its path, its query and its body in one; a file as `text`, a piece of
 * one as `bytes`; the one
 * name of a path alone where there is nothing else; nothing where there is nothing.
 */
export type ArgOf<R extends Route> = R extends { query: z.ZodType } | { body: z.ZodType }
  ? Or<Out<R['params']>> & Or<In<R['query']>> & Given<R>
  : R extends { params: z.ZodType }
    ? Several<Keys<Out<R['params']>>> extends true
      ? Out<R['params']>
      : Out<R['params']>[Keys<Out<R['params']>>]
    : void;

/**
 * The header of every answer that tells what the book's clock shows; what a device keeps for later does not carry it.
 */
export const CLOCK_HEADER = 'x-diurna-now';
/** The header every write carries: the token of its session. */
export const TOKEN_HEADER = 'x-diurna-token';

export const EVERYONE = ['administrator', 'coordinator', 'technician', 'stores', 'dock', 'manager'] as const;
/** May change the fleet and hand out work. */
export const STEER = ['administrator', 'coordinator'] as const;
/** May type hours. */
export const HOURS = ['administrator', 'coordinator', 'technician', 'dock'] as const;
/** May work on job cards. */
export const WORK = ['administrator', 'coordinator', 'technician'] as const;
/** May change the shelves. */
export const SHELVES = ['administrator', 'coordinator', 'stores'] as const;
/** May read costs, history and the audit. */
export const READ_RECORDS = ['administrator', 'coordinator', 'manager'] as const;
/** May see plans and who works when. */
export const PLAN = ['administrator', 'coordinator', 'manager'] as const;

/** Sent while somebody is at the page: what screens ask by themselves does not keep a session open. */
export const PRESENT_HEADER = 'x-diurna-present';

/**
 * A write sent again with the same key, because its answer was lost, is not done twice (IETF draft on the header
 * field).
 */
export const KEY_HEADER = 'idempotency-key';

/** Whether somebody makes plans, and so sees how fast people are and what their hours cost. */
export const makesPlans = (role: Role): boolean => (STEER as readonly Role[]).includes(role);
