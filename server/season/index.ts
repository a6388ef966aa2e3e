import { engineName } from '@diurna/core/fleet';
import { dayInZone } from '@diurna/core/calendar';
import { mayBeAdded, batteryState } from '@diurna/core/season';
import { TASKS } from '@diurna/core/service';
import { and, eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { BOAT_GONE, faulty, HttpProblem, notFound, stale } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import type { FleetCache } from '../service/index.ts';
import { looksAt, offSeasonAt, readSeason } from './read-season.ts';

const { base, baseSeason, batteryLook, boat, boatSeason, engine, seasonChange, storagePlace } = tables;

type Names =
  | 'readSeason'
  | 'editBaseSeason'
  | 'editBoatSeason'
  | 'changeSeason'
  | 'addStoragePlace'
  | 'editStoragePlace'
  | 'addBatteryLook';

async function boatInUse(tx: Tx, id: number) {
  const [row] = await tx.select().from(boat).where(eq(boat.id, id)).for('update');
  if (!row || row.retired) throw faulty('id', BOAT_GONE);
  return row;
}

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

/** The season of a base: when it closes, what its boats get, where they stand, and their batteries. */
export function seasonHandlers(fleet: FleetCache): Handlers<Names> {
  return {
    readSeason: ({ db, query, now }) => readSeason(db, fleet, query.baseId, now),

    editBaseSeason: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const [place] = await tx.select().from(base).where(eq(base.id, params.id)).for('update');
        if (!place) throw notFound('base');
        const [before] = await tx.select().from(baseSeason).where(eq(baseSeason.baseId, params.id));
        if ((before?.version ?? 0) !== version) throw stale('season');
        const [row] = await tx
          .insert(baseSeason)
          .values({ baseId: params.id, ...rest })
          .onConflictDoUpdate({ target: baseSeason.baseId, set: { ...rest, version: version + 1 } })
          .returning({ version: baseSeason.version });
        await audit({
          act: 'changed',
          subject: 'season',
          subjectId: params.id,
          title: place.name,
          ...(before && { before }),
          after: rest,
        });
        return { version: row!.version };
      }),

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
        const { season, task, put, reason } = body;
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

    addStoragePlace: ({ body, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.insert(storagePlace).values(body).returning();
        await audit({ act: 'added', subject: 'season', subjectId: row!.id, title: row!.name, after: body });
        return { id: row!.id, version: row!.version };
      }),

    editStoragePlace: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, storagePlace, params.id, version, 'place');
        const there = await tx
          .select({ id: boatSeason.boatId })
          .from(boatSeason)
          .where(eq(boatSeason.placeId, params.id));
        if (there.length > rest.room)
          throw faulty('room', `${there.length} boats stand there: move some first, or leave it more room.`);
        const [row] = await tx
          .update(storagePlace)
          .set({ ...rest, ...nextVersion(storagePlace) })
          .where(eq(storagePlace.id, params.id))
          .returning();
        await audit({ act: 'changed', subject: 'season', subjectId: row!.id, title: row!.name, before, after: rest });
        return { version: row!.version };
      }),

    addBatteryLook: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const of = await boatInUse(tx, params.id);
        const [place] = await tx.select().from(base).where(eq(base.id, of.baseId));
        const at = body.at === undefined || new Date(body.at) > now ? now : new Date(body.at);
        const day = dayInZone(at, place!.timeZone);
        const { volts, celsius, restedHours, kind, charged, remark } = body;
        const [row] = await tx
          .insert(batteryLook)
          .values({ boatId: params.id, day, volts, celsius, restedHours, kind, charged, remark, personId: who.id, at })
          .returning({ id: batteryLook.id });
        await audit({
          act: 'added',
          subject: 'season',
          subjectId: params.id,
          title: of.name,
          after: { volts, charged },
        });
        const looks = await looksAt(tx, params.id);
        const own = { day, volts, celsius, restedHours, kind, charged };
        const since = (await offSeasonAt(tx, of.baseId, now))?.closes ?? day;
        const { percent, verdict } = batteryState([own, ...looks.filter((l) => l.id !== row!.id)], since, day);
        return { id: row!.id, percent, verdict };
      }),
  };
}
