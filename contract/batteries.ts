import { BATTERY_KINDS } from '@diurna/core/season';
import { z } from 'zod';
import { day, id, idParam, instant, remark } from './common.ts';
import { EVERYONE, route, WORK } from './route.ts';
import { aboutSeason } from './season.ts';

const batteryLook = z.object({
  day,
  volts: z.number().nullable(),
  celsius: z.int().nullable(),
  restedHours: z.int().nullable(),
  kind: z.enum(BATTERY_KINDS),
  charged: z.boolean(),
});
const battery = z.object({
  boatId: id,
  boatName: z.string(),
  place: z.string().nullable().meta({ description: 'Where the boat stands.' }),
  since: day,
  percent: z.number().nullable(),
  verdict: z.enum(['fine', 'charge', 'replace', 'measure again', 'not looked at']),
  nextLook: day,
  overdueDays: z.int(),
  looks: z.array(batteryLook).meta({ description: 'The newest first.' }),
});
export type StoredBattery = z.infer<typeof battery>;

const batteryRound = aboutSeason.extend({
  charger: z.boolean().meta({ description: 'The yard leaves them on a charger: a look is enough.' }),
  batteries: z.array(battery).meta({ description: 'Those in store, the ones that wait longest first.' }),
});
export type BatteryRound = z.infer<typeof batteryRound>;

export const batteryRoutes = {
  batteryRound: route({
    method: 'get',
    path: '/api/season/batteries',
    roles: EVERYONE,
    query: z.object({ baseId: z.coerce.number().int().positive() }),
    reply: batteryRound,
    summary: 'The batteries in store at a base, with the looks at them and whose turn it is.',
  }),
  addBatteryLook: route({
    method: 'post',
    path: '/api/season/boats/:id/battery',
    roles: WORK,
    params: idParam,
    body: z.object({
      volts: z.number().min(0, 'is no voltage').max(20, 'is more than a 12 V battery shows').nullable(),
      celsius: z.int().min(-40, 'is colder than a battery bears').max(60, 'is hotter than a battery bears').nullable(),
      restedHours: z.int().min(0).max(9999).nullable(),
      kind: z.enum(BATTERY_KINDS),
      charged: z.boolean(),
      remark: remark.nullable(),
      at: instant.optional().meta({ description: 'When it was looked at, where a phone kept it until now.' }),
    }),
    reply: z.object({ id, percent: z.number().nullable(), verdict: battery.shape.verdict }),
    summary: 'Write down a look at a battery in store.',
  }),
};
