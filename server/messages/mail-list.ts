import { MAIL_STATES, type MailState } from '@diurna/contract/messages';
import { count, desc, eq } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import type { MailOptions } from './mailer.ts';
import { subjectIn, textIn } from './send.ts';

const { contact, mail, person, setting } = tables;
const OF_USE_MS = 2 * 86_400_000;

/** @throws 404 */
async function lockMail(tx: Tx, id: number) {
  const [found] = await tx.select().from(mail).where(eq(mail.id, id)).for('update');
  if (!found) throw notFound('mail');
  return found;
}

/** A page of mail with how many stand how. */
async function listMail(
  db: Db,
  { page, size, state }: { page: number; size: number; state?: MailState | undefined },
  out: MailOptions | null,
) {
  const writer = alias(person, 'writer');
  const where = state === undefined ? undefined : eq(mail.state, state);
  const rows = await db
    .select({ mail, person: person.name, contact: contact.name, writer: writer.name })
    .from(mail)
    .leftJoin(person, eq(person.id, mail.personId))
    .leftJoin(contact, eq(contact.id, mail.contactId))
    .leftJoin(writer, eq(writer.id, mail.writtenBy))
    .where(where)
    .orderBy(desc(mail.id))
    .limit(size)
    .offset((page - 1) * size);
  const counted = await db.select({ state: mail.state, n: count() }).from(mail).groupBy(mail.state);
  const [settings] = await db.select({ company: setting.company }).from(setting);
  const counts = Object.fromEntries(MAIL_STATES.map((s) => [s, counted.find((c) => c.state === s)?.n ?? 0])) as Record<
    MailState,
    number
  >;
  return {
    page,
    size,
    total: state === undefined ? counted.reduce((sum, c) => sum + c.n, 0) : counts[state],
    mail: out !== null,
    counts,
    rows: rows.map(({ mail: m, ...names }) => {
      const to = names.person ?? names.contact ?? '';
      return {
        id: m.id,
        at: m.at.toISOString(),
        kind: m.kind,
        to,
        subject: subjectIn(m),
        text: textIn(m, to, out?.address ?? '', { company: settings!.company, writer: names.writer }),
        state: m.state,
        tries: m.tries,
        next: m.state === 'waiting' ? m.nextAt.toISOString() : null,
        fault: m.fault,
        sentAt: m.sentAt?.toISOString() ?? null,
        sentTo: m.sentTo,
        writtenBy: names.writer,
      };
    }),
  };
}

/** Mail of the book, seen and taken in hand by who runs the yard. @param out how it goes; null = it does not */
export const mailListHandlers = (
  out: MailOptions | null,
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
): Handlers<'listMail' | 'sendMailAgain' | 'stopMail'> => ({
  listMail: ({ db, query }) => listMail(db, query, out),

  sendMailAgain: ({ params, write, now }) => {
    needMail();
    return write(async (tx, audit) => {
      const found = await lockMail(tx, params.id);
      if (found.state === 'sent') throw new HttpProblem(409, 'This mail went already. Load the list again.');
      await tx
        .update(mail)
        .set({
          state: 'waiting',
          tries: 0,
          nextAt: now,
          // Somebody wants it to go although it is old.
          untilAt: new Date(now.getTime() + OF_USE_MS),
        })
        .where(eq(mail.id, params.id));
      await audit({
        act: 'changed',
        subject: 'mail',
        subjectId: params.id,
        title: subjectIn(found),
        after: { again: true },
      });
      await soon(tx);
      return { ok: true as const };
    });
  },

  stopMail: ({ params, write }) =>
    write(async (tx, audit) => {
      const found = await lockMail(tx, params.id);
      if (found.state !== 'waiting') throw new HttpProblem(409, 'This mail waits no more. Load the list again.');
      await tx.update(mail).set({ state: 'stopped', fault: 'Stopped by hand.' }).where(eq(mail.id, params.id));
      await audit({ act: 'cancelled', subject: 'mail', subjectId: params.id, title: subjectIn(found) });
      return { ok: true as const };
    }),
});
