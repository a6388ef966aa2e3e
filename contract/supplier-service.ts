import { z } from 'zod';
import { day } from './common.ts';

/**
 * An order as it is sent to a supplier's service: `POST <address>/orders`, JSON. Sent again under the same reference it
 * is the same order. `GET <address>/orders/<reference>` gives the answer as it stands.
 */
export const supplierOrder = z.object({
  format: z.literal('diurna-supplier-order'),
  version: z.literal(1),
  reference: z.string().meta({ description: 'The book’s own; the same for every sending of one order.' }),
  day: day.meta({ description: 'The day it is placed on.' }),
  deliverTo: z.string(),
  lines: z.array(
    z.object({
      part: z.string().meta({ description: 'The supplier’s own number, else the yard’s.' }),
      name: z.string(),
      packs: z.int().positive(),
      packQuantity: z.number().meta({ description: 'Pieces or mL in a pack.' }),
      unit: z.enum(['each', 'mL']),
    }),
  ),
});
export type SupplierOrder = z.infer<typeof supplierOrder>;

/** What the supplier says: taken, and later, line by line, when it comes and how much of what. */
export const supplierAnswer = z.object({
  format: z.literal('diurna-supplier-answer'),
  version: z.literal(1),
  reference: z.string(),
  state: z.enum(['taken', 'answered']),
  lines: z
    .array(
      z.object({
        part: z.string().meta({ description: 'As it was ordered.' }),
        packQuantity: z
          .number()
          .optional()
          .meta({ description: 'As it was ordered: tells two packs of one part apart.' }),
        packs: z.int().min(0).meta({ description: '0 = it will not be sent.' }),
        day: day.nullable().meta({ description: 'When it is there; empty: nobody can say.' }),
        instead: z
          .string()
          .max(60)
          .nullable()
          .default(null)
          .meta({ description: 'The number that is sent in its place.' }),
        note: z.string().max(200).nullable().default(null),
      }),
    )
    .max(500)
    .default([]),
});
export type SupplierAnswer = z.infer<typeof supplierAnswer>;
