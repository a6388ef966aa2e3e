import { cardTaskKey, changeKind, type CardStand, type ChangeNames } from '@diurna/core/changes';
import { and, desc, eq, gt, notInArray } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { namesOf, recordChange } from './record.ts';
import { cardStands, standOf, type StandingCard } from './stands.ts';
import { writeCards, type PlannedChange } from './write-cards.ts';

const { boat, change, changeCard, engine, job, jobEntry, jobTask, person } = tables;
type ChangeRow = typeof change.$inferSelect;
type CardRow = typeof changeCard.$inferSelect;

/** A card of a change, and why it cannot be put back; null = it can. */
export interface CardBack extends CardRow {
  now: StandingCard;
  against: 'finished' | 'worked on' | 'changed since' | null;
}

/** A change with its cards, and what stands against putting each back where it was. */
export async function readChange(
  db: Db | Tx,
  id: number,
  { lock = false }: { lock?: boolean } = {},
): Promise<{ row: ChangeRow; undoneBy: number | null; cards: CardBack[] }> {
  const found = db.select().from(change).where(eq(change.id, id));
  const [row] = await (lock ? found.for('update') : found);
  if (!row) throw notFound('decision');
  const [undo] = await db
    .select({ id: change.id })
    .from(change)
    .where(eq(change.undoes, id))
    .orderBy(desc(change.id))
    .limit(1);
  const cards = await db.select().from(changeCard).where(eq(changeCard.changeId, id));
  const ids = cards.map((c) => c.jobId);
  const stands = await cardStands(db, ids, { lock });
  const worked = new Set(
    (
      await db
        .selectDistinct({ jobId: jobEntry.jobId })
        .from(jobEntry)
        .where(and(among(jobEntry.jobId, ids), gt(jobEntry.seq, row.seenEntry)))
    ).map((e) => e.jobId),
  );
  return {
    row,
    undoneBy: undo?.id ?? null,
    cards: cards.map((c) => {
      const now = stands.get(c.jobId)!;
      return {
        ...c,
        now,
        against:
          now.status === 'done'
            ? 'finished'
            : worked.has(c.jobId)
              ? 'worked on'
              : changeKind({ before: c.after, after: now }) !== 'none'
                ? 'changed since'
                : null,
      };
    }),
  };
}

/** Where a card goes back to: a card the change made is called off. */
const backTo = (c: CardRow, text: string): CardStand =>
  c.before ?? { ...c.after, open: false, remark: `Taken back: ${text}` };

/**
 * Puts every card of a change back where it stood, in one go, as a further change; who it touches is told.
 *
 * @throws 409 `worked` when a card was worked on or changed since: the rest can be put back in Plan; also where a
 *   person, an engine or a boat it would go back to has left
 */
export async function undoChange(
  tx: Tx,
  audit: (...lines: AuditLine[]) => Promise<void>,
  id: number,
  who: Who,
  now: Date,
): Promise<{ id: number; cards: number }> {
  // What plans write and what is put back never meet.
  await tx.execute(`select pg_advisory_xact_lock(hashtext('accepted_plan'))`);
  const { row, undoneBy, cards } = await readChange(tx, id, { lock: true });
  if (undoneBy !== null) throw new HttpProblem(409, 'This was taken back already.', [], 'already');
  const names = await namesOf(
    tx,
    cards.map((c) => ({ ...c, boatId: c.now.boatId })),
  );
  const against = cards.filter((c) => c.against !== null);
  if (against.length > 0) {
    const texts = against.map((c) => `${names.boat(c.now.boatId)} was ${c.against!}.`);
    throw new HttpProblem(
      409,
      `${texts.slice(0, 3).join(' ')}${texts.length > 3 ? ` So were ${texts.length - 3} more.` : ''} ${
        cards.length > against.length
          ? `Nothing was taken back. The other ${cards.length - against.length} can be put back in Plan.`
          : 'There is nothing left to take back.'
      }`,
      texts.slice(0, 100).map((text) => ({ path: 'cards', text })),
      'worked',
    );
  }
  const planned = cards.map((c): PlannedChange => ({
    jobId: c.jobId,
    boatId: c.now.boatId,
    before: standOf(c.now),
    after: backTo(c, row.text),
  }));
  await refuseGone(tx, planned, names);
  await refuseTaken(tx, planned, names.boat);
  const written = await writeCards(tx, planned, null);
  const text = `Taken back: ${row.text}`;
  const undone = await recordChange(
    tx,
    { kind: 'undo', text, because: 'Taken back', undoes: id, cards: written },
    who,
    now,
  );
  await audit(
    ...written.map((c): AuditLine => ({
      act: 'changed',
      subject: 'job',
      subjectId: c.jobId,
      title: names.boat(c.boatId),
      before: c.before,
      after: { ...c.after, because: text },
    })),
    { act: 'undone', subject: 'change', subjectId: id, title: row.text, after: { cards: written.length } },
  );
  return { id: undone!, cards: written.length };
}

/** Cards do not come back for boats, engines and people that have left meanwhile. */
async function refuseGone(tx: Tx, planned: readonly PlannedChange[], names: ChangeNames): Promise<void> {
  const open = planned.filter((c) => c.after.open);
  const refuse = (text: string) => new HttpProblem(409, `${text} Nothing was taken back.`, [], 'worked');
  const people = await tx
    .select({ id: person.id })
    .from(person)
    .where(and(eq(person.active, true), among(person.id, [...new Set(open.map((c) => c.after.technicianId))])));
  const hangs = await tx
    .select({ id: engine.id, boatId: engine.boatId })
    .from(engine)
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .where(
      and(
        eq(engine.retired, false),
        eq(boat.retired, false),
        among(engine.id, [...new Set(open.flatMap((c) => c.after.tasks.map((t) => t.engineId)))]),
      ),
    );
  const boatOf = new Map(hangs.map((e) => [e.id, e.boatId]));
  for (const c of open) {
    if (!people.some((p) => p.id === c.after.technicianId))
      throw refuse(`${names.person(c.after.technicianId)} is not in the yard any more.`);
    if (c.after.tasks.some((t) => boatOf.get(t.engineId) !== c.boatId))
      throw refuse(`An engine of ${names.boat(c.boatId)} has left it since, or the boat is retired.`);
  }
}

/** Work that went to other cards meanwhile cannot come back to these. */
async function refuseTaken(tx: Tx, planned: readonly PlannedChange[], boat: (id: number) => string): Promise<void> {
  const ids = planned.flatMap((c) => c.jobId ?? []);
  const wanted = new Map(
    planned.flatMap((c) => (c.after.open ? c.after.tasks.map((t) => [cardTaskKey(t), c] as const) : [])),
  );
  const engines = [...new Set(planned.flatMap((c) => c.after.tasks.map((t) => t.engineId)))];
  const others = await tx
    .select({ engineId: jobTask.engineId, task: jobTask.task })
    .from(jobTask)
    .innerJoin(job, eq(job.id, jobTask.jobId))
    .where(and(eq(jobTask.onOpenJob, true), among(jobTask.engineId, engines), notInArray(jobTask.jobId, ids)));
  const taken = others.flatMap((t) => wanted.get(cardTaskKey(t)) ?? []);
  if (taken.length > 0)
    throw new HttpProblem(
      409,
      `Work of ${boat(taken[0]!.boatId)} has gone to another card since. Call that off first, or arrange it in Plan.`,
      [],
      'worked',
    );
}
