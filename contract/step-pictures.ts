import { z } from 'zod';
import { created, done, id, idParam, instant } from './common.ts';
import { EVERYONE, route, WORK } from './route.ts';
import { photo } from './snags.ts';

/** The yard's own picture or drawing of a step, of one model or of all. */
export const stepPicture = z.object({
  id,
  place: z.string().meta({ description: 'The step it shows, the same on every engine: `impeller/housing`.' }),
  modelId: id.nullable().meta({ description: 'Null = of every model without one of its own.' }),
  modelName: z.string().nullable(),
  caption: z.string(),
  by: z.string(),
  at: instant,
});
export type StepPicture = z.infer<typeof stepPicture>;

export const stepPicturesRoutes = {
  listStepPictures: route({
    method: 'get',
    path: '/api/visit/step-pictures',
    roles: EVERYONE,
    reply: z.array(stepPicture),
    summary: 'The yard’s own pictures of steps.',
  }),
  stepPictureFile: route({
    method: 'get',
    path: '/api/visit/step-pictures/:id/file',
    roles: EVERYONE,
    params: idParam,
    gives: 'image/*',
    reply: z.unknown(),
    summary: 'One of them, as it was drawn or taken.',
  }),
  addStepPicture: route({
    method: 'post',
    path: '/api/visit/step-pictures',
    roles: WORK,
    body: z.object({
      place: z
        .string()
        .max(120)
        .regex(/^[a-z0-9][a-z0-9 /-]*$/, 'is no step'),
      modelId: id.nullable(),
      caption: z.string().trim().max(200, 'is longer than 200 characters'),
      photo,
    }),
    reply: created.omit({ version: true }),
    summary: 'Show this picture at the step from now on; one that was there before goes out of use.',
  }),
  dropStepPicture: route({
    method: 'post',
    path: '/api/visit/step-pictures/:id/drop',
    roles: WORK,
    params: idParam,
    reply: done,
    summary: 'Show it no more; it stays in the book.',
  }),
};
