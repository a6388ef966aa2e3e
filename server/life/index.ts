import type { lifeRoutes } from '@diurna/contract/life';
import type { ReplyOf } from '@diurna/contract';
import type { EngineFacts } from '@diurna/core/ahead';
import { dayInZone, dayNumber, type Day } from '@diurna/core/calendar';
import { READINGS, readingOf, type ReadingKind, type ReadingValue } from '@diurna/core/findings';
import {
  cheapestAge,
  fitWeibull,
  renewalAt,
  stillHolding,
  type Life,
  type RenewalCosts,
  type WeibullFit,
} from '@diurna/core/life';
import { ACCESS_MINUTES, TASKS, type LOOKED_AT } from '@diurna/core/service';
import { and, asc, eq, isNull, notExists, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { among, tables, type Db } from '../db/index.ts';
import { readingsOf } from '../findings/index.ts';
import type { Handlers } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import { partsOfAll } from '../stores/index.ts';

const { part, serviceEntry, setting } = tables;
const cancelled = alias(serviceEntry, 'cancelled');
type LifeTask = (typeof LOOKED_AT)[number];
type Clock = 'hours' | 'months';
type Reply = ReplyOf<(typeof lifeRoutes)['readLife']>;

/** What is read of the old part when it is renewed. */
const LOOKS: Record<LifeTask, ReadingKind> = {
  impeller: 'impeller look',
  'spark-plugs': 'plug look',
  thermostat: 'thermostat look',
  'fuel-filter': 'fuel filter look',
  anodes: 'anode left',
};
/** An anode below a third has served its time. Common practice, no source. */
const SPENT_PERCENT = 33;
/** Fewer failures than this say little. Common practice, no source. */
const ENOUGH = 10;
/** A failure on the water, beside the repair: a day on hire and the tow, as many days' income. An estimate. */
const FAILED_DAYS = 1.5;

/** Whether a look says that the part had failed, or all but; a sound or a tired one had not. */
function hadFailed(task: LifeTask, value: ReadingValue): boolean {
  const info = READINGS[LOOKS[task]];
  if ('choice' in value) return info.options?.some((o) => o.key === value.choice && o.tone === 'bad') ?? false;
  return task === 'anodes' && 'value' in value && value.value < SPENT_PERCENT;
}

/** Life hours on a day nobody wrote them down for, between the readings around it; null before the first. */
function hoursOn({ readings: { days, hours } }: EngineFacts, day: Day): number | null {
  const at = dayNumber(day);
  let next = 0;
  while (next < days.length && days[next]! < at) next++;
  if (next === days.length) return hours[next - 1] ?? null;
  if (days[next] === at) return hours[next]!;
  if (next === 0) return null;
  const [d0, d1, h0, h1] = [days[next - 1]!, days[next]!, hours[next - 1]!, hours[next]!];
  return h0 + ((h1 - h0) * (at - d0)) / (d1 - d0);
}

const MONTH_DAYS = 365.25 / 12;

/** Where an engine stood on a day, by that clock; null = nobody knows. */
const clockOf = (e: EngineFacts, by: Clock) => (day: Day, written: number | null) =>
  by === 'months' ? dayNumber(day) / MONTH_DAYS : (written ?? hoursOn(e, day));

/** Lives of a part on these engines: from renewal to renewal, and from the last one to now. */
async function livesOf(db: Db, task: LifeTask, by: Clock, engines: readonly EngineFacts[], now: Date): Promise<Life[]> {
  const ids = engines.map((e) => e.id);
  const entries = await db
    .select({
      engineId: serviceEntry.engineId,
      hours: serviceEntry.hours,
      jobId: serviceEntry.jobId,
      day: serviceEntry.doneOn,
      oldPart: serviceEntry.oldPart,
    })
    .from(serviceEntry)
    .where(
      and(
        among(serviceEntry.engineId, ids),
        eq(serviceEntry.task, task),
        isNull(serviceEntry.cancels),
        notExists(
          db
            .select({ one: sql`1` })
            .from(cancelled)
            .where(eq(cancelled.cancels, serviceEntry.id)),
        ),
      ),
    )
    .orderBy(asc(serviceEntry.doneOn), asc(serviceEntry.id));
  const looks = new Map<string, boolean>();
  for (const r of await readingsOf(db, ids)) {
    if (readingOf(r.key)?.kind !== LOOKS[task]) continue;
    const key = `${r.engine_id} ${r.job_id}`;
    // One bad plug of four is a bad set.
    looks.set(key, (looks.get(key) ?? false) || hadFailed(task, r.value));
  }
  const own = new Map<number, typeof entries>();
  for (const e of entries) own.set(e.engineId, [...(own.get(e.engineId) ?? []), e]);
  return engines.flatMap((e): Life[] => {
    const done = own.get(e.id) ?? [];
    const lives: Life[] = [];
    const at = clockOf(e, by);
    const fitted = e.inServiceOn === null ? null : at(e.inServiceOn, 0);
    let since = !e.boughtNew ? null : by === 'hours' ? 0 : fitted;
    for (const { hours: written, jobId, day, oldPart } of done) {
      const then = at(day, written);
      const spent = oldPart === 'spent' || (jobId !== null && (looks.get(`${e.id} ${jobId}`) ?? false));
      if (then !== null && since !== null && then > since)
        // Found so: it ended at some time before somebody looked.
        lives.push({ time: then - since, failed: spent, found: spent });
      since = then;
    }
    // What is fitted now still holds, as far as anybody knows.
    const today = by === 'hours' ? e.lifeHours : at(dayInZone(now, e.timeZone), null);
    if (since !== null && today !== null && today > since) lives.push({ time: today - since, failed: false });
    return lives;
  });
}

/** What its parts cost on average over these engines, in money; of a model without a known part or price nothing. */
async function partsCost(db: Db, task: LifeTask, engines: readonly EngineFacts[]): Promise<number> {
  const models = new Map<number, { of: EngineFacts; count: number }>();
  for (const e of engines) models.set(e.modelId, { of: e, count: (models.get(e.modelId)?.count ?? 0) + 1 });
  const read = await partsOfAll(
    db,
    [...models.values()].map(({ of, count }) => ({
      ...{ baseId: of.baseId, count },
      tasks: [{ engineId: of.id, task }],
    })),
  );
  const ids = [...new Set(read.flatMap(({ parts }) => parts.map((p) => p.partId)))];
  if (ids.length === 0) return 0;
  const prices = new Map(
    (await db.select({ id: part.id, minor: part.priceMinor }).from(part).where(among(part.id, ids))).map((p) => [
      p.id,
      p.minor ?? 0,
    ]),
  );
  const minor = read.reduce(
    (sum, { picking, parts }) =>
      sum +
      picking.count *
        // Fluids are priced by the litre.
        parts.reduce((own, p) => own + prices.get(p.partId)! * (p.unit === 'mL' ? p.quantity / 1000 : p.quantity), 0),
    0,
  );
  return minor / 100 / engines.length;
}

async function usualCosts(db: Db, task: LifeTask, engines: readonly EngineFacts[]): Promise<RenewalCosts> {
  const [row] = await db.select({ rate: setting.rateMinor, day: setting.hireDayMinor }).from(setting);
  const minutes = TASKS[task].handsOn + TASKS[task].access.reduce((sum, a) => sum + ACCESS_MINUTES[a], 0);
  const planned = Math.max(
    1,
    Math.round(((row?.rate ?? 0) / 100 / 60) * minutes + (await partsCost(db, task, engines))),
  );
  return { planned, failed: Math.round(planned + ((row?.day ?? 0) / 100) * FAILED_DAYS) };
}

/** Between which ages the cheapest one lies, by the ends of the shape's interval. */
function betweenOf({ shapeRange, scale }: WeibullFit, costs: RenewalCosts): [number, number] | null {
  const ages = shapeRange.map((shape) => cheapestAge({ shape, scale }, costs)?.age ?? null);
  if (ages.some((a) => a === null)) return null;
  const [a, b] = ages as [number, number];
  return [Math.min(a, b), Math.max(a, b)];
}

/** Intervals the rules ask for, with how many engines go by each. */
function inForceOf(
  task: LifeTask,
  by: Clock,
  engines: readonly EngineFacts[],
  fit: WeibullFit | null,
  costs: RenewalCosts,
) {
  const counted = new Map<number, number>();
  for (const e of engines) {
    const rule = e.rules.find((r) => r.task === task);
    const age = by === 'hours' ? rule?.everyHours : rule?.everyMonths;
    if (age != null) counted.set(age, (counted.get(age) ?? 0) + 1);
  }
  return [...counted]
    .sort((a, b) => a[0] - b[0])
    .map(([age, n]) => ({ age, engines: n, cost: fit && renewalAt(age, fit, costs).costAnHour }));
}

/** Whether an engine runs in such water. */
const isIn = ({ sand, salt }: EngineFacts, water: string): boolean =>
  water === 'all' || (water === 'sand' ? sand : water === 'no sand' ? !sand : water === 'salt' ? salt : !salt);

/** How long parts of this fleet last, as evidence beside the questions of school. */
export const lifeHandlers = (fleet: FleetCache): Handlers<'readLife'> => ({
  async readLife({ db, query, now }): Promise<Reply> {
    await fleet.refresh(now);
    const { task, water, by } = query;
    const engines = fleet.inOrder().filter((e) => isIn(e, water));
    const usual = await usualCosts(db, task, engines);
    const costs = { planned: query.planned ?? usual.planned, failed: query.failed ?? usual.failed };
    const lives = await livesOf(db, task, by, engines, now);
    const fit = fitWeibull(lives);
    const age = fit && cheapestAge(fit, costs);
    const failures = lives.filter((l) => l.failed).length;
    return {
      lives: lives.length,
      failures,
      few: failures < ENOUGH,
      costs,
      fit: fit && {
        shape: fit.shape,
        scale: fit.scale,
        shapeRange: [...fit.shapeRange],
        scaleRange: [...fit.scaleRange],
      },
      points: stillHolding(lives),
      cheapest: age && {
        ...{ age: age.age, cost: age.costAnHour, failsBefore: age.failsBefore },
        between: betweenOf(fit, costs),
      },
      inForce: inForceOf(task, by, engines, fit, costs),
    };
  },
});
