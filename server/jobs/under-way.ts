import { clockInZone } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { cardAtWork, FACTS, foldCard, openOnArrival } from '@diurna/core/visit';
import { and, eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { workOfJobs } from '../visit/index.ts';
import { recordsOf } from './progress.ts';

const { job, boat, base, person, engine } = tables;

/**
 * Engines of a boat that stand open in the middle of work, one sentence for each card: what is open, who works on it and
 * until about when. Work that has not opened anything, or has closed it again, does not keep a boat.
 */
export async function engineInPieces(db: Db | Tx, boatId: number, now: Date): Promise<string[]> {
  const cards = await db
    .select({ id: job.id, who: person.name, boatName: boat.name, timeZone: base.timeZone })
    .from(job)
    .innerJoin(person, eq(person.id, job.technicianId))
    .innerJoin(boat, eq(boat.id, job.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(and(eq(job.boatId, boatId), eq(job.status, 'open')));
  const ids = cards.map((c) => c.id);
  const records = await recordsOf(db, ids);
  const begun = cards.filter((c) => (records.get(c.id)?.length ?? 0) > 0);
  if (begun.length === 0) return [];
  const work = await workOfJobs(
    db,
    now,
    begun.map((c) => c.id),
  );
  const positions = new Map(
    (await db.select({ id: engine.id, position: engine.position }).from(engine).where(eq(engine.boatId, boatId))).map(
      (e) => [e.id, e.position],
    ),
  );
  return begun.flatMap((c) => {
    const own = work.get(c.id);
    if (!own) return [];
    const { steps, state, engines, passed } = cardAtWork(
      own.order().steps,
      foldCard(records.get(c.id)!),
      openOnArrival(own.tasks),
    );
    if (state.ticks.size === 0) return [];
    const open = engines.open().filter((o) => o.by !== null && state.ticks.has(o.by.id));
    if (open.length === 0) return [];
    const words = [
      ...new Set(
        open.map((o) => {
          const name = engineName('', positions.get(o.engineId) ?? 'single').trim();
          return `${FACTS[o.fact].open}${name === '' ? '' : ` (${name})`}`;
        }),
      ),
    ];
    const left = steps.filter(({ step }) => !passed.has(step.id)).reduce((sum, { step }) => sum + step.minutes, 0);
    const until = clockInZone(new Date(now.getTime() + left * 60_000), c.timeZone);
    const first = words[0]!;
    return [
      `${first.charAt(0).toUpperCase()}${first.slice(1)}${words.length > 1 ? `, ${words.slice(1).join(', ')}` : ''}: ${c.who} works on it, until about ${until}.`,
    ];
  });
}
