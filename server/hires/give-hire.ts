import { dayWord, dayInZone, clockInZone } from '@diurna/core/calendar';
import { whyNoStandIn } from '@diurna/core/hires';
import { and, eq, gt, isNull, lt, sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { BOAT_GONE, faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { engineInPieces } from '../jobs/index.ts';
import { tell, tellOutside } from '../messages/index.ts';

const { boat, base, hire, person } = tables;
export const CALLED_OFF = 'This hire was called off. Nothing goes out on it.';

/**
 * Why a boat does not go out, asked of the book itself and not of this process's cache: a hold put on a moment ago
 * counts.
 */
export async function heldInBook(tx: Tx, boatId: number): Promise<string[]> {
  const rows = await rowsOf(
    tx,
    z.object({ why: z.string() }),
    sql`
    select h.why from hold h join engine e on e.id = h.engine_id where e.boat_id = ${boatId}
      and not e.retired and h.released_at is null
    union all
    select f.seen || ' To be decided on the card.' from finding f join engine e on e.id = f.engine_id
      join job j on j.id = f.job_id
    where e.boat_id = ${boatId} and not e.retired and f.state = 'open' and f.weight in ('hold', 'stop')
      and j.status <> 'cancelled'`,
  );
  return rows.map((h) => h.why);
}

/**
 * Lets another boat of the base go out on a hire. The dock is told; a feed that still names the boat it was booked for
 * changes nothing.
 *
 * @throws 409 when the hire is over, out or called off, or the other boat cannot go
 */
export async function giveHire(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  asked: { id: number; version: number; boatId: number },
  who: Who,
  now: Date,
): Promise<{ id: number; version: number }> {
  const before = await lockVersion(tx, hire, asked.id, asked.version, 'hire');
  if (before.cancelledAt !== null) throw new HttpProblem(409, CALLED_OFF);
  if (before.letGoAt !== null || before.backAt <= now)
    throw new HttpProblem(409, 'This hire has gone out already. What is out cannot be given to another boat.');
  const [from] = await tx.select().from(boat).where(eq(boat.id, before.boatId));
  const [to] = await tx
    .select({ boat, timeZone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, asked.boatId))
    .for('update', { of: boat });
  if (!to || to.boat.retired) throw faulty('boatId', BOAT_GONE);
  await refuseUnfit(tx, before, from!.baseId, to.boat, now);
  const bookedFor = before.givenFrom ?? before.boatId;
  const [row] = await tx
    .update(hire)
    .set({
      boatId: asked.boatId,
      // Given back to the boat it was booked for, nothing is given any more.
      givenFrom: bookedFor === asked.boatId ? null : bookedFor,
      ...nextVersion(hire),
    })
    .where(eq(hire.id, asked.id))
    .returning();
  const when = `${dayWord(dayInZone(before.outAt, to.timeZone))} ${clockInZone(before.outAt, to.timeZone)}`;
  await audit({
    act: 'changed',
    subject: 'hire',
    subjectId: asked.id,
    title: to.boat.name,
    before: { boat: from!.name },
    after: { boat: to.boat.name, hire: when },
  });
  await tellDock(
    tx,
    to.boat.baseId,
    `The hire of ${when} goes out with ${to.boat.name} instead of ${from!.name}.`,
    who,
    now,
  );
  return { id: asked.id, version: row!.version };
}

/**
 * Refuses a boat that cannot go out on a hire; whether it is of the class is for people to say: they may give a better
 * one.
 */
async function refuseUnfit(
  tx: Tx,
  asked: typeof hire.$inferSelect,
  baseId: number,
  to: typeof boat.$inferSelect,
  now: Date,
): Promise<void> {
  const others = await tx
    .select({ out: hire.outAt, back: hire.backAt })
    .from(hire)
    .where(
      and(eq(hire.boatId, to.id), isNull(hire.cancelledAt), gt(hire.backAt, asked.outAt), lt(hire.outAt, asked.backAt)),
    );
  const held = await heldInBook(tx, to.id);
  const times = (h: { out: Date; back: Date }) => ({ out: h.out.getTime(), back: h.back.getTime() });
  const fault = whyNoStandIn(
    { boatId: asked.boatId, baseId: baseId, classKey: '', ...times({ out: asked.outAt, back: asked.backAt }) },
    {
      id: to.id,
      name: to.name,
      baseId: to.baseId,
      classKey: '',
      held: held.length > 0,
      over: false,
      taken: others.map((o) => ({ ...times(o), by: 'hire' as const })),
    },
  );
  if (fault !== null) throw new HttpProblem(409, `${fault} Choose another boat.`);
  const open = await engineInPieces(tx, to.id, now);
  if (open.length > 0) throw new HttpProblem(409, `${to.name} is being worked on. ${open.join(' ')}`);
}

/** Who hands boats out at a base, who decides, and the hire desk are told. */
async function tellDock(tx: Tx, baseId: number, text: string, who: Who, now: Date): Promise<void> {
  const people = await tx
    .select({ id: person.id, role: person.role, baseId: person.baseId })
    .from(person)
    .where(eq(person.active, true));
  const told = people.filter(
    (p) =>
      p.id !== who.id &&
      (p.role === 'coordinator' || (p.role === 'dock' && (p.baseId === null || p.baseId === baseId))),
  );
  await tell(
    tx,
    told.map((p) => ({ personId: p.id, kind: 'hires', text })),
    now,
  );
  await tellOutside(tx, baseId, text, now);
}
