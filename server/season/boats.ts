import { engineName } from '@diurna/core/fleet';
import { mayBeAdded } from '@diurna/core/season';
import { TASKS } from '@diurna/core/service';
import { and, eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound, stale } from '../http/problem.ts';
import { boatInUse } from './boat-in-use.ts';
import { openSeasons } from './kept.ts';

const { boat, boatSeason, engine, seasonChange, storagePlace } = tables;

/** A place takes no more boats than it has room for, and only boats of its base. */
async function refuseFull(tx: Tx, placeId: number, boatId: number, baseId: number): Promise<void> {
  const [place] = await tx.select().from(storagePlace).where(eq(storagePlace.id, placeId)).for('update');
  if (!place || place.baseId !== baseId)
    throw faulty('placeId', 'This place is not at the boat’s base. Choose another.');
  const there = await tx.select({ id: boatSeason.boatId }).from(boatSeason).where(eq(boatSeason.placeId, placeId));
  if (there.filter((t) => t.id !== boatId).length >= place.room)
    throw new HttpProblem(
      409,
      `${place.name} is full: it takes ${place.room}. Choose another place, or give it more room.`,
    );
}

/** Where a boat stands, and what of the list its engines get. */
export const boatHandlers: Handlers<'editBoatSeason' | 'changeSeason'> = {
  editBoatSeason: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { version, ...rest } = body;
      const of = await boatInUse(tx, params.id);
      const [before] = await tx.select().from(boatSeason).where(eq(boatSeason.boatId, params.id));
      if ((before?.version ?? 0) !== version) throw stale('boat');
      if (rest.placeId !== null) await refuseFull(tx, rest.placeId, params.id, of.baseId);
      const [row] = await tx
        .insert(boatSeason)
        .values({ boatId: params.id, ...rest })
        .onConflictDoUpdate({ target: boatSeason.boatId, set: { ...rest, version: version + 1 } })
        .returning({ version: boatSeason.version });
      await audit({
        act: 'changed',
        subject: 'season',
        subjectId: params.id,
        title: of.name,
        ...(before && { before }),
        after: body,
      });
      return { version: row!.version };
    }),

  changeSeason: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const [row] = await tx
        .select({ e: engine, b: boat })
        .from(engine)
        .innerJoin(boat, eq(boat.id, engine.boatId))
        .where(eq(engine.id, params.id))
        .for('update');
      if (!row || row.e.retired || row.b.retired) throw notFound('engine in use');
      if (!mayBeAdded(body.task))
        throw faulty('task', 'A repair is asked for by a finding, not by a list of the season.');
      const { task, put, reason } = body;
      const open = await openSeasons(tx, row.b.baseId, now);
      if (open.length === 0) throw new HttpProblem(409, 'This base never closes: there is no list to change.');
      const season = body.season ?? open[0]!;
      if (!open.includes(season))
        throw new HttpProblem(409, 'That time of standing is over, or not near yet. Look at the boat’s list again.');
      const own = and(
        eq(seasonChange.engineId, params.id),
        eq(seasonChange.season, season),
        eq(seasonChange.task, task),
      );
      const [before] = await tx.select().from(seasonChange).where(own);
      await tx.delete(seasonChange).where(own);
      if (put !== 'as usual')
        await tx
          .insert(seasonChange)
          .values({
            engineId: params.id,
            season,
            task,
            visit: put === 'left out' ? null : put,
            reason,
            personId: who.id,
            at: now,
          });
      await audit({
        act: 'changed',
        subject: 'season',
        subjectId: params.id,
        title: `${engineName(row.b.name, row.e.position)}, ${TASKS[task].word.toLowerCase()}, ${season}`,
        ...(before && { before: { visit: before.visit, reason: before.reason } }),
        after: { put, reason },
      });
      return { ok: true as const };
    }),
};
