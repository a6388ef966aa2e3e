import type { ChangeReply } from '@diurna/contract/changes';
import { desc, eq, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { changeLine, namesOf } from './record.ts';
import { readChange, undoChange } from './undo-change.ts';

export { changeLine, keepCardChange, namesOf, recordChange } from './record.ts';
export { cardStand, cardStands, standOf, type StandingCard } from './stands.ts';
export { writeCards, type PlannedChange, type WrittenChange } from './write-cards.ts';

const { change, person } = tables;
/** Decisions shown of late. */
const LATELY = 20;

/** A decision as it is shown: its cards, and whether it can be taken back. */
async function shown(db: Db | Tx, id: number): Promise<ChangeReply> {
  const { row, undoneBy, cards } = await readChange(db, id);
  const [by] =
    row.personId === null ? [] : await db.select({ name: person.name }).from(person).where(eq(person.id, row.personId));
  const names = await namesOf(
    db,
    cards.map((c) => ({ ...c, boatId: c.now.boatId })),
  );
  return {
    id: row.id,
    kind: row.kind,
    text: row.text,
    at: row.at.toISOString(),
    by: by?.name ?? null,
    takenBack: undoneBy !== null,
    cards: cards.map(({ jobId, now, before, after, against }) => ({
      ...changeLine({ jobId, boatId: now.boatId, before, after }, names),
      against,
    })),
  };
}

/** What was decided about cards of late, looked at and taken back. */
export const changesHandlers: Handlers<'listChanges' | 'readChange' | 'undoChange'> = {
  async listChanges({ db }) {
    const rows = await db
      .select({
        id: change.id,
        kind: change.kind,
        text: change.text,
        at: change.at,
        by: person.name,
        cards: sql<number>`(select count(*)::int from change_card c where c.change_id = ${change.id})`,
        takenBack: sql<boolean>`exists (select 1 from change u where u.undoes = ${change.id})`,
      })
      .from(change)
      .leftJoin(person, eq(person.id, change.personId))
      .orderBy(desc(change.id))
      .limit(LATELY);
    return rows.map((r) => ({ ...r, at: r.at.toISOString() }));
  },
  readChange: ({ db, params }) => shown(db, params.id),
  undoChange: ({ params, write, who, now }) => write((tx, audit) => undoChange(tx, audit, params.id, who, now)),
};
