import { addDays, dayInZone, instantInZone, type Day } from '@diurna/core/calendar';
import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { readCalendarApart } from '../hires/index.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';

const { base, closedDay } = tables;
const HOLIDAY_YEARS = 3;

export const closedDayHandlers: Handlers<'addClosedDay' | 'removeClosedDay' | 'importClosedDays'> = {
  addClosedDay: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx
        .insert(closedDay)
        .values({ baseId: params.id, ...body })
        .onConflictDoNothing()
        .returning();
      if (!row) throw faulty('day', 'That day is without work already.');
      await audit({
        act: 'added',
        subject: 'day without work',
        subjectId: row.id,
        title: `${body.day} ${body.name}`,
        after: row,
      });
      return { id: row.id };
    }),

  removeClosedDay: ({ params, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx.delete(closedDay).where(eq(closedDay.id, params.id)).returning();
      if (!row) throw notFound('day');
      await audit({
        act: 'taken back',
        subject: 'day without work',
        subjectId: row.id,
        title: `${row.day} ${row.name}`,
        before: row,
      });
      return { ok: true as const };
    }),

  async importClosedDays({ db, params, body, write, now }) {
    const [at] = await db.select().from(base).where(eq(base.id, params.id));
    if (!at) throw notFound('base');
    const today = dayInZone(now, at.timeZone);
    const last = addDays(today, HOLIDAY_YEARS * 366);
    const events = await readCalendarApart(
      body,
      at.timeZone,
      instantInZone(today, 0, at.timeZone),
      instantInZone(last, 1439, at.timeZone),
    );
    return write(async (tx, audit) => {
      const days = new Map<Day, string>();
      for (const e of events) {
        if (e.cancelled || !e.out || !e.back) continue;
        for (
          let day = dayInZone(e.out, at.timeZone);
          day <= dayInZone(e.back, at.timeZone) && day <= last;
          day = addDays(day, 1)
        )
          if (day >= today) days.set(day, (e.title || 'no work').slice(0, 80));
      }
      if (days.size === 0) throw new HttpProblem(422, 'The file holds no day from today on. Nothing was read.');
      const rows = await tx
        .insert(closedDay)
        .values([...days].map(([day, name]) => ({ baseId: at.id, day, name })))
        .onConflictDoNothing()
        .returning();
      if (rows.length > 0)
        await audit({
          act: 'imported',
          subject: 'days without work',
          subjectId: at.id,
          title: at.name,
          after: { added: rows.length, first: [...days.keys()].sort()[0] },
        });
      return { added: rows.length, known: days.size - rows.length };
    });
  },
};
