import type { EngineDue } from '@diurna/core/ahead';
import type { Boat, BoatOrder } from '@diurna/contract/fleet';
import { POSITIONS } from '@diurna/core/fleet';
import { and, asc, count, eq, exists, inArray, or, type SQL } from 'drizzle-orm';
import { tables, type Db, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { nearestOf, type FleetCache } from '../service/index.ts';

const { boat, base, engine, engineModel, job } = tables;

/** The boats of these numbers in their order, as the refreshed fleet knows them. */
async function boatsWithEngines(db: Db, fleet: FleetCache, now: Date, ids: readonly number[]): Promise<Boat[]> {
  const boats =
    ids.length === 0
      ? []
      : await db
          .select({ b: boat, baseName: base.name })
          .from(boat)
          .innerJoin(base, eq(base.id, boat.baseId))
          .where(inArray(boat.id, [...ids]));
  boats.sort((x, y) => ids.indexOf(x.b.id) - ids.indexOf(y.b.id));
  const duesOf = new Map<number, EngineDue[]>();
  for (const one of fleet.allDue(now))
    if (ids.includes(one.facts.boatId)) duesOf.set(one.facts.id, [...(duesOf.get(one.facts.id) ?? []), one]);
  const engines =
    boats.length === 0
      ? []
      : await db
          .select({ e: engine, modelName: engineModel.name, maker: engineModel.maker })
          .from(engine)
          .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
          .where(
            and(
              eq(engine.retired, false),
              inArray(
                engine.boatId,
                boats.map(({ b }) => b.id),
              ),
            ),
          );
  return boats.map(({ b, baseName }) => ({
    id: b.id,
    version: b.version,
    name: b.name,
    baseId: b.baseId,
    baseName,
    berth: b.berth,
    boatClass: b.boatClass,
    sand: b.sand,
    salt: b.salt,
    hireDayMinor: b.hireDayMinor,
    retired: b.retired,
    engines: engines
      .filter(({ e }) => e.boatId === b.id)
      .map(({ e, modelName, maker }) => ({
        id: e.id,
        version: e.version,
        position: e.position,
        serial: e.serial,
        modelId: e.modelId,
        modelName: `${maker} ${modelName}`,
        lifeHours: fleet.engines.get(e.id)?.lifeHours ?? null,
        lastReadDay: fleet.engines.get(e.id)?.lastReadDay ?? null,
        nearest: nearestOf(duesOf.get(e.id) ?? []),
      }))
      .sort((x, y) => POSITIONS.indexOf(x.position) - POSITIONS.indexOf(y.position)),
  }));
}

/** Boats with this text in anything of their line: name, berth, base, model or serial of an engine. */
const anythingHolds = (db: Db, text: string): SQL | undefined =>
  or(
    holdsText(boat.name, text),
    holdsText(boat.berth, text),
    holdsText(base.name, text),
    exists(
      db
        .select({ id: engine.id })
        .from(engine)
        .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
        .where(
          and(
            eq(engine.boatId, boat.id),
            eq(engine.retired, false),
            or(holdsText(engine.serial, text), holdsText(engineModel.name, text), holdsText(engineModel.maker, text)),
          ),
        ),
    ),
  );

type Line = { id: number; name: string; baseName: string };
/** What stands first is smallest; a boat without it comes last. */
type Key = (line: Line) => string | number | undefined;

/**
 * By what boats are put in order: hours of the engine with the most, the reading longest ago, the work furthest over.
 */
function keysOf(fleet: FleetCache, now: Date, order: Exclude<BoatOrder, 'boat'>): Key {
  if (order === 'base') return (line) => line.baseName;
  const keys = new Map<number, string | number>();
  const keep = (boatId: number, key: string | number | null) => {
    const known = keys.get(boatId);
    if (key !== null && (known === undefined || key < known)) keys.set(boatId, key);
  };
  if (order === 'due') fleet.allDue(now).forEach(({ facts }, place) => keep(facts.boatId, place));
  else
    for (const e of fleet.engines.values())
      keep(
        e.boatId,
        order === 'model' ? e.modelName : order === 'read' ? e.lastReadDay : e.lifeHours === null ? null : -e.lifeHours,
      );
  return (line) => keys.get(line.id);
}

const byKey = (key: Key) => (a: Line, b: Line) => {
  const [x, y] = [key(a), key(b)];
  if (x === y) return 0;
  if (x === undefined || y === undefined) return x === undefined ? 1 : -1;
  return typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y));
};

type Names = 'listBoats' | 'readBoat' | 'addBoat' | 'editBoat' | 'retireBoat';

export function boatHandlers(fleet: FleetCache): Handlers<Names> {
  return {
    async listBoats({ db, query, now }) {
      const where = and(
        eq(boat.retired, query.retired === 'yes'),
        query.baseId === undefined ? undefined : eq(boat.baseId, query.baseId),
        query.q ? anythingHolds(db, query.q) : undefined,
      );
      await fleet.refresh(now);
      const found = await db
        .select({ id: boat.id, name: boat.name, baseName: base.name })
        .from(boat)
        .innerJoin(base, eq(base.id, boat.baseId))
        .where(where)
        .orderBy(asc(boat.name), asc(boat.id));
      const inOrder = query.order === 'boat' ? found : [...found].sort(byKey(keysOf(fleet, now, query.order)));
      if (query.down === 'yes') inOrder.reverse();
      const start = (query.page - 1) * query.size;
      const ids = inOrder.slice(start, start + query.size).map((b) => b.id);
      const rows = await boatsWithEngines(db, fleet, now, ids);
      return { rows, total: found.length, page: query.page, size: query.size };
    },

    async readBoat({ db, params, now }) {
      await fleet.refresh(now);
      const [found] = await boatsWithEngines(db, fleet, now, [params.id]);
      if (!found) throw notFound('boat');
      return found;
    },

    addBoat: ({ body, write }) =>
      write(async (tx, audit) => {
        const [row] = await tx.insert(boat).values(body).returning();
        await audit({ act: 'added', subject: 'boat', subjectId: row!.id, title: row!.name, after: body });
        return { id: row!.id, version: row!.version };
      }),

    editBoat: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, boat, params.id, version, 'boat');
        const [row] = await tx
          .update(boat)
          .set({ ...rest, ...nextVersion(boat) })
          .where(eq(boat.id, params.id))
          .returning();
        await audit({ act: 'changed', subject: 'boat', subjectId: row!.id, title: row!.name, before, after: rest });
        return { id: row!.id, version: row!.version };
      }),

    retireBoat: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, boat, params.id, body.version, 'boat');
        const [open] = await tx
          .select({ n: count() })
          .from(job)
          .where(and(eq(job.boatId, params.id), eq(job.status, 'open')));
        if (body.retired && open!.n > 0) {
          throw new HttpProblem(
            422,
            `${before.name} still has ${open!.n} open ${open!.n === 1 ? 'job' : 'jobs'}. Finish them or call them off first.`,
          );
        }
        const [row] = await tx
          .update(boat)
          .set({ retired: body.retired, ...nextVersion(boat) })
          .where(eq(boat.id, params.id))
          .returning();
        await audit({
          act: body.retired ? 'retired' : 'taken back',
          subject: 'boat',
          subjectId: row!.id,
          title: row!.name,
        });
        return { id: row!.id, version: row!.version };
      }),
  };
}
