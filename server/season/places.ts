import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { boatSeason, storagePlace } = tables;

/** Where boats stand while the base is closed. */
export const storageHandlers: Handlers<'addStoragePlace' | 'editStoragePlace'> = {
  addStoragePlace: ({ body, write }) =>
    write(async (tx, audit) => {
      const [row] = await tx.insert(storagePlace).values(body).returning();
      await audit({ act: 'added', subject: 'season', subjectId: row!.id, title: row!.name, after: body });
      return { id: row!.id, version: row!.version };
    }),

  editStoragePlace: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { version, ...rest } = body;
      const before = await lockVersion(tx, storagePlace, params.id, version, 'place');
      const there = await tx
        .select({ id: boatSeason.boatId })
        .from(boatSeason)
        .where(eq(boatSeason.placeId, params.id));
      if (there.length > rest.room)
        throw faulty('room', `${there.length} boats stand there: move some first, or leave it more room.`);
      const [row] = await tx
        .update(storagePlace)
        .set({ ...rest, ...nextVersion(storagePlace) })
        .where(eq(storagePlace.id, params.id))
        .returning();
      await audit({ act: 'changed', subject: 'season', subjectId: row!.id, title: row!.name, before, after: rest });
      return { version: row!.version };
    }),
};
