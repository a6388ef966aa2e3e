import { dayWord } from '@diurna/core/calendar';
import { changeKind, toldOf } from '@diurna/core/changes';
import { sql } from 'drizzle-orm';
import { changeLine, namesOf, recordChange, writeCards } from '../changes/index.ts';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import { issuedWith, versionsInForce } from '../visit/index.ts';
import { lastAccepted } from './board.ts';
import { changesOfPlan, type AcceptBody } from './plan-changes.ts';

const { acceptedPlan } = tables;

const titleOf = (body: AcceptBody) =>
  body.kind === 'slip'
    ? `the day of ${dayWord(body.firstDay)} arranged anew`
    : `the plan of ${body.days} days from ${dayWord(body.firstDay)}`;

/** What accepting a plan would change, card by card, and what each person would be told; nothing is written. */
export async function lookAtPlan(db: Db, fleet: FleetCache, body: AcceptBody, who: Who, now: Date) {
  const { changes, cost, kept } = await changesOfPlan(db, fleet, body, now);
  const names = await namesOf(db, changes);
  return {
    changes: changes.map((c) => changeLine(c, names)),
    kept,
    cost,
    told: [...toldOf(changes, names)]
      .filter(([personId]) => personId !== who.id)
      .map(([personId, text]) => ({ personId, name: names.person(personId), text })),
  };
}

/**
 * Makes a plan the book's: its visits become open cards, in one transaction, as one change that can be taken back.
 * Everybody whose work changed is told once.
 *
 * @throws 409 as `changesOfPlan`
 */
export async function acceptPlan(
  tx: Tx,
  fleet: FleetCache,
  audit: (...lines: AuditLine[]) => Promise<void>,
  body: AcceptBody,
  who: Who,
  now: Date,
) {
  // One plan is accepted after the other.
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext('accepted_plan'))`);
  const before = await lastAccepted(tx);
  const { changes, cost, kept, visits } = await changesOfPlan(tx, fleet, body, now, { lock: true });
  const written = await writeCards(tx, changes, await issuedWith(tx, await versionsInForce(tx)));
  const text = titleOf(body);
  const changeId = await recordChange(
    tx,
    { kind: body.kind, text, because: `${who.name}, ${text}`, cards: written },
    who,
    now,
  );
  const [row] = await tx
    .insert(acceptedPlan)
    .values({ firstDay: body.firstDay, days: body.days, cost, personId: who.id, at: now, visits })
    .returning({ id: acceptedPlan.id });
  const names = await namesOf(tx, written);
  const count = (...kinds: string[]) => written.filter((c) => kinds.includes(changeKind(c))).length;
  const outcome = {
    id: row!.id,
    changeId,
    added: count('new'),
    moved: count('given', 'moved', 'work'),
    calledOff: count('called off'),
    kept,
  };
  const ACTS = { new: 'added', 'called off': 'cancelled' } as const;
  await audit(
    ...written.map((c): AuditLine => {
      const kind = changeKind(c);
      return {
        act: kind === 'new' || kind === 'called off' ? ACTS[kind] : 'changed',
        subject: 'job',
        subjectId: c.jobId,
        title: names.boat(c.boatId),
        before: c.before,
        after: c.after,
      };
    }),
    {
      act: 'changed',
      subject: 'plan',
      subjectId: row!.id,
      title: `${body.firstDay}, ${body.days} days`,
      before: before && { id: before.id, cost: before.cost.total },
      after: { ...outcome, cost: cost.total, visits: body.visits.length },
    },
  );
  return outcome;
}
