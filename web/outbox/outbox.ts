import type { Body } from '../app/api.ts';
import type { Day } from '@diurna/core/calendar';
import type { FinishBody } from '@diurna/contract/jobs';
import type { PictureType } from '@diurna/contract/snags';
import type { SentEntry } from '@diurna/contract/visit';
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

/** Something done at the dock, with the boat and when: kept here until the book has it. */
export type DockAct = { id: string; at: number; boatId: number; boatName: string } & (
  | { kind: 'out'; hireId: number; out: boolean }
  | { kind: 'back'; hireId: number; back: boolean }
  | { kind: 'hours'; day: Day; readings: Body<'typeHours'>['readings'] }
  | { kind: 'snag'; snag: Body<'addSnag'> }
  | { kind: 'battery'; look: Body<'addBatteryLook'> }
);

/** What a device sends: an entry of a card, its finish, or something of the dock. */
interface Sent {
  /** null = it is of no card. */
  jobId: number | null;
  personId: number;
  entry?: SentEntry;
  finish?: Finishing;
  dock?: DockAct;
}
/** Something on its way to the book, with whose it is. */
export interface Waiting extends Sent {
  order?: number;
}
/** What the book did not take, kept until somebody has read why. */
export interface Refused extends Sent {
  id: string;
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
export type KeptPicture = Picture & { bytes: Uint8Array<ArrayBuffer> };

export interface Shelf extends DBSchema {
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
/** The store of this device. */
export function openShelf(): Promise<IDBPDatabase<Shelf>> {
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
        await pictures.put(newPicture(w.jobId!, w.personId, entry.id, { type: photo.type, bytes }));
        await waiting.put({ ...w, entry });
      }
    },
  }).catch((error: unknown) => {
    // Refused now, it may be let in later.
    shelf = null;
    throw error;
  });
  return shelf;
}

/** For tests: the next use opens the store anew, as after a reload. */
export async function closeOutbox(): Promise<void> {
  (await shelf)?.close();
  shelf = null;
}

export async function allWaiting(): Promise<Waiting[]> {
  return (await openShelf()).getAll('waiting');
}
export async function allRefused(): Promise<Refused[]> {
  return (await openShelf()).getAll('refused');
}

/** Puts something into the outbox; it is safe on this device once this resolves. */
async function keep(waiting: Waiting): Promise<Waiting> {
  const order = await (await openShelf()).add('waiting', waiting);
  return { ...waiting, order };
}
/** Puts an entry, or the finish of a card, into the outbox. */
export const put = (jobId: number, personId: number, what: SentEntry | { finish: Finishing }): Promise<Waiting> =>
  keep('finish' in what ? { jobId, personId, finish: what.finish } : { jobId, personId, entry: what });
/** Puts something of the dock into the outbox. */
export const putDock = (personId: number, dock: DockAct): Promise<Waiting> => keep({ jobId: null, personId, dock });

/** A picture as it is told of. */
export const withoutBytes = ({ bytes: _, ...picture }: KeptPicture): Picture => picture;
export async function allPictures(): Promise<Picture[]> {
  return (await (await openShelf()).getAll('pictures')).map(withoutBytes);
}
/** The picture itself, to be seen or saved; undefined when it is not here any more. */
export async function pictureBytes(id: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
  return (await (await openShelf()).get('pictures', id))?.bytes;
}

/** Puts an entry with its picture into the outbox: both are safe on this device once this resolves, or neither. */
export async function putPicture(
  jobId: number,
  personId: number,
  entry: SentEntry,
  taken: Taken,
): Promise<{ waiting: Waiting; picture: Picture }> {
  const picture = newPicture(jobId, personId, entry.id, taken);
  const tx = (await openShelf()).transaction(['waiting', 'pictures'], 'readwrite');
  await tx.objectStore('pictures').put(picture);
  const waiting: Waiting = { jobId, personId, entry };
  const order = await tx.objectStore('waiting').add(waiting);
  await tx.done;
  return { waiting: { ...waiting, order }, picture: withoutBytes(picture) };
}

/** A person throws a picture away. */
export async function throwPictureAway(id: string): Promise<void> {
  await (await openShelf()).delete('pictures', id);
}

/** What was not taken goes into the outbox once more, behind what waits there. */
export async function tryAgain(refused: Refused): Promise<Waiting> {
  const { id, jobId, personId, entry, finish, dock } = refused;
  const waiting: Waiting = {
    jobId,
    personId,
    ...(entry && { entry }),
    ...(finish && { finish }),
    ...(dock && { dock }),
  };
  const tx = (await openShelf()).transaction(['waiting', 'refused'], 'readwrite');
  const order = await tx.objectStore('waiting').add(waiting);
  await tx.objectStore('refused').delete(id);
  await tx.done;
  return { ...waiting, order };
}

/** Takes something out of the outbox again before it is sent. */
export async function takeBack(order: number): Promise<void> {
  await (await openShelf()).delete('waiting', order);
}

export async function putAway(id: string): Promise<void> {
  await (await openShelf()).delete('refused', id);
}

export const idOf = (w: Pick<Waiting, 'entry' | 'finish' | 'dock'>): string => (w.entry ?? w.finish ?? w.dock)!.id;

/** A picture the book did not take goes once more. */
export async function tryPictureAgain(id: string): Promise<void> {
  const db = await openShelf();
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
