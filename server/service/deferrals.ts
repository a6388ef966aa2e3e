import type { EngineDue } from '@diurna/core/ahead';
import { addDays, dayInZone, type Day } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { MOST_DEFERRED_DAYS, nextSpring, TASKS, type TaskKind } from '@diurna/core/service';
import { and, eq, isNull } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import type { FleetCache } from './fleet-cache.ts';

const { deferral, engine } = tables;

/** What cannot be put off, in words: at its field, or because of where it stands. */
function refuseDeferral(dues: readonly EngineDue[], task: TaskKind, until: Day, today: Day): void {
  if (until <= today) throw faulty('until', 'That day is not ahead: choose when it comes back.');
  if (until > addDays(today, MOST_DEFERRED_DAYS))
    throw faulty('until', `That is more than ${MOST_DEFERRED_DAYS} days away: change its rule instead.`);
  const asked = dues.find((d) => d.due.task === task);
  if (!asked) throw faulty('task', 'This task is not in the programme of the engine, and nothing asks for it.');
  const card = asked.facts.openJobs.get(task);
  if (card) throw new HttpProblem(409, `It stands on ${card.technician}’s card: take it off there first.`);
  if (task === 'running-in') throw faulty('task', 'Running in is not put off: the engine runs, or it does not.');
}

/** Work put off knowingly, and taken back. */
export function deferralHandlers(fleet: FleetCache): Handlers<'putOff' | 'endDeferral'> {
  return {
    async putOff({ params, body, write, who, now }) {
      // Before the write holds a connection: the fleet is read by another.
      await fleet.refresh(now);
      return write(async (tx, audit) => {
        const [held] = await tx.select({ id: engine.id }).from(engine).where(eq(engine.id, params.id)).for('update');
        const facts = fleet.engines.get(params.id);
        if (!held || !facts) throw notFound('engine in use');
        const today = dayInZone(now, facts.timeZone);
        const until = body.until ?? fleet.boats.get(facts.boatId)?.opensOn ?? nextSpring(facts.hemisphere, today);
        refuseDeferral(fleet.dueOf(params.id, now), body.task, until, today);
        // A new word takes the place of the one before; both stay in the book.
        await tx
          .update(deferral)
          .set({ endedAt: now, endedBy: who.id })
          .where(and(eq(deferral.engineId, params.id), eq(deferral.task, body.task), isNull(deferral.endedAt)));
        const [row] = await tx
          .insert(deferral)
          .values({
            engineId: params.id,
            task: body.task,
            until,
            spring: body.until === null,
            reason: body.reason,
            personId: who.id,
            day: today,
            at: now,
          })
          .returning({ id: deferral.id });
        await audit({
          act: 'added',
          subject: 'deferral',
          subjectId: row!.id,
          title: `${engineName(facts.boatName, facts.position)}, ${TASKS[body.task].word.toLowerCase()}`,
          after: { until, reason: body.reason },
        });
        return { id: row!.id };
      });
    },

    endDeferral: ({ params, write, who, now }) =>
      write(async (tx, audit) => {
        const [row] = await tx.select().from(deferral).where(eq(deferral.id, params.id)).for('update');
        if (!row) throw notFound('deferral');
        if (row.endedAt !== null)
          throw new HttpProblem(409, 'Somebody took it back already, or put it off anew. Look again.');
        await tx.update(deferral).set({ endedAt: now, endedBy: who.id }).where(eq(deferral.id, params.id));
        await audit({
          act: 'changed',
          subject: 'deferral',
          subjectId: params.id,
          title: TASKS[row.task].word,
          before: { until: row.until, reason: row.reason },
          after: { ended: true },
        });
        return { ok: true as const };
      }),
  };
}
