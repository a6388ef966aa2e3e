import type { Position } from '@diurna/core/fleet';
import { z } from 'zod';

/** What a message says: engine time of some engines, nothing of interest, or nothing at all. */
export type Decoded =
  | { times: { positions: readonly Position[]; name: string; at: number; seconds: number }[] }
  | { other: true }
  | { why: string };

/** Engine Parameters, Dynamic: carries total engine hours in seconds (NMEA 2000). */
const ENGINE_DYNAMIC = 127_489;
/** Lines of other messages are known by their number, without decoding them. */
const LINE = /^([^,]*),\d+,(\d+),\d+,\d+,\d+(,[0-9a-f]{2})+$/i;

/** Where in the 26 bytes of the message what stands: field order and widths as in the open PGN database of canboat. */
const INSTANCE_AT = 0;
const HOURS_AT = 11;
const HOURS_BYTES = 4;
/** The highest values of a field say "not sent" and "sensor out of order" instead. */
const NOT_SENT = 0xff_ff_ff_fd;

/**
 * Engine time out of one line of "time,priority,pgn,source,destination,length,bytes", as gateways write whole messages.
 * Only this one message is read, so no decoder of all messages is needed here; the tests encode with one.
 */
export function decodeN2k(line: string): Decoded {
  const parts = LINE.exec(line.trim());
  if (!parts) return { why: 'is no NMEA 2000 line of the form "time,priority,pgn,source,destination,length,bytes"' };
  if (Number(parts[2]) !== ENGINE_DYNAMIC) return { other: true };
  const fields = line.trim().split(',');
  const bytes = Buffer.from(fields.slice(6).join(''), 'hex');
  if (bytes.length !== Number(fields[5]) || bytes.length < HOURS_AT + HOURS_BYTES)
    return { why: 'is cut short or broken' };
  const seconds = bytes.readUInt32LE(HOURS_AT);
  // Not every engine sends its hours in every message.
  if (seconds >= NOT_SENT) return { other: true };
  const instance = bytes[INSTANCE_AT]!;
  return {
    times: [{ positions: positionsOf(instance), name: `instance ${instance}`, at: Date.parse(parts[1]!), seconds }],
  };
}

/** Instance 0 is the only engine or the port one, 1 the starboard one, 2 one between them. */
function positionsOf(instance: number): readonly Position[] {
  if (instance === 0) return ['single', 'port'];
  if (instance === 1) return ['starboard'];
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
