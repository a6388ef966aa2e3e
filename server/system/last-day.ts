import type { LastDay, Slow } from '@diurna/contract/system';
import { and, asc, gte, lte, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, rowsOf } from '../db/index.ts';
import { addBuckets, boundOf, emptyBuckets } from './buckets.ts';
import type { Told } from './watch.ts';

const { watchedHour } = tables;
const HOUR_MS = 3_600_000;
const HOURS = 24;
const LATELY_MS = 600_000;
const LONGEST = 10;

/** The longest of each thing, over all hours and processes. */
function longest(all: Slow[]): Slow[] {
  const most = new Map<string, Slow>();
  for (const one of all) if ((most.get(one.what)?.took ?? -1) < one.took) most.set(one.what, one);
  return [...most.values()].sort((a, b) => b.took - a.took).slice(0, LONGEST);
}

/** How the app did within the last day: an hour without a request is told as such. */
export async function readLastDay(db: Db, version: string, now: Date): Promise<LastDay> {
  const lastHour = Math.floor(now.getTime() / HOUR_MS);
  const firstHour = lastHour - HOURS + 1;
  const [rows, facts] = await Promise.all([
    db
      .select()
      .from(watchedHour)
      .where(and(gte(watchedHour.hour, new Date(firstHour * HOUR_MS)), lte(watchedHour.hour, now)))
      .orderBy(asc(watchedHour.hour)),
    rowsOf(
      db,
      z.object({ version: z.string(), size: z.string() }),
      sql`select current_setting('server_version') as version, pg_database_size(current_database()) as size`,
    ),
  ]);
  const told = rows.map((r) => ({
    ...(r.told as Told),
    hour: r.hour.getTime() / HOUR_MS,
    process: r.process,
    at: r.at,
  }));
  return {
    version,
    processes: new Set(told.filter((t) => now.getTime() - t.at.getTime() < LATELY_MS).map((t) => t.process)).size,
    database: facts[0]!.version.split(' ')[0]!,
    size: Math.round(Number(facts[0]!.size) / 1e6),
    hours: Array.from({ length: HOURS }, (_, i) => {
      const of = told.filter((t) => t.hour === firstHour + i);
      const took = of.reduce((all, t) => addBuckets(all, t.took), emptyBuckets());
      const sum = (what: 'requests' | 'failed' | 'busy') => of.reduce((n, t) => n + t[what], 0);
      const most = (what: 'loopP99' | 'memory') => of.reduce((n, t) => Math.max(n, t[what]), 0);
      return {
        hour: new Date((firstHour + i) * HOUR_MS).toISOString(),
        requests: sum('requests'),
        failed: sum('failed'),
        busy: sum('busy'),
        p50: boundOf(took, 0.5),
        p95: boundOf(took, 0.95),
        p99: boundOf(took, 0.99),
        loopP99: most('loopP99'),
        memory: most('memory'),
      };
    }),
    requests: longest(told.flatMap((t) => t.slowRequests)),
    statements: longest(told.flatMap((t) => t.slowStatements)),
  };
}
