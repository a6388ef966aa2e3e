import type { FinishBody } from '@diurna/contract/jobs';
import type { PictureType } from '@diurna/contract/snags';
import { PICTURE_PIECE_BYTES, type SentEntry } from '@diurna/contract/visit';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import { now } from '../app/clock.ts';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** A card that was finished on this device: goes to the book after its entries. */
export interface Finishing {
  id: string;
  at: number;
  boatName: string;
  body: FinishBody;
}

/** Something on its way to the book, with whose it is: an entry, or the finish of a card. */
export interface Waiting {
  order?: number;
  jobId: number;
  personId: number;
  entry?: SentEntry;
  finish?: Finishing;
}
/** What the book did not take, kept until somebody has read why. */
export interface Refused {
  id: string;
  jobId: number;
  personId: number;
  entry?: SentEntry;
  finish?: Finishing;
  because: string;
  type?: string;
}

/** A picture of an entry, and how far it is: it goes to the book by itself, after its entry. */
export interface Picture {
  /** Of its entry. */
  id: string;
  jobId: number;
  personId: number;
  type: PictureType;
  size: number;
  /** So many bytes the book has. */
  sent: number;
  /** Why the book did not take it; it stays here until a person throws it away. */
  because?: string;
}
type KeptPicture = Picture & { bytes: Uint8Array<ArrayBuffer> };

interface Shelf extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { job: number } };
  refused: { key: string; value: Refused };
  pictures: { key: string; value: KeptPicture };
}

type OldWaiting = Waiting & { entry?: SentEntry & { photo?: { type: PictureType; base64: string } } };
/** A picture as it comes out of the camera's file. */
export interface Taken {
  type: PictureType;
  bytes: Uint8Array<ArrayBuffer>;
}
const newPicture = (jobId: number, personId: number, id: string, { type, bytes }: Taken): KeptPicture => ({
  id,
  jobId,
  personId,
  type,
  size: bytes.length,
  sent: 0,
  bytes,
});

let shelf: Promise<IDBPDatabase<Shelf>> | null = null;
function open(): Promise<IDBPDatabase<Shelf>> {
  shelf ??= openDB<Shelf>('diurna', 2, {
    async upgrade(db, from, _to, tx) {
      if (from < 1) {
        db.createObjectStore('waiting', { keyPath: 'order', autoIncrement: true }).createIndex('job', 'jobId');
        db.createObjectStore('refused', { keyPath: 'id' });
      }
      const pictures = db.createObjectStore('pictures', { keyPath: 'id' });
      // Before, a picture was kept within its entry.
      const waiting = tx.objectStore('waiting');
      for (const w of (await waiting.getAll()) as OldWaiting[]) {
        const photo = w.entry?.photo;
        if (!photo) continue;
        const { photo: _, ...entry } = w.entry!;
        const bytes = Uint8Array.from(atob(photo.base64), (c) => c.charCodeAt(0));
        await pictures.put(newPicture(w.jobId, w.personId, entry.id, { type: photo.type, bytes }));
        await waiting.put({ ...w, entry });
      }
    },
  });
  return shelf;
}

/** For tests: the next use opens the store anew, as after a reload. */
export async function closeOutbox(): Promise<void> {
  (await shelf)?.close();
  shelf = null;
}

export async function allWaiting(): Promise<Waiting[]> {
  return (await open()).getAll('waiting');
}
export async function allRefused(): Promise<Refused[]> {
  return (await open()).getAll('refused');
}

/** Puts an entry, or the finish of a card, into the outbox; it is safe on this device once this resolves. */
export async function put(jobId: number, personId: number, what: SentEntry | { finish: Finishing }): Promise<Waiting> {
  const waiting: Waiting =
    'finish' in what ? { jobId, personId, finish: what.finish } : { jobId, personId, entry: what };
  const order = await (await open()).add('waiting', waiting);
  return { ...waiting, order };
}

const withoutBytes = ({ bytes: _, ...picture }: KeptPicture): Picture => picture;
export async function allPictures(): Promise<Picture[]> {
  return (await (await open()).getAll('pictures')).map(withoutBytes);
}
/** The picture itself, to be seen or saved; undefined when it is not here any more. */
export async function pictureBytes(id: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
  return (await (await open()).get('pictures', id))?.bytes;
}

