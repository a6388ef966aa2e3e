import type { SentEntry } from '@diurna/contract/visit';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** An entry on its way to the book, with whose it is. */
export interface Waiting { order?: number; jobId: number; personId: number; entry: SentEntry }
/** An entry the book did not take, kept until somebody has read why. */
export interface Refused { id: string; jobId: number; personId: number; entry: SentEntry; because: string }

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

/** Puts an entry into the outbox; it is safe on this device once this resolves. */
export async function put(jobId: number, personId: number, entry: SentEntry): Promise<Waiting> {
  const waiting: Waiting = { jobId, personId, entry };
  const order = await (await open()).add('waiting', waiting);
  return { ...waiting, order };
}

export async function putAway(id: string): Promise<void> {
  await (await open()).delete('refused', id);
}

export type Outcome =
  /** What the book kept and what it did not. */
  | { is: 'answered'; kept: CardEntry[]; refused: { id: string; because: string }[] }
  /** No answer: tried again later. */
  | { is: 'no signal' }
  /** The whole lot is refused, and why. */
  | { is: 'refused'; because: string };

/** So many go in one lot, in the order they were made. */
const LOT = 40;

/**
 * Sends what waits of this person, card by card, each in its order. A lot without an answer stays; the book
 * keeps an entry once however often it is sent.
 *
 * @param send posts a lot; `told` hears of every lot that was answered
 * @returns false when there was no signal
 */
export async function sendAll(personId: number, send: (jobId: number, entries: SentEntry[]) => Promise<Outcome>, told: (jobId: number, kept: CardEntry[], refused: Refused[]) => void): Promise<boolean> {
  const db = await open();
  const mine = (await db.getAll('waiting')).filter((w) => w.personId === personId);
  for (const jobId of new Set(mine.map((w) => w.jobId))) {
    const own = mine.filter((w) => w.jobId === jobId);
    for (let from = 0; from < own.length; from += LOT) {
      const lot = own.slice(from, from + LOT);
      const outcome = await send(jobId, lot.map((w) => w.entry));
      if (outcome.is === 'no signal') return false;
      const because = (id: string) => (outcome.is === 'refused' ? outcome.because : outcome.refused.find((r) => r.id === id)?.because ?? null);
      const refused: Refused[] = lot.flatMap((w) => {
        const why = because(w.entry.id);
        return why === null ? [] : [{ id: w.entry.id, jobId, personId, entry: w.entry, because: why }];
      });
      // Out of the outbox and onto the other shelf in one go, so that nothing is on neither.
      const tx = db.transaction(['waiting', 'refused'], 'readwrite');
      for (const r of refused) await tx.objectStore('refused').put(r);
      for (const w of lot) await tx.objectStore('waiting').delete(w.order!);
      await tx.done;
      told(jobId, outcome.is === 'answered' ? outcome.kept : [], refused);
    }
  }
  return true;
}

/** An act as an entry of this phone. */
export function entryOf(act: CardAct, seen: number, photo?: SentEntry['photo'], at = Date.now()): SentEntry {
  return { id: crypto.randomUUID(), at, act, seen, ...(photo && { photo }) };
}

/** A waiting entry as the card's fold takes it. */
export const asCardEntry = ({ personId, entry }: Waiting): CardEntry => ({ id: entry.id, seq: null, by: personId, at: entry.at, act: entry.act, seen: entry.seen, against: null });
