import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import { tellRoles } from '../messages/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { engineInPieces } from '../jobs/index.ts';
import { runningIn, type FleetCache } from '../service/index.ts';
import { CALLED_OFF, heldInBook } from './give-hire.ts';

const { hire, boat } = tables;

/** Why a boat may not go, one line for each reason; empty = nothing holds it. */
export function heldOf(fleet: FleetCache, boatId: number): string[] {
  return (fleet.boats.get(boatId)?.engines ?? []).flatMap((e) =>
    e.held.map((why) =>
      e.position === 'single' ? why : `${e.position[0]!.toUpperCase()}${e.position.slice(1)}: ${why}`,
    ),
  );
}

/** The dock lets a boat go: refused in words while it is held or in pieces. */
export function letGoHandlers(fleet: FleetCache): Handlers<'letGo'> {
  return {
    letGo: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, hire, params.id, body.version, 'hire');
        if (before.cancelledAt !== null) throw new HttpProblem(409, CALLED_OFF);
        if (before.letGoAt !== null) throw new HttpProblem(409, 'The boat was let go already.');
        const [boatRow] = await tx.select({ name: boat.name }).from(boat).where(eq(boat.id, before.boatId));
        const held = await heldInBook(tx, before.boatId);
        if (held.length > 0)
          throw new HttpProblem(
            409,
            `${boatRow!.name} is held and does not go out. ${held.join(' ')} A coordinator lets it go once the checks are done.`,
            held.map((text) => ({ path: 'held', text })),
          );
        const under = await engineInPieces(tx, before.boatId, now);
        if (under.length > 0)
          throw new HttpProblem(
            409,
            `${boatRow!.name} is being worked on and does not go out. ${under.join(' ')} It goes out once the card is finished.`,
            under.map((text) => ({ path: 'held', text })),
          );
        const [row] = await tx
          .update(hire)
          .set({ letGoAt: now, letGoBy: who.id, ...nextVersion(hire) })
          .where(eq(hire.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'hire',
          subjectId: params.id,
          title: boatRow!.name,
          after: { letGo: true },
        });
        const fresh = runningIn(fleet, [before.boatId]).get(before.boatId) ?? [];
        if (fresh.length > 0)
          await tellRoles(
            tx,
            ['coordinator', 'administrator'],
            { kind: 'desk', text: `${boatRow!.name} is out on hire while it is run in. ${fresh.join(' ')}` },
            who.id,
            now,
          );
        return { id: row!.id, version: row!.version };
      }),
  };
}
