import { engineName } from '@diurna/core/fleet';
import { eq, inArray } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';

const { base, boat, engine, engineModel, part, person } = tables;

type Reader = (db: Db, ids: number[]) => Promise<{ id: number; name: string }[]>;
const boats: Reader = (db, ids) => db.select({ id: boat.id, name: boat.name }).from(boat).where(inArray(boat.id, ids));
const people: Reader = (db, ids) =>
  db.select({ id: person.id, name: person.name }).from(person).where(inArray(person.id, ids));

/** Fields of an act that hold the number of something with a name, and how that is read. */
const OF_FIELD: Record<string, Reader> = {
  boatId: boats,
  givenFrom: boats,
  personId: people,
  technicianId: people,
  baseId: (db, ids) => db.select({ id: base.id, name: base.name }).from(base).where(inArray(base.id, ids)),
  modelId: (db, ids) =>
    db.select({ id: engineModel.id, name: engineModel.name }).from(engineModel).where(inArray(engineModel.id, ids)),
  partId: (db, ids) => db.select({ id: part.id, name: part.number }).from(part).where(inArray(part.id, ids)),
  engineId: async (db, ids) => {
    const rows = await db
      .select({ id: engine.id, position: engine.position, serial: engine.serial, boat: boat.name })
      .from(engine)
      .leftJoin(boat, eq(boat.id, engine.boatId))
      .where(inArray(engine.id, ids));
    return rows.map((e) => ({ id: e.id, name: e.boat === null ? e.serial : engineName(e.boat, e.position) }));
  },
};

/** The names of what these acts speak of by number, by field and number: `boatId 17`. */
export async function namesIn(db: Db, acts: readonly { before: unknown; after: unknown }[]) {
  const wanted = new Map<string, Set<number>>();
  const look = (side: unknown, of = '') => {
    if (typeof side === 'number' && Number.isInteger(side) && of in OF_FIELD)
      wanted.set(of, (wanted.get(of) ?? new Set()).add(side));
    else if (Array.isArray(side)) for (const one of side as unknown[]) look(one, of);
    else if (typeof side === 'object' && side !== null)
      for (const [field, value] of Object.entries(side)) look(value, field);
  };
  for (const { before, after } of acts) {
    look(before);
    look(after);
  }
  const names: Record<string, string> = {};
  for (const [field, ids] of wanted)
    for (const { id, name } of await OF_FIELD[field]!(db, [...ids])) names[`${field} ${id}`] = name;
  return names;
}
