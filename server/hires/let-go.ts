import { clockInZone } from '@diurna/core/calendar';
import { eq, type SQL } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { tellRoles } from '../messages/index.ts';
import type { Handlers } from '../http/api.ts';
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

/** A hire with its boat, locked. What is seen at the dock stands against what is there, whoever loaded which version. */
async function lockHire(tx: Tx, id: number) {
  const [found] = await tx
    .select({ h: hire, boatName: boat.name, timeZone: base.timeZone })
    .from(hire)
    .innerJoin(boat, eq(boat.id, hire.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(hire.id, id))
    .for('update', { of: hire });
  if (!found) throw notFound('hire');
  if (found.h.cancelledAt !== null) throw new HttpProblem(409, CALLED_OFF);
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

/** The dock lets boats go and sees them back; either can be taken back. */
export function letGoHandlers(fleet: FleetCache): Handlers<'letGo' | 'comeBack'> {
  const stand = async (tx: Tx, id: number, values: { [K in keyof typeof hire.$inferInsert]?: unknown }) => {
    const [row] = await tx
      .update(hire)
      .set({ ...(values as Record<string, Date | number | null | SQL>), ...nextVersion(hire) })
      .where(eq(hire.id, id))
      .returning();
    return { id: row!.id, version: row!.version };
  };
  const asItStands = ({ h }: Locked, clash: string) => ({ id: h.id, version: h.version, clash });

  return {
    letGo: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const locked = await lockHire(tx, params.id);
        const { h, boatName, nameOf, clock } = locked;
        const noted = { act: 'changed' as const, subject: 'hire' as const, subjectId: h.id, title: boatName };
        if (!body.out) {
          if (h.letGoAt === null) return asItStands(locked, `${boatName} was not out.`);
          if (h.cameBackAt !== null)
            throw new HttpProblem(
              409,
              `${boatName} has been back since ${clock(h.cameBackAt)}: it was out. Take its coming back back first.`,
            );
          const saved = await stand(tx, h.id, { letGoAt: null, letGoBy: null });
          await audit({ ...noted, before: { letGo: h.letGoAt }, after: { letGo: false } });
          return { ...saved, clash: null };
        }
        const at = seenAt(body.at, now);
        if (h.letGoAt !== null)
          return asItStands(locked, `${boatName} is out already: ${await nameOf(h.letGoBy)}, ${clock(h.letGoAt)}.`);
        const hindrance = await hindrances(tx, locked, now);
        const gone = now.getTime() - at.getTime() > LATE_MS;
        if (hindrance && !gone)
          throw new HttpProblem(
            409,
            hindrance.text,
            hindrance.why.map((text) => ({ path: 'held', text })),
          );
        const saved = await stand(tx, h.id, { letGoAt: at, letGoBy: who.id });
        await audit({
          ...noted,
          after: { letGo: true, ...(gone && { at }), ...(hindrance && { against: hindrance.why }) },
        });
        const clash =
          hindrance === null
            ? null
            : `${boatName} has been out since ${clock(at)}, but it should not be. ${hindrance.why.join(' ')} Call it back.`;
        const fresh = runningIn(fleet, [h.boatId]).get(h.boatId) ?? [];
        const told = [clash, fresh.length > 0 && `${boatName} is out on hire while it is run in. ${fresh.join(' ')}`];
        for (const text of told) if (text) await tellRoles(tx, DESK, { kind: 'desk', text }, who.id, now);
        return { ...saved, clash };
      }),

    comeBack: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const locked = await lockHire(tx, params.id);
        const { h, boatName, nameOf, clock } = locked;
        const noted = { act: 'changed' as const, subject: 'hire' as const, subjectId: h.id, title: boatName };
        if (!body.back) {
          if (h.cameBackAt === null) return asItStands(locked, `${boatName} was not written down as back.`);
          const saved = await stand(tx, h.id, { cameBackAt: null, cameBackBy: null });
          await audit({ ...noted, before: { cameBack: h.cameBackAt }, after: { cameBack: false } });
          return { ...saved, clash: null };
        }
        if (h.cameBackAt !== null)
          return asItStands(
            locked,
            `${boatName} is back already: ${await nameOf(h.cameBackBy)}, ${clock(h.cameBackAt)}.`,
          );
        const at = seenAt(body.at, now);
        if (h.letGoAt !== null && at < h.letGoAt)
          throw new HttpProblem(
            409,
            `${boatName} went out at ${clock(h.letGoAt)}, after it was seen back at ${clock(at)}. Look which of the two is right.`,
          );
        const saved = await stand(tx, h.id, { cameBackAt: at, cameBackBy: who.id });
        await audit({ ...noted, after: { cameBack: true, at } });
        return { ...saved, clash: null };
      }),
  };
}
