import { BARS } from '@diurna/core/feasible';
import { z } from 'zod';
import { day, id, reason, version } from './common.ts';
import { taskKind } from './fleet.ts';

export const jobTaskKey = z.object({ engineId: id, task: taskKind });

/** Work as it is handed out. */
export const handOut = z.object({
  boatId: id,
  technicianId: id,
  day,
  tasks: z.array(jobTaskKey).min(1, 'are missing: tick at least one').max(60),
  startMinute: z
    .int()
    .min(0)
    .max(1439)
    .nullable()
    .optional()
    .meta({ description: 'Left out: as before; of a job that moves to another day or person, some time of the day.' }),
  insist: reason
    .optional()
    .meta({ description: 'Why it is handed out although something is against it; refused as `questioned` without.' }),
});

/** More at once are a matter for the plan. */
const MOST_AT_ONCE = 100;
const MANY = `are more than ${MOST_AT_ONCE}: let the plan place so many`;
const newCard = handOut.pick({ boatId: true, technicianId: true, day: true, tasks: true });
const movedCard = z.object({ jobId: id, version, technicianId: id, day });
export type NewCard = z.infer<typeof newCard>;
export type MovedCard = z.infer<typeof movedCard>;

/** Cards of several boats, handed out and moved as they are. */
export const several = z
  .object({
    cards: z.array(newCard).max(MOST_AT_ONCE, MANY).default([]),
    moves: z.array(movedCard).max(MOST_AT_ONCE, MANY).default([]),
    insist: reason
      .optional()
      .meta({ description: 'Why it is done although something is against it; refused as `questioned` without.' }),
  })
  .refine((s) => s.cards.length + s.moves.length > 0, { path: ['cards'], message: 'are missing: tick at least one' });

/** What is against work as it is asked for. */
export const reasonAgainst = z.object({ bar: z.enum(BARS), text: z.string(), frees: z.string().nullable() });
