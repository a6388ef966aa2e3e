import { dayInZone } from '@diurna/core/calendar';
import { breakInAt, breakInText } from '@diurna/core/service';
import { asc, eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import type { FleetCache } from './fleet-cache.ts';

const { breakInEntry, engine, person } = tables;

/** What is to be said of engines of these boats that are not run in yet, by boat. */
export function runningIn(fleet: FleetCache, boatIds: readonly number[]): Map<number, string[]> {
  const told = new Map<number, string[]>();
  for (const boatId of new Set(boatIds)) {
    const texts = (fleet.boats.get(boatId)?.engines ?? []).flatMap(
      (e) => (e.runIn && breakInText(e.runIn, e.position === 'single' ? null : e.position)) ?? [],
    );
    if (texts.length > 0) told.set(boatId, texts);
  }
  return told;
}

/** The log of running in. */
export function breakInHandlers(fleet: FleetCache): Handlers<'readBreakIn' | 'addBreakIn'> {
  return {
    async readBreakIn({ db, params, now }) {
      await fleet.refresh(now);
      const [found] = await db.select({ boughtNew: engine.boughtNew }).from(engine).where(eq(engine.id, params.id));
      if (!found) throw notFound('engine');
      const entries = await db
        .select({ e: breakInEntry, by: person.name })
        .from(breakInEntry)
        .leftJoin(person, eq(person.id, breakInEntry.personId))
        .where(eq(breakInEntry.engineId, params.id))
        .orderBy(asc(breakInEntry.day), asc(breakInEntry.id))
        .limit(200);
      const state = breakInAt(
        fleet.engines.get(params.id)?.lifeHours ?? null,
        entries.reduce((sum, { e }) => sum + e.hours, 0),
      );
      return {
        applies: found.boughtNew,
        hours: state.hours,
        done: state.phase === null,
        entries: entries.map(({ e, by }) => ({ id: e.id, day: e.day, hours: e.hours, by, remark: e.remark })),
      };
    },

    addBreakIn: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const facts = fleet.engines.get(params.id);
        const [found] = await tx
          .select({ boughtNew: engine.boughtNew, serial: engine.serial })
          .from(engine)
          .where(eq(engine.id, params.id))
          .for('update');
        if (!found) throw notFound('engine');
        if (!found.boughtNew)
          throw new HttpProblem(
            422,
            'This engine was not bought new: it was run in by somebody else. Say so under Edit if that is wrong.',
          );
        await tx
          .insert(breakInEntry)
          .values({
            engineId: params.id,
            day: dayInZone(now, facts?.timeZone ?? 'UTC'),
            hours: body.hours,
            personId: who.id,
            remark: body.remark,
            at: now,
          });
        await audit({ act: 'added', subject: 'running in', subjectId: params.id, title: found.serial, after: body });
        return { ok: true as const };
      }),
  };
}
