import type { DayReply } from '@diurna/contract/day';
import { dayInZone, minuteInZone, type ClockFace, type Day } from '@diurna/core/calendar';
import { choicesOf, isMorning, morningMail, type MailLine, type Morning } from '@diurna/core/messages';
import { and, asc, eq, gt, isNull, max, sql } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { saidBy } from '../http/shared.ts';
import type { Think } from '../think.ts';

const { base, contact, mail, messageChoice, notice, person, setting } = tables;
const HOUR_MS = 3_600_000;

type Reader =
  | { personId: number; baseId: number | null; role: typeof person.$inferSelect.role; choices: object }
  | { contactId: number; baseId: number | null };

/** Where the morning of a base stands: its day, and whether it is time for its mail. */
interface BaseMorning {
  /** Null = of those who belong to no base, by the first one's clock. */
  baseId: number | null;
  day: Day;
  isTime: boolean;
  clock: ClockFace;
}

async function morningOf(db: Db, baseId: number | null, now: Date): Promise<BaseMorning | null> {
  const [place] = await db
    .select({ timeZone: base.timeZone })
    .from(base)
    .where(baseId === null ? undefined : eq(base.id, baseId))
    .orderBy(asc(base.id))
    .limit(1);
  const [settings] = await db.select({ from: setting.morningMinute, clock: setting.clock }).from(setting);
  if (!place || !settings) return null;
  return {
    baseId,
    day: dayInZone(now, place.timeZone),
    isTime: isMorning(minuteInZone(now.getTime(), place.timeZone).minute, settings.from),
    clock: settings.clock,
  };
}

/** Who wants the mail of this morning and has not got it, in the book and outside. */
async function readersOf(db: Db, { baseId, day }: BaseMorning): Promise<Reader[]> {
  const people = await db
    .select({ personId: person.id, baseId: person.baseId, role: person.role, choices: messageChoice.choices })
    .from(messageChoice)
    .innerJoin(person, eq(person.id, messageChoice.personId))
    .leftJoin(mail, and(eq(mail.personId, person.id), eq(mail.day, day)))
    .where(
      and(
        eq(person.active, true),
        eq(messageChoice.morning, true),
        isNull(mail.id),
        baseId === null ? isNull(person.baseId) : eq(person.baseId, baseId),
      ),
    )
    .orderBy(asc(person.id));
  const outside = await db
    .select({ contactId: contact.id, baseId: contact.baseId })
    .from(contact)
    .leftJoin(mail, and(eq(mail.contactId, contact.id), eq(mail.day, day)))
    .where(
      and(
        eq(contact.active, true),
        sql`'morning' = any(${contact.hears})`,
        isNull(mail.id),
        baseId === null ? isNull(contact.baseId) : eq(contact.baseId, baseId),
      ),
    )
    .orderBy(asc(contact.id));
  return [...people, ...outside];
}

/** Bases whose morning it is and where somebody still waits for the mail of it; null = of no base. */
export async function morningsDue(db: Db, now: Date): Promise<{ baseId: number | null; day: Day }[]> {
  const bases = await db.select({ id: base.id }).from(base).orderBy(asc(base.id));
  const due: { baseId: number | null; day: Day }[] = [];
  for (const baseId of [null, ...bases.map((b) => b.id)]) {
    const morning = await morningOf(db, baseId, now);
    if (morning?.isTime && (await readersOf(db, morning)).length > 0) due.push({ baseId, day: morning.day });
  }
  return due;
}

/** What was told to somebody since the last morning, is not put away, and was chosen to wait for it. */
async function toldTo(db: Db, personId: number, choices: object): Promise<MailLine[]> {
  const ways = choicesOf(choices);
  const [before] = await db
    .select({ at: max(mail.at) })
    .from(mail)
    .where(and(eq(mail.personId, personId), eq(mail.kind, 'morning')));
  const rows = await db
    .select({ text: notice.text, jobId: notice.jobId, kind: notice.kind })
    .from(notice)
    .where(and(eq(notice.personId, personId), isNull(notice.readAt), before?.at ? gt(notice.at, before.at) : undefined))
    .orderBy(asc(notice.id))
    .limit(200);
  return rows
    .filter((n) => ways[n.kind] === 'morning')
    .map((n) => ({ text: n.text, to: n.jobId === null ? null : `/jobs/${n.jobId}` }));
}

const OUTSIDE: Morning['wants'] = { own: false, yard: false, dock: true, shelf: false };
const wantsOf = (role: typeof person.$inferSelect.role): Morning['wants'] => ({
  own: role === 'technician' || role === 'coordinator' || role === 'administrator',
  yard: role === 'coordinator' || role === 'administrator',
  dock: role === 'dock' || role === 'coordinator' || role === 'administrator',
  shelf: role === 'stores',
});

/** Somebody who is off today is told on the day they are back. */
const isOff = (day: DayReply, personId: number) =>
  day.people.some((p) => p.id === personId && p.shift === null && p.visits.length === 0);

/**
 * Writes the mail of this morning for everybody of a base who wants it, once each.
 *
 * @returns how many were written
 */
export async function writeMorning(db: Db, think: Think, baseId: number | null, now: Date): Promise<number> {
  const morning = await morningOf(db, baseId, now);
  if (!morning?.isTime) return 0;
  const readers = await readersOf(db, morning);
  if (readers.length === 0) return 0;
  const { day } = morning;
  const thought = await think('day', { now: now.getTime(), today: day, mayDecide: true, day, baseId });
  const read = saidBy(thought) as DayReply;
  let written = 0;
  for (const reader of readers) {
    const inside = 'personId' in reader;
    if (inside && isOff(read, reader.personId)) continue;
    const letter = morningMail({
      day,
      clock: morning.clock,
      personId: inside ? reader.personId : 0,
      people: read.people,
      boats: read.boats,
      kits: read.kits,
      matters: read.matters,
      told: inside ? await toldTo(db, reader.personId, reader.choices) : [],
      wants: inside ? wantsOf(reader.role) : OUTSIDE,
    });
    if (letter === null) continue;
    const fresh = await db
      .insert(mail)
      .values({
        kind: 'morning',
        ...(inside ? { personId: reader.personId } : { contactId: reader.contactId }),
        at: now,
        nextAt: now,
        // In the afternoon nobody wants to read what the morning was like.
        untilAt: new Date(now.getTime() + 8 * HOUR_MS),
        day,
        ...letter,
      })
      // Another process wrote it meanwhile.
      .onConflictDoNothing()
      .returning({ id: mail.id });
    written += fresh.length;
  }
  return written;
}
