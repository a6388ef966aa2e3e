import type { Snag } from '@diurna/contract/snags';
import { dayInZone } from '@diurna/core/calendar';
import { SYMPTOMS, type SymptomKey } from '@diurna/core/findings';
import type { TaskKind } from '@diurna/core/service';
import { and, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { holdByHand } from '../findings/index.ts';
import { drawAnew } from '../http/draw-anew.ts';
import { BOAT_GONE, faulty, HttpProblem, notFound } from '../http/problem.ts';
import { sendPicture } from '../http/picture.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { hold, snag, snagPhoto, boat, base, engine, person } = tables;
const closer = alias(person, 'closer');
const MOST = 200;

/** What is told at the dock and keeps the engine in until it is looked into. Common practice, no source. */
const HOLDS: Partial<Record<SymptomKey, { why: string; checks: TaskKind[] }>> = {
  'oil light': { why: 'The oil-pressure light was lit.', checks: ['oil-pressure'] },
  'weak stream': { why: 'Weak or no cooling stream.', checks: ['impeller'] },
  // What a blow bent or cracked is not seen from the dock.
  grounded: { why: 'It touched ground or hit something.', checks: ['prop-shaft', 'look-over'] },
};

/** What is reported on these boats and open, in words, the newest first. */
export async function openSnags(db: Db, boatIds: readonly number[]): Promise<Map<number, string[]>> {
  const found = new Map<number, string[]>();
  if (boatIds.length === 0) return found;
  const rows = await db
    .select({ boatId: snag.boatId, text: snag.text, position: engine.position })
    .from(snag)
    .leftJoin(engine, eq(engine.id, snag.engineId))
    .where(and(inArray(snag.boatId, [...boatIds]), isNull(snag.closedAt)))
    .orderBy(desc(snag.at), desc(snag.id));
  for (const { boatId, text, position } of rows)
    found.set(boatId, [
      ...(found.get(boatId) ?? []),
      position === null || position === 'single' ? text : `${position}: ${text}`,
    ]);
  return found;
}

export function snagsHandlers(): Handlers<'listSnags' | 'addSnag' | 'snagPhoto' | 'closeSnag'> {
  return {
    async listSnags({ db, query }) {
      const rows = await db
        .select({
          s: snag,
          boatName: boat.name,
          baseId: boat.baseId,
          position: engine.position,
          by: person.name,
          closedBy: closer.name,
          hasPhoto: sql<boolean>`exists (select 1 from snag_photo p where p.snag_id = ${snag.id})`,
        })
        .from(snag)
        .innerJoin(boat, eq(boat.id, snag.boatId))
        .leftJoin(engine, eq(engine.id, snag.engineId))
        .leftJoin(person, eq(person.id, snag.personId))
        .leftJoin(closer, eq(closer.id, snag.closedBy))
        .where(
          and(
            query.state === 'open' ? isNull(snag.closedAt) : undefined,
            query.boatId === undefined ? undefined : eq(snag.boatId, query.boatId),
            query.baseId === undefined ? undefined : eq(boat.baseId, query.baseId),
          ),
        )
        .orderBy(desc(snag.at), desc(snag.id))
        .limit(MOST);
      return rows.map(({ s, boatName, baseId, position, by, closedBy, hasPhoto }): Snag => ({
        id: s.id,
        version: s.version,
        boatId: s.boatId,
        boatName,
        baseId,
        engineId: s.engineId,
        position,
        day: s.day,
        text: s.text,
        symptom: s.symptom,
        hasPhoto,
        by,
        at: s.at.toISOString(),
        closed: s.closedAt === null ? null : { by: closedBy, at: s.closedAt.toISOString(), remark: s.closedRemark! },
      }));
    },

    addSnag: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        // A phone's clock that runs ahead is held to the book's.
        const at = body.at === undefined || Date.parse(body.at) > now.getTime() ? now : new Date(body.at);
        const [place] = await tx
          .select({ name: boat.name, retired: boat.retired, timeZone: base.timeZone })
          .from(boat)
          .innerJoin(base, eq(base.id, boat.baseId))
          .where(eq(boat.id, body.boatId));
        if (!place || place.retired) throw faulty('boatId', BOAT_GONE);
        if (body.engineId !== null) {
          const [on] = await tx
            .select({ id: engine.id })
            .from(engine)
            .where(and(eq(engine.id, body.engineId), eq(engine.boatId, body.boatId)));
          if (!on) throw faulty('engineId', 'This engine is not on the boat any more. Choose it again.');
        }
        const bytes = body.photo && (await drawAnew(body.photo.type, Buffer.from(body.photo.base64, 'base64')));
        if (body.photo && bytes === null) throw faulty('photo', 'The picture cannot be read. Take it again.');
        const [row] = await tx
          .insert(snag)
          .values({
            boatId: body.boatId,
            engineId: body.engineId,
            text: body.text === '' ? SYMPTOMS.find((x) => x.key === body.symptom)!.word : body.text,
            symptom: body.symptom ?? null,
            day: dayInZone(at, place.timeZone),
            personId: who.id,
            at,
          })
          .returning();
        if (body.photo && bytes) await tx.insert(snagPhoto).values({ snagId: row!.id, type: body.photo.type, bytes });
        const why = body.symptom == null ? undefined : HOLDS[body.symptom];
        // Where nobody knows which engine it was, none of them goes out.
        const engines =
          why === undefined
            ? []
            : await tx
                .select({ id: engine.id })
                .from(engine)
                .where(and(eq(engine.boatId, body.boatId), eq(engine.retired, false)));
        // Told twice, it is held once.
        const known =
          why === undefined
            ? []
            : await tx
                .select({ engineId: hold.engineId })
                .from(hold)
                .where(and(eq(hold.why, why.why), isNull(hold.releasedAt)));
        const held = new Set(known.map((h) => h.engineId));
        for (const { id } of engines.filter(
          (e) => (body.engineId === null || e.id === body.engineId) && !held.has(e.id),
        ))
          await holdByHand(tx, audit, { engineId: id, ...why!, jobId: null, at: now }, who, now);
        await audit({
          act: 'added',
          subject: 'snag',
          subjectId: row!.id,
          title: place.name,
          after: { text: body.text, symptom: body.symptom ?? null, engineId: body.engineId, photo: bytes !== null },
        });
        return { id: row!.id, version: row!.version };
      }),

    async snagPhoto({ db, params, res }) {
      const [found] = await db.select().from(snagPhoto).where(eq(snagPhoto.snagId, params.id));
      if (!found) throw notFound('picture');
      return sendPicture(res, found);
    },

    closeSnag: ({ params, body, write, who, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, snag, params.id, body.version, 'snag');
        if (before.closedAt !== null) throw new HttpProblem(409, 'This snag is closed already.');
        const [row] = await tx
          .update(snag)
          .set({ closedAt: now, closedBy: who.id, closedRemark: body.remark, ...nextVersion(snag) })
          .where(eq(snag.id, params.id))
          .returning();
        await audit({
          act: 'finished',
          subject: 'snag',
          subjectId: row!.id,
          title: before.text.slice(0, 80),
          after: { remark: body.remark },
        });
        return { id: row!.id, version: row!.version };
      }),
  };
}