/** Puts an entry with its picture into the outbox: both are safe on this device once this resolves, or neither. */
export async function putPicture(
  jobId: number,
  personId: number,
  entry: SentEntry,
  taken: Taken,
): Promise<{ waiting: Waiting; picture: Picture }> {
  const picture = newPicture(jobId, personId, entry.id, taken);
  const tx = (await open()).transaction(['waiting', 'pictures'], 'readwrite');
  await tx.objectStore('pictures').put(picture);
  const waiting: Waiting = { jobId, personId, entry };
  const order = await tx.objectStore('waiting').add(waiting);
  await tx.done;
  return { waiting: { ...waiting, order }, picture: withoutBytes(picture) };
}

/** A person throws a picture away. */
export async function throwPictureAway(id: string): Promise<void> {
  await (await open()).delete('pictures', id);
}

/** What was not taken goes into the outbox once more, behind what waits there. */
export async function tryAgain(refused: Refused): Promise<Waiting> {
  const { id, jobId, personId, entry, finish } = refused;
  const waiting: Waiting = { jobId, personId, ...(entry && { entry }), ...(finish && { finish }) };
  const tx = (await open()).transaction(['waiting', 'refused'], 'readwrite');
  const order = await tx.objectStore('waiting').add(waiting);
  await tx.objectStore('refused').delete(id);
  await tx.done;
  return { ...waiting, order };
}

/** Takes something out of the outbox again before it is sent. */
export async function takeBack(order: number): Promise<void> {
  await (await open()).delete('waiting', order);
}

export async function putAway(id: string): Promise<void> {
  await (await open()).delete('refused', id);
}

export const idOf = (w: Pick<Waiting, 'entry' | 'finish'>): string => w.entry?.id ?? w.finish!.id;

export type Outcome =
  /** What the book kept and what it did not. */
  | { is: 'answered'; kept: CardEntry[]; refused: { id: string; because: string }[] }
  /** No answer: tried again later. */
  | { is: 'no signal' }
  /** More than is taken at once: it goes in smaller lots. */
  | { is: 'too large' }
  /** The whole lot is refused, and why; of type `fault` when the server failed at it. */
  | { is: 'refused'; because: string; type?: string };

export type PictureOutcome =
  | { is: 'answered'; received: number; photoId: number | null }
  | Exclude<Outcome, { is: 'answered' }>;

/** How things get to the book. */
export interface Post {
  entries: (jobId: number, entries: SentEntry[]) => Promise<Outcome>;
  finish: (jobId: number, finishing: Finishing) => Promise<Outcome>;
  /** A piece of a picture, and where in it. */
  picture: (picture: Picture, from: number, piece: Uint8Array<ArrayBuffer>) => Promise<PictureOutcome>;
}

/** So many go in one lot, in the order they were made. */
const LOT = 40;

/** The next lot: entries up to a finish, or the finish alone. */
function nextLot(left: readonly Waiting[]): Waiting[] {
  if (left[0]!.finish) return [left[0]!];
  const finish = left.findIndex((w) => w.finish !== undefined);
  return left.slice(0, Math.min(LOT, finish < 0 ? left.length : finish));
}

const TOO_LARGE =
  'It is more than the book takes at once. It stays on this phone: save it to a file, or throw it away.';

/** What of a lot the book did not take, and why. */
function refusedOf(lot: readonly Waiting[], outcome: Outcome): Refused[] {
  return lot.flatMap((w) => {
    const { entry, finish, jobId, personId } = w;
    const id = idOf(w);
    const because =
      outcome.is === 'refused'
        ? outcome.because
        : outcome.is === 'answered'
          ? (outcome.refused.find((r) => r.id === id)?.because ?? null)
          : TOO_LARGE;
    return because === null
      ? []
      : [
          {
            id,
            jobId,
            personId,
            ...(entry && { entry }),
            ...(finish && { finish }),
            because,
            ...(outcome.is === 'refused' && outcome.type !== undefined && { type: outcome.type }),
          },
        ];
  });
}

/** A lot that was too large, or at which the server failed, goes in halves: one entry never keeps the others back. */
const splits = (lot: readonly Waiting[], outcome: Outcome) =>
  lot.length > 1 && (outcome.is === 'too large' || (outcome.is === 'refused' && outcome.type === 'fault'));

/**
 * Sends what waits of this person, card by card, each in its order, and after it the pictures. A lot without an answer
 * stays; the book keeps an entry once however often it is sent. A card is not finished when something written before
 * was not taken.
 *
 * @param told hears of every lot that was answered
 * @param pictured hears how far a picture is; null when the book has it
 * @returns false when there was no signal
 */
