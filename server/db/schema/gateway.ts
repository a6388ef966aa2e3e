import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { identity, instant, versionColumn } from './columns.ts';
import { boat, engine } from './fleet.ts';

const tally = () => bigint({ mode: 'number' }).notNull().default(0);

/** A box on a boat that sends engine time by itself. */
export const gateway = pgTable(
  'gateway',
  {
    id: identity(),
    name: text().notNull(),
    boatId: integer()
      .notNull()
      .references(() => boat.id),
    /** SHA-256 of its key, which is long and random; the key itself is nowhere. */
    keyHash: text().notNull(),
    active: boolean().notNull().default(true),
    heardAt: instant(),
    clockOff: boolean().notNull().default(false),
    taken: tally(),
    repeated: tally(),
    late: tally(),
    refused: tally(),
    other: tally(),
    version: versionColumn(),
  },
  (t) => [uniqueIndex('gateway_name').on(sql`lower(${t.name})`), uniqueIndex('gateway_key').on(t.keyHash)],
);

/** The last engine time taken from each engine, and what of it is in the readings. */
export const gatewayHeard = pgTable(
  'gateway_heard',
  {
    engineId: integer()
      .primaryKey()
      .references(() => engine.id),
    gatewayId: integer()
      .notNull()
      .references(() => gateway.id),
    at: instant().notNull(),
    seconds: bigint({ mode: 'number' }).notNull(),
    /** Count of the last reading written from it, in seconds. */
    writtenSeconds: bigint({ mode: 'number' }),
    writtenAt: instant(),
  },
  (t) => [index('gateway_heard_gateway').on(t.gatewayId), check('gateway_heard_seconds', sql`${t.seconds} >= 0`)],
);

/** Messages that could not be taken; only the last of each box are kept. */
export const gatewayRefusal = pgTable(
  'gateway_refusal',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    gatewayId: integer()
      .notNull()
      .references(() => gateway.id),
    at: instant().notNull(),
    text: text().notNull(),
    why: text().notNull(),
  },
  (t) => [index('gateway_refusal_gateway').on(t.gatewayId, t.id)],
);
