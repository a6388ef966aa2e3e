import { clockInZone } from '@diurna/core/calendar';
import { eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { tellRoles } from '../messages/index.ts';
import type { AuditLine, Handlers, Who } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { nextVersion } from '../http/version.ts';
import { engineInPieces } from '../jobs/index.ts';
import { runningIn, type FleetCache } from '../service/index.ts';
import { CALLED_OFF, heldInBook } from './give-hire.ts';

const { hire, boat, base, person } = tables;
/** What is told later than this (ms) was done without signal: it has happened, whatever the book says. */
const LATE_MS = 2 * 60_000;
/** What is told of longer ago (ms) is a slip. */
const LONGEST_AGO_MS = 14 * 86_400_000;

/** Why a boat may not go, one line for each reason; empty = nothing holds it. */
export function heldOf(fleet: FleetCache, boatId: number): string[] {
  return (fleet.boats.get(boatId)?.engines ?? []).flatMap((e) =>
    e.held.map((why) =>
      e.position === 'single' ? why : `${e.position[0]!.toUpperCase()}${e.position.slice(1)}: ${why}`,
    ),
  );
}

/**
 * A hire with its boat, locked. What is seen at the dock stands against what is there, whoever loaded which version.
 *
 * @throws 404; 409 when it was called off, or has another boat than the one that was seen
 */
async function lockHire(tx: Tx, id: number, boatId: number) {
  const [found] = await tx
    .select({ h: hire, boatName: boat.name, timeZone: base.timeZone })
    .from(hire)
    .innerJoin(boat, eq(boat.id, hire.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(hire.id, id))
    .for('update', { of: hire });
  if (!found) throw notFound('hire');
  if (found.h.cancelledAt !== null) throw new HttpProblem(409, CALLED_OFF);
  if (found.h.boatId !== boatId)
    throw new HttpProblem(
      409,
      `This hire has ${found.boatName} now, not the boat you saw. Look which of the two it was, and write that down.`,
    );
  const nameOf = async (personId: number | null) => {
    if (personId === null) return 'somebody';
    const [row] = await tx.select({ name: person.name }).from(person).where(eq(person.id, personId));
    return row?.name ?? 'somebody';
  };
  return { ...found, nameOf, clock: (at: Date) => clockInZone(at, found.timeZone) };
}
type Locked = Awaited<ReturnType<typeof lockHire>>;

/** When it was seen: a phone's clock that runs ahead is held to the book's. @throws 409 when it is too long ago */
function seenAt(at: string | undefined, now: Date): Date {
  const seen = at === undefined ? now : new Date(at);
  if (now.getTime() - seen.getTime() > LONGEST_AGO_MS)
    throw new HttpProblem(
      409,
      'This was seen more than two weeks ago. Whoever runs the desk puts it right in the book.',
    );
  return seen > now ? now : seen;
}

/** Why it does not go out now: held, or open in the middle of work. */
async function hindrances(tx: Tx, { h, boatName }: Locked, now: Date): Promise<{ why: string[]; text: string } | null> {
  const held = await heldInBook(tx, h.boatId);
  if (held.length > 0)
    return {
      why: held,
      text: `${boatName} is held and does not go out. ${held.join(' ')} A coordinator lets it go once the checks are done.`,
    };
  const under = await engineInPieces(tx, h.boatId, now);
  if (under.length > 0)
    return {
      why: under,
      text: `${boatName} is being worked on and does not go out. ${under.join(' ')} It goes out once the card is finished.`,
    };
  return null;
}

const DESK = ['coordinator', 'administrator'] as const;

/** Something seen at the dock, being written down. */
interface Seen {
  tx: Tx;
  audit: (line: AuditLine) => Promise<void>;
  locked: Locked;
  who: Who;
  now: Date;
}

type Values = Partial<Pick<typeof hire.$inferInsert, 'letGoAt' | 'letGoBy' | 'cameBackAt' | 'cameBackBy'>>;
const notedAs = ({ h, boatName }: Locked) => ({
  act: 'changed' as const,
  subject: 'hire',
  subjectId: h.id,
  title: boatName,
});

async function stand({ tx, locked: { h } }: Seen, values: Values) {
  const [row] = await tx
    .update(hire)
    .set({ ...values, ...nextVersion(hire) })
    .where(eq(hire.id, h.id))
    .returning();
  return { id: row!.id, version: row!.version };
}
/** Somebody was quicker: it stays as it was written first. */
const asItStands = ({ locked: { h } }: Seen, clash: string) => ({ id: h.id, version: h.version, clash });

/** It was put away and is not brought out: whoever plans may let it go all the same, once, with a reason. */
function notReady({ locked: { h, boatName }, who }: Seen, fleet: FleetCache, reason: string | undefined) {
  const why = fleet.boats.get(h.boatId)?.notReady ?? null;
  if (why === null || (reason !== undefined && mayWaive(who))) return null;
  return {
    why: [why],
    text: `${boatName} does not go out yet. ${why} A coordinator lets it go with a reason, or takes from its list in Season what it does not need.`,
  };
}
const mayWaive = (who: Who) => who.role === 'coordinator' || who.role === 'administrator';

/** @throws 409 when it is held, in pieces or not brought out; gone already, it is out, and the desk hears of it */
async function goesOut(
  seen: Seen,
  fleet: FleetCache,
  { at: told, reason }: { at?: string | undefined; reason?: string | undefined },
) {
  const { tx, audit, locked, who, now } = seen;
  const { h, boatName, nameOf, clock } = locked;
  const at = seenAt(told, now);
  if (h.letGoAt !== null)
    return asItStands(seen, `${boatName} is out already: ${await nameOf(h.letGoBy)}, ${clock(h.letGoAt)}.`);
  const hindrance = (await hindrances(tx, locked, now)) ?? notReady(seen, fleet, reason);
  const gone = now.getTime() - at.getTime() > LATE_MS;
  if (hindrance && !gone)
    throw new HttpProblem(
      409,
      hindrance.text,
      hindrance.why.map((text) => ({ path: 'held', text })),
    );
  const waived = reason !== undefined && mayWaive(who) && fleet.boats.get(h.boatId)?.notReady != null;
  const saved = await stand(seen, { letGoAt: at, letGoBy: who.id });
  await audit({
    ...notedAs(locked),
    after: {
      letGo: true,
      ...(gone && { at }),
      ...(hindrance && { against: hindrance.why }),
      ...(waived && { reason }),
    },
  });
  const clash =
    hindrance === null
      ? null
      : `${boatName} has been out since ${clock(at)}, but it should not be. ${hindrance.why.join(' ')} Call it back.`;
  const fresh = runningIn(fleet, [h.boatId]).get(h.boatId) ?? [];
  const words = [clash, fresh.length > 0 && `${boatName} is out on hire while it is run in. ${fresh.join(' ')}`];
  for (const text of words) if (text) await tellRoles(tx, DESK, { kind: 'desk', text }, who.id, now);
  return { ...saved, clash };
}

async function isStillHere(seen: Seen) {
  const { audit, locked } = seen;
  const { h, boatName, clock } = locked;
  if (h.letGoAt === null) return asItStands(seen, `${boatName} was not out.`);
  if (h.cameBackAt !== null)
    throw new HttpProblem(
      409,
      `${boatName} has been back since ${clock(h.cameBackAt)}: it was out. Take its coming back back first.`,
    );
  const saved = await stand(seen, { letGoAt: null, letGoBy: null });
  await audit({ ...notedAs(locked), before: { letGo: h.letGoAt }, after: { letGo: false } });
  return { ...saved, clash: null };
}

/** @throws 409 when it is said to be back before it went */
async function comesBack(seen: Seen, told: string | undefined) {
  const { audit, locked, who, now } = seen;
  const { h, boatName, nameOf, clock } = locked;
  if (h.cameBackAt !== null)
    return asItStands(seen, `${boatName} is back already: ${await nameOf(h.cameBackBy)}, ${clock(h.cameBackAt)}.`);
  const at = seenAt(told, now);
  if (h.letGoAt !== null && at < h.letGoAt)
    throw new HttpProblem(
      409,
      `${boatName} went out at ${clock(h.letGoAt)}, after it was seen back at ${clock(at)}. Look which of the two is right.`,
    );
  const saved = await stand(seen, { cameBackAt: at, cameBackBy: who.id });
  await audit({ ...notedAs(locked), after: { cameBack: true, at } });
  return { ...saved, clash: null };
}

async function isNotBack(seen: Seen) {
  const { audit, locked } = seen;
  const { h, boatName } = locked;
  if (h.cameBackAt === null) return asItStands(seen, `${boatName} was not written down as back.`);
  const saved = await stand(seen, { cameBackAt: null, cameBackBy: null });
  await audit({ ...notedAs(locked), before: { cameBack: h.cameBackAt }, after: { cameBack: false } });
  return { ...saved, clash: null };
}

/** The dock lets boats go and sees them back; either can be taken back. */
export const letGoHandlers = (fleet: FleetCache): Handlers<'letGo' | 'comeBack'> => ({
  letGo: async ({ params, body, write, who, now }) => {
    // What was written down a moment ago may be just what it waited for.
    await fleet.refresh(now);
    return write(async (tx, audit) => {
      const seen = { tx, audit, locked: await lockHire(tx, params.id, body.boatId), who, now };
      return body.out ? goesOut(seen, fleet, body) : isStillHere(seen);
    });
  },

  comeBack: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const seen = { tx, audit, locked: await lockHire(tx, params.id, body.boatId), who, now };
      return body.back ? comesBack(seen, body.at) : isNotBack(seen);
    }),
});
