import { mailText, subjectOf, triedAgainAt } from '@diurna/core/messages';
import type { Clock } from '@diurna/core/calendar';
import { and, asc, eq, lte, sql } from 'drizzle-orm';
import { tables, transaction, type Db } from '../db/index.ts';
import { Mailer, NotSent, type Letter, type MailOptions } from './mailer.ts';

const { contact, mail, messageChoice, notice, person, setting } = tables;

/** A mail in the hands of a process that died goes to another after so long. */
const IN_HAND_MS = 10 * 60_000;
/** So many in one round; the rest in the next. */
const MOST = 200;
const CLOSING = {
  person: 'You choose under "The yard" in the book what comes to you by mail.',
  contact: (company: string) =>
    `${company} sends this by itself. Tell your people there if it should not come any more.`,
  written: (name: string, company: string) => `${name}, ${company}`,
};

type MailOut = typeof mail.$inferSelect;

/** Whether a mail waits for its try. */
export async function mailIsDue(db: Db, now: Date): Promise<boolean> {
  const [row] = await db
    .select({ id: mail.id })
    .from(mail)
    .where(and(eq(mail.state, 'waiting'), lte(mail.nextAt, now)))
    .limit(1);
  return row !== undefined;
}

/** Takes the next mail in hand, so that no other process does; null = none is due. */
const takeNext = (db: Db, now: Date): Promise<MailOut | null> =>
  transaction(db, async (tx) => {
    const [due] = await tx
      .select({ id: mail.id })
      .from(mail)
      .where(and(eq(mail.state, 'waiting'), lte(mail.nextAt, now)))
      .orderBy(asc(mail.nextAt), asc(mail.id))
      .limit(1)
      .for('update', { skipLocked: true });
    if (!due) return null;
    const [taken] = await tx
      .update(mail)
      .set({ tries: sql`${mail.tries} + 1`, nextAt: new Date(now.getTime() + IN_HAND_MS) })
      .where(eq(mail.id, due.id))
      .returning();
    return taken!;
  });

/** Whom a mail goes to now; null = they have left, or have no mail any more. */
async function receiverOf(db: Db, { personId, contactId }: MailOut): Promise<Letter['to'] | null> {
  const [found] =
    personId === null
      ? await db
          .select({ name: contact.name, address: contact.address })
          .from(contact)
          .where(and(eq(contact.id, contactId!), eq(contact.active, true)))
      : await db
          .select({ name: person.name, address: messageChoice.address })
          .from(messageChoice)
          .innerJoin(person, eq(person.id, messageChoice.personId))
          .where(and(eq(person.id, personId), eq(person.active, true)));
  return found ?? null;
}

/** What stands above a mail. */
export const subjectIn = (row: Pick<MailOut, 'subject' | 'parts'>): string =>
  row.subject ?? subjectOf(row.parts.flatMap((p) => p.lines));

/** The text of a mail as it is read. @param from the yard, and who wrote it where somebody did */
export const textIn = (
  row: Pick<MailOut, 'parts' | 'personId'>,
  to: string,
  address: string,
  from: { company: string; writer: string | null },
): string =>
  mailText({
    name: to,
    parts: row.parts,
    address,
    closing:
      from.writer !== null
        ? CLOSING.written(from.writer, from.company)
        : row.personId === null
          ? CLOSING.contact(from.company)
          : CLOSING.person,
  });

/** The yard's name, and who wrote a mail with where answers go; none where the book did. */
async function senderOf(db: Db, { writtenBy }: MailOut) {
  const [settings] = await db.select({ company: setting.company }).from(setting);
  const [writer] =
    writtenBy === null
      ? []
      : await db
          .select({ name: person.name, address: messageChoice.address })
          .from(person)
          .leftJoin(messageChoice, eq(messageChoice.personId, person.id))
          .where(eq(person.id, writtenBy));
  return { company: settings!.company, writer: writer ?? null };
}

