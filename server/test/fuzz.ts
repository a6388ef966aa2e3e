import { routes, type Route, type RouteName } from '@diurna/contract';
import { z } from 'zod';

type Schema = Record<string, unknown>;
/** A generator of numbers in [0, 1): the same ones for the same seed (Park and Miller's, 1988). */
export type Random = () => number;
export function randomFrom(seed: number): Random {
  let state = (Math.abs(Math.trunc(seed)) % 2_147_483_646) + 1;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

/** A request made from the contract: mostly in shape, with something odd in it now and then. */
export interface Made {
  name: RouteName;
  method: Route['method'];
  path: string;
  type: string | null;
  body: string | Buffer | null;
}

const pick = <T>(random: Random, all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
/** What programs trip over. */
const ODD: readonly unknown[] = [
  null,
  true,
  '',
  ' ',
  -1,
  0,
  1e308,
  -1e308,
  0.1 + 0.2,
  2 ** 31,
  2 ** 53,
  '\u0000',
  '\uD800',
  '\u202Eabc',
  'constructor',
  '__proto__',
  'toString',
  "'; drop table person; --",
  '<img src=x onerror=alert(1)>',
  '=cmd|x',
  '%00',
  '../../etc/passwd',
  '2026-02-30',
  '9999-12-31',
  '0000-00-00',
  '+275760-09-13',
  '-000001-01-01',
  'x'.repeat(5_000),
  [],
  {},
  [[[[[[[[[[]]]]]]]]]],
  { toString: 1, length: 3 },
  'NaN',
  '1e400',
  '१२३',
];
/** Texts for which a pattern asks: what is right often enough to get beyond the form. */
/** A word that is sent everywhere, and must stand in no log. */
export const MARK = 'Heliotrope-9';
const TEXTS = [
  MARK,
  `https://desk.example/${MARK}.ics`,
  '2026-04-15',
  '2026-04-16',
  '2027-01-01',
  '1970-01-01',
  '9999-12-31',
  '0001-01-01',
  '09:30',
  '2026-04-15T10:00:00Z',
  '2026-04-15T10:00:00.000Z',
  'EUR',
  'Atlantic/Madeira',
  'engine-oil',
  'impeller',
  'ada',
  'Knot',
  'https://desk.example/hires.ics',
  '7d2f6b1e-3d52-4c53-9a49-0f4c2a0c9f11',
  'yes',
];

const resolve = (root: Schema, schema: Schema): Schema => {
  const ref = schema.$ref;
  if (typeof ref !== 'string') return schema;
  let at: unknown = root;
  for (const part of ref.replace(/^#\/?/, '').split('/').filter(Boolean)) at = (at as Schema)[part];
  return at as Schema;
};

function number(schema: Schema, random: Random): number {
  const low = Number(schema.minimum ?? schema.exclusiveMinimum ?? -5);
  const high = Math.min(Number(schema.maximum ?? schema.exclusiveMaximum ?? 1e6), 1e6);
  // Ids are small: what exists is hit.
  const value = pick(random, [low, high, low + Math.floor(random() * 40) + 1, random() * 1000]);
  return schema.type === 'integer' ? Math.round(value) : value;
}

function object(root: Schema, schema: Schema, random: Random, depth: number): unknown {
  const properties = (schema.properties ?? {}) as Record<string, Schema>;
  const required = new Set((schema.required ?? []) as string[]);
  const made: Record<string, unknown> = {};
  for (const [key, of] of Object.entries(properties))
    if (required.has(key) ? random() > 0.02 : random() > 0.5) made[key] = value(root, of, random, depth + 1);
  if (typeof schema.additionalProperties === 'object' && random() > 0.3)
    for (const key of ['engine-oil', 'x', '1'])
      made[key] = value(root, schema.additionalProperties as Schema, random, depth + 1);
  return made;
}

/** A value for a schema (JSON Schema 2020-12, as Zod writes it). */
function value(root: Schema, given: Schema, random: Random, depth = 0): unknown {
  const schema = resolve(root, given);
  if (random() < 0.04 || depth > 12) return pick(random, ODD);
  if (Array.isArray(schema.enum)) return pick(random, schema.enum as unknown[]);
  if ('const' in schema) return schema.const;
  const one = (schema.anyOf ?? schema.oneOf) as Schema[] | undefined;
  if (one) return value(root, pick(random, one), random, depth + 1);
  if (Array.isArray(schema.allOf))
    return Object.assign({}, ...(schema.allOf as Schema[]).map((s) => value(root, s, random, depth + 1)));
  switch (schema.type) {
    case 'string':
      return schema.pattern || schema.format || random() < 0.4
        ? pick(random, TEXTS)
        : random() < 0.3
          ? `${MARK} ${'w'.repeat(Number(schema.minLength ?? 0))}`
          : 'w'.repeat(Math.floor(random() * 20) + Number(schema.minLength ?? 0));
    case 'integer':
    case 'number':
      return number(schema, random);
    case 'boolean':
      return random() < 0.5;
    case 'null':
      return null;
    case 'array': {
      if (Array.isArray(schema.prefixItems))
        return (schema.prefixItems as Schema[]).map((s) => value(root, s, random, depth + 1));
      const many = Number(schema.minItems ?? 0) + Math.floor(random() * 4);
      return Array.from({ length: many }, () => value(root, (schema.items ?? {}) as Schema, random, depth + 1));
    }
    case 'object':
      return object(root, schema, random, depth);
    default:
      return pick(random, [...ODD, ...TEXTS]);
  }
}

const schemaOf = (type: z.ZodType): Schema => z.toJSONSchema(type, { io: 'input', unrepresentable: 'any' }) as Schema;

/** What is not tried at random: it ends the session that tries, streams without end, or takes a minute. */
const NOT: readonly RouteName[] = [
  'signIn',
  'signOut',
  'signOutEverywhere',
  'firstRun',
  'changePassword',
  'editPerson',
  'endDevice',
  'confirmSecondFactor',
  'editSettings',
  'live',
  'computePlan',
];

interface Prepared {
  name: RouteName;
  route: Route;
  params: Schema | null;
  query: Schema | null;
  body: Schema | null;
}

/** Every route that may be tried, with its shapes. */
export const fuzzed: Prepared[] = (Object.entries(routes) as [RouteName, Route][])
  .filter(([name, route]) => !NOT.includes(name) && route.roles !== 'gateway')
  .map(([name, route]) => ({
    name,
    route,
    params: route.params ? schemaOf(route.params) : null,
    query: route.query ? schemaOf(route.query) : null,
    body: route.body ? schemaOf(route.body) : null,
  }));

const asText = (v: unknown): string => (typeof v === 'string' ? v : v === undefined ? 'undefined' : JSON.stringify(v));
/** Half a letter has no place in an address. */
const encoded = (v: unknown) =>
  encodeURIComponent(
    asText(v)
      .replace(/\p{Surrogate}/gu, '?')
      .slice(0, 2_000),
  );

const CELLS = [
  MARK,
  'North Quay',
  'Knot',
  'port',
  'single',
  'Corvane',
  '60',
  '4',
  '2.7',
  'L',
  'C60-1',
  '2026-04-15',
  '2026-04-15 09:30',
  'yes',
  '',
  '"',
  '""',
  ';',
  '\t',
  '-1',
  '1e9',
  '\u0000',
  'é',
  '\uFEFF',
  '=1+1',
  '9'.repeat(400),
];
const HEADS = [
  'base,boat,position,maker,model,serial,power_hp,stroke,cylinders,sump_volume,sump_unit,in_service_on,meter',
  'serial,read_on,count,reason',
  'part,name,kind,unit,price,base,count,model,task,quantity,serial_from,serial_to',
  'serial,task,done_on,hours,done_by,remark',
  'boat,out,back,booked_on,reference',
  '',
  'constructor,__proto__',
];

/** A table that somebody's program wrote badly. */
export function oddTable(random: Random): string {
  const sign = pick(random, [',', ',', ';', '\t']);
  const head = pick(random, HEADS);
  const wide = head.split(',').length + (random() < 0.1 ? 2 : 0);
  const rows = Array.from({ length: Math.floor(random() * 8) }, () =>
    Array.from({ length: wide }, () => pick(random, CELLS)).join(sign),
  );
  return [head.replaceAll(',', sign), ...rows].join(pick(random, ['\n', '\r\n', '\r']));
}

const LINES = [
  'DTSTART:20260420T120000Z',
  'DTEND:20260420T160000Z',
  'DTSTART;VALUE=DATE:20260420',
  'DTSTART;TZID=Nowhere/Here:20260420T120000',
  'DTSTART:99991231T235959Z',
  'DTSTART:00010101T000000Z',
  'DTSTART:20260230T250000Z',
  'DURATION:PT4H',
  'DURATION:-P9999999D',
  'RRULE:FREQ=DAILY;COUNT=3',
  'RRULE:FREQ=SECONDLY',
  'RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30',
  'RRULE:FREQ=YEARLY;BYDAY=99MO',
  'RRULE:FREQ=',
  'EXDATE:20260421T120000Z',
  'RECURRENCE-ID:20260420T120000Z',
  'SUMMARY:Knot',
  `SUMMARY:${MARK}`,
  'SUMMARY:\u0000',
  'UID:a',
  'UID:b',
  'STATUS:CANCELLED',
  'LOCATION:Berth 14',
  'X-ODD;A="b:c',
  ' folded',
  'BEGIN:VEVENT',
  'END:VEVENT',
  'BEGIN:VTIMEZONE',
];
/** A calendar in which lines stand where they should not. */
export function oddCalendar(random: Random): string {
  const events = Array.from({ length: 1 + Math.floor(random() * 4) }, () => [
    'BEGIN:VEVENT',
    'UID:a',
    ...Array.from({ length: Math.floor(random() * 7) }, () => pick(random, LINES)),
    'END:VEVENT',
  ]);
  const text = ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//EN', ...events.flat(), 'END:VCALENDAR'].join('\r\n');
  return random() < 0.1 ? text.slice(0, Math.floor(random() * text.length)) : text;
}

function fileFor(takes: NonNullable<Route['takes']>, random: Random): string | Buffer {
  if (takes === 'text/csv') return oddTable(random);
  if (takes === 'text/calendar') return oddCalendar(random);
  return Buffer.from(Array.from({ length: Math.floor(random() * 400) }, () => Math.floor(random() * 256)));
}

/** One request for any route, of any shape. */
export function makeRequest(random: Random): Made {
  const { name, route, params, query, body } = pick(random, fuzzed);
  const given = params && value(params, { ...params, required: Object.keys(params.properties ?? {}) }, random);
  const named = typeof given === 'object' && given !== null ? (given as Record<string, unknown>) : {};
  let path = route.path.replaceAll(/:(\w+)/g, (_all, key: string) =>
    random() < 0.7 && (named[key] === undefined || /^\d/.test(asText(named[key])))
      ? String(1 + Math.floor(random() * 30))
      : encoded(named[key] ?? 'x') || '0',
  );
  if (query && random() < 0.8) {
    const asked = value(query, query, random);
    if (typeof asked === 'object' && asked !== null)
      path += `?${Object.entries(asked)
        .map(([k, v]) => `${encoded(k)}=${encoded(v)}`)
        .join('&')}`;
  }
  if (route.method === 'get') return { name, method: route.method, path, type: null, body: null };
  if (route.takes) return { name, method: route.method, path, type: route.takes, body: fileFor(route.takes, random) };
  if (!body) return { name, method: route.method, path, type: null, body: null };
  const sent = JSON.stringify(value(body, body, random) ?? null);
  return {
    name,
    method: route.method,
    path,
    type: 'application/json',
    body: random() < 0.01 ? sent.slice(0, Math.floor(sent.length / 2)) : sent,
  };
}
