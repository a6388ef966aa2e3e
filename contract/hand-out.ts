import { BARS } from '@diurna/core/feasible';
import { z } from 'zod';
import { day, id, reason } from './common.ts';
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

/** What is against work as it is asked for. */
export const reasonAgainst = z.object({ bar: z.enum(BARS), text: z.string(), frees: z.string().nullable() });
