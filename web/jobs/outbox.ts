import type { FinishBody } from '@diurna/contract/jobs';
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

interface Shelf extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { job: number } };
  refused: { key: string; value: Refused };
}

let shelf: Promise<IDBPDatabase<Shelf>> | null = null;
function open(): Promise<IDBPDatabase<Shelf>> {
  shelf ??= openDB<Shelf>('diurna', 1, {
    upgrade(db) {
      db.createObjectStore('waiting', { keyPath: 'order', autoIncrement: true }).createIndex('job', 'jobId');
      db.createObjectStore('refused', { keyPath: 'id' });
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
  /** The whole lot is refused, and why. */
  | { is: 'refused'; because: string; type?: string };

/** How things get to the book. */
export interface Post {
  entries: (jobId: number, entries: SentEntry[]) => Promise<Outcome>;
  finish: (jobId: number, finishing: Finishing) => Promise<Outcome>;
}

/** So many go in one lot, in the order they were made. */
const LOT = 40;

/** The next lot: entries up to a finish, or the finish alone. */
function nextLot(left: readonly Waiting[]): Waiting[] {
  if (left[0]!.finish) return [left[0]!];
  const finish = left.findIndex((w) => w.finish !== undefined);
  return left.slice(0, Math.min(LOT, finish < 0 ? left.length : finish));
}

/**
 * Sends what waits of this person, card by card, each in its order. A lot without an answer stays; the book
 * keeps an entry once however often it is sent. A card is not finished when something written before was not taken.
 *
 * @param told hears of every lot that was answered
 * @returns false when there was no signal
 */
export async function sendAll(
  personId: number,
  post: Post,
  told: (jobId: number, sent: readonly Waiting[], kept: CardEntry[], refused: Refused[]) => void,
): Promise<boolean> {
  const db = await open();
  const mine = (await db.getAll('waiting')).filter((w) => w.personId === personId);
  for (const jobId of new Set(mine.map((w) => w.jobId))) {
    let left = mine.filter((w) => w.jobId === jobId);
    let missing = 0;
    while (left.length > 0) {
      const lot = nextLot(left);
      left = left.slice(lot.length);
      const finishing = lot[0]!.finish;
      // Taken back meanwhile by the person who put it there.
      if (finishing && (await db.get('waiting', lot[0]!.order!)) === undefined) continue;
      const outcome: Outcome =
        finishing === undefined
          ? await post.entries(
              jobId,
              lot.map((w) => w.entry!),
            )
          : missing > 0
            ? {
                is: 'refused',
                because: `${missing === 1 ? 'One entry' : `${missing} entries`} written before it ${missing === 1 ? 'was' : 'were'} not taken. Look through the card, then finish it again.`,
              }
            : await post.finish(jobId, finishing);
      if (outcome.is === 'no signal') return false;
      const because = (id: string) =>
        outcome.is === 'refused' ? outcome.because : (outcome.refused.find((r) => r.id === id)?.because ?? null);
      const refused: Refused[] = lot.flatMap((w) => {
        const { entry, finish } = w;
        const id = idOf(w);
        const why = because(id);
        return why === null
          ? []
          : [
              {
                id,
                jobId,
                personId,
                ...(entry && { entry }),
                ...(finish && { finish }),
                because: why,
                ...(outcome.is === 'refused' && outcome.type !== undefined && { type: outcome.type }),
              },
            ];
      });
      missing += refused.length;
      // Out of the outbox and onto the other shelf in one go, so that nothing is on neither.
      const tx = db.transaction(['waiting', 'refused'], 'readwrite');
      for (const r of refused) await tx.objectStore('refused').put(r);
      for (const w of lot) await tx.objectStore('waiting').delete(w.order!);
      await tx.done;
      told(jobId, lot, outcome.is === 'answered' ? outcome.kept : [], refused);
    }
  }
  return true;
}

/** An act as an entry of this phone. */
export function entryOf(act: CardAct, seen: number, photo?: SentEntry['photo'], at = now()): SentEntry {
  return { id: crypto.randomUUID(), at, act, seen, ...(photo && { photo }) };
}

/** Waiting entries as the card's fold takes them. */
export const asCardEntries = (waiting: readonly Waiting[]): CardEntry[] =>
  waiting.flatMap(({ personId, entry }) =>
    entry
      ? [{ id: entry.id, seq: null, by: personId, at: entry.at, act: entry.act, seen: entry.seen, against: null }]
      : [],
  );
