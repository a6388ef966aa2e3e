import type { OrderBook } from '@diurna/contract/ordering';
import { dayInZone, dayNumber } from '@diurna/core/calendar';
import {
  needOf,
  offerId,
  orderProblemOf,
  supplierId,
  type OrderYard,
  type PartTask,
  type ShelfPart,
} from '@diurna/core/ordering';
import { chancePast } from '@diurna/core/planner';
import { and, asc, eq, isNull } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { notFound } from '../http/problem.ts';
import { readYard } from '../planner/index.ts';
import type { FleetCache } from '../service/index.ts';
import { linksOf, onHandByPart, partsOfAll, withOlder } from '../stores/index.ts';

const { base, boat, job, offer, part, partArrival, supplier } = tables;

/** Chance of being served that is bought for, unless a yard says otherwise. Common practice, no source. */
const SHARE = 0.95;

/** Whom is bought from, and what they sell, in whole units of the currency. */
async function readSelling(
  db: Db | Tx,
): Promise<{
  suppliers: (typeof supplier.$inferSelect)[];
  offers: (typeof offer.$inferSelect)[];
  selling: Pick<OrderYard, 'suppliers' | 'offers'>;
}> {
  const suppliers = await db.select().from(supplier).where(eq(supplier.retired, false)).orderBy(asc(supplier.id));
  const known = new Set(suppliers.map((s) => s.id));
  const offers = (await db.select().from(offer).orderBy(asc(offer.id))).filter((o) => known.has(o.supplierId));
  return {
    suppliers,
    offers,
    selling: {
      suppliers: suppliers.map((s) => ({
        id: s.id,
        leadDays: s.leadDays,
        weekdays: s.weekdays,
        carriage: s.carriageMinor / 100,
        freeFrom: s.freeFromMinor === null ? null : s.freeFromMinor / 100,
        least: s.leastMinor / 100,
      })),
      offers: offers.map((o) => ({
        id: o.id,
        supplierId: o.supplierId,
        partId: o.partId,
        pack: o.packQuantity,
        breaks: o.breaks.map((b) => ({ packs: b.packs, price: b.priceMinor / 100 })),
      })),
    },
  };
}

/** What lies on a base's shelves or is on its way there, with what will take it. */
async function readShelves(
  db: Db | Tx,
  baseId: number,
  first: number,
  tasks: ReadonlyMap<number, PartTask[]>,
  sold: ReadonlySet<number>,
): Promise<{ shelf: ShelfPart; p: typeof part.$inferSelect }[]> {
  const [parts, arrivals, own, links] = await Promise.all([
    db.select().from(part).orderBy(asc(part.kind), asc(part.number)),
    db
      .select()
      .from(partArrival)
      .where(and(eq(partArrival.baseId, baseId), isNull(partArrival.arrivedAt))),
    onHandByPart(db, baseId),
    linksOf(db),
  ]);
  // What is left of an older number is used up before the newer is bought.
  const onHand = withOlder(own, links);
  const coming = new Map<number, { day: number; quantity: number }[]>();
  for (const a of arrivals)
    coming.set(a.partId, [...(coming.get(a.partId) ?? []), { day: dayNumber(a.day) - first, quantity: a.quantity }]);
  return parts
    .filter((p) => tasks.has(p.id) || sold.has(p.id))
    .map((p) => ({
      p,
      shelf: {
        partId: p.id,
        onHand: onHand.get(p.id) ?? 0,
        arriving: coming.get(p.id) ?? [],
        tasks: tasks.get(p.id) ?? [],
      },
    }));
}

/** What is bought for a base, and what shows where it comes from. @throws 404 for a base that is none */
export async function readOrderBook(
  db: Db | Tx,
  fleet: FleetCache,
  now: Date,
  { baseId, days }: { baseId: number; days: number },
): Promise<OrderBook> {
  const [at] = await db.select().from(base).where(eq(base.id, baseId));
  if (!at) throw notFound('base');
  const firstDay = dayInZone(now, at.timeZone);
  const first = dayNumber(firstDay);
  const yard = await readYard(db, fleet, now, firstDay, days, baseId);
  const season = seasonOf(fleet, baseId, first, days);
  const { tasks, sure } = await tasksOf(db, yard, first, days, season);
  await takenBySeason(db, baseId, season, yard, tasks);
  const { suppliers, offers, selling } = await readSelling(db);
  const sold = new Set(offers.map((o) => o.partId));
  const shelves = await readShelves(db, baseId, first, tasks, sold);
  const book: OrderYard = { firstDay, days, share: SHARE, ...selling, parts: shelves.map((s) => s.shelf) };
  const partOf = new Map(shelves.map(({ p }) => [p.id, p]));
  return {
    problem: orderProblemOf(book),
    firstDay,
    currency: yard.currency,
    share: SHARE,
    parts: shelves.map(({ p, shelf }) => ({
      partId: p.id,
      number: p.number,
      name: p.name,
      unit: p.unit,
      sold: sold.has(p.id),
      onHand: shelf.onHand,
      ...ahead(shelf, days),
      sure: sure.get(p.id) ?? [],
    })),
    names: {
      suppliers: Object.fromEntries(
        suppliers.map((s) => [
          supplierId(s.id),
          { name: s.name, contactId: s.contactId, service: s.serviceUrl !== null },
        ]),
      ),
      offers: Object.fromEntries(
        offers.flatMap((o) => {
          const p = partOf.get(o.partId);
          return p ? [[offerId(o.id), { part: p.number, name: p.name, number: o.number, unit: p.unit }]] : [];
        }),
      ),
    },
  };
}

