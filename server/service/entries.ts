import { dayInZone } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { isLookedAt, TASKS, taskApplies } from '@diurna/core/service';
import { and, count, desc, eq, inArray, isNull, or } from 'drizzle-orm';
import { tables, type Db, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { questionEntries } from './question-entries.ts';

const { serviceEntry, engine, boat, person, engineModel, base } = tables;

/** The correcting entries of these entries, by the entry they cancel. */
async function correctionsOf(
  db: Db,
  ids: number[],
): Promise<Map<number, { by: string | null; at: string; reason: string }>> {
  if (ids.length === 0) return new Map();
  const found = await db
    .select({ cancels: serviceEntry.cancels, at: serviceEntry.enteredAt, reason: serviceEntry.reason, by: person.name })
    .from(serviceEntry)
    .leftJoin(person, eq(person.id, serviceEntry.personId))
    .where(inArray(serviceEntry.cancels, ids));
  return new Map(found.map((c) => [c.cancels!, { by: c.by, at: c.at.toISOString(), reason: c.reason ?? '' }]));
}

/** The service log: earlier work and corrections. */
export function entryHandlers(): Handlers<'listEntries' | 'addEntries' | 'cancelEntry'> {
  return {
    async listEntries({ db, query }) {
      const where = and(
        isNull(serviceEntry.cancels),
        query.engineId === undefined ? undefined : eq(serviceEntry.engineId, query.engineId),
        query.task === undefined ? undefined : eq(serviceEntry.task, query.task),
        query.q ? or(holdsText(boat.name, query.q), holdsText(engine.serial, query.q)) : undefined,
      );
      const [rows, [total]] = await Promise.all([
        db
          .select({
            e: serviceEntry,
            boatName: boat.name,
            position: engine.position,
            serial: engine.serial,
            by: person.name,
          })
          .from(serviceEntry)
          .innerJoin(engine, eq(engine.id, serviceEntry.engineId))
          .leftJoin(boat, eq(boat.id, engine.boatId))
          .leftJoin(person, eq(person.id, serviceEntry.personId))
          .where(where)
          .orderBy(desc(serviceEntry.doneOn), desc(serviceEntry.id))
          .limit(query.size)
          .offset((query.page - 1) * query.size),
        db
          .select({ n: count() })
          .from(serviceEntry)
          .innerJoin(engine, eq(engine.id, serviceEntry.engineId))
          .leftJoin(boat, eq(boat.id, engine.boatId))
          .where(where),
      ]);
      const corrections = await correctionsOf(
        db,
        rows.map(({ e }) => e.id),
      );
      return {
        rows: rows.map(({ e, boatName, position, serial, by }) => ({
          id: e.id,
          engineId: e.engineId,
          engineName: boatName === null ? serial : engineName(boatName, position),
          serial,
          task: e.task,
          doneOn: e.doneOn,
          hours: e.hours,
          by: e.doneBy ?? by,
          jobId: e.jobId,
          volume: e.volumeValue !== null && e.volumeUnit !== null ? { value: e.volumeValue, unit: e.volumeUnit } : null,
          remark: e.remark,
          enteredAt: e.enteredAt.toISOString(),
          cancelled: corrections.get(e.id) ?? null,
        })),
        total: total!.n,
        page: query.page,
        size: query.size,
      };
    },

    addEntries: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        const [found] = await tx
          .select({ serial: engine.serial, stroke: engineModel.stroke, zone: base.timeZone })
          .from(engine)
          .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
          .leftJoin(boat, eq(boat.id, engine.boatId))
          .leftJoin(base, eq(base.id, boat.baseId))
          .where(eq(engine.id, body.engineId));
        if (!found) throw notFound('engine');
        const unfit = body.tasks.find((task) => !taskApplies(task, found.stroke));
        if (unfit) throw faulty('tasks', `A two-stroke has no ${TASKS[unfit].word.toLowerCase()} to change.`);
        if (body.doneOn > dayInZone(now, found.zone ?? 'UTC'))
          throw faulty('doneOn', 'That day is still to come; the log takes work that is done.');
        const { confirm, tasks, oldPart, ...entry } = body;
        if (body.oldPart !== null && !body.tasks.some(isLookedAt))
          throw faulty('oldPart', 'None of these tasks renews a part that is looked at; leave it out.');
        // All of them were done at the same hours: one question.
        const [question] = await questionEntries(tx, [entry]);
        if (question && !confirm)
          throw new HttpProblem(
            422,
            `The hours want a second look; nothing was written. ${question.text}`,
            [{ path: 'hours', text: question.text }],
            'questioned',
          );
        const remark = question ? [entry.remark, confirm].filter(Boolean).join(' ') : entry.remark;
        const rows = await tx
          .insert(serviceEntry)
          .values(
            tasks.map((task) => ({
              ...{ enteredAt: now, ...entry, task, remark, personId: who.id },
              oldPart: isLookedAt(task) ? oldPart : null,
            })),
          )
          .returning({ id: serviceEntry.id, task: serviceEntry.task });
        for (const row of rows)
          await audit({
            act: 'added',
            subject: 'service entry',
            subjectId: row.id,
            title: `${TASKS[row.task].word}, ${found.serial}`,
            after: { ...entry, task: row.task, oldPart, confirm },
          });
        return { ids: rows.map((r) => r.id) };
      }),

    cancelEntry: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const [found] = await tx.select().from(serviceEntry).where(eq(serviceEntry.id, params.id));
        if (!found || found.cancels !== null) throw notFound('service entry');
        if (who.role === 'technician' && found.personId !== who.id) {
          throw new HttpProblem(403, 'Only a coordinator corrects what someone else wrote down.');
        }
        if (found.jobId !== null) {
          throw new HttpProblem(
            422,
            'This entry came from a job card. Undo the card, so that its parts go back as well.',
          );
        }
        await tx
          .insert(serviceEntry)
          .values({
            enteredAt: now,
            engineId: found.engineId,
            task: found.task,
            doneOn: found.doneOn,
            hours: found.hours,
            personId: who.id,
            cancels: found.id,
            reason: body.reason,
          });
        await audit({
          act: 'cancelled',
          subject: 'service entry',
          subjectId: found.id,
          title: TASKS[found.task].word,
          before: found,
          after: { reason: body.reason },
        });
        return { ok: true as const };
      }),
  };
}
