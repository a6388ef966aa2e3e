import type { Boat } from '@diurna/contract/fleet';
import { POSITIONS } from '@diurna/core/fleet';
import { and, asc, count, eq, inArray, type SQL } from 'drizzle-orm';
import { tables, type Db, holdsText } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import type { FleetCache } from '../service/index.ts';

const { boat, base, engine, engineModel, job } = tables;

async function boatsWithEngines(
  db: Db,
  fleet: FleetCache,
  now: Date,
  where: SQL | undefined,
  limit: number,
  offset: number,
): Promise<Boat[]> {
  await fleet.refresh(now);
  const boats = await db
    .select({ b: boat, baseName: base.name })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(where)
    .orderBy(asc(boat.name), asc(boat.id))
    .limit(limit)
    .offset(offset);
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
      }))
      .sort((x, y) => POSITIONS.indexOf(x.position) - POSITIONS.indexOf(y.position)),
  }));
}

type Names = 'listBoats' | 'readBoat' | 'addBoat' | 'editBoat' | 'retireBoat';

export function boatHandlers(fleet: FleetCache): Handlers<Names> {
  return {
    async listBoats({ db, query, now }) {
      const where = and(
        eq(boat.retired, query.retired === 'yes'),
        query.baseId === undefined ? undefined : eq(boat.baseId, query.baseId),
        query.q ? holdsText(boat.name, query.q) : undefined,
      );
      const [rows, [total]] = await Promise.all([
        boatsWithEngines(db, fleet, now, where, query.size, (query.page - 1) * query.size),
        db.select({ n: count() }).from(boat).where(where),
      ]);
      return { rows, total: total!.n, page: query.page, size: query.size };
    },

    async readBoat({ db, params, now }) {
      const [found] = await boatsWithEngines(db, fleet, now, eq(boat.id, params.id), 1, 0);
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
