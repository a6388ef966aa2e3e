import { LOOKED_AT } from '@diurna/core/service';
import { z } from 'zod';
import { EVERYONE, route } from './route.ts';

const range = z.tuple([z.number(), z.number()]);

export const lifeRoutes = {
  readLife: route({
    method: 'get',
    path: '/api/rules/life',
    roles: EVERYONE,
    query: z.object({
      task: z.enum(LOOKED_AT),
      water: z.enum(['all', 'sand', 'no sand', 'salt', 'no salt']).default('all'),
      by: z
        .enum(['hours', 'months'])
        .default('hours')
        .meta({ description: 'Lives are counted in hours run, or in months since they were fitted.' }),
      planned: z.coerce
        .number()
        .min(0.01)
        .max(1_000_000)
        .optional()
        .meta({ description: 'Money a renewal in time costs.' }),
      failed: z.coerce.number().min(0.01).max(1_000_000).optional().meta({ description: 'Money a failure costs.' }),
    }),
    reply: z.object({
      lives: z.int(),
      failures: z.int(),
      few: z.boolean().meta({ description: 'Fewer failures than a study wants: it says little.' }),
      costs: z.object({ planned: z.number(), failed: z.number() }),
      fit: z
        .object({ shape: z.number(), scale: z.number(), shapeRange: range, scaleRange: range })
        .nullable()
        .meta({ description: 'A Weibull law with 95 % likelihood intervals, in hours or months; null: nothing says.' }),
      points: z.array(z.object({ time: z.number(), share: z.number(), atRisk: z.int() })),
      cheapest: z
        .object({ age: z.number(), cost: z.number(), failsBefore: z.number(), between: range.nullable() })
        .nullable()
        .meta({
          description: 'The age at which renewing costs least, an hour or a month; null: waiting for the failure does.',
        }),
      inForce: z.array(z.object({ age: z.number(), engines: z.int(), cost: z.number().nullable() })),
    }),
    summary: 'How long parts of this fleet last, and at what age renewing them costs least.',
  }),
};
