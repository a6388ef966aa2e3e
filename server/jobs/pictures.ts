import type { PictureKept } from '@diurna/contract/visit';
import type { PictureType } from '@diurna/contract/snags';
import { eq } from 'drizzle-orm';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine, Who } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { drawAnew } from '../http/draw-anew.ts';
import { othersCard } from './whose.ts';

const { jobEntry, jobPhoto, pictureUpload } = tables;

interface Piece {
  from: number;
  size: number;
  type: PictureType;
  bytes: Uint8Array;
}

/** The entry a picture belongs to, for whoever wrote it, or keeps the cards. @throws 404, 403 or 422 in words */
async function entryFor(tx: Tx, entryId: string, who: Who) {
  const [entry] = await tx.select().from(jobEntry).where(eq(jobEntry.id, entryId));
  if (!entry) throw notFound('entry');
  if (who.role === 'technician' && entry.personId !== who.id) throw othersCard();
  if (entry.act.kind !== 'photo') throw new HttpProblem(422, 'This entry is about no picture.');
  return entry;
}

const pictureOf = async (tx: Tx, entryId: string, act: { photoId: number | null }) => {
  if (act.photoId !== null) return act.photoId;
  const [photo] = await tx.select({ id: jobPhoto.id }).from(jobPhoto).where(eq(jobPhoto.entryId, entryId));
  return photo?.id ?? null;
};

/**
 * Puts the next piece to an entry's picture; a piece that is there already, or not next, changes nothing. With the
 * last one the picture comes onto the card.
 *
 * One of another size or type begins anew.
 *
 * @throws 422 when the whole is no picture of the type it is said to be
 */
export async function keepPiece(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  entryId: string,
  { from, size, type, bytes }: Piece,
  who: Who,
  now: Date,
): Promise<PictureKept> {
  const entry = await entryFor(tx, entryId, who);
  const photoId = await pictureOf(tx, entryId, entry.act as { photoId: number | null });
  if (photoId !== null) return { received: size, photoId };
  await tx
    .insert(pictureUpload)
    .values({ entryId, type, size, bytes: Buffer.alloc(0), at: now })
    .onConflictDoNothing();
  // Two pieces at once take turns.
  const [upload] = await tx.select().from(pictureUpload).where(eq(pictureUpload.entryId, entryId)).for('update');
  const other = upload!.size !== size || upload!.type !== type;
  const before = other ? Buffer.alloc(0) : upload!.bytes;
  const there = before.length;
  if (from !== there) return { received: there, photoId: null };
  if (there + bytes.length > size) throw faulty('size', 'The pieces are more than the picture is said to have.');
  const whole = Buffer.concat([before, bytes]);
  if (whole.length < size) {
    await tx.update(pictureUpload).set({ type, size, bytes: whole, at: now }).where(eq(pictureUpload.entryId, entryId));
    return { received: whole.length, photoId: null };
  }
  const picture = await drawAnew(type, whole);
  if (!picture) throw faulty('picture', 'The picture cannot be read. Take it again.');
  await tx.delete(pictureUpload).where(eq(pictureUpload.entryId, entryId));
  const [photo] = await tx
    .insert(jobPhoto)
    .values({ jobId: entry.jobId, entryId, type, bytes: picture })
    .returning({ id: jobPhoto.id });
  await audit({
    act: 'changed',
    subject: 'job',
    subjectId: entry.jobId,
    title: 'a picture',
    after: { entry: entryId, picture: photo!.id, bytes: size },
  });
  return { received: size, photoId: photo!.id };
}
