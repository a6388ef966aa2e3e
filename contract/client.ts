import { z } from 'zod';
import type { ArgOf, Route } from './route.ts';

/** A request as `fetch` and its relatives take it. */
export interface WireRequest {
  url: string;
  method: string;
  params?: Record<string, unknown>;
  body?: unknown;
  headers?: Record<string, string>;
}

const keysOf = (schema: z.ZodType | undefined): string[] =>
  schema instanceof z.ZodObject ? Object.keys(schema.shape as object) : [];

/**
 * The request of a route: what its path names goes into the address, what its query names behind it, the rest is
 * the body. A route that only wants one thing of its path takes that alone.
 */
export function requestOf<R extends Route>(route: R, arg: ArgOf<R>): WireRequest {
  const names = [...route.path.matchAll(/:(\w+)/g)].map((m) => m[1]!);
  const whole: Record<string, unknown> =
    typeof arg === 'object' && arg !== null
      ? { ...(arg as object) }
      : names.length === 1 && arg !== undefined
        ? { [names[0]!]: arg }
        : {};
  const take = (keys: readonly string[]) => {
    const taken = Object.fromEntries(keys.filter((k) => whole[k] !== undefined).map((k) => [k, whole[k]]));
    for (const k of keys) delete whole[k];
    return taken;
  };
  const inPath = take(names);
  const url = route.path.replaceAll(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(inPath[name])));
  const params = take(keysOf(route.query));
  return {
    url,
    method: route.method.toUpperCase(),
    ...(Object.keys(params).length > 0 && { params }),
    ...(route.body &&
      (route.takes
        ? { body: whole.text, headers: { 'content-type': `${route.takes}; charset=utf-8` } }
        : { body: whole })),
  };
}
