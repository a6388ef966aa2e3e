import { dayInZone } from '@diurna/core/calendar';
import { isLookedAt, OLD_PART, taskApplies, TASKS } from '@diurna/core/service';
import { and, asc, eq, gt, inArray, isNull, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { csvText, type Line, inTurn } from './csv.ts';
import { questionEntries } from '../service/index.ts';
import { engineFinder } from './lookup.ts';

const { serviceEntry, engine, engineModel, person } = tables;
const CHUNK = 2000;

/** Reads service history. The same task of an engine on the same day is in the book once. */
export async function analyseService(tx: Tx, lines: Line[], personId: number, now: Date): Promise<() => Promise<void>> {
  const find = await engineFinder(tx);
  const wanted: (typeof serviceEntry.$inferInsert & { line: Line })[] = [];
  for await (const line of inTurn(lines)) {
    const found = find(line);
    const task = line.task('task');
    const doneOn = line.day('done_on');
    if (line.text('task') === null) line.fault('task', 'is empty; write one like engine-oil');
    if (line.text('done_on') === null) line.fault('done_on', 'is empty; write the day it was done, like 2026-04-15');
    const hours = line.number('hours', { min: 0, max: 99_999.9, decimals: 1 });
    const oldPart = line.choice('old_part', OLD_PART);
    if (oldPart !== null && task !== null && !isLookedAt(task))
      line.fault('old_part', 'is of parts that are looked at when they are renewed; leave it empty here');
    if (!found || task === null || doneOn === null) continue;
    if (!taskApplies(task, found.stroke))
      line.fault('task', `a two-stroke has no ${TASKS[task].word.toLowerCase()} to change`);
    if (doneOn > dayInZone(now, found.timeZone)) line.fault('done_on', `${doneOn} is still to come`);
    wanted.push({
      line,
      enteredAt: now,
      engineId: found.id,
      task,
      doneOn,
      hours,
      doneBy: line.text('done_by'),
      remark: line.text('remark'),
      oldPart,
      personId,
    });
  }
  const known = await inTheLog(tx, [...new Set(wanted.map((w) => w.engineId))]);
  const seen = new Set(known.map((k) => `${k.engineId} ${k.task} ${k.doneOn}`));
  const values: (typeof serviceEntry.$inferInsert)[] = [];
  const questions = await questionEntries(
    tx,
    wanted.map(({ engineId, doneOn, hours }) => ({ engineId, doneOn, hours: hours ?? null })),
  );
  for await (const [i, { line, ...entry }] of inTurn([...wanted.entries()])) {
    const key = `${entry.engineId} ${entry.task} ${entry.doneOn}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const reason = line.text('reason');
    if (questions[i] && reason === null)
      line.fault('hours', `${questions[i].text} Correct it, or say in "reason" why it is right`);
    if (reason !== null) entry.remark = [entry.remark, reason].filter(Boolean).join(' ');
    line.does = 'add';
    values.push(entry);
  }
  return async () => {
    for (let i = 0; i < values.length; i += CHUNK) await tx.insert(serviceEntry).values(values.slice(i, i + CHUNK));
  };
}

/** What the log has of these engines. */
async function inTheLog(tx: Tx, ids: number[]) {
  return ids.length === 0
    ? []
    : tx
        .select({ engineId: serviceEntry.engineId, task: serviceEntry.task, doneOn: serviceEntry.doneOn })
        .from(serviceEntry)
        .where(
          and(
            inArray(serviceEntry.engineId, ids),
            isNull(serviceEntry.cancels),
            sql`not exists (select 1 from service_entry c where c.cancels = ${serviceEntry.id})`,
          ),
        );
}

export async function* serviceFile(db: Db): AsyncGenerator<string> {
  yield csvText([['serial', 'model', 'task', 'done_on', 'hours', 'done_by', 'remark', 'old_part']]);
  let after = 0;
  for (;;) {
    const rows = await db
      .select({
        e: serviceEntry,
        serial: engine.serial,
        maker: engineModel.maker,
        model: engineModel.name,
        by: person.name,
      })
      .from(serviceEntry)
      .innerJoin(engine, eq(engine.id, serviceEntry.engineId))
      .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
      .leftJoin(person, eq(person.id, serviceEntry.personId))
      .where(
        and(
          gt(serviceEntry.id, after),
          isNull(serviceEntry.cancels),
          sql`not exists (select 1 from service_entry c where c.cancels = ${serviceEntry.id})`,
        ),
      )
      .orderBy(asc(serviceEntry.id))
      .limit(10_000);
    if (rows.length === 0) return;
    yield csvText(
      rows.map(({ e, serial, maker, model, by }) => [
        serial,
        `${maker} ${model}`,
        e.task,
        e.doneOn,
        e.hours,
        e.doneBy ?? by,
        e.remark,
        e.oldPart,
      ]),
    );
    after = rows.at(-1)!.e.id;
  }
}
