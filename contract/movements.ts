import { z } from 'zod';
import { day, id } from './common.ts';
import { amount, printedContainer } from './parts.ts';

export const MOVEMENT_REASONS = ['received', 'counted', 'used', 'returned', 'moved', 'written off'] as const;
export const movement = z.object({
  id,
  at: z.string(),
  baseId: id,
  baseName: z.string(),
  quantity: z.number(),
  balance: z.number(),
  reason: z.enum(MOVEMENT_REASONS),
  jobId: id.nullable(),
  takenBy: z.string().nullable().meta({ description: 'Handed to a person, or brought back by them, for no card.' }),
  by: z.string().nullable(),
  note: z.string().nullable(),
  belowZero: z.boolean(),
  lot: z.string().nullable(),
  expires: day.nullable(),
  costMinor: z.number().nullable(),
});
export type Movement = z.infer<typeof movement>;

/** As it is printed on what came. */
export const lotText = z
  .string()
  .trim()
  .max(40)
  .nullable()
  .default(null)
  .meta({ description: 'The lot printed on it.' });

/** What is done at a shelf by hand. */
export const moveBody = z.discriminatedUnion('act', [
  z.object({
    act: z.literal('receive'),
    partId: id,
    baseId: id,
    quantity: amount,
    note: z.string().trim().max(200).nullable(),
    lot: lotText,
    expires: day.nullable().default(null).meta({ description: 'Empty: by the shelf life, where the part has one.' }),
    costMinor: z.int().min(0).max(1_000_000_000).nullable().default(null).meta({ description: 'What all of it cost.' }),
  }),
  z.object({
    act: z.literal('count'),
    partId: id,
    baseId: id,
    counted: z.number().min(0, 'cannot be below 0').max(1_000_000),
    note: z.string().trim().max(200).nullable(),
    open: z
      .array(z.object({ id, leftMl: z.number().min(0, 'cannot be below 0').max(1_000_000) }))
      .max(100)
      .default([])
      .meta({ description: 'What is in the open containers, counted in.' }),
  }),
  z.object({ act: z.literal('open'), partId: id, baseId: id, container: printedContainer }),
  z.object({ act: z.literal('decant'), partId: id, baseId: id, fromId: id, toId: id, ml: amount }),
  z.object({
    act: z.literal('move'),
    partId: id,
    baseId: id,
    toBaseId: id,
    quantity: amount,
    note: z.string().trim().max(200).nullable(),
    day: day.optional().meta({ description: 'When it gets there; left out: today.' }),
    although: z.boolean().default(false).meta({ description: 'Cards that want it go short.' }),
  }),
  z.object({
    act: z.literal('hand out'),
    partId: id,
    baseId: id,
    personId: id,
    quantity: amount,
    note: z.string().trim().max(200).nullable(),
    although: z.boolean().default(false).meta({ description: 'Cards that want it go short.' }),
  }),
  z.object({
    act: z.literal('bring back'),
    partId: id,
    baseId: id,
    personId: id,
    quantity: amount,
    note: z.string().trim().max(200).nullable(),
  }),
  z.object({
    act: z.literal('write off'),
    partId: id,
    baseId: id,
    quantity: z.number().positive('must be above 0').max(1_000_000),
    note: z.string().trim().min(3, 'wants a few words why').max(200),
  }),
]);
