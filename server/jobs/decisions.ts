import type { CardAct, CardState } from '@diurna/core/visit';
import { and, eq, isNotNull, ne } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { applyProposals, holdByHand, takeBack, TAKEN_BACK } from '../findings/index.ts';
import type { AuditLine, Who } from '../http/api.ts';

const { finding, hold } = tables;

const isFinding = (jobId: number, key: string) =>
  and(
    eq(finding.jobId, jobId),
    eq(finding.engineId, Number(key.slice(0, key.indexOf(' ')))),
    eq(finding.code, key.slice(key.indexOf(' ') + 1)),
  );

/** What stops the work cannot be waved through: the figure is put right, or a person says why it may go on. */
export async function stopFault(tx: Tx, jobId: number, key: string): Promise<string | null> {
  const [found] = await tx
    .select({ weight: finding.weight, does: finding.does })
    .from(finding)
    .where(isFinding(jobId, key));
  return found?.weight === 'stop' ? `${found.does} Correct the figure, or say why it may go on.` : null;
}

/** A finding is taken as proposed, with all that follows, or overridden for a reason. */
export async function decide(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  jobId: number,
  act: Extract<CardAct, { kind: 'decide' }>,
  state: CardState,
  who: Who,
  now: Date,
): Promise<void> {
  const [found] = await tx.select().from(finding).where(isFinding(jobId, act.finding)).for('update');
  if (found?.state !== 'open' || (act.take && found.weight === 'stop')) return;
  await tx
    .update(finding)
    .set({ state: act.take ? 'taken' : 'overridden', decidedBy: who.id, decidedAt: now, reason: act.reason })
    .where(eq(finding.id, found.id));
  const seen = seenAt(found, state, now);
  if (act.take) await applyProposals(tx, found, seen, who, now);
  // What would have held it is not waved through on the dock: it stays in until the desk agrees.
  else if (found.weight === 'hold' && who.role === 'technician')
    await holdByHand(
      tx,
      audit,
      {
        engineId: found.engineId,
        findingId: found.id,
        why: `${found.seen} ${who.name} would let it go: ${act.reason ?? ''} A coordinator confirms that.`,
        checks: [],
        jobId,
        at: seen,
      },
      who,
      now,
    );
}

/** Once the desk has let the engine go, the dock does not take its hold back. */
export async function takenBackFault(tx: Tx, jobId: number, key: string, state: CardState): Promise<string | null> {
  // By the card's own record: decided and taken back without signal, both come at once.
  if (!state.decisions.has(key)) return 'There is nothing to take back here.';
  const released = await tx
    .select({ id: hold.id })
    .from(hold)
    .innerJoin(finding, eq(finding.id, hold.findingId))
    .where(and(isFinding(jobId, key), isNotNull(hold.releasedAt), ne(hold.releasedBecause, TAKEN_BACK)));
  return released.length > 0 ? 'The coordinator has let the engine go on it already. Ask the coordinator.' : null;
}

/** A decision is taken back: what followed from it is called off, and the finding waits to be decided again. */
export async function undecide(tx: Tx, jobId: number, key: string, who: Who, now: Date): Promise<void> {
  const [found] = await tx.select().from(finding).where(isFinding(jobId, key)).for('update');
  if (!found || (found.state !== 'taken' && found.state !== 'overridden')) return;
  await takeBack(tx, found, who, now);
  await tx
    .update(finding)
    .set({ state: 'open', decidedBy: null, decidedAt: null, reason: null })
    .where(eq(finding.id, found.id));
}

/** When the last of a finding's readings was taken: work begun after that can clear it. */
function seenAt(found: { readings: Record<string, unknown> }, state: CardState, now: Date): Date {
  const times = Object.keys(found.readings).flatMap((key) => state.readings.get(key)?.at ?? []);
  return times.length === 0 ? now : new Date(Math.min(now.getTime(), Math.max(...times)));
}
