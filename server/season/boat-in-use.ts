import { eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import { BOAT_GONE, faulty } from '../http/problem.ts';

const { boat } = tables;

/** The boat, locked for a write. @throws 422 where it is not in the fleet any more */
export async function boatInUse(tx: Tx, id: number) {
  const [row] = await tx.select().from(boat).where(eq(boat.id, id)).for('update');
  if (!row || row.retired) throw faulty('id', BOAT_GONE);
  return row;
}
