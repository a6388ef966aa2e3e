import { gatesOf, type CardState } from '@diurna/core/visit';
import type { TaskKind } from '@diurna/core/service';
import { and, eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { findingsWhere } from '../findings/index.ts';
import { HttpProblem } from '../http/problem.ts';
import type { CardWork } from '../visit/index.ts';

const { finding } = tables;

/** A job is not finished while a gate is not confirmed, a finding not decided, or two entries contradict each other. */
export async function refuseUnfinished(
  tx: Tx,
  id: number,
  work: CardWork,
  state: CardState,
  done: readonly { engineId: number; task: TaskKind }[],
): Promise<void> {
  if (state.open.length > 0)
    throw new HttpProblem(409, 'Two entries on this card contradict each other. Settle which one counts, then finish.');
  const open = (await findingsWhere(tx, and(eq(finding.jobId, id), eq(finding.state, 'open')))).filter(
    (f) => f.weight !== 'watch',
  );
  const stop = open.find((f) => f.weight === 'stop');
  if (stop) throw new HttpProblem(409, `${stop.seen} ${stop.does}`);
  if (open.length > 0)
    throw new HttpProblem(409, `Say first what becomes of what was found: ${open.map((f) => f.seen).join(' ')}`);
  const missing = gatesOf(work.steps, work.tasks, new Set(done.map((t) => `${t.engineId} ${t.task}`))).filter(
    (s) => !state.ticks.has(s.id),
  );
  if (missing.length > 0)
    throw new HttpProblem(
      409,
      `Not confirmed yet: ${missing
        .map((s) => s.gate)
        .filter((g, i, all) => all.indexOf(g) === i)
        .join(', ')}. A person confirms each before the boat goes back on hire.`,
      missing.map((s) => ({ path: s.id, text: s.text })),
    );
}
