import type { Role } from '@diurna/contract';
import { choicesOf, type MailLine, type MailPart, type MessageKind } from '@diurna/core/messages';
import { and, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';

const { contact, mail, messageChoice, notice, person } = tables;
/** What is told is of no use to anybody later than this. */
const OF_USE_MS = 2 * 86_400_000;

/** Something somebody is told. */
export interface Message {
  personId: number;
  kind: MessageKind;
  text: string;
  /** The card it is about. */
  jobId?: number | null;
}

/**
 * Tells people: in the book at once, and by mail where they chose so. What comes within a minute or so for one person
 * goes in one mail.
 */
export async function tell(tx: Tx, messages: readonly Message[], now: Date): Promise<void> {
  if (messages.length === 0) return;
  await tx
    .insert(notice)
    .values(
      messages.map(({ personId, kind, text, jobId }) => ({ personId, kind, text, jobId: jobId ?? null, at: now })),
    );
  const ids = [...new Set(messages.map((m) => m.personId))];
  const chosen = await tx.select().from(messageChoice).where(inArray(messageChoice.personId, ids));
  for (const { personId, choices } of chosen) {
    const ways = choicesOf(choices);
    const lines = messages
      .filter((m) => m.personId === personId && ways[m.kind] === 'mail')
      .map((m): MailLine => ({ text: m.text, to: m.jobId ? `/jobs/${m.jobId}` : null }));
    if (lines.length > 0) await addLines(tx, { personId }, lines, now);
  }
}

/** Puts lines into the mail that waits for its first try, or into a new one. */
async function addLines(
  tx: Tx,
  to: { personId: number } | { contactId: number },
  lines: readonly MailLine[],
  now: Date,
): Promise<void> {
  const whose = 'personId' in to ? eq(mail.personId, to.personId) : eq(mail.contactId, to.contactId);
  const [waiting] = await tx
    .select()
    .from(mail)
    .where(and(whose, eq(mail.kind, 'told'), eq(mail.state, 'waiting'), eq(mail.tries, 0)))
    .limit(1)
    .for('update');
  const parts: MailPart[] = [{ head: null, lines: [...(waiting?.parts[0]?.lines ?? []), ...lines] }];
  if (waiting) await tx.update(mail).set({ parts }).where(eq(mail.id, waiting.id));
  else
    await tx
      .insert(mail)
      .values({ ...to, kind: 'told', at: now, nextAt: now, untilAt: new Date(now.getTime() + OF_USE_MS), parts });
}

/** Tells everybody of these roles but one. */
export async function tellRoles(
  tx: Tx,
  roles: readonly Role[],
  message: Omit<Message, 'personId'>,
  except: number,
  now: Date,
): Promise<void> {
  const people = await tx
    .select({ id: person.id })
    .from(person)
    .where(and(eq(person.active, true), inArray(person.role, [...roles])));
  await tell(
    tx,
    people.filter((p) => p.id !== except).map((p) => ({ ...message, personId: p.id })),
    now,
  );
}

/** Tells those outside who hear of the hires of this base. */
export async function tellOutside(tx: Tx, baseId: number, text: string, now: Date): Promise<void> {
  const hear = await tx
    .select({ id: contact.id })
    .from(contact)
    .where(
      and(
        eq(contact.active, true),
        or(isNull(contact.baseId), eq(contact.baseId, baseId)),
        sql`'hires' = any(${contact.hears})`,
      ),
    );
  for (const { id } of hear) await addLines(tx, { contactId: id }, [{ text, to: null }], now);
}