async function letterOf(db: Db, row: MailOut, to: Letter['to'], address: string): Promise<Letter> {
  const { company, writer } = await senderOf(db, row);
  return {
    id: row.id,
    at: row.at,
    to,
    company,
    replyTo: writer?.address ? { name: writer.name, address: writer.address } : null,
    subject: subjectIn(row),
    text: textIn(row, to.name, address, { company, writer: writer?.name ?? null }),
  };
}

/** What came of one try. */
type Outcome = { is: 'sent' | 'away' } | { is: 'not now' | 'given up'; why: string; reached: boolean };

async function sendOne(db: Db, mailer: Mailer, row: MailOut, address: string, clock: Clock): Promise<Outcome> {
  const set = (values: Partial<MailOut>) =>
    // Stopped by somebody meanwhile, it stays so.
    db
      .update(mail)
      .set(values)
      .where(and(eq(mail.id, row.id), eq(mail.state, 'waiting')));
  const to = await receiverOf(db, row);
  if (to === null) {
    await set({ state: 'stopped', fault: 'Whom it was for has no mail any more.' });
    return { is: 'away' };
  }
  if (row.untilAt < clock()) {
    const fault = row.fault ?? 'It did not go in time, and is of no use any more.';
    await set({ state: 'failed', fault });
    return { is: 'given up', why: fault, reached: true };
  }
  try {
    await mailer.send(await letterOf(db, row, to, address));
    await set({ state: 'sent', sentAt: clock(), sentTo: to.address, fault: null });
    return { is: 'sent' };
  } catch (error) {
    if (!(error instanceof NotSent)) throw error;
    const at = triedAgainAt(row.tries, error.fault, { now: clock().getTime(), until: row.untilAt.getTime() });
    await set({ fault: error.message, ...(at === null ? { state: 'failed' } : { nextAt: new Date(at) }) });
    return { is: at === null ? 'given up' : 'not now', why: error.message, reached: error.fault.reply !== null };
  }
}

/**
 * Sends the mail that is due, one after the other. What does not go is tried again later; what is given up is told to
 * whoever wrote it, or else to the administrators, in the book.
 *
 * @returns how many went, and why others did not
 */
export async function sendDue(
  db: Db,
  options: MailOptions,
  clock: Clock,
  signal?: AbortSignal,
): Promise<{ sent: number; kept: number; why: string | null }> {
  const mailer = new Mailer(options);
  const done = { sent: 0, kept: 0, why: null as string | null };
  try {
    for (let n = 0; n < MOST && !signal?.aborted; n++) {
      const row = await takeNext(db, clock());
      if (!row) break;
      const outcome = await sendOne(db, mailer, row, options.address, clock);
      if (outcome.is === 'sent') done.sent += 1;
      if (outcome.is !== 'not now' && outcome.is !== 'given up') continue;
      done.kept += 1;
      done.why = outcome.why;
      if (outcome.is === 'given up') await tellGivenUp(db, row, outcome.why, clock());
      // A server that is not there is not asked for each of them.
      if (!outcome.reached) break;
    }
  } finally {
    mailer.close();
  }
  return done;
}

/** In the book alone: by mail it would go the way of the one that did not go. */
async function tellGivenUp(db: Db, row: MailOut, why: string, now: Date): Promise<void> {
  const to = await receiverOf(db, row);
  const text = `A mail to ${to?.name ?? 'somebody who left'} did not go: "${subjectIn(row)}". ${why}`;
  await transaction(db, async (tx) => {
    const people =
      row.writtenBy === null
        ? await tx
            .select({ id: person.id })
            .from(person)
            .where(and(eq(person.active, true), eq(person.role, 'administrator')))
        : [{ id: row.writtenBy }];
    if (people.length > 0)
      await tx.insert(notice).values(people.map((p) => ({ personId: p.id, kind: 'desk' as const, text, at: now })));
  });
}
