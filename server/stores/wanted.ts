import type { WantedPart } from '@diurna/contract/stores';
import { dayInZone } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { and, asc, eq, inArray, isNull, sum } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { partsOfTasks } from './parts-of-tasks.ts';
import { refuseHalves } from './store.ts';

const { partWanted, partArrival, engine, boat, base, person, part } = tables;
const MOST = 500;

/** Still wanted, at a base or anywhere, oldest first, with what fits each serial. */
async function stillWanted(db: Db, baseId: number | undefined): Promise<WantedPart[]> {
  const rows = await db
    .select({
      w: partWanted,
      position: engine.position,
      serial: engine.serial,
      boatName: boat.name,
      baseId: base.id,
      baseName: base.name,
      by: person.name,
    })
    .from(partWanted)
    .innerJoin(engine, eq(engine.id, partWanted.engineId))
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .leftJoin(person, eq(person.id, partWanted.askedBy))
    .where(and(isNull(partWanted.closedAt), baseId === undefined ? undefined : eq(base.id, baseId)))
    .orderBy(asc(partWanted.at), asc(partWanted.id))
    .limit(MOST);
  const coming = new Map<string, number>();
  if (rows.length > 0) {
    const open = await db
      .select({ partId: partArrival.partId, baseId: partArrival.baseId, n: sum(partArrival.quantity) })
      .from(partArrival)
      .where(and(isNull(partArrival.arrivedAt), inArray(partArrival.baseId, [...new Set(rows.map((r) => r.baseId))])))
      .groupBy(partArrival.partId, partArrival.baseId);
    for (const o of open) coming.set(`${o.partId} ${o.baseId}`, Number(o.n));
  }
  const wanted: WantedPart[] = [];
  for (const at of new Set(rows.map((r) => r.baseId))) {
    for (const { w, boatName, position, serial, baseName, by } of rows.filter((r) => r.baseId === at)) {
      const { parts } = await partsOfTasks(db, [{ engineId: w.engineId, task: w.task }], at);
      wanted.push({
        id: w.id,
        engineId: w.engineId,
        boatName,
        position,
        serial,
        baseId: at,
        baseName,
        task: w.task,
        why: w.why,
        at: w.at.toISOString(),
        by,
        jobId: w.jobId,
        parts: parts.map((p) => ({
          partId: p.partId,
          number: p.number,
          name: p.name,
          unit: p.unit,
          quantity: Math.ceil(p.quantity),
          onHand: p.onHand,
          onTheWay: coming.get(`${p.partId} ${at}`) ?? 0,
        })),
      });
    }
  }
  return wanted.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.id - b.id));
}

export const wantedHandlers: Handlers<'listWanted' | 'closeWanted'> = {
  listWanted: ({ db, query }) => stillWanted(db, query.baseId),

  closeWanted: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const [row] = await tx.select().from(partWanted).where(eq(partWanted.id, params.id)).for('update');
      if (!row) throw notFound('request');
      if (row.closedAt) throw new HttpProblem(409, `This is settled already: ${row.closedBecause!}`);
      const [at] = await tx
        .select({ boatName: boat.name, position: engine.position, baseId: base.id, zone: base.timeZone })
        .from(engine)
        .innerJoin(boat, eq(boat.id, engine.boatId))
        .innerJoin(base, eq(base.id, boat.baseId))
        .where(eq(engine.id, row.engineId));
      const name = at ? engineName(at.boatName, at.position) : 'an engine that left the fleet';
      let because = body.act === 'order' ? '' : body.because;
      if (body.act === 'order') {
        if (!at) throw new HttpProblem(409, 'The engine has left its boat. Say that the part is not needed any more.');
        if (body.day < dayInZone(now, at.zone)) throw faulty('day', 'That day is over. Choose the day it is expected.');
        const parts = await tx
          .select()
          .from(part)
          .where(
            inArray(
              part.id,
              body.lines.map((l) => l.partId),
            ),
          );
        body.lines.forEach((l, i) => {
          const p = parts.find((x) => x.id === l.partId);
          if (!p) throw faulty(`lines.${i}.partId`, 'This part is not on the shelf list any more.');
          refuseHalves(p, l.quantity, `lines.${i}.quantity`);
        });
        await tx
          .insert(partArrival)
          .values(
            body.lines.map((l) => ({
              partId: l.partId,
              baseId: at.baseId,
              day: body.day,
              quantity: l.quantity,
              note: `for ${name}, ${TASKS[row.task].word.toLowerCase()}`,
            })),
          );
        because = `ordered, expected ${body.day}`;
      }
      await tx
        .update(partWanted)
        .set({ closedAt: now, closedBy: who.id, closedBecause: because })
        .where(eq(partWanted.id, row.id));
      await audit({
        act: 'changed',
        subject: 'order',
        subjectId: row.id,
        title: name,
        before: { wanted: row.task, why: row.why },
        after: body,
      });
      return { ok: true as const };
    }),
};
