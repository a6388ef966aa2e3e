import { isMailAddress, MESSAGE_KINDS, MESSAGE_WAYS, type MessageKind } from '@diurna/core/messages';
import { z } from 'zod';
import { created, done, id, idParam, instant, name, pageOf, pageQuery, version, type Role } from './common.ts';
import { route } from './route.ts';

export { MESSAGE_KINDS, MESSAGE_WAYS };
export type { MessageKind, MessageWay } from '@diurna/core/messages';

/** What a mail of the book is: messages as they are told, a morning's, what somebody wrote, a trial. */
export const MAIL_KINDS = ['told', 'morning', 'written', 'trial'] as const;
export type MailKind = (typeof MAIL_KINDS)[number];
/** How a mail stands: it waits for its next try, went, was given up, or was stopped by somebody. */
export const MAIL_STATES = ['waiting', 'sent', 'failed', 'stopped'] as const;
export type MailState = (typeof MAIL_STATES)[number];
/** What somebody outside is told by the book itself: a hire that changed boats; each morning what goes out. */
export const CONTACT_HEARS = ['hires', 'morning'] as const;

const OF_ROLE: Record<Role, readonly MessageKind[]> = {
  technician: ['work', 'card', 'door'],
  dock: ['hires', 'door'],
  stores: ['desk', 'door'],
  manager: ['door'],
  coordinator: ['work', 'card', 'desk', 'hires', 'door'],
  administrator: ['work', 'card', 'desk', 'hires', 'door'],
};
/** Kinds of messages that are ever told to somebody of this role. */
export const kindsOf = (role: Role): readonly MessageKind[] => OF_ROLE[role];

export const mailAddress = z
  .string()
  .trim()
  .refine(isMailAddress, 'is no address of mail; write it like ines@yard.example');
const choices = z.record(z.enum(MESSAGE_KINDS), z.enum(MESSAGE_WAYS));

export const notice = z.object({
  id: id,
  at: z.string(),
  kind: z.enum(MESSAGE_KINDS),
  text: z.string(),
  jobId: id.nullable(),
});

export const contact = z.object({
  id,
  name,
  address: mailAddress,
  baseId: id.nullable().meta({ description: 'Hears of this base only; null = of all.' }),
  hears: z.array(z.enum(CONTACT_HEARS)).max(CONTACT_HEARS.length),
  version,
});
export type Contact = z.infer<typeof contact>;
const contactBody = contact.omit({ id: true, version: true });

export const mailRow = z.object({
  id,
  at: instant,
  kind: z.enum(MAIL_KINDS),
  to: z.string().meta({ description: 'Who it is for, by name.' }),
  subject: z.string(),
  text: z.string(),
  state: z.enum(MAIL_STATES),
  tries: z.int(),
  next: instant.nullable().meta({ description: 'When it is tried again.' }),
  fault: z.string().nullable().meta({ description: 'Why it did not go at the last try.' }),
  sentAt: instant.nullable(),
  sentTo: z.string().nullable().meta({ description: 'The address it went to.' }),
  writtenBy: z.string().nullable(),
});
export type MailRow = z.infer<typeof mailRow>;

const STEER = ['administrator', 'coordinator'] as const;

export const messagesRoutes = {
  listNotices: route({
    method: 'get',
    path: '/api/session/notices',
    roles: 'signed in',
    reply: z.array(notice),
    summary: 'What the person has been told and not put away yet.',
  }),
  readNotices: route({
    method: 'post',
    path: '/api/session/notices/read',
    roles: 'signed in',
    body: z.object({ upTo: id }),
    reply: done,
    summary: 'Put away what was told up to and with this one.',
  }),
  readMyMessages: route({
    method: 'get',
    path: '/api/session/messages',
    roles: 'signed in',
    reply: z.object({
      mail: z.boolean().meta({ description: 'Whether this book sends mail at all.' }),
      address: z.string().nullable(),
      choices,
      morning: z.boolean(),
      morningMinute: z.int().meta({ description: 'When the morning’s mail goes, in minutes after midnight.' }),
      version: version.nullable().meta({ description: 'Null while nothing was chosen.' }),
    }),
    summary: 'Where one has mail, and what comes there.',
  }),
  setMyMessages: route({
    method: 'put',
    path: '/api/session/messages',
    roles: 'signed in',
    body: z.object({
      address: mailAddress.nullable().meta({ description: 'Null = no mail.' }),
      choices,
      morning: z.boolean(),
      version: version.nullable(),
    }),
    reply: done,
    summary: 'Choose where one has mail, and what comes there.',
  }),
  tryMyMail: route({
    method: 'post',
    path: '/api/session/messages/try',
    roles: 'signed in',
    reply: done,
    summary: 'Send oneself a mail, to see whether it comes.',
  }),
  listContacts: route({
    method: 'get',
    path: '/api/messages/contacts',
    roles: [...STEER, 'stores'],
    reply: z.object({ mail: z.boolean(), contacts: z.array(contact) }),
    summary: 'People outside the book who are told by mail.',
  }),
  addContact: route({
    method: 'post',
    path: '/api/messages/contacts',
    roles: STEER,
    body: contactBody,
    reply: created,
    summary: 'Add somebody outside who is told by mail.',
  }),
  editContact: route({
    method: 'put',
    path: '/api/messages/contacts/:id',
    roles: STEER,
    params: idParam,
    body: contactBody.extend({ version }),
    reply: created,
    summary: 'Change where somebody outside has mail, or what they hear.',
  }),
  dropContact: route({
    method: 'delete',
    path: '/api/messages/contacts/:id',
    roles: STEER,
    params: idParam,
    query: z.object({ version: z.coerce.number().int().positive() }),
    reply: done,
    summary: 'Tell somebody outside nothing any more; what waits for them is stopped.',
  }),
  writeMessage: route({
    method: 'post',
    path: '/api/messages',
    roles: STEER,
    body: z.object({
      contactIds: z.array(id).min(1, 'names nobody; choose who it goes to').max(20),
      subject: z.string().trim().min(1, 'is missing').max(150, 'is longer than 150 characters'),
      text: z.string().trim().min(1, 'is missing').max(4000, 'is longer than 4,000 characters'),
    }),
    reply: z.object({ sent: z.int().meta({ description: 'How many mails are on their way.' }) }),
    summary: 'Write to people outside by mail.',
  }),
  listMail: route({
    method: 'get',
    path: '/api/messages/mail',
    roles: STEER,
    query: pageQuery.extend({ state: z.enum(MAIL_STATES).optional() }),
    reply: pageOf(mailRow).extend({ mail: z.boolean(), counts: z.record(z.enum(MAIL_STATES), z.int()) }),
    summary: 'Mail of the book: what waits, went and did not go; the newest first.',
  }),
  sendMailAgain: route({
    method: 'post',
    path: '/api/messages/mail/:id/again',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'Try a mail again that was given up or stopped, or now instead of later.',
  }),
  stopMail: route({
    method: 'post',
    path: '/api/messages/mail/:id/stop',
    roles: STEER,
    params: idParam,
    reply: done,
    summary: 'Stop a mail that waits.',
  }),
};
