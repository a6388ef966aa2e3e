import type { JobSummary } from '@diurna/contract/jobs';
import { dayNumber, minuteInZone, type Day } from '@diurna/core/calendar';
import { and, eq, sql } from 'drizzle-orm';
import { among, tables, type Db } from '../db/index.ts';

const { job, jobEntry } = tables;

/** Ticked in less time than this, a card was ticked afterwards: it was finished then, and took what it takes. */
const TICKED_AFTERWARDS = 5;

/** When cards of a day were worked on, by the clock of their bases. */
export async function readWorked(
  db: Db,
  day: Day,
  jobs: readonly JobSummary[],
  bases: readonly { id: number; timeZone: string }[],
): Promise<(jobId: number) => { from: number; to: number } | null> {
  const rows = await db
    .select({
      jobId: job.id,
      from: sql<string | null>`min(${jobEntry.at})`,
      to: sql<string | null>`max(${jobEntry.at})`,
      finishedAt: job.finishedAt,
    })
    .from(job)
    .leftJoin(jobEntry, and(eq(jobEntry.jobId, job.id), sql`${jobEntry.act} ->> 'kind' in ('tick', 'task')`))
    .where(
      among(
        job.id,
        jobs.map((j) => j.id),
      ),
    )
    .groupBy(job.id);
  const zoneOf = new Map(bases.map((b) => [b.id, b.timeZone]));
  const spans = new Map(
    rows.flatMap((r) => {
      const zone = zoneOf.get(jobs.find((j) => j.id === r.jobId)!.baseId) ?? 'UTC';
      const at = (instant: Date) => {
        const { dayNo, minute } = minuteInZone(instant.getTime(), zone);
        return (dayNo - dayNumber(day)) * 1440 + minute;
      };
      const last = r.finishedAt ?? (r.to === null ? null : new Date(r.to));
      if (last === null) return [];
      const [from, to] = [at(r.from === null ? last : new Date(r.from)), at(last)];
      // Worked on another day, it stands where it was planned.
      if (from < 0 || to >= 1440) return [];
      const minutes = jobs.find((j) => j.id === r.jobId)!.minutes;
      return [
        [r.jobId, to - from < TICKED_AFTERWARDS ? { from: Math.max(0, to - Math.round(minutes)), to } : { from, to }],
      ] as const;
    }),
  );
  return (jobId) => spans.get(jobId) ?? null;
}
