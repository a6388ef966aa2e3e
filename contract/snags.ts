import { SYMPTOM_KEYS } from '@diurna/core/findings';
import { z } from 'zod';
import { created, day, id, idParam, instant, version } from './common.ts';
import { position } from './fleet.ts';
import { EVERYONE, route, WORK } from './route.ts';

export const PICTURE_TYPES = ['image/jpeg', 'image/png', 'image/webp'] as const;
export type PictureType = (typeof PICTURE_TYPES)[number];
/** A picture from a phone, made smaller there; as base64 without a header. */
export const photo = z.object({
  type: z.enum(PICTURE_TYPES),
  base64: z
    .string()
    .max(900_000, 'is too large; take it again, smaller')
    .regex(/^[A-Za-z0-9+/]+={0,2}$/, 'is no picture'),
});

export const snag = z.object({
  id,
  version,
  boatId: id,
  boatName: z.string(),
  baseId: id,
  engineId: id.nullable(),
  position: position.nullable(),
  day,
  text: z.string(),
  symptom: z.string().nullable(),
  hasPhoto: z.boolean(),
  by: z.string().nullable(),
  at: instant,
  closed: z.object({ by: z.string().nullable(), at: instant, remark: z.string() }).nullable(),
});
export type Snag = z.infer<typeof snag>;

export const snagsRoutes = {
  listSnags: route({
    method: 'get',
    path: '/api/snags',
    roles: EVERYONE,
    query: z.object({
      boatId: z.coerce.number().int().positive().optional(),
      baseId: z.coerce.number().int().positive().optional(),
      state: z.enum(['open', 'all']).default('open'),
    }),
    reply: z.array(snag).meta({ description: 'The newest first, at most 200.' }),
    summary: 'Trouble reported as boats come back.',
  }),
  addSnag: route({
    method: 'post',
    path: '/api/snags',
    roles: ['administrator', 'coordinator', 'technician', 'dock'],
    body: z
      .object({
        boatId: id,
        engineId: id.nullable(),
        text: z.string().trim().max(1000, 'is longer than 1,000 characters'),
        symptom: z.enum(SYMPTOM_KEYS).nullable().optional(),
        photo: photo.nullable(),
        at: instant.optional().meta({ description: 'When it was written down, where a phone kept it until now.' }),
      })
      .refine((s) => s.symptom != null || s.text.length >= 3, {
        path: ['text'],
        message: 'wants a few words, or one of the usual troubles',
      }),
    reply: created,
    summary: 'Report trouble on a boat, with a picture where that says more.',
  }),
  snagPhoto: route({
    method: 'get',
    path: '/api/snags/:id/photo',
    roles: EVERYONE,
    params: idParam,
    gives: 'image/*',
    reply: z.unknown(),
    summary: 'The picture of a snag.',
  }),
  closeSnag: route({
    method: 'post',
    path: '/api/snags/:id/close',
    roles: WORK,
    params: idParam,
    reply: created,
    body: z.object({
      version,
      remark: z.string().trim().min(3, 'wants a few words on what was done').max(500, 'is longer than 500 characters'),
    }),
    summary: 'Close a snag and say what was done; it stays in the book.',
  }),
};
