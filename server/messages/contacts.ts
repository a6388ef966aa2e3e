import { and, asc, eq, inArray } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Handlers, Who } from '../http/api.ts';
import { faulty } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { contact, mail } = tables;
/** What somebody wrote is of no use later than this. */
const OF_USE_MS = 2 * 86_400_000;

/** @returns how many mails are on their way */
async function writeTo(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  { contactIds, subject, text }: { contactIds: number[]; subject: string; text: string },
  who: Who,
  now: Date,
): Promise<number> {
  const ids = [...new Set(contactIds)];
  const known = await tx
    .select({ id: contact.id, name: contact.name })
    .from(contact)
    .where(and(inArray(contact.id, ids), eq(contact.active, true)));
  if (known.length < ids.length)
    throw faulty('contactIds', 'Somebody of these is not told any more. Load the list again.');
  await tx
    .insert(mail)
    .values(
      known.map((c) => ({
        kind: 'written' as const,
        contactId: c.id,
        subject,
        parts: [{ head: null, words: text, lines: [] }],
        at: now,
        nextAt: now,
        untilAt: new Date(now.getTime() + OF_USE_MS),
        writtenBy: who.id,
      })),
    );
  await audit({ act: 'added', subject: 'message', title: subject, after: { to: known.map((c) => c.name), text } });
  return known.length;
}

/**
 * People outside the book, and what is written to them.
 *
 * @param needMail refuses while the book sends none; `soon` has it sent
 */
export const contactHandlers = (
  sends: boolean,
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
): Handlers<'listContacts' | 'addContact' | 'editContact' | 'dropContact' | 'writeMessage'> => ({
  async listContacts({ db }) {
    const rows = await db.select().from(contact).where(eq(contact.active, true)).orderBy(asc(contact.name)).limit(500);
    return { mail: sends, contacts: rows.map(({ active: _, ...c }) => c) };
  },

  addContact: ({ body, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx.insert(contact).values(body).returning();
      await audit({ act: 'added', subject: 'contact', subjectId: row!.id, title: row!.name, after: body });
      return { id: row!.id, version: row!.version };
    }),

  editContact: ({ params, body: { version, ...rest }, write }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, contact, params.id, version, 'contact');
      const [row] = await tx
        .update(contact)
        .set({ ...rest, ...nextVersion(contact) })
        .where(eq(contact.id, params.id))
        .returning();
      await audit({ act: 'changed', subject: 'contact', subjectId: row!.id, title: row!.name, before, after: rest });
      return { id: row!.id, version: row!.version };
    }),

  dropContact: ({ params, query, write }) =>
    write(async (tx, audit) => {
      const before = await lockVersion(tx, contact, params.id, query.version, 'contact');
      await tx
        .update(contact)
        .set({ active: false, ...nextVersion(contact) })
        .where(eq(contact.id, params.id));
      await tx
        .update(mail)
        .set({ state: 'stopped', fault: 'Whom it was for is told nothing any more.' })
        .where(and(eq(mail.contactId, params.id), eq(mail.state, 'waiting')));
      await audit({ act: 'retired', subject: 'contact', subjectId: params.id, title: before.name, before });
      return { ok: true as const };
    }),

  writeMessage: ({ body, write, who, now }) => {
    needMail();
    return write(async (tx, audit) => {
      const sent = await writeTo(tx, audit, body, who, now);
      await soon(tx);
      return { sent };
    });
  },
});
