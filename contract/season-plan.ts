import { SEASON_VISITS } from '@diurna/core/season';
import { z } from 'zod';
import { day, id } from './common.ts';
import { partLine } from './jobs.ts';

export const seasonVisit = z.enum(SEASON_VISITS);
const whatIf = z.object({
  what: z.enum([
    'a technician lent',
    'two lift turns more',
    'a week more until it has to be over',
    'five boats left as they are',
    'no overtime',
  ]),
  cost: z.number(),
  finish: day.nullable(),
  undone: z.int(),
});
/** A campaign laid backwards over its days. */
export const seasonPlan = z.object({
  baseId: id,
  today: day,
  share: z.int(),
  by: day.nullable(),
  finish: day
    .nullable()
    .meta({ description: 'The day of the last visit; null: nothing is to be done, or some find no day.' }),
  cost: z.number(),
  bound: z.number().meta({ description: 'No plan is cheaper.' }),
  overtimeMinutes: z.number(),
  undone: z.int(),
  room: z
    .int()
    .nullable()
    .meta({ description: 'Boats its places take; null: none is written down, or boats are brought out.' }),
  weeks: z.array(
    z.object({
      from: day,
      boats: z.int(),
      minutes: z.number(),
      available: z.number(),
      lifts: z.int(),
      liftSlots: z.int(),
      away: z.int().meta({ description: 'Boats put away by its end.' }),
    }),
  ),
  visits: z.array(
    z.object({
      boatId: id,
      boatName: z.string(),
      visit: seasonVisit,
      minutes: z.number(),
      day: day.nullable(),
      cost: z.number(),
    }),
  ),
  whatIfs: z.array(whatIf),
  parts: z
    .array(
      partLine
        .pick({ partId: true, number: true, name: true, unit: true, onHand: true })
        .extend({
          weeks: z.array(
            z.object({
              from: day,
              quantity: z.number(),
              short: z.number().meta({ description: 'Each, or mL: what the shelf lacks of it then.' }),
              packs: z.string().nullable().meta({ description: 'Of a fluid: which containers have to be there.' }),
            }),
          ),
        }),
    )
    .meta({ description: 'What the visits take in each week, on the days of the plan or of their cards.' }),
});
export type SeasonPlan = z.infer<typeof seasonPlan>;
