import { CLOCKS, isTimeZone } from '@diurna/core/calendar';
import { VOLUME_SCHOOLS } from '@diurna/core/units';
import { z } from 'zod';
import { created, done, id, idParam, instant, name, role, version } from './common.ts';
import { EVERYONE, route } from './route.ts';

export const username = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z][a-z0-9._-]{1,39}$/, 'takes 2 to 40 letters, figures, dots or dashes, a letter first');
export const password = z
  .string()
  .min(12, 'is too short: twelve characters or more')
  .max(128, 'is longer than 128 characters');
const typedPassword = z.string().max(400);
/** Six figures of an authenticator, or a code for recovery. */
const code = z.string().trim().min(6, 'has at least six signs').max(40, 'is longer than 40 signs');

export const timeZone = z
  .string()
  .refine(isTimeZone, 'is no time zone; write one like Atlantic/Azores')
  .meta({ description: 'IANA time zone name.' });

export const person = z.object({ id, name, username, role, baseId: id.nullable(), active: z.boolean(), version });
export type Person = z.infer<typeof person>;

/** How the yard writes hours, weeks and volumes. */
const writing = z.object({
  clock: z.enum(CLOCKS).meta({ description: 'Hours of 24, or of twice twelve.' }),
  weekStarts: z
    .union([z.literal(1), z.literal(6), z.literal(7)])
    .meta({ description: 'Day a week begins on: 1 Monday, 6 Saturday, 7 Sunday.' }),
  volumes: z.enum(VOLUME_SCHOOLS).meta({ description: 'Units written first, or alone where none is printed.' }),
});
export type Writing = z.infer<typeof writing>;

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
  writing,
  halfway: z
    .boolean()
    .meta({
      description: 'True while a second factor is asked of the person and not set up: nothing else is open to them.',
    }),
  sharedNames: z
    .array(z.string())
    .meta({ description: 'First names that several people of the yard have: they are called by their whole names.' }),
  shared: z.boolean().meta({ description: 'Signed in on a device that others use too.' }),
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
    body: z.object({
      username: z.string().max(200),
      password: typedPassword,
      code: code.optional().meta({ description: 'Of the authenticator, once the answer asks for it.' }),
      shared: z.boolean().default(false).meta({ description: 'Others use this device too: the session ends sooner.' }),
    }),
    summary: 'Sign in with name and password; tries are slowed down.',
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
    body: z.object({ current: typedPassword, next: password }),
    summary: 'Change one’s own password; all other sessions end.',
  }),
  listDevices: route({
    method: 'get',
    path: '/api/session/devices',
    roles: 'signed in',
    reply: z.array(
      z.object({
        key: z.string(),
        device: z.string(),
        begun: instant,
        seen: instant,
        shared: z.boolean(),
        here: z.boolean().meta({ description: 'The session that asks.' }),
      }),
    ),
    summary: 'Where one is signed in, the last seen first.',
  }),
  endDevice: route({
    method: 'delete',
    path: '/api/session/devices/:key',
    roles: 'signed in',
    params: z.object({ key: z.string().regex(/^[\w-]{22}$/) }),
    reply: done,
    summary: 'Sign out on one device.',
  }),
  readSecondFactor: route({
    method: 'get',
    path: '/api/session/second-factor',
    roles: 'signed in',
    reply: z.object({
      on: z.boolean(),
      asked: z.boolean().meta({ description: 'The yard asks it of this role.' }),
      recoveryLeft: z.int().min(0),
    }),
    summary: 'Whether one shows a second factor when signing in.',
  }),
  beginSecondFactor: route({
    method: 'post',
    path: '/api/session/second-factor',
    roles: 'signed in',
    body: z.object({ password: typedPassword }),
    reply: z.object({ secret: z.string(), uri: z.string().meta({ description: 'For an authenticator (otpauth:).' }) }),
    showsSecret: true,
    summary: 'Make a secret for an authenticator; it counts once its first code is confirmed.',
  }),
  confirmSecondFactor: route({
    method: 'put',
    path: '/api/session/second-factor',
    roles: 'signed in',
    body: z.object({ code }),
    reply: z.object({ recoveryCodes: z.array(z.string()) }),
    showsSecret: true,
    summary: 'Confirm the authenticator by its code; answers codes for recovery, shown once.',
  }),
  endSecondFactor: route({
    method: 'post',
    path: '/api/session/second-factor/end',
    roles: 'signed in',
    body: z.object({ password: typedPassword }),
    reply: done,
    summary: 'Sign in by password alone again; refused where the yard asks for more.',
  }),
  resetSecondFactor: route({
    method: 'delete',
    path: '/api/people/:id/second-factor',
    roles: ['administrator'],
    params: idParam,
    reply: done,
    summary: 'Take the second factor of somebody away who lost the phone and the codes.',
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
    reply: z.object({
      company: name,
      currency: z.string(),
      shelfPolicy: z.enum(['refuse', 'mark']),
      secondFactor: z.boolean(),
      morningMinute: z.int(),
      ...writing.shape,
      version,
    }),
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
      secondFactor: z
        .boolean()
        .meta({ description: 'Administrators and coordinators show a second factor when they sign in.' }),
      morningMinute: z
        .int()
        .min(0)
        .max(1079, 'has to be before 18:00')
        .meta({ description: 'When the morning’s mail goes, in minutes after midnight at each base.' }),
      // Left out, as before.
      ...writing.partial().shape,
      version,
    }),
    summary: 'Change the settings.',
  }),
};
