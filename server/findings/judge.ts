import { findingsOf, type Finding, type FindingEngine, type ReadingValue } from '@diurna/core/findings';
import { sql } from 'drizzle-orm';
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';

const { finding } = tables;

/**
 * Judges a card's readings anew: findings that came up are written down, those whose readings were corrected
 * before anybody decided are withdrawn. What a person decided stays.
 *
 * @returns findings that are new
 */
export async function judgeCard(
  tx: Tx,
  jobId: number,
  engines: readonly FindingEngine[],
  readings: Record<string, ReadingValue>,
  now: Date,
): Promise<Finding[]> {
  const found = engines.flatMap((e) => findingsOf(e, readings)).filter((f) => f.weight !== 'normal');
  const known = await tx.select().from(finding).where(eq(finding.jobId, jobId));
  const fresh: Finding[] = [];
  for (const f of found) {
    const old = known.find((k) => k.engineId === f.engineId && k.code === f.code);
    const on = Object.fromEntries(f.from.filter((key) => readings[key]).map((key) => [key, readings[key]!]));
    const values = {
      weight: f.weight,
      seen: f.seen,
      means: f.means,
      does: f.does,
      proposals: f.proposals,
      readings: on,
    };
    if (!old) {
      await tx.insert(finding).values({ jobId, engineId: f.engineId, code: f.code, at: now, ...values });
      fresh.push(f);
    } else if (old.state === 'open' || old.state === 'withdrawn') {
      if (old.state === 'withdrawn' || old.seen !== f.seen || old.weight !== f.weight)
        await tx
          .update(finding)
          .set({ ...values, state: 'open' })
          .where(eq(finding.id, old.id));
    }
  }
  for (const old of known) {
    if (old.state === 'open' && !found.some((f) => f.engineId === old.engineId && f.code === old.code))
      await tx.update(finding).set({ state: 'withdrawn' }).where(eq(finding.id, old.id));
  }
  return fresh;
}

/** Engines whose oil was never written down as changed, by id, as findings ask it; the card itself does not count. */
export async function firstOilOf(db: Db | Tx, engineIds: readonly number[], jobId: number): Promise<Set<number>> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.number() }),
    sql`
    select e.id from engine e
    where e.id = any(${sql.param([...engineIds])}::int[]) and e.bought_new
      and not exists (select 1 from service_entry s where s.engine_id = e.id and s.task = 'engine-oil'
        and s.cancels is null and s.job_id is distinct from ${jobId}
                      and not exists (select 1 from service_entry c where c.cancels = s.id))`,
  );
  return new Set(rows.map((r) => r.id));
}