/** Day by day what will be taken and what is there. */
function ahead(shelf: ShelfPart, days: number) {
  const { mean, median, planned } = needOf(shelf, days, SHARE);
  return {
    mean: mean.map(cents),
    median: median.map(cents),
    planned: planned.map(cents),
    stock: stockAhead(shelf, days),
    likely: shelf.tasks.filter((t) => t.sure === null && t.chanceBy(days - 1) >= 0.5).length,
  };
}

const cents = (x: number) => Math.round(x * 100) / 100;

/** On hand with what is under way, at the end of each day; what is late is looked for tomorrow. */
function stockAhead({ onHand, arriving }: ShelfPart, days: number): number[] {
  return Array.from({ length: days }, (_, d) =>
    cents(onHand + arriving.filter((a) => (a.day < 0 ? 1 : a.day) <= d).reduce((sum, a) => sum + a.quantity, 0)),
  );
}

/**
 * What lay-up and recommission still want at a base within these days, by "engine task": as likely on each day between
 * the first one it can be done on and the last.
 */
function seasonOf(fleet: FleetCache, baseId: number, first: number, days: number) {
  const boats = [...fleet.boats.values()].filter((b) => b.engines[0]?.baseId === baseId);
  return new Map(
    boats.flatMap((b) =>
      b.seasonAhead.flatMap(({ engineId, task, from, by }, i) => {
        // A tank is dosed once.
        if (task === 'stabiliser' && b.seasonAhead.findIndex((s) => s.task === task) !== i) return [];
        const [begins, ends] = [dayNumber(from) - first, dayNumber(by) - first];
        if (begins >= days) return [];
        const chanceBy = (d: number) => Math.max(0, Math.min(1, (d - begins + 1) / (ends - begins + 1)));
        return [[`${engineId} ${task}`, { engineId, task, chanceBy }] as const];
      }),
    ),
  );
}

/** Adds what the season takes besides the programme, and no card does yet. */
async function takenBySeason(
  db: Db | Tx,
  baseId: number,
  season: ReturnType<typeof seasonOf>,
  { facts }: Awaited<ReturnType<typeof readYard>>,
  tasks: Map<number, PartTask[]>,
): Promise<void> {
  const known = new Set(facts.tasks.flatMap((t) => (t.parts.length > 0 ? [`${t.engineId} ${t.task}`] : [])));
  const rest = [...season].flatMap(([key, s]) => (known.has(key) ? [] : [s]));
  const read = await partsOfAll(
    db,
    rest.map((s) => ({ baseId, tasks: [{ engineId: s.engineId, task: s.task }], chanceBy: s.chanceBy })),
  );
  for (const { picking, parts } of read)
    for (const { partId, quantity } of parts)
      tasks.set(partId, [
        ...(tasks.get(partId) ?? []),
        { quantity, sure: null, chanceBy: picking.chanceBy, earnsPerDay: 0 },
      ]);
}

/** What takes each part: cards on their days, the rest by the forecast of when it falls due. */
async function tasksOf(
  db: Db | Tx,
  { facts, dues }: Awaited<ReturnType<typeof readYard>>,
  first: number,
  days: number,
  season: ReturnType<typeof seasonOf>,
): Promise<{ tasks: Map<number, PartTask[]>; sure: Map<number, OrderBook['parts'][number]['sure']> }> {
  const boats = new Map(facts.boats.map((b) => [b.id, b]));
  const names = new Map((await db.select({ id: boat.id, name: boat.name }).from(boat)).map((b) => [b.id, b.name]));
  const open = new Set((await db.select({ id: job.id }).from(job).where(eq(job.status, 'open'))).map((j) => j.id));
  const tasks = new Map<number, PartTask[]>();
  const sure = new Map<number, OrderBook['parts'][number]['sure']>();
  facts.tasks.forEach((t, i) => {
    const card = dues[i]!.facts.openJobs.get(t.task);
    const window = season.get(`${t.engineId} ${t.task}`);
    const chanceBy = (d: number) => Math.max(chancePast(t, d), window ? window.chanceBy(d) : 0);
    const day = card && open.has(card.id) ? Math.max(0, dayNumber(card.day) - first) : null;
    const { hireIncome, hireChance } = boats.get(t.boatId)!;
    const out = hireChance.length === 0 ? 0 : hireChance.reduce((a, b) => a + b, 0) / hireChance.length;
    for (const { partId, quantity } of t.parts) {
      const own = tasks.get(partId) ?? [];
      own.push({ quantity, sure: day, chanceBy, earnsPerDay: hireIncome * out });
      tasks.set(partId, own);
      if (day === null || day >= days) continue;
      const lines = sure.get(partId) ?? [];
      const same = lines.find((l) => l.jobId === card!.id);
      if (same) same.quantity = cents(same.quantity + quantity);
      else lines.push({ jobId: card!.id, day, boat: names.get(t.boatId) ?? '', quantity: cents(quantity) });
      sure.set(partId, lines);
    }
  });
  return { tasks, sure };
}
