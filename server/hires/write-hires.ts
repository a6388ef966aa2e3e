import { and, eq, gt, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { DAYS_AHEAD, DAYS_BEHIND } from '@diurna/core/usage';
import { clockInZone, dayInZone } from '@diurna/core/calendar';
import type { CalendarResult } from '@diurna/contract/hires';
import { tables, type Tx } from '../db/index.ts';
import { readCalendarApart } from './calendar-apart.ts';
import type { CalendarEvent } from './calendar-file.ts';

const { hire, boat, base } = tables;

/** One file or feed at a time, so that two readings of one calendar never both add its events. */
export const lockHires = (tx: Tx) => tx.execute(sql`select pg_advisory_xact_lock(4152)`);

interface KnownBoat {
  id: number;
  name: string;
  words: string;
  timeZone: string;
}

const plain = (text: string) =>
  ` ${text
    .toLowerCase()
    .replaceAll(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()} `;

/** Finds the boat an event is about: by its resource, else by the longest boat's name in its title or place. */
async function boatFinder(tx: Tx): Promise<(event: CalendarEvent) => KnownBoat | null> {
  const rows = await tx
    .select({ id: boat.id, name: boat.name, timeZone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.retired, false));
  const boats = rows.map((r) => ({ ...r, words: plain(r.name) })).sort((a, b) => b.name.length - a.name.length);
  const byName = new Map(boats.map((b) => [b.words, b]));
  return ({ resources, title, location }) => {
    for (const text of [...resources, title, location]) {
      const exact = byName.get(plain(text));
      if (exact) return exact;
    }
    const text = plain([...resources, title, location].join(' '));
    return boats.find((b) => text.includes(b.words)) ?? null;
  };
}

const MOST_SHOWN = 500;

const DAY_MS = 86_400_000;
/**
 * The bookings of a calendar in the days that forecasts and plans look at.
 * @throws 422 when it cannot be read
 */
export const bookingsOf = (text: string, timeZone: string, now: Date): Promise<CalendarEvent[]> =>
  readCalendarApart(
    text,
    timeZone,
    new Date(now.getTime() - DAYS_BEHIND * DAY_MS),
    new Date(now.getTime() + DAYS_AHEAD * DAY_MS),
  );

/**
 * Brings the book up to a calendar: new events are added, changed ones changed, cancelled ones called off.
 * Events are known again by their UID and recurrence, so reading twice changes nothing.
 *
 * @param source of a feed, which speaks for all its coming events: those it no longer has are called off.
 *   What is over stays, because many calendars forget it.
 */
export async function writeCalendar(
  tx: Tx,
  events: readonly CalendarEvent[],
  source: { feedId: number | null; timeZone: string },
  now: Date,
  write: boolean,
): Promise<CalendarResult> {
  const find = await boatFinder(tx);
  const uids = [...new Set(events.map((e) => e.uid))];
  const ofSource = source.feedId === null ? isNull(hire.feedId) : eq(hire.feedId, source.feedId);
  const known = new Map(
    (source.feedId === null && uids.length === 0
      ? []
      : await tx
          .select()
          .from(hire)
          .where(and(ofSource, isNotNull(hire.uid), source.feedId === null ? inArray(hire.uid, uids) : undefined))
    ).map((h) => [`${h.uid} ${h.recurrence}`, h]),
  );
  const result: CalendarResult = {
    counts: { add: 0, change: 0, same: 0, cancel: 0, faulty: 0 },
    events: [],
    written: write,
  };
  const adds: (typeof hire.$inferInsert)[] = [];
  const changes: { id: number; set: Partial<typeof hire.$inferInsert> }[] = [];
  const seen = new Set<string>();
  const list = (
    event: CalendarEvent,
    does: CalendarResult['events'][number]['does'],
    found: KnownBoat | null,
    fault: string | null,
  ) => {
    result.counts[does]++;
    const zone = found?.timeZone ?? source.timeZone;
    const at = (time: Date | null) => (time === null ? null : `${dayInZone(time, zone)} ${clockInZone(time, zone)}`);
    result.events.push({
      uid: event.uid,
      title: event.title.slice(0, 200),
      boatName: found?.name ?? null,
      out: event.out?.toISOString() ?? null,
      back: event.back?.toISOString() ?? null,
      outText: at(event.out),
      backText: at(event.back),
      does,
      fault,
    });
  };
  for (const event of events) {
    const key = `${event.uid} ${event.recurrence}`;
    const found = find(event);
    if (event.fault !== null || found === null || seen.has(key)) {
      list(
        event,
        'faulty',
        found,
        event.fault ??
          (found === null
            ? 'names no boat of the book; put the boat’s name into its title, place or resources'
            : 'stands in the file twice'),
      );
      continue;
    }
    seen.add(key);
    const before = known.get(key);
    if (event.cancelled) {
      if (before && before.cancelledAt === null) {
        list(event, 'cancel', found, null);
        changes.push({ id: before.id, set: { cancelledAt: now } });
      } else list(event, 'same', found, null);
      continue;
    }
    // Given to another boat here, and the calendar still names the one it was booked for: it stays given.
    const given = before?.givenFrom === found.id;
    const fields = {
      boatId: given ? before.boatId : found.id,
      givenFrom: given ? before.givenFrom : null,
      outAt: event.out!,
      backAt: event.back!,
      madeAt: event.madeAt,
      reference: event.title === '' ? null : event.title.slice(0, 80),
    };
    if (!before) {
      list(event, 'add', found, null);
      adds.push({ ...fields, feedId: source.feedId, uid: event.uid, recurrence: event.recurrence });
    } else if (
      before.boatId !== fields.boatId ||
      before.outAt.getTime() !== fields.outAt.getTime() ||
      before.backAt.getTime() !== fields.backAt.getTime() ||
      before.reference !== fields.reference ||
      before.cancelledAt !== null
    ) {
      list(event, 'change', found, null);
      changes.push({ id: before.id, set: { ...fields, cancelledAt: null } });
    } else list(event, 'same', found, null);
  }
  const gone =
    source.feedId === null
      ? []
      : [...known].filter(([key, h]) => !seen.has(key) && h.cancelledAt === null && h.outAt > now).map(([, h]) => h);
  result.counts.cancel += gone.length;
  if (write) {
    for (let i = 0; i < adds.length; i += 2000) await tx.insert(hire).values(adds.slice(i, i + 2000));
    for (const { id, set } of changes)
      await tx
        .update(hire)
        .set({ ...set, version: sql`${hire.version} + 1` })
        .where(eq(hire.id, id));
    if (gone.length > 0)
      await tx
        .update(hire)
        .set({ cancelledAt: now, version: sql`${hire.version} + 1` })
        .where(
          inArray(
            hire.id,
            gone.map((h) => h.id),
          ),
        );
  }
  const order = { faulty: 0, cancel: 1, change: 2, add: 3, same: 4 };
  result.events.sort((a, b) => order[a.does] - order[b.does] || (a.out ?? '').localeCompare(b.out ?? ''));
  result.events.length = Math.min(result.events.length, MOST_SHOWN);
  return result;
}

/** Other hires of the boat at the same time, for the person who books. */
export async function overlapping(
  tx: Tx,
  boatId: number,
  outAt: Date,
  backAt: Date,
  except: number | null,
): Promise<{ outAt: Date; backAt: Date; reference: string | null }[]> {
  return tx
    .select({ outAt: hire.outAt, backAt: hire.backAt, reference: hire.reference })
    .from(hire)
    .where(
      and(
        eq(hire.boatId, boatId),
        isNull(hire.cancelledAt),
        gt(hire.backAt, outAt),
        sql`${hire.outAt} < ${backAt.toISOString()}::timestamptz`,
        except === null ? undefined : sql`${hire.id} <> ${except}`,
      ),
    )
    .limit(5);
}
