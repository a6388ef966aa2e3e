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
  schema instanceof z.ZodObject ? Object.keys(schema.shape) : [];

/** What a caller gave, by name: one thing alone is the one name of the path. */
function namedOf(arg: unknown, names: readonly string[]): Record<string, unknown> {
  if (typeof arg === 'object' && arg !== null) return arg as Record<string, unknown>;
  return arg === undefined || names.length !== 1 ? {} : { [names[0]!]: arg };
}

/**
 * The request of a route: what its path names goes into the address, what its query names behind it, the rest is
 * the body. A route that only wants one thing of its path takes that alone.
 */
export function requestOf<R extends Route>(route: R, arg: ArgOf<R>): WireRequest {
  const inPath = [...route.path.matchAll(/:(\w+)/g)].map((m) => m[1]!);
  const inQuery = keysOf(route.query);
  const given = Object.entries(namedOf(arg, inPath)).filter(([, value]) => value !== undefined);
  const pick = (of: (key: string) => boolean) => Object.fromEntries(given.filter(([key]) => of(key)));
  const path = pick((key) => inPath.includes(key));
  const params = pick((key) => inQuery.includes(key) && !inPath.includes(key));
  const rest = pick((key) => !inQuery.includes(key) && !inPath.includes(key));
  return {
    url: route.path.replaceAll(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(path[name]))),
    method: route.method.toUpperCase(),
    ...(Object.keys(params).length > 0 && { params }),
    ...(route.body &&
      (route.takes === undefined
        ? { body: rest }
        : route.takes === 'application/octet-stream'
          ? { body: rest.bytes, headers: { 'content-type': route.takes } }
          : { body: rest.text, headers: { 'content-type': `${route.takes}; charset=utf-8` } })),
  };
}
