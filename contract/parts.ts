import { CONTAINER_KINDS, PART_KINDS, PART_LINK_KINDS, PART_MAKES } from '@diurna/core/stores';
import { VOLUME_UNITS } from '@diurna/core/units';
import { z } from 'zod';
import { day, id, instant, name, version } from './common.ts';
import { taskKind } from './fleet.ts';
import { serialEnd, transom } from './traits.ts';

export const partKind = z.enum(PART_KINDS);

export const fitment = z.object({
  modelId: id,
  task: taskKind,
  quantity: z
    .number()
    .positive('must be above 0')
    .max(10_000)
    .nullable()
    .meta({ description: 'Each, or mL; empty = the volume the task fills on this model.' }),
  from: serialEnd,
  to: serialEnd,
  transom: transom.nullable().optional(),
});

/** A size as it is printed on the container. */
export const printedContainer = z.object({
  value: z.number().positive('must be above 0').max(10_000),
  unit: z.enum(VOLUME_UNITS),
  kind: z.enum(CONTAINER_KINDS),
});

/** Another number that may be fitted instead, with who says so. */
export const partLink = z.object({
  otherId: id,
  kind: z.enum(PART_LINK_KINDS).meta({ description: 'The other is the newer number, or an equivalent.' }),
  approved: z.boolean().meta({ description: 'The yard lets it be fitted.' }),
  evidence: z.string().trim().min(3, 'is missing: where is it written?').max(300),
  saidBy: z.string().trim().min(2, 'is missing: who says so?').max(80),
  day,
});
/** More than none, and less than any shelf holds. */
export const amount = z.number().positive('must be above 0').max(1_000_000);

export const partEdit = z.object({
  number: z.string().trim().min(1, 'is missing').max(40),
  name,
  kind: partKind,
  unit: z.enum(['each', 'mL']),
  make: z.enum(PART_MAKES).nullable().optional().meta({ description: 'Whose part it is; left out: as before.' }),
  priceMinor: z
    .int()
    .min(0)
    .max(100_000_000)
    .nullable()
    .meta({ description: 'Price of one, or of one litre, in minor units of the book’s currency.' }),
  fitments: z.array(fitment).max(200),
  containers: z
    .array(printedContainer)
    .max(12)
    .optional()
    .meta({ description: 'What a fluid is sold in; left out: as before.' }),
  shelfLifeMonths: z
    .int()
    .min(1, 'must be 1 or more')
    .max(240)
    .nullable()
    .optional()
    .meta({ description: 'How long it may lie; left out: as before.' }),
  contents: z
    .array(z.object({ partId: id, quantity: amount }))
    .max(60)
    .optional()
    .meta({ description: 'What is in a kit; left out: as before.' }),
  links: z
    .array(partLink)
    .max(20)
    .optional()
    .meta({ description: 'Numbers that may be fitted instead; left out: as before.' }),
});
export const part = z.object({
  ...partEdit.shape,
  id,
  version,
  onHand: z.array(z.object({ baseId: id, quantity: z.number() })),
  places: z.array(z.object({ baseId: id, place: z.string() })).meta({ description: 'Where it lies at each base.' }),
  keptBack: z.array(z.object({ baseId: id, quantity: z.number() })).meta({ description: 'What open cards will take.' }),
});
export type Part = z.infer<typeof part>;

/** A part as it is named beside another. */
export const otherPart = z.object({ id, number: z.string(), name: z.string(), unit: z.enum(['each', 'mL']) });
export const openContainer = z.object({
  id,
  baseId: id,
  label: z.string(),
  sizeMl: z.number(),
  leftMl: z.number(),
  openedAt: instant,
});
export type OpenContainer = z.infer<typeof openContainer>;

/** A part with all that is known of it. */
export const partPage = z.object({
  ...part.shape,
  containers: z.array(printedContainer),
  shelfLifeMonths: z.int().nullable(),
  contents: z.array(z.object({ partId: id, quantity: z.number() })),
  links: z.array(partLink),
  kitModels: z.array(id).meta({ description: 'Of a kit: models its contents fit, the best of them first.' }),
  supersedes: z.array(id).meta({ description: 'Older numbers this one came after.' }),
  others: z.array(otherPart).meta({ description: 'The parts named in contents, links and supersedes.' }),
  open: z.array(openContainer).meta({ description: 'Containers that stand open, oldest first.' }),
  lots: z
    .array(z.object({ baseId: id, lot: z.string().nullable(), expires: day.nullable(), since: day, left: z.number() }))
    .meta({ description: 'What is left of each receipt: what expires first is taken first.' }),
  worth: z
    .array(
      z.object({
        baseId: id,
        expired: z.number(),
        averageMinor: z.number().nullable(),
        worthMinor: z.number(),
        worthFifoMinor: z.number(),
      }),
    )
    .meta({ description: 'By the moving average, and first in first out beside it; what may not be used any more.' }),
});
export type PartPage = z.infer<typeof partPage>;

/** The part of one kind that a task takes on an engine. */
export const whichPart = z.object({
  task: taskKind,
  kind: partKind.nullable(),
  part: otherPart.nullable().meta({ description: 'Empty: nobody can say.' }),
  quantity: z.number().nullable(),
  onHand: z.number(),
  instead: z
    .array(
      z.object({
        ...otherPart.shape,
        onHand: z.number(),
        place: z.string().nullable(),
        why: z.string().meta({ description: 'Older or newer number, or equivalent, and who says so.' }),
      }),
    )
    .meta({ description: 'What may be fitted as well.' }),
  doubts: z.array(z.string()),
});
export type WhichPart = z.infer<typeof whichPart>;

export const kitCheck = z.object({
  missing: z.array(z.object({ ...otherPart.shape, quantity: z.number() })),
  over: z.array(z.object({ ...otherPart.shape, quantity: z.number() })),
  links: z
    .array(z.object({ wanted: z.string(), brings: z.string(), why: z.string() }))
    .meta({ description: 'Where the kit brings another number than the one that fits.' }),
  unknown: z.array(taskKind).meta({ description: 'Tasks for which no part is known.' }),
});
