import { serialInRange, TRANSOMS } from '@diurna/core/fleet';
import { z } from 'zod';

const newtonMetres = z.number().positive('must be above 0').max(600, 'is more than any of these screws takes');
const torque = z
  .union(
    [
      newtonMetres,
      z
        .object({ least: newtonMetres, most: newtonMetres })
        .refine((r) => r.least < r.most, { message: 'begins above its end' }),
    ],
    'is no torque: write 62, or 75 to 110, or 55 to 80 lbf·ft',
  )
  .nullable()
  .meta({ description: 'N·m: one figure, or the range that is allowed.' });

const toolSize = z.number().min(4, 'is below 4 mm').max(120, 'is above 120 mm').nullable().meta({ description: 'mm' });

/** How a model is built; what is left out is as usual for its size. */
export const modelTraits = z
  .object({
    induction: z.enum(['carburettor', 'injection', 'direct injection']),
    runsOn: z.enum(['muffs', 'flush port', 'muffs or flush port']).nullable(),
    sideCover: z.boolean(),
    drainAt: z.enum(['leg', 'behind the side cover']),
    oilBy: z.enum(['gravity', 'extraction']),
    drainKind: z.enum(['screw', 'valve']),
    fillAt: z.enum(['cap', 'dipstick hole']),
    drainsPoorly: z.boolean(),
    tiltBeforeLevel: z.boolean(),
    gearScrews: z.union([z.literal(2), z.literal(3)]).nullable(),
    gearNeedsPropOff: z.boolean(),
    fuelFilter: z.enum(['in-line', 'canister']),
    propNut: z.enum(['cotter pin', 'bevelled washer', 'bent tab']),
    recoil: z.boolean(),
    twoPersonUnit: z.boolean(),
    boltUnderTab: z.boolean(),
    speedTube: z.boolean(),
    drainScrewNm: torque,
    filterNm: torque,
    plugNm: torque,
    gearScrewNm: torque,
    propNutNm: torque,
    drainSocketMm: toolSize,
    filterWrenchMm: toolSize,
    plugSocketMm: toolSize,
    propSocketMm: toolSize,
    plugGapMm: z.number().min(0.2, 'is below 0.2 mm').max(2, 'is above 2 mm').nullable(),
    dipstickMl: z.number().positive().max(10_000).nullable(),
    compressionFloorKpa: z.number().positive().max(5000).nullable(),
    oilGrade: z.string().trim().max(60).nullable(),
    lubeGrade: z.string().trim().max(60).nullable(),
  })
  .partial();

export const transom = z.enum(TRANSOMS);

/** One end of a serial range; empty = open. */
export const serialEnd = z
  .string()
  .trim()
  .max(40)
  .nullable()
  .transform((text) => text || null);

/** How some engines of a model are built otherwise: by serial, transom or both. */
export const variant = z
  .object({ from: serialEnd, to: serialEnd, transom: transom.nullable(), traits: modelTraits })
  .superRefine((v, ctx) => {
    if (v.from === null && v.to === null && v.transom === null)
      ctx.addIssue({
        code: 'custom',
        path: ['from'],
        message: 'needs a serial or a transom: else it is the model itself',
      });
    if (v.from !== null && v.to !== null && !serialInRange(v.from, { from: null, to: v.to }))
      ctx.addIssue({ code: 'custom', path: ['to'], message: 'comes before the first serial' });
  });
