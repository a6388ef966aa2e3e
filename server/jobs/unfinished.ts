import { engineName, type Position } from '@diurna/core/fleet';
import { missingText, missingToFinish, type CardAtWork, type Missing } from '@diurna/core/visit';
import type { TaskKind } from '@diurna/core/service';
import { and, eq, inArray } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { findingsWhere, holdByHand } from '../findings/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import type { CardWork } from '../visit/index.ts';

const { finding, engine } = tables;

interface LeftOpen {
  engineId: number;
  why: string;
}

/**
 * A job is not finished while a finding is not decided, two entries contradict each other, a gate is not confirmed, an
 * engine is not whole or a reading is missing: all of it is named in one reply. Engines left open on purpose are let
 * pass.
 *
 * @returns what is missing on those
 */
export async function refuseUnfinished(
  tx: Tx,
  id: number,
  work: CardWork,
  card: CardAtWork,
  done: readonly { engineId: number; task: TaskKind }[],
  leftOpen: readonly LeftOpen[],
): Promise<Missing[]> {
  if (leftOpen.some((l) => !work.tasks.some((t) => t.engineId === l.engineId)))
    throw new HttpProblem(409, 'An engine was left open that is not on this card. Load it again.');
  const open = (await findingsWhere(tx, and(eq(finding.jobId, id), eq(finding.state, 'open')))).filter(
    (f) => f.weight !== 'watch',
  );
  const stop = open.find((f) => f.weight === 'stop');
  const missing = missingToFinish(card, work.tasks, new Set(done.map((t) => `${t.engineId} ${t.task}`)));
  const left = new Set(leftOpen.map((l) => l.engineId));
  const wanted = missing.filter((m) => m.engineId === null || !left.has(m.engineId));
  const positions = await positionsOf(tx, work);
  const several = positions.size > 1;
  const sentences = [
    card.state.open.length > 0 &&
      'Two entries on this card contradict each other. Settle which one counts, then finish.',
    stop && `${stop.seen} ${stop.does}`,
    !stop && open.length > 0 && `Say first what becomes of what was found: ${open.map((f) => f.seen).join(' ')}`,
    missingText(wanted, (e) => (several ? engineName('', positions.get(e)!).trim() : '')),
    wanted.some((m) => m.what === 'gate') && 'A person confirms each before the boat goes back on hire.',
  ].filter((x): x is string => typeof x === 'string' && x !== '');
  if (sentences.length > 0)
    throw new HttpProblem(
      409,
      sentences.join(' '),
      wanted.map((m) => ({ path: m.step.id, text: m.what === 'gate' ? m.step.text : m.text })),
    );
  return missing.filter((m) => m.engineId !== null && left.has(m.engineId));
}

async function positionsOf(tx: Tx, work: CardWork): Promise<Map<number, Position>> {
  const rows = await tx
    .select({ id: engine.id, position: engine.position })
    .from(engine)
    .where(inArray(engine.id, [...new Set(work.tasks.map((t) => t.engineId))]));
  return new Map(rows.map((r) => [r.id, r.position]));
}

/** An engine left open on purpose must not go out, and the work that would close it comes up again. */
export async function holdLeftOpen(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  jobId: number,
  leftOpen: readonly LeftOpen[],
  missing: readonly Missing[],
  who: Who,
  now: Date,
): Promise<void> {
  for (const { engineId, why } of leftOpen) {
    const own = missing.filter((m) => m.engineId === engineId);
    if (own.length === 0) continue;
    const words = missingText(own, () => '');
    const checks = [...new Set(own.map((m): TaskKind => m.step.task ?? 'look-over'))];
    await holdByHand(
      tx,
      audit,
      { engineId, why: `Left open on purpose: ${why}. ${words}`.slice(0, 500), checks, jobId, at: now },
      who,
      now,
    );
  }
}
