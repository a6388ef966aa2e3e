import type { HoldRow } from '@diurna/contract/findings';
import { engineName } from '@diurna/core/fleet';
import { checksMissing, releaseFault } from '@diurna/core/findings';
import { openFollowUps, type ServiceDone } from '@diurna/core/service';
import { and, asc, desc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { holdByHand, placeOfEngine } from './consequences.ts';

const { hold, followUp, engine, boat, person, serviceEntry } = tables;
const putter = alias(person, 'putter');
const releaser = alias(person, 'releaser');
const MOST = 500;

/** Services written down for these engines that are not cancelled, oldest first. */
export async function servicesOf(db: Db | Tx, engineIds: readonly number[]): Promise<Map<number, ServiceDone[]>> {
  const map = new Map<number, ServiceDone[]>();
  if (engineIds.length === 0) return map;
  const rows = await db
    .select({
      id: serviceEntry.id,
      engineId: serviceEntry.engineId,
      task: serviceEntry.task,
      began: serviceEntry.beganAt,
      ended: serviceEntry.endedAt,
      entered: serviceEntry.enteredAt,
    })
    .from(serviceEntry)
    .where(
      and(
        inArray(serviceEntry.engineId, [...engineIds]),
        isNull(serviceEntry.cancels),
        sql`not exists (select 1 from service_entry c where c.cancels = ${serviceEntry.id})`,
      ),
    )
    .orderBy(asc(serviceEntry.id));
  for (const r of rows)
    map.set(r.engineId, [
      ...(map.get(r.engineId) ?? []),
      { id: r.id, task: r.task, from: (r.began ?? r.entered).getTime(), at: (r.ended ?? r.entered).getTime() },
    ]);
  return map;
}

/** Holds with the checks they still want. */
export async function holdsWhere(db: Db | Tx, where: SQL | undefined): Promise<HoldRow[]> {
  const rows = await db
    .select({
      h: hold,
      boatId: boat.id,
      boatName: boat.name,
      position: engine.position,
      by: putter.name,
      releasedBy: releaser.name,
    })
    .from(hold)
    .innerJoin(engine, eq(engine.id, hold.engineId))
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .leftJoin(putter, eq(putter.id, hold.putBy))
    .leftJoin(releaser, eq(releaser.id, hold.releasedBy))
    .where(where)
    .orderBy(desc(hold.at), desc(hold.id))
    .limit(MOST);
  const done = await servicesOf(db, [...new Set(rows.map(({ h }) => h.engineId))]);
  return rows.map(({ h, boatId, boatName, position, by, releasedBy }): HoldRow => ({
    id: h.id,
    version: h.version,
    engineId: h.engineId,
    boatId,
    boatName,
    position,
    why: h.why,
    checks: h.checks,
    missing: h.releasedAt
      ? []
      : checksMissing({ engineId: h.engineId, at: h.at.getTime(), checks: h.checks }, done.get(h.engineId) ?? []),
    at: h.at.toISOString(),
    by,
    released: h.releasedAt ? { at: h.releasedAt.toISOString(), by: releasedBy, because: h.releasedBecause! } : null,
  }));
}

/** Work asked for of these engines that is still to be done. */
export async function followUpsOf(db: Db | Tx, engineIds: readonly number[]) {
  if (engineIds.length === 0) return [];
  const rows = await db
    .select()
    .from(followUp)
    .where(and(inArray(followUp.engineId, [...engineIds]), isNull(followUp.calledOffAt)))
    .orderBy(asc(followUp.id));
  if (rows.length === 0) return [];
  const done = await servicesOf(db, engineIds);
  return [...new Set(rows.map((r) => r.engineId))].flatMap((engineId) =>
    openFollowUps(
      rows
        .filter((r) => r.engineId === engineId)
        .map((r) => ({ id: r.id, task: r.task, dueOn: r.dueOn, afterId: r.afterId, at: r.at.getTime(), why: r.why })),
      done.get(engineId) ?? [],
    ).map(({ followUp: f, waitsFor }) => {
      const row = rows.find((r) => r.id === f.id)!;
      return {
        id: f.id,
        engineId,
        task: f.task,
        dueOn: f.dueOn,
        why: f.why,
        at: row.at.toISOString(),
        waitsFor: waitsFor?.task ?? null,
        jobId: row.jobId,
      };
    }),
  );
}

type Names = 'listHolds' | 'putHold' | 'releaseHold' | 'callOffFollowUp';

export function holdHandlers(): Handlers<Names> {
  return {
    listHolds: ({ db, query }) =>
      holdsWhere(
        db,
        and(
          query.state === 'open' ? isNull(hold.releasedAt) : undefined,
          query.baseId === undefined ? undefined : eq(boat.baseId, query.baseId),
        ),
      ),

    putHold: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        const row = await holdByHand(tx, audit, { ...body, jobId: null, at: now }, who, now);
        if (!row) throw notFound('engine');
        return { id: row.id, version: row.version };
      }),

    releaseHold: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, hold, params.id, body.version, 'hold');
        if (before.releasedAt !== null) throw new HttpProblem(409, 'This hold is released already.');
        const done = await servicesOf(tx, [before.engineId]);
        const fault = releaseFault(
          { engineId: before.engineId, at: before.at.getTime(), checks: before.checks },
          done.get(before.engineId) ?? [],
        );
        if (fault !== null) throw faulty('checks', fault);
        const place = await placeOfEngine(tx, before.engineId);
        const [row] = await tx
          .update(hold)
          .set({ releasedAt: now, releasedBy: who.id, releasedBecause: body.because, ...nextVersion(hold) })
          .where(eq(hold.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'hold',
          subjectId: params.id,
          title: place ? engineName(place.boatName, place.position) : null,
          before: { why: before.why, checks: before.checks },
          after: { released: body.because },
        });
        return { id: row!.id, version: row!.version };
      }),

    callOffFollowUp: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const [before] = await tx.select().from(followUp).where(eq(followUp.id, params.id)).for('update');
        if (!before) throw notFound('work asked for');
        if (before.calledOffAt !== null) throw new HttpProblem(409, 'It is called off already.');
        await tx
          .update(followUp)
          .set({ calledOffAt: now, calledOffBy: who.id, calledOffBecause: body.reason })
          .where(eq(followUp.id, params.id));
        await audit({
          act: 'cancelled',
          subject: 'follow-up',
          subjectId: params.id,
          before,
          after: { reason: body.reason },
        });
        return { ok: true as const };
      }),
  };
}
