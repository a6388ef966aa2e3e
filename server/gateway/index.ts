import { createHash, randomBytes } from 'node:crypto';
import { engineName } from '@diurna/core/fleet';
import { lifeHours } from '@diurna/core/usage';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Request } from 'express';
import { transaction, tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { HttpProblem } from '../http/problem.ts';
import { hearMessages, lastRefusals } from './hear.ts';

const { gateway, gatewayHeard, boat, engine, meter } = tables;

const newKey = () => randomBytes(24).toString('base64url');
// The key is long and random, so a plain hash is as good as a slow one and quick enough for every message.
const hashOf = (key: string) => createHash('sha256').update(key).digest('hex');

/** The box whose key the request carries, if it is listened to. */
export async function gatewayOf(db: Db, req: Request): Promise<number | null> {
  const key = /^Bearer (\S{20,100})$/.exec(req.get('authorization') ?? '')?.[1];
  if (key === undefined) return null;
  const [found] = await db
    .select({ id: gateway.id })
    .from(gateway)
    .where(and(eq(gateway.keyHash, hashOf(key)), eq(gateway.active, true)));
  return found?.id ?? null;
}

type Names = 'sendMessages' | 'listGateways' | 'addGateway' | 'editGateway' | 'renewGatewayKey' | 'listRefusals';

export function gatewayHandlers(): Handlers<Names> {
  return {
    // No line in the audit for each message: the readings carry their source, and the box its tally.
    sendMessages: ({ body, write, gatewayId, now }) => write((tx) => hearMessages(tx, gatewayId!, body.messages, now)),

    async listGateways({ db }) {
      const [boxes, heard] = await Promise.all([
        db
          .select({ g: gateway, boatName: boat.name })
          .from(gateway)
          .innerJoin(boat, eq(boat.id, gateway.boatId))
          .orderBy(asc(gateway.name)),
        db
          .select({ h: gatewayHeard, position: engine.position, boatName: boat.name, offset: meter.hoursOffset })
          .from(gatewayHeard)
          .innerJoin(engine, eq(engine.id, gatewayHeard.engineId))
          .leftJoin(boat, eq(boat.id, engine.boatId))
          .leftJoin(meter, and(eq(meter.engineId, engine.id), isNull(meter.removedOn))),
      ]);
      return boxes.map(({ g, boatName }) => ({
        id: g.id,
        version: g.version,
        name: g.name,
        boatId: g.boatId,
        boatName,
        active: g.active,
        heardAt: g.heardAt?.toISOString() ?? null,
        clockOff: g.clockOff,
        tally: { taken: g.taken, repeated: g.repeated, late: g.late, refused: g.refused, other: g.other },
        engines: heard
          .filter((e) => e.h.gatewayId === g.id)
          .map((e) => ({
            engineId: e.h.engineId,
            engineName: e.boatName === null ? e.position : engineName(e.boatName, e.position),
            hours: lifeHours(e.offset ?? 0, Math.round(e.h.seconds / 360) / 10),
            at: e.h.at.toISOString(),
          })),
      }));
    },

    addGateway: ({ body, write }) =>
      write(async (tx, audit) => {
        const key = newKey();
        const [row] = await tx
          .insert(gateway)
          .values({ ...body, keyHash: hashOf(key) })
          .returning();
        await audit({ act: 'added', subject: 'box', subjectId: row!.id, title: row!.name, after: body });
        return { id: row!.id, version: row!.version, key };
      }),

    editGateway: ({ params, body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, gateway, params.id, version, 'box');
        const [row] = await tx
          .update(gateway)
          .set({ ...rest, ...nextVersion(gateway) })
          .where(eq(gateway.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'box',
          subjectId: row!.id,
          title: row!.name,
          before: { name: before.name, boatId: before.boatId, active: before.active },
          after: rest,
        });
        return { id: row!.id, version: row!.version };
      }),

    renewGatewayKey: ({ params, body, write }) =>
      write(async (tx, audit) => {
        await lockVersion(tx, gateway, params.id, body.version, 'box');
        const key = newKey();
        const [row] = await tx
          .update(gateway)
          .set({ keyHash: hashOf(key), ...nextVersion(gateway) })
          .where(eq(gateway.id, params.id))
          .returning();
        await audit({
          act: 'changed',
          subject: 'box',
          subjectId: row!.id,
          title: row!.name,
          after: { key: 'renewed' },
        });
        return { id: row!.id, version: row!.version, key };
      }),

    async listRefusals({ db, params }) {
      const [found] = await db.select({ id: gateway.id }).from(gateway).where(eq(gateway.id, params.id));
      if (!found) throw new HttpProblem(404, 'There is no such box.');
      const rows = await transaction(db, (tx) => lastRefusals(tx, params.id), true);
      return rows.map((r) => ({ at: r.at.toISOString(), text: r.text, why: r.why }));
    },
  };
}
