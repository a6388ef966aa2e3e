import { z } from 'zod';
import { problem } from './common.ts';
import { routes } from './index.ts';
import { CLOCK_HEADER, KEY_HEADER, TOKEN_HEADER, type Route } from './route.ts';

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

/** Routes by which one comes in: they need no session, and no token where they write. */
const DOORS = new Set(['signIn', 'firstRun']);

function securityOf(name: string, route: Route): Json[] {
  if (route.roles === 'gateway') return [{ box: [] }];
  if (route.roles === 'anyone') return [];
  // Everybody who writes shows the token of the session as well as its cookie.
  return [route.method === 'get' || DOORS.has(name) ? { session: [] } : { session: [], token: [] }];
}

const refused = (description: string): Json => ({
  description,
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
});

/** Every status a route can answer with, and when it does. */
function responsesOf(route: Route): Json {
  const content = route.gives
    ? {
        [route.gives]: {
          schema: route.gives === 'application/x-ndjson' ? schemaOf(route.reply, 'output') : { type: 'string' },
        },
      }
    : { 'application/json': { schema: schemaOf(route.reply, 'output') } };
  const writes = route.method !== 'get';
  return {
    '200': {
      description: 'Done',
      headers: {
        [CLOCK_HEADER]: { $ref: '#/components/headers/Clock' },
        'x-request-id': { $ref: '#/components/headers/RequestId' },
      },
      content,
    },
    ...((route.params ?? route.query) && { '400': refused('The address cannot be read; faults name what is wrong.') }),
    ...(route.roles !== 'anyone' && { '401': refused('Sign in first, or send the box’s key.') }),
    ...(route.roles !== 'anyone' && {
      '403': refused('Not open to this role, or the token is of an earlier session.'),
    }),
    ...(route.params && { '404': refused('There is no such thing.') }),
    ...(writes && { '409': refused('Somebody changed it meanwhile, or it cannot be done as the book stands.') }),
    ...(route.body && { '413': refused('More than is taken at once.') }),
    ...(route.body && { '422': refused('What was sent cannot be used; faults name each field.') }),
    '429': refused('Too many tries, or more than a person may ask in an hour; wait.'),
    '500': refused('Our fault; nothing was written.'),
    '503': refused('The database does not answer, or too much is under way; try again.'),
  };
}

function operation(name: string, route: Route): Json {
  return {
    operationId: name,
    summary: route.summary,
    security: securityOf(name, route),
    'x-roles': route.roles,
    parameters: [
      ...parametersOf(route.params, 'path'),
      ...parametersOf(route.query, 'query'),
      ...(route.method === 'get' || route.roles === 'anyone' || route.roles === 'gateway'
        ? []
        : [{ $ref: '#/components/parameters/Key' }]),
    ],
    ...(route.body && {
      requestBody: {
        required: true,
        content: route.takes
          ? {
              [route.takes]: {
                schema: { type: 'string', ...(route.takes === 'application/octet-stream' && { format: 'binary' }) },
              },
            }
          : { 'application/json': { schema: schemaOf(route.body, 'input') } },
      },
    }),
    responses: responsesOf(route),
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
    info: {
      title: 'Diurna',
      version,
      description: 'The day book for the engines of a hire fleet. How to sign in and to stream: docs/api.md.',
      license: { name: 'MIT', identifier: 'MIT' },
    },
    servers: [{ url: '/' }],
    paths,
    components: {
      schemas: { Problem: schemaOf(problem, 'output') },
      parameters: {
        Key: {
          name: KEY_HEADER,
          in: 'header',
          required: false,
          description:
            'A new one for each write: sent again with the same, because the answer was lost, it is not done twice.',
          schema: { type: 'string', pattern: '^[A-Za-z0-9_-]{8,64}$' },
        },
      },
      headers: {
        Clock: { description: 'What the book’s clock shows.', schema: { type: 'string', format: 'date-time' } },
        RequestId: { description: 'The number of the request in log and audit.', schema: { type: 'string' } },
      },
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'diurna', description: 'Set by signing in.' },
        token: { type: 'apiKey', in: 'header', name: TOKEN_HEADER, description: 'The csrfToken of the session.' },
        box: { type: 'http', scheme: 'bearer', description: 'The key of a box on a boat.' },
      },
    },
  };
}
