import { createRequire } from 'node:module';
import type { Position } from '@diurna/core/fleet';
import { z } from 'zod';

/** What a message says: engine time of some engines, nothing of interest, or nothing at all. */
export type Decoded =
  | { times: { positions: readonly Position[]; name: string; at: number; seconds: number }[] }
  | { other: true }
  | { why: string };

interface Pgn {
  pgn: number;
  timestamp: string;
  fields: { instance?: string | number; totalEngineHours?: string | number };
}
interface Parser {
  parseString(line: string): Pgn | undefined;
  on(event: string, heard: (pgn: unknown, error: unknown) => void): void;
}

/** Engine Parameters, Dynamic: carries total engine hours in seconds (NMEA 2000). */
const ENGINE_DYNAMIC = 127_489;
/** Lines of other messages are known by their number, without decoding them. */
const LINE = /^([^,]*),\d+,(\d+),\d+,\d+,\d+(,[0-9a-f]{2})+$/i;

let parser: Parser | null = null;

/** The decoder is large and needed by boxes only: it is loaded with the first message. */
function decoder(): Parser {
  if (parser) return parser;
  const { FromPgn } = createRequire(import.meta.url)('@canboat/canboatjs') as {
    FromPgn: new (options: object) => Parser;
  };
  parser = new FromPgn({});
  // It tells of every odd line; what it cannot read comes back empty.
  parser.on('warning', () => undefined);
  parser.on('error', () => undefined);
  return parser;
}

export function decodeN2k(line: string): Decoded {
  const parts = LINE.exec(line.trim());
  if (!parts) return { why: 'is no NMEA 2000 line of the form "time,priority,pgn,source,destination,length,bytes"' };
  if (Number(parts[2]) !== ENGINE_DYNAMIC) return { other: true };
  let pgn: Pgn | undefined;
  try {
    pgn = decoder().parseString(line.trim());
  } catch {
    pgn = undefined;
  }
  if (!pgn) return { why: 'is cut short or broken' };
  const { instance, totalEngineHours } = pgn.fields;
  // Not every engine sends its hours in every message.
  if (totalEngineHours === undefined) return { other: true };
  const seconds = typeof totalEngineHours === 'number' ? totalEngineHours : secondsOf(totalEngineHours);
  if (seconds === null) return { why: 'has no engine time in it that can be read' };
  return {
    times: [
      {
        positions: positionsOf(instance),
        name: `instance ${instance ?? 'missing'}`,
        at: Date.parse(parts[1]!),
        seconds,
      },
    ],
  };
}

/** "1234:30:00" */
function secondsOf(text: string): number | null {
  const [, h, m, s] = /^(\d+):(\d{2}):(\d{2})(?:\.\d+)?$/.exec(text) ?? [];
  return h === undefined ? null : Number(h) * 3600 + Number(m) * 60 + Number(s);
}

/** Instance 0 is the only engine or the port one, 1 the starboard one, 2 one between them. */
function positionsOf(instance: string | number | undefined): readonly Position[] {
  if (instance === undefined) return [];
  if (instance === 0 || String(instance).startsWith('Single')) return ['single', 'port'];
  if (instance === 1 || String(instance).endsWith('Starboard')) return ['starboard'];
  return instance === 2 ? ['centre'] : [];
}

const delta = z.object({
  updates: z
    .array(
      z.object({
        timestamp: z.string().optional(),
        values: z.array(z.object({ path: z.string(), value: z.unknown() })),
      }),
    )
    .min(1),
});
const RUN_TIME = /^propulsion\.([^.]+)\.runTime$/;
const NAMES = new Map<string, readonly Position[]>(
  Object.entries({
    port: ['port'],
    starboard: ['starboard'],
    centre: ['centre'],
    center: ['centre'],
    kicker: ['kicker'],
    single: ['single'],
    main: ['single', 'port'],
    0: ['single', 'port'],
    1: ['starboard'],
    2: ['centre'],
  }),
);

/** A Signal K delta: `propulsion.*.runTime` in seconds. */
export function decodeSignalK(value: unknown): Decoded {
  const parsed = delta.safeParse(value);
  if (!parsed.success) return { why: 'is no Signal K delta: it needs updates with values' };
  const times = parsed.data.updates.flatMap(({ timestamp, values }) =>
    values.flatMap(({ path, value: seconds }) => {
      const name = RUN_TIME.exec(path)?.[1];
      return name === undefined
        ? []
        : [
            {
              positions: NAMES.get(name.toLowerCase()) ?? [],
              name: path,
              at: timestamp === undefined ? Number.NaN : Date.parse(timestamp),
              seconds: typeof seconds === 'number' ? Math.round(seconds) : Number.NaN,
            },
          ];
    }),
  );
  return times.length === 0 ? { other: true } : { times };
}
