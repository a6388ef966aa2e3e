import { z } from 'zod';
import { problem } from './common.ts';
import { routes } from './index.ts';
import type { Route } from './route.ts';

type Json = Record<string, unknown>;

function schemaOf(type: z.ZodType, io: 'input' | 'output'): Json {
  const { $schema: _, ...schema } = z.toJSONSchema(type, { io, unrepresentable: 'any' }) as Json;
  return schema;
}

function parametersOf(type: z.ZodType | undefined, place: 'path' | 'query'): Json[] {
  if (!type) return [];
  const schema = schemaOf(type, 'input');
  const required = new Set((schema.required as string[] | undefined) ?? []);
  return Object.entries((schema.properties as Record<string, Json> | undefined) ?? {}).map(([name, s]) => ({
    name,
    in: place,
    required: place === 'path' || required.has(name),
    schema: s,
  }));
}

function operation(name: string, route: Route): Json {
  const reply = route.gives
    ? { [route.gives]: { schema: { type: 'string' } } }
    : { 'application/json': { schema: schemaOf(route.reply, 'output') } };
  return {
    operationId: name,
    summary: route.summary,
    'x-roles': route.roles,
    parameters: [...parametersOf(route.params, 'path'), ...parametersOf(route.query, 'query')],
    ...(route.body && {
      requestBody: {
        required: true,
        content: route.takes
          ? { [route.takes]: { schema: { type: 'string' } } }
          : { 'application/json': { schema: schemaOf(route.body, 'input') } },
      },
    }),
    responses: {
      '200': { description: 'Done', content: reply },
      default: {
        description: 'What went wrong',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

/** The API as OpenAPI 3.1, generated from the route statements. */
export function openApiDocument(version: string): Json {
  const paths: Record<string, Json> = {};
  for (const [name, route] of Object.entries(routes) as [string, Route][]) {
    const path = route.path.replaceAll(/:(\w+)/g, '{$1}');
    paths[path] = { ...paths[path], [route.method]: operation(name, route) };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Diurna', version, description: 'The day book for the engines of a hire fleet.' },
    paths,
    components: { schemas: { Problem: schemaOf(problem, 'output') } },
  };
}
