import {
  CLOCK_HEADER,
  KEY_HEADER,
  PRESENT_HEADER,
  routes,
  TOKEN_HEADER,
  type ArgOf,
  type BodyOf,
  type Problem,
  type QueryOf,
  type ReplyOf,
} from '@diurna/contract';
import { requestOf } from '@diurna/contract/client';
import { original } from '@reduxjs/toolkit';
import {
  copyWithStructuralSharing,
  createApi,
  fetchBaseQuery,
  type BaseQueryApi,
  type EndpointBuilder,
} from '@reduxjs/toolkit/query/react';
import { goBy } from './clock.ts';
import { isPresent } from './presence.ts';

type R = typeof routes;
export type Reply<N extends keyof R> = ReplyOf<R[N]>;
export type Body<N extends keyof R> = BodyOf<R[N]>;
export type Query<N extends keyof R> = QueryOf<R[N]>;

/** What the screen shows, by subject. */
export const TAGS = [
  'Session',
  'People',
  'Fleet',
  'Hours',
  'Hires',
  'Due',
  'Jobs',
  'Stores',
  'Records',
  'Rules',
  'Snags',
  'Plan',
  'Changes',
  'Work',
  'Notices',
  'Messages',
  'Mail',
  'Card',
  'Progress',
  'Condition',
  'Templates',
  'Waste',
  'Wanted',
  'Background',
  'Season',
] as const;
/** What one job, reading or entry can change elsewhere on the screen. */
export const WORKED = [
  'Hours',
  'Hires',
  'Due',
  'Jobs',
  'Card',
  'Progress',
  'Condition',
  'Stores',
  'Records',
  'Fleet',
  'Plan',
  'Waste',
] as const;
export const SHIFTED = ['Work', 'Plan', 'Records'] as const;
export const RULED = ['Rules', 'Due', 'Records'] as const;
export const HIRED = ['Hires', 'Due', 'Records'] as const;

/** The token of the session: every write carries it. Told by the answers about the session. */
let token = '';
export const carry = (csrfToken: string): void => {
  token = csrfToken;
};

const raw = fetchBaseQuery({
  credentials: 'same-origin',
  fetchFn: async (request) => {
    const reply = await fetch(request);
    const told = reply.headers.get(CLOCK_HEADER);
    if (told !== null) goBy(told);
    return reply;
  },
  prepareHeaders: (headers) => {
    if (token !== '') headers.set(TOKEN_HEADER, token);
    if (isPresent()) headers.set(PRESENT_HEADER, '1');
    return headers;
  },
});

/**
 * A line that says nothing for so long (ms) is a dead one: what was sent counts as not answered and goes again. Without
 * it one connection lost on the way would hold everything that waits behind it.
 */
export const ANSWER_MS = 30_000;
/** The same for a piece of a picture, which a slow line takes longer for (ms). */
export const PICTURE_MS = 90_000;

/** After so long a write whose answer was lost is sent once more. */
const AGAIN_MS = 800;

/** A session that was ended is looked at anew: the door says so, and what was written here stays. */
function heardEnd(answer: Awaited<ReturnType<typeof raw>>, { dispatch, endpoint }: BaseQueryApi): typeof answer {
  if (answer.error?.status === 401 && endpoint !== 'signIn' && endpoint !== 'readSession')
    dispatch(api.util.invalidateTags(['Session']));
  return answer;
}

/**
 * Each write has a key of its own: sent again because its answer was lost, the book does it once and answers the same.
 */
const once: typeof raw = async (asked, context, more) => {
  if (context.type !== 'mutation') return heardEnd(await raw(asked, context, more), context);
  const request = typeof asked === 'string' ? { url: asked } : asked;
  // What a device keeps until it is sent has its key already.
  const keyed = { ...request, headers: { [KEY_HEADER]: randomKey(), ...(request.headers as Record<string, string>) } };
  const first = await raw(keyed, context, more);
  if (first.error?.status !== 'FETCH_ERROR' || !navigator.onLine) return heardEnd(first, context);
  await new Promise((done) => setTimeout(done, AGAIN_MS));
  return raw(keyed, context, more);
};
/** Browsers keep `randomUUID` to pages that came by TLS or from this machine. */
const randomKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (n) => n.toString(16).padStart(2, '0')).join('');

