import { dayInZone } from '@diurna/core/calendar';
import type { FindingRow, Trend } from '@diurna/contract/findings';
import {
  causesOf,
  READINGS,
  readingOf,
  visitFor,
  compressionSpread,
  kilopascalsOf,
  type SnagEvidence,
  type SymptomKey,
} from '@diurna/core/findings';
import { nearestLimit, TASKS } from '@diurna/core/service';
import { and, desc, eq, inArray, ne, type SQL } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';
import type { FleetCache } from '../service/index.ts';
import { followUpsOf, holdsWhere } from './holds.ts';
import { readingsOf, type ReadingRow } from './readings.ts';

const { finding, hold, person, snag, job, engine, boat } = tables;
const LATELY_DAYS = 10;

/** Findings, newest first, at most `limit`. */
export async function findingsWhere(db: Db | Tx, where: SQL | undefined, limit = 100): Promise<FindingRow[]> {
  const rows = await db
    .select({ f: finding, by: person.name })
    .from(finding)
    .leftJoin(person, eq(person.id, finding.decidedBy))
    .where(where)
    .orderBy(desc(finding.at), desc(finding.id))
    .limit(limit);
  return rows.map(({ f, by }) => ({
    id: f.id,
    key: `${f.engineId} ${f.code}`,
    jobId: f.jobId,
    engineId: f.engineId,
    weight: f.weight,
    seen: f.seen,
    means: f.means,
    does: f.does,
    proposals: f.proposals,
    state: f.state,
    by,
    reason: f.reason,
    at: f.at.toISOString(),
  }));
}

/** Findings that would hold an engine and are not decided, of open and finished cards. */
export async function undecidedHolds(db: Db, baseId: number | null) {
  return db
    .select({
      id: finding.id,
      jobId: finding.jobId,
      boatId: boat.id,
      boatName: boat.name,
      position: engine.position,
      seen: finding.seen,
      does: finding.does,
    })
    .from(finding)
    .innerJoin(job, eq(job.id, finding.jobId))
    .innerJoin(engine, eq(engine.id, finding.engineId))
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .where(
      and(
        eq(finding.state, 'open'),
        inArray(finding.weight, ['hold', 'stop']),
        ne(job.status, 'cancelled'),
        baseId === null ? undefined : eq(boat.baseId, baseId),
      ),
    )
    .orderBy(desc(finding.at))
    .limit(100);
}

export function trendsOf(rows: readonly ReadingRow[], engineId: number): Trend[] {
  const trends = new Map<string, Trend>();
  for (const r of rows) {
    if (r.engine_id !== engineId) continue;
    const of = readingOf(r.key);
    if (!of || !READINGS[of.kind].trend) continue;
    const key = `${of.kind} ${of.part ?? ''}`;
    const trend = trends.get(key) ?? { kind: of.kind, part: of.part, points: [] };
    trend.points.push({
      jobId: r.job_id,
      day: r.day,
      hours: r.hours === null ? null : Number(r.hours),
      value: r.value,
    });
    trends.set(key, trend);
  }
  return [...trends.values()].sort(
    (a, b) => a.kind.localeCompare(b.kind) || (a.part ?? '').localeCompare(b.part ?? '', 'en', { numeric: true }),
  );
}

/** What the engine's own record says of a trouble. */
async function evidenceOf(db: Db, fleet: FleetCache, now: Date, engineId: number): Promise<SnagEvidence | null> {
  const facts = fleet.engines.get(engineId);
  if (!facts) return null;
  const rows = await readingsOf(db, [engineId]);
  const looks: SnagEvidence['looks'] = {};
  for (const r of rows) {
    const of = readingOf(r.key);
    const option =
      of && 'choice' in r.value
        ? READINGS[of.kind].options?.find((o) => o.key === (r.value as { choice: string }).choice)
        : undefined;
    if (of && option)
      looks[of.kind] = {
        choice: option.key,
        text: `${READINGS[of.kind].word.toLowerCase()} ${option.word} on ${r.day}`,
      };
  }
  const lastTest = rows.findLast((r) => readingOf(r.key)?.kind === 'compression')?.job_id;
  const pressures = rows
    .filter((r) => r.job_id === lastTest && readingOf(r.key)?.kind === 'compression')
    .flatMap((r) => ('value' in r.value ? [kilopascalsOf(r.value) ?? 0] : []));
  const spread = compressionSpread(pressures);
  const today = dayInZone(now, facts.timeZone);
  const lately = [...facts.lastDone]
    .filter(([, d]) => (Date.parse(today) - Date.parse(d.day)) / 86_400_000 <= LATELY_DAYS)
    .map(([task, d]) => `${TASKS[task].word.toLowerCase()} on ${d.day}`);
  return {
    stroke: facts.stroke,
    sand: facts.sand,
    looks,
    used: Object.fromEntries(
      fleet
        .dueOf(engineId, now)
        .map(({ due }) => [
          due.task,
          {
            share: due.state === 'unknown' ? null : due.share,
            text: `${TASKS[due.task].word.toLowerCase()}: ${nearestLimit(due)}`,
          },
        ]),
    ),
    compression: spread === null ? null : { spread, text: `compression ${Math.round(spread * 1000) / 10} % apart` },
    openedLately: lately.length === 0 ? null : `worked on lately: ${lately.join(', ')}`,
  };
}

export function conditionHandlers(fleet: FleetCache): Handlers<'engineCondition' | 'snagCauses'> {
  return {
    async engineCondition({ db, params, now }) {
      await fleet.refresh(now);
      const facts = fleet.engines.get(params.id);
      const twins = facts
        ? (fleet.boats.get(facts.boatId)?.engines ?? []).filter(
            (e) => e.id !== params.id && e.modelId === facts.modelId,
          )
        : [];
      const [rows, findings, holds, followUps] = await Promise.all([
        readingsOf(db, [params.id, ...twins.map((t) => t.id)]),
        findingsWhere(
          db,
          and(eq(finding.engineId, params.id), inArray(finding.state, ['open', 'taken', 'overridden'])),
        ),
        holdsWhere(db, eq(hold.engineId, params.id)),
        followUpsOf(db, [params.id]),
      ]);
      return {
        trends: trendsOf(rows, params.id),
        twins: twins.map((t) => ({ engineId: t.id, position: t.position, trends: trendsOf(rows, t.id) })),
        findings,
        holds,
        followUps,
      };
    },

    async snagCauses({ db, params, now }) {
      const [found] = await db.select().from(snag).where(eq(snag.id, params.id));
      if (!found) throw notFound('snag');
      if (found.symptom === null) return [];
      await fleet.refresh(now);
      const engines = (fleet.boats.get(found.boatId)?.engines ?? []).filter(
        (e) => found.engineId === null || e.id === found.engineId,
      );
      return Promise.all(
        engines.map(async (e) => {
          const evidence = await evidenceOf(db, fleet, now, e.id);
          const causes = evidence ? causesOf(found.symptom as SymptomKey, evidence) : [];
          return { engineId: e.id, position: e.position, causes, visit: visitFor(causes) };
        }),
      );
    },
  };
}
