import { and, asc, eq, isNull } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { drawAnew } from '../http/draw-anew.ts';
import { sendPicture } from '../http/picture.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';

const { stepPicture, engineModel, person } = tables;

/** The yard's own pictures of steps: kept by whoever works, shown on every card from then on. */
export const stepPictureHandlers: Handlers<
  'listStepPictures' | 'stepPictureFile' | 'addStepPicture' | 'dropStepPicture'
> = {
  async listStepPictures({ db }) {
    const rows = await db
      .select({
        id: stepPicture.id,
        place: stepPicture.place,
        modelId: stepPicture.modelId,
        modelName: engineModel.name,
        caption: stepPicture.caption,
        by: person.name,
        at: stepPicture.at,
      })
      .from(stepPicture)
      .innerJoin(person, eq(person.id, stepPicture.personId))
      .leftJoin(engineModel, eq(engineModel.id, stepPicture.modelId))
      .where(isNull(stepPicture.droppedAt))
      .orderBy(asc(stepPicture.place), asc(stepPicture.id));
    return rows.map((r) => ({ ...r, at: r.at.toISOString() }));
  },

  async stepPictureFile({ db, params, res }) {
    const [found] = await db.select().from(stepPicture).where(eq(stepPicture.id, params.id));
    if (!found) throw notFound('picture');
    return sendPicture(res, found);
  },

  addStepPicture: ({ body, write, who, now }) =>
    write(async (tx, audit) => {
      if (body.modelId !== null) {
        const [model] = await tx.select().from(engineModel).where(eq(engineModel.id, body.modelId));
        if (!model) throw faulty('modelId', 'This model is not in the book any more. Choose it again.');
      }
      const bytes = await drawAnew(body.photo.type, Buffer.from(body.photo.base64, 'base64'));
      if (bytes === null) throw faulty('photo', 'The picture cannot be read. Take it again.');
      await tx
        .update(stepPicture)
        .set({ droppedAt: now })
        .where(
          and(
            eq(stepPicture.place, body.place),
            body.modelId === null ? isNull(stepPicture.modelId) : eq(stepPicture.modelId, body.modelId),
            isNull(stepPicture.droppedAt),
          ),
        );
      const [row] = await tx
        .insert(stepPicture)
        .values({
          place: body.place,
          modelId: body.modelId,
          caption: body.caption,
          type: body.photo.type,
          bytes,
          personId: who.id,
          at: now,
        })
        .onConflictDoNothing()
        .returning({ id: stepPicture.id });
      if (!row)
        throw new HttpProblem(409, 'Somebody has just put another picture there. Look at it, then choose again.');
      await audit({
        act: 'added',
        subject: 'step picture',
        subjectId: row.id,
        title: body.place,
        after: { modelId: body.modelId, caption: body.caption },
      });
      return { id: row.id };
    }),

  dropStepPicture: ({ params, write, now }) =>
    write(async (tx, audit) => {
      const [row] = await tx
        .update(stepPicture)
        .set({ droppedAt: now })
        .where(and(eq(stepPicture.id, params.id), isNull(stepPicture.droppedAt)))
        .returning({ place: stepPicture.place });
      if (!row) throw notFound('picture');
      await audit({ act: 'retired', subject: 'step picture', subjectId: params.id, title: row.place });
      return { ok: true as const };
    }),
};