export async function sendAll(
  personId: number,
  post: Post,
  told: (jobId: number, sent: readonly Waiting[], kept: CardEntry[], refused: Refused[]) => void,
  pictured: (id: string, jobId: number, picture: Picture | null) => void = () => undefined,
): Promise<boolean> {
  const db = await open();
  const mine = (await db.getAll('waiting')).filter((w) => w.personId === personId);
  for (const jobId of new Set(mine.map((w) => w.jobId))) {
    let left = mine.filter((w) => w.jobId === jobId);
    let missing = 0;
    /** How many go at once, after a lot had to be split. */
    let most = LOT;
    while (left.length > 0) {
      const lot = nextLot(left).slice(0, most);
      const finishing = lot[0]!.finish;
      // Taken back meanwhile by the person who put it there.
      if (finishing && (await db.get('waiting', lot[0]!.order!)) === undefined) {
        left = left.slice(1);
        continue;
      }
      const outcome: Outcome =
        finishing === undefined
          ? await post.entries(
              jobId,
              lot.map((w) => w.entry!),
            )
          : missing > 0
            ? { is: 'refused', because: missingText(missing) }
            : await post.finish(jobId, finishing);
      if (outcome.is === 'no signal') return false;
      if (splits(lot, outcome)) {
        most = Math.ceil(lot.length / 2);
        continue;
      }
      left = left.slice(lot.length);
      most = LOT;
      const refused = refusedOf(lot, outcome);
      missing += refused.length;
      // Out of the outbox and onto the other shelf in one go, so that nothing is on neither.
      const tx = db.transaction(['waiting', 'refused'], 'readwrite');
      for (const r of refused) await tx.objectStore('refused').put(r);
      for (const w of lot) await tx.objectStore('waiting').delete(w.order!);
      await tx.done;
      told(jobId, lot, outcome.is === 'answered' ? outcome.kept : [], refused);
    }
  }
  return sendPictures(db, personId, post, pictured);
}

const missingText = (n: number) =>
  `${n === 1 ? 'One entry' : `${n} entries`} written before it ${n === 1 ? 'was' : 'were'} not taken. Look through the card, then finish it again.`;

/** Pictures one after the other, each piece by piece from where the book has it; false when there was no signal. */
async function sendPictures(
  db: IDBPDatabase<Shelf>,
  personId: number,
  post: Post,
  pictured: (id: string, jobId: number, picture: Picture | null) => void,
): Promise<boolean> {
  // Only those whose entry the book has.
  const before = new Set([
    ...(await db.getAll('waiting')).map((w) => w.entry?.id),
    ...(await db.getAll('refused')).map((r) => r.entry?.id),
  ]);
  for (const id of await db.getAllKeys('pictures')) {
    const kept = await db.get('pictures', id);
    if (!kept || kept.personId !== personId || kept.because !== undefined || before.has(id)) continue;
    let sent = kept.sent;
    for (;;) {
      const outcome = await post.picture(kept, sent, kept.bytes.slice(sent, sent + PICTURE_PIECE_BYTES));
      if (outcome.is === 'no signal') return false;
      if (outcome.is === 'answered' && outcome.photoId !== null) {
        await db.delete('pictures', id);
        pictured(id, kept.jobId, null);
        break;
      }
      // A book that stays where it is would be asked for ever.
      const stuck = outcome.is === 'answered' && outcome.received === sent;
      const next: KeptPicture =
        outcome.is === 'answered' && !stuck
          ? { ...kept, sent: outcome.received }
          : { ...kept, because: outcome.is === 'refused' ? outcome.because : TOO_LARGE };
      // Thrown away meanwhile: it does not come back.
      if ((await db.getKey('pictures', id)) === undefined) break;
      await db.put('pictures', next);
      pictured(id, kept.jobId, withoutBytes(next));
      if (next.because !== undefined) break;
      sent = next.sent;
    }
  }
  return true;
}

/** A picture the book did not take goes once more. */
export async function tryPictureAgain(id: string): Promise<void> {
  const db = await open();
  const kept = await db.get('pictures', id);
  if (!kept) return;
  const { because: _, ...again } = kept;
  await db.put('pictures', { ...again, sent: 0 });
}

/** An act as an entry of this phone. */
export function entryOf(act: CardAct, seen: number, at = now()): SentEntry {
  return { id: crypto.randomUUID(), at, act, seen };
}

/** Waiting entries as the card's fold takes them. */
export const asCardEntries = (waiting: readonly Waiting[]): CardEntry[] =>
  waiting.flatMap(({ personId, entry }) =>
    entry
      ? [{ id: entry.id, seq: null, by: personId, at: entry.at, act: entry.act, seen: entry.seen, against: null }]
      : [],
  );
