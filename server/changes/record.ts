import { dayWord } from '@diurna/core/calendar';
import { changeKind, toldOf, type CardStand, type ChangeNames } from '@diurna/core/changes';
import { inArray, max } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Who } from '../http/api.ts';
import { tell, type Message } from '../messages/index.ts';
import { cardStands, standOf } from './stands.ts';
import type { WrittenChange } from './write-cards.ts';

const { boat, change, changeCard, jobEntry, person } = tables;

export type ChangeKind = (typeof change.$inferInsert)['kind'];

/** Names of the boats and people of changes, read once. */
export async function namesOf(
  db: Db | Tx,
  changes: readonly Pick<WrittenChange, 'boatId' | 'before' | 'after'>[],
): Promise<ChangeNames> {
  const boatIds = [...new Set(changes.map((c) => c.boatId))];
  const personIds = [...new Set(changes.flatMap((c) => [c.after.technicianId, c.before?.technicianId ?? []].flat()))];
  const boats =
    boatIds.length === 0
      ? []
      : await db.select({ id: boat.id, name: boat.name }).from(boat).where(inArray(boat.id, boatIds));
  const people =
    personIds.length === 0
      ? []
      : await db.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, personIds));
  const boatNames = new Map(boats.map((b) => [b.id, b.name]));
  const personNames = new Map(people.map((p) => [p.id, p.name]));
  return { boat: (id) => boatNames.get(id) ?? 'A boat', person: (id) => personNames.get(id) ?? 'somebody else' };
}

/** A change with the names people read it by. */
export const changeLine = <C extends Pick<WrittenChange, 'boatId' | 'before' | 'after'>>(c: C, names: ChangeNames) => ({
  ...c,
  boatName: names.boat(c.boatId),
  kind: changeKind(c),
  who: { before: c.before && names.person(c.before.technicianId), after: names.person(c.after.technicianId) },
});

/**
 * Keeps what was decided about cards as one change that can be taken back, and tells everybody it touches, once each;
 * whoever decided it knows.
 *
 * @param because what people are told it comes from; null = the changes alone
 * @returns the id of the change, null = nothing changed
 */
export async function recordChange(
  tx: Tx,
  {
    kind,
    text,
    because = null,
    undoes = null,
    told: toldOtherwise = null,
    cards,
  }: {
    kind: ChangeKind;
    text: string;
    because?: string | null;
    undoes?: number | null;
    /** Somebody who is told in other words. */
    told?: number | null;
    cards: readonly WrittenChange[];
  },
  who: Who,
  now: Date,
): Promise<number | null> {
  if (cards.length === 0) return null;
  const [last] = await tx.select({ seq: max(jobEntry.seq) }).from(jobEntry);
  const [row] = await tx
    .insert(change)
    .values({ kind, text, personId: who.id, at: now, undoes, seenEntry: last?.seq ?? 0 })
    .returning({ id: change.id });
  await tx
    .insert(changeCard)
    .values(
      cards.map((c) => ({
        changeId: row!.id,
        jobId: c.jobId,
        before: c.before && standOf(c.before),
        after: standOf(c.after),
      })),
    );
  const told = toldOf(cards, await namesOf(tx, cards), because);
  const onlyCard = cards.length === 1 && cards[0]!.after.open ? cards[0]!.jobId : null;
  const notices = [...told]
    .filter(([personId]) => personId !== who.id && personId !== toldOtherwise)
    .map(([personId, said]): Message => ({ personId, kind: 'work', text: said, jobId: onlyCard }));
  await tell(tx, notices, now);
  return row!.id;
}

/** One card handed out, moved or called off by hand, kept as a change; where it stands now is read from the book. */
export async function keepCardChange(
  tx: Tx,
  { jobId, before, told = null }: { jobId: number; before: CardStand | null; told?: number | null },
  who: Who,
  now: Date,
): Promise<number | null> {
  const after = (await cardStands(tx, [jobId])).get(jobId)!;
  const kind = changeKind({ before, after });
  if (kind === 'none') return null;
  const card = { jobId, boatId: after.boatId, before, after: standOf(after) };
  const names = await namesOf(tx, [card]);
  const boat = names.boat(after.boatId);
  const place = `${dayWord(after.day)}, ${names.person(after.technicianId)}`;
  const text = {
    new: `${boat} handed out: ${place}`,
    given: `${boat} given to ${names.person(after.technicianId)}, ${dayWord(after.day)}`,
    moved: `${boat} moved to ${place}`,
    work: `${boat}, other work: ${place}`,
    hour: `${boat}, another hour: ${place}`,
    'called off': `${boat} called off: ${place}`,
  }[kind];
  return recordChange(tx, { kind: 'card', text, told, cards: [card] }, who, now);
}