/** Every call to the server. Each subject adds its routes in its `api.ts`, from the contract alone. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: once,
  tagTypes: TAGS,
  keepUnusedDataFor: 120,
  endpoints: () => ({}),
});

type Tag = (typeof TAGS)[number];
type Builder = EndpointBuilder<typeof raw, Tag, 'api'>;
type Tagged<N extends keyof R> =
  | readonly Tag[]
  | ((reply: Reply<N> | undefined, error: unknown, arg: ArgOf<R[N]>) => readonly (Tag | { type: Tag; id: number })[]);

interface More<N extends keyof R> {
  keepUnusedDataFor?: number;
  /** Hears of every answer. */
  heard?: (reply: Reply<N>) => void;
  /** Fills in what an answer lacks that an older page kept on this device. */
  whole?: (reply: Reply<N>) => Reply<N>;
  /** What is shown after an answer, from what was known before it. */
  merge?: (known: Reply<N>, reply: Reply<N>) => Reply<N>;
}
const hearing = <N extends keyof R>({ heard, whole }: Pick<More<N>, 'heard' | 'whole'>) =>
  (heard ?? whole) && {
    transformResponse: (kept: Reply<N>) => {
      const reply = whole ? whole(kept) : kept;
      heard?.(reply);
      return reply;
    },
  };

/** A route that answers what is shown. Its method, path and types are the contract's. */
export const reads = <N extends keyof R>(
  b: Builder,
  name: N,
  tags: Tagged<N>,
  { heard, whole, merge, ...more }: More<N> = {},
) =>
  b.query<Reply<N>, ArgOf<R[N]>>({
    query: (arg) => requestOf(routes[name], arg),
    providesTags: tags as never,
    ...hearing<N>({ ...(heard && { heard }), ...(whole && { whole }) }),
    ...(merge && {
      merge: (draft: Reply<N>, reply: Reply<N>) => {
        const known = original(draft as object) as Reply<N>;
        return copyWithStructuralSharing(known, merge(known, reply));
      },
    }),
    ...more,
  });

/**
 * A route that changes the book, with what on the screens it makes old.
 *
 * @param limitMs after so long without an answer it counts as not answered; for what is sent again by itself
 */
export const writes = <N extends keyof R>(
  b: Builder,
  name: N,
  tags: Tagged<N>,
  { heard, limitMs }: More<N> & { limitMs?: number } = {},
) =>
  b.mutation<Reply<N>, ArgOf<R[N]>>({
    query: (arg) => ({ ...requestOf(routes[name], arg), ...(limitMs !== undefined && { timeout: limitMs }) }),
    invalidatesTags: tags as never,
    ...hearing<N>({ ...(heard && { heard }) }),
  });

/** The same for what a device keeps until there is signal: sent under the key it has had since it was written. */
export const writesKept = <N extends keyof R>(b: Builder, name: N, tags: readonly Tag[], limitMs = ANSWER_MS) =>
  b.mutation<Reply<N>, ArgOf<R[N]> & { key?: string }>({
    query: (arg) => {
      const { key, ...rest } = arg as { key?: string } & object;
      const request = requestOf(routes[name], rest as ArgOf<R[N]>);
      return { ...request, timeout: limitMs, ...(key !== undefined && { headers: { [KEY_HEADER]: key } }) };
    },
    invalidatesTags: tags as never,
  });

/** What went wrong, in the server's words; a plain sentence when it did not answer at all. */
export function problemOf(error: unknown): Problem | null {
  if (!error) return null;
  const { data, status } = error as { data?: unknown; status?: unknown };
  if (data && typeof data === 'object' && 'detail' in data) return data as Problem;
  return {
    type: 'about:blank',
    title: 'No answer',
    status: typeof status === 'number' ? status : 0,
    detail: 'The server does not answer. What you typed is kept here; try again in a moment.',
  };
}
