import { clockInZone } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { cardAtWork, FACTS, foldCard, openOnArrival, progressOf } from '@diurna/core/visit';
import { plural } from '@diurna/core/units';
import { and, eq, inArray } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { workOfJobs } from '../visit/index.ts';
import { recordsOf } from './progress.ts';

const { job, boat, base, person, engine } = tables;

/** Work on a boat that is begun and not finished, in a sentence. */
export interface UnderWay {
  /** An engine stands open in the middle of it: that keeps the boat. */
  open: boolean;
  text: string;
}

const openCards = (db: Db | Tx, boatIds: readonly number[]) =>
  db
    .select({ id: job.id, boatId: job.boatId, who: person.name, timeZone: base.timeZone })
    .from(job)
    .innerJoin(person, eq(person.id, job.technicianId))
    .innerJoin(boat, eq(boat.id, job.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(and(inArray(job.boatId, [...boatIds]), eq(job.status, 'open')));

const positionsOn = async (db: Db | Tx, boatIds: readonly number[]) =>
  new Map(
    (
      await db
        .select({ id: engine.id, position: engine.position })
        .from(engine)
        .where(inArray(engine.boatId, [...boatIds]))
    ).map((e) => [e.id, e.position]),
  );

/** Work that is begun on these boats, a sentence for each card: what is open, who works on it and until about when. */
export async function workUnderWay(
  db: Db | Tx,
  boatIds: readonly number[],
  now: Date,
): Promise<Map<number, UnderWay[]>> {
  const found = new Map<number, UnderWay[]>();
  if (boatIds.length === 0) return found;
  const cards = await openCards(db, boatIds);
  const records = await recordsOf(
    db,
    cards.map((c) => c.id),
  );
  const begun = cards.filter((c) => (records.get(c.id)?.length ?? 0) > 0);
  if (begun.length === 0) return found;
  const work = await workOfJobs(
    db,
    now,
    begun.map((c) => c.id),
  );
  const positions = await positionsOn(db, boatIds);
  for (const c of begun) {
    const own = work.get(c.id);
    if (!own) continue;
    const { steps, state, engines, passed } = cardAtWork(
      own.order().steps,
      foldCard(records.get(c.id)!),
      openOnArrival(own.tasks),
    );
    if (state.ticks.size === 0) continue;
    const words = [
      ...new Set(
        engines
          .open()
          .filter((o) => o.by !== null && state.ticks.has(o.by.id))
          .map((o) => {
            const name = engineName('', positions.get(o.engineId) ?? 'single').trim();
            return `${FACTS[o.fact].open}${name === '' ? '' : ` (${name})`}`;
          }),
      ),
    ];
    const progress = progressOf(own.steps, state, now.getTime());
    const left = steps.filter(({ step }) => !passed.has(step.id)).reduce((sum, { step }) => sum + step.minutes, 0);
    const until = `${c.who} works on it, until about ${clockInZone(new Date(now.getTime() + left * 60_000), c.timeZone)}.`;
    const what = words.length === 0 ? `${progress.done} of ${plural(progress.total, 'step')} done` : words.join(', ');
    found.set(c.boatId, [
      ...(found.get(c.boatId) ?? []),
      { open: words.length > 0, text: `${what.charAt(0).toUpperCase()}${what.slice(1)}: ${until}` },
    ]);
  }
  return found;
}

/**
 * What stands open on a boat in the middle of work. Work that opened nothing, or has closed it again, does not keep it.
 */
export async function engineInPieces(db: Db | Tx, boatId: number, now: Date): Promise<string[]> {
  const under = (await workUnderWay(db, [boatId], now)).get(boatId) ?? [];
  return under.filter((u) => u.open).map((u) => u.text);
}
