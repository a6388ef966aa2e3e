import { isTimeZone } from '@diurna/core/calendar';
import { z } from 'zod';
import { created, done, id, idParam, name, role, version } from './common.ts';
import { EVERYONE, route } from './route.ts';

export const username = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z][a-z0-9._-]{1,39}$/, 'takes 2 to 40 letters, figures, dots or dashes, a letter first');
export const password = z
  .string()
  .min(10, 'is too short: ten characters or more')
  .max(200, 'is longer than 200 characters');

export const timeZone = z
  .string()
  .refine(isTimeZone, 'is no time zone; write one like Atlantic/Azores')
  .meta({ description: 'IANA time zone name.' });

export const person = z.object({ id, name, username, role, baseId: id.nullable(), active: z.boolean(), version });
export type Person = z.infer<typeof person>;

export const session = z.object({
  person: person.nullable(),
  csrfToken: z.string(),
  company: z.string(),
  currency: z.string(),
  firstRun: z.boolean().meta({ description: 'True while the book has no people.' }),
  demoAccounts: z
    .array(z.object({ username: z.string(), password: z.string(), name: z.string(), role }))
    .meta({ description: 'Filled in demo mode only.' }),
  shelfPolicy: z.enum(['refuse', 'mark']),
});
export type Session = z.infer<typeof session>;

export const personEdit = z.object({ name, username, role, baseId: id.nullable(), active: z.boolean() });

export const firstRun = z.object({
  company: name,
  currency: z.string().regex(/^[A-Z]{3}$/, 'is three capital letters, like EUR'),
  baseName: name,
  timeZone,
  hemisphere: z.enum(['north', 'south']),
  name,
  username,
  password,
});

export const peopleRoutes = {
  readSession: route({
    method: 'get',
    path: '/api/session',
    roles: 'anyone',
    reply: session,
    summary: 'Who is signed in, and the token every write must carry.',
  }),
  signIn: route({
    method: 'post',
    path: '/api/session',
    roles: 'anyone',
    reply: session,
    body: z.object({ username: z.string().max(200), password: z.string().max(400) }),
    summary: 'Sign in with name and password; attempts are throttled.',
  }),
  signOut: route({
    method: 'delete',
    path: '/api/session',
    roles: 'signed in',
    reply: done,
    summary: 'Sign out here.',
  }),
  signOutEverywhere: route({
    method: 'delete',
    path: '/api/session/everywhere',
    roles: 'signed in',
    reply: done,
    summary: 'End every session of this person, on all devices.',
  }),
  changePassword: route({
    method: 'put',
    path: '/api/session/password',
    roles: 'signed in',
    reply: done,
    body: z.object({ current: z.string().max(400), next: password }),
    summary: 'Change one’s own password; all other sessions end.',
  }),
  firstRun: route({
    method: 'post',
    path: '/api/first-run',
    roles: 'anyone',
    body: firstRun,
    reply: session,
    summary: 'Make the first administrator and base; refused once the book has people.',
  }),
  listPeople: route({
    method: 'get',
    path: '/api/people',
    roles: EVERYONE,
    reply: z.array(person),
    summary: 'The people of the yard.',
  }),
  addPerson: route({
    method: 'post',
    path: '/api/people',
    roles: ['administrator'],
    reply: created,
    body: personEdit.extend({ password }),
    summary: 'Add a person.',
  }),
  editPerson: route({
    method: 'put',
    path: '/api/people/:id',
    roles: ['administrator'],
    params: idParam,
    reply: created,
    body: personEdit.extend({ version, password: password.optional() }),
    summary: 'Edit a person; a new password or leaving ends that person’s sessions.',
  }),
  readSettings: route({
    method: 'get',
    path: '/api/settings',
    roles: EVERYONE,
    reply: z.object({ company: name, currency: z.string(), shelfPolicy: z.enum(['refuse', 'mark']), version }),
    summary: 'Settings of the whole book.',
  }),
  editSettings: route({
    method: 'put',
    path: '/api/settings',
    roles: ['administrator'],
    reply: z.object({ version }),
    body: z.object({
      company: name,
      currency: z.string().regex(/^[A-Z]{3}$/, 'is three capital letters, like EUR'),
      shelfPolicy: z
        .enum(['refuse', 'mark'])
        .meta({
          description:
            'What happens when a job takes more than the shelf has: refuse, or let the person go on and mark it.',
        }),
      version,
    }),
    summary: 'Change the settings.',
  }),
};
