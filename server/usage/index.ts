import { byBoat, curveOf } from '@diurna/core/ahead';
import { dayInZone } from '@diurna/core/calendar';
import { HOURS_WANTED_DAYS } from '@diurna/contract/usage';
import { engineName } from '@diurna/core/fleet';
import { lifeHours } from '@diurna/core/usage';
import { and, count, desc, eq, isNull } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { daysSinceReading, type FleetCache } from '../service/index.ts';

import { recentReadings } from './store.ts';
import { writeReadings } from './write-readings.ts';

export { insertReadings, lockEngines, recentReadings, type ReadingRow } from './store.ts';
export { writeReadings } from './write-readings.ts';

const { reading, meter, person } = tables;

export function usageHandlers(
  fleet: FleetCache,
): Handlers<'hoursSheet' | 'typeHours' | 'listReadings' | 'usageCurve' | 'withdrawReading'> {
  return {
    async hoursSheet({ db, query, now }) {
      await fleet.refresh(now);
      const q = query.q?.trim().toLowerCase();
      const boats = query.boats === undefined ? null : new Set(query.boats.split(',').map(Number));
      const rows = [...fleet.engines.values()]
        .filter((e) => e.meterId !== null)
        .filter((e) => query.baseId === undefined || e.baseId === query.baseId)
        .filter((e) => query.boatId === undefined || e.boatId === query.boatId)
        .filter((e) => boats === null || boats.has(e.boatId))
        .filter(
          (e) =>
            !q || engineName(e.boatName, e.position).toLowerCase().includes(q) || e.serial.toLowerCase().includes(q),
        )
        .filter((e) => query.wanted === 'no' || (daysSinceReading(fleet, now, e.id) ?? Infinity) > HOURS_WANTED_DAYS)
        .sort(byBoat);
      const page = rows.slice((query.page - 1) * query.size, query.page * query.size);
      const recent = await recentReadings(
        db,
        page.map((e) => e.id),
        '9999-12-31',
      );
      return {
        rows: page.map((e) => ({
          engineId: e.id,
          boatId: e.boatId,
          boatName: e.boatName,
          baseId: e.baseId,
          position: e.position,
          modelName: e.modelName,
          meterId: e.meterId!,
          meterOffset: e.meterOffset,
          lastCount: e.lifeHours === null ? null : lifeHours(-e.meterOffset, e.lifeHours),
          lastDay: e.lastReadDay,
          daysSince: daysSinceReading(fleet, now, e.id),
          recent: recent.get(e.id) ?? [],
        })),
        total: rows.length,
        page: query.page,
        size: query.size,
      };
    },

    typeHours: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        const { written, unchanged } = await writeReadings(
          tx,
          body.readings.map((r) => ({ ...r, day: body.day })),
          { source: 'typed', personId: who.id, now: now, path: 'readings' },
        );
        if (written.length > 0) {
          await audit({
            act: 'added',
            subject: 'hours',
            subjectId: written.length === 1 ? written[0]!.engineId : null,
            title: written.length === 1 ? written[0]!.name : `${written.length} engines`,
            after: { readings: written.map((w) => ({ engine: w.name, day: w.day, count: w.count })) },
          });
        }
        return { saved: written.length, unchanged };
      }),

    async listReadings({ db, params, query }) {
      const [rows, [total]] = await Promise.all([
        db
          .select({ r: reading, offset: meter.hoursOffset, by: person.name })
          .from(reading)
          .innerJoin(meter, eq(meter.id, reading.meterId))
          .leftJoin(person, eq(person.id, reading.personId))
          .where(eq(reading.engineId, params.id))
          .orderBy(desc(reading.day), desc(reading.id))
          .limit(query.size)
          .offset((query.page - 1) * query.size),
        db.select({ n: count() }).from(reading).where(eq(reading.engineId, params.id)),
      ]);
      return {
        rows: rows.map(({ r, offset, by }) => ({
          id: r.id,
          day: r.day,
          at: r.at.toISOString(),
          count: r.count,
          lifeHours: lifeHours(offset, r.count),
          source: r.source,
          doubt: r.doubt,
          reason: r.reason,
          by,
          withdrawn: r.withdrawnReason,
        })),
        total: total!.n,
        page: query.page,
        size: query.size,
      };
    },

    async usageCurve({ params, now }) {
      await fleet.refresh(now);
      const facts = fleet.engines.get(params.id);
      if (!facts) throw notFound('engine in use');
      return curveOf(facts, fleet.boats.get(facts.boatId)!, fleet.dueOf(facts.id, now), dayInZone(now, facts.timeZone));
    },

    withdrawReading: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const [found] = await tx.select().from(reading).where(eq(reading.id, params.id)).for('update');
        if (!found) throw notFound('reading');
        if (who.role === 'dock' && found.personId !== who.id)
          throw new HttpProblem(403, 'Somebody else typed this figure. Tell them, or a coordinator, what is wrong.');
        if (found.withdrawnAt !== null) throw new HttpProblem(409, 'This reading is already taken back.');
        if (found.source === 'meter change') {
          throw new HttpProblem(
            422,
            'This figure belongs to a meter change; life hours hang on it. Correct it by a further meter change.',
          );
        }
        await tx
          .update(reading)
          .set({ withdrawnAt: now, withdrawnBy: who.id, withdrawnReason: body.reason })
          .where(and(eq(reading.id, params.id), isNull(reading.withdrawnAt)));
        await audit({
          act: 'taken back',
          subject: 'hours',
          subjectId: found.engineId,
          title: `${found.count} h on ${found.day}`,
          before: { day: found.day, count: found.count },
          after: { reason: body.reason },
        });
        return { ok: true as const };
      }),
  };
}
