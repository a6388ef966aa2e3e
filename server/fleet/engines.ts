import { dayInZone } from '@diurna/core/calendar';
import { lifeHours, offsetForNewMeter, questionReading } from '@diurna/core/usage';
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import type { FleetCache } from '../service/index.ts';
import { lockEngines, recentReadings } from '../usage/index.ts';

const { boat, base, engine, engineModel, gatewayHeard, meter, reading } = tables;
type Names = 'readEngine' | 'addEngine' | 'editEngine' | 'retireEngine' | 'changeMeter';

async function refuseOpenWork(tx: Tx, engineId: number, what: string): Promise<void> {
  const open = await tx.execute(sql`select 1 from job_task where engine_id = ${engineId} and on_open_job limit 1`);
  if (open.rows.length > 0)
    throw new HttpProblem(422, `This engine is on an open job card. Finish the card or call it off, then ${what}.`);
}

export function engineHandlers(fleet: FleetCache): Handlers<Names> {
  return {
    async readEngine({ db, params, now }) {
      await fleet.refresh(now);
      const [found] = await db
        .select({ e: engine, m: engineModel, boatName: boat.name, baseId: base.id, baseName: base.name })
        .from(engine)
        .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
        .leftJoin(boat, eq(boat.id, engine.boatId))
        .leftJoin(base, eq(base.id, boat.baseId))
        .where(eq(engine.id, params.id));
      if (!found) throw notFound('engine');
      const meters = await db
        .select()
        .from(meter)
        .where(eq(meter.engineId, params.id))
        .orderBy(asc(meter.fittedOn), asc(meter.id));
      const { e, m } = found;
      const facts = fleet.engines.get(e.id);
      const last = facts ? [] : ((await recentReadings(db, [e.id], '9999-12-31')).get(e.id) ?? []);
      return {
        id: e.id,
        version: e.version,
        serial: e.serial,
        modelId: e.modelId,
        boatId: e.boatId,
        position: e.position,
        transom: e.transom,
        inServiceOn: e.inServiceOn,
        boughtNew: e.boughtNew,
        retired: e.retired,
        boatName: found.boatName,
        baseId: found.baseId,
        baseName: found.baseName,
        modelName: m.name,
        maker: m.maker,
        powerHp: m.powerHp,
        stroke: m.stroke,
        lifeHours: facts?.lifeHours ?? last.at(-1)?.hours ?? null,
        hoursPerWeek: facts?.hoursPerWeek ?? null,
        lastReadDay: facts?.lastReadDay ?? last.at(-1)?.day ?? null,
        meters: meters.map((t) => ({
          id: t.id,
          kind: t.kind,
          fittedOn: t.fittedOn,
          removedOn: t.removedOn,
          offset: t.hoursOffset,
          reason: t.reason,
        })),
        twins: [...fleet.engines.values()]
          .filter((t) => t.boatId === e.boatId && t.id !== e.id && t.modelId === e.modelId)
          .map((t) => ({ id: t.id, position: t.position, lifeHours: t.lifeHours })),
      };
    },

    addEngine: ({ body, write, now }) =>
      write(async (tx, audit) => {
        const { meter: first, ...rest } = body;
        const [row] = await tx.insert(engine).values(rest).returning();
        if (first) {
          const today = dayInZone(now, 'UTC');
          await tx
            .insert(meter)
            .values({
              engineId: row!.id,
              kind: first.kind,
              hoursOffset: first.offset,
              fittedOn: rest.inServiceOn !== null && rest.inServiceOn < today ? rest.inServiceOn : today,
            });
        }
        await audit({ act: 'added', subject: 'engine', subjectId: row!.id, title: row!.serial, after: body });
        return { id: row!.id, version: row!.version };
      }),

    editEngine: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, engine, params.id, version, 'engine');
        if (before.boatId !== rest.boatId) await refuseOpenWork(tx, params.id, 'move the engine');
        const [row] = await tx
          .update(engine)
          .set({ ...rest, ...nextVersion(engine) })
          .where(eq(engine.id, params.id))
          .returning();
        await audit({ act: 'changed', subject: 'engine', subjectId: row!.id, title: row!.serial, before, after: rest });
        return { id: row!.id, version: row!.version };
      }),

    retireEngine: ({ params, body, write }) =>
      write(async (tx, audit) => {
        await lockVersion(tx, engine, params.id, body.version, 'engine');
        if (body.retired) await refuseOpenWork(tx, params.id, 'retire the engine');
        const [row] = await tx
          .update(engine)
          .set({ retired: body.retired, ...nextVersion(engine) })
          .where(eq(engine.id, params.id))
          .returning();
        await audit({
          act: body.retired ? 'retired' : 'taken back',
          subject: 'engine',
          subjectId: row!.id,
          title: row!.serial,
        });
        return { id: row!.id, version: row!.version };
      }),

    changeMeter: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const facts = (await lockEngines(tx, [params.id])).get(params.id);
        if (!facts) throw notFound('engine');
        if (body.day > dayInZone(now, facts.timeZone))
          throw faulty('day', 'That day is still to come; a meter change is written down when it is done.');
        const [old] = await tx
          .select()
          .from(meter)
          .where(and(eq(meter.engineId, params.id), isNull(meter.removedOn)));
        const before = (await recentReadings(tx, [params.id], '9999-12-31')).get(params.id) ?? [];
        const last = before.at(-1);
        if (last && body.day < last.day)
          throw faulty('day', `There are readings up to ${last.day}. The change cannot lie before them.`);
        let hoursNow = last?.hours ?? 0;
        if (old && body.oldCount !== null) {
          hoursNow = lifeHours(old.hoursOffset, body.oldCount);
          const question = questionReading(before, { day: body.day, hours: hoursNow });
          if (question?.doubt === 'lower') throw faulty('oldCount', question.text);
          await tx
            .insert(reading)
            .values({
              at: now,
              engineId: params.id,
              meterId: old.id,
              day: body.day,
              count: body.oldCount,
              source: 'meter change',
              personId: who.id,
              doubt: question?.doubt ?? null,
              reason: question ? body.reason : null,
            });
        }
        if (old) await tx.update(meter).set({ removedOn: body.day }).where(eq(meter.id, old.id));
        const [fitted] = await tx
          .insert(meter)
          .values({
            engineId: params.id,
            kind: body.kind,
            fittedOn: body.day,
            hoursOffset: offsetForNewMeter(hoursNow, body.newCount),
            reason: body.reason,
          })
          .returning();
        await tx
          .insert(reading)
          .values({
            at: now,
            engineId: params.id,
            meterId: fitted!.id,
            day: body.day,
            count: body.newCount,
            source: 'meter change',
            personId: who.id,
          });
        // A box on the boat counts from the new meter on.
        await tx.delete(gatewayHeard).where(eq(gatewayHeard.engineId, params.id));
        const [row] = await tx.update(engine).set(nextVersion(engine)).where(eq(engine.id, params.id)).returning();
        await audit({
          act: 'changed',
          subject: 'meter',
          subjectId: params.id,
          title: facts.name,
          before: old ? { kind: old.kind, offset: old.hoursOffset } : null,
          after: { ...body, lifeHours: hoursNow, offset: fitted!.hoursOffset },
        });
        return { id: fitted!.id, version: row!.version };
      }),
  };
}
