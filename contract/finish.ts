import { z } from 'zod';
import { hours, id, reason, remark, version } from './common.ts';
import { printedVolume } from './fleet.ts';
import { jobTaskKey } from './hand-out.ts';

/** What finishing a card sends. */
export const finishJob = z.object({
  version,
  tasks: z
    .array(
      jobTaskKey.extend({
        done: z.boolean(),
        volume: printedVolume
          .nullable()
          .default(null)
          .meta({
            description: 'What was put in, as somebody typed it; null = as read at the steps, else as the label says.',
          }),
      }),
    )
    .min(1),
  hours: z.array(z.object({ engineId: id, count: hours, confirm: reason.optional() })),
  parts: z
    .array(z.object({ partId: id, quantity: z.number().min(0, 'cannot be below 0').max(1_000_000) }))
    .meta({
      description: 'Parts of which more or less was used than the ticked tasks take; the book works out the others.',
    }),
  remark: remark.nullable(),
  at: z
    .number()
    .optional()
    .meta({
      description:
        'When it was finished, by the phone: milliseconds since 1970. Left out: now. A phone without signal sends it later.',
    }),
  leftOpen: z
    .array(z.object({ engineId: id, why: reason }))
    .max(12)
    .default([])
    .meta({
      description:
        'Engines left as they stand on purpose: each is held, and the work comes up again. Without, a card whose engine is not whole is not finished.',
    }),
  belowZero: z
    .boolean()
    .default(false)
    .meta({ description: 'The person says the parts were there although the shelf count says no; it is marked.' }),
});

/** What finishing a card sends, besides its number. */
export type FinishBody = z.input<typeof finishJob>;
