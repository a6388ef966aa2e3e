import { z } from 'zod';
import { day, id } from './common.ts';
import { otherPart } from './parts.ts';
import { route, SHELVES } from './route.ts';

export const countLine = z.object({
  ...otherPart.shape,
  place: z.string().nullable(),
  said: z.number().meta({ description: 'On hand by the ledger.' }),
  counted: day.nullable().meta({ description: 'The day it was last counted; empty: never.' }),
  since: z
    .object({ received: z.number(), used: z.number(), moved: z.number(), writtenOff: z.number() })
    .meta({ description: 'What went in and out since then, by the ledger.' }),
});
export type CountLine = z.infer<typeof countLine>;

export const countsRoutes = {
  countSheet: route({
    method: 'get',
    path: '/api/stores/count',
    roles: SHELVES,
    query: z.object({
      baseId: z.coerce.number().int().positive(),
      shelf: z
        .string()
        .trim()
        .max(60)
        .default('')
        .meta({ description: 'Places that begin so; empty: all of the base.' }),
    }),
    reply: z.array(countLine),
    summary: 'What a shelf should hold, in the order of the places, with what happened since it was last counted.',
  }),
  countShelf: route({
    method: 'post',
    path: '/api/stores/count',
    roles: SHELVES,
    body: z.object({
      baseId: id,
      lines: z
        .array(
          z.object({
            partId: id,
            counted: z.number().min(0, 'cannot be below 0').max(1_000_000),
            said: z.number().meta({ description: 'On hand by the ledger when it was counted.' }),
            again: z.boolean().default(false).meta({ description: 'It was counted a second time.' }),
          }),
        )
        .min(1, 'are missing: count one part at least')
        .max(500),
    }),
    reply: z.object({ booked: z.int(), right: z.int().meta({ description: 'So many were as the ledger said.' }) }),
    summary: 'Book what was counted: all of it or nothing. A large difference wants a second count.',
  }),
};
