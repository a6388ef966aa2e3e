import { PICTURE_PIECE_BYTES, type SentEntry } from '@diurna/contract/visit';
import type { CardEntry } from '@diurna/core/visit';
import type { IDBPDatabase } from 'idb';
import {
  idOf,
  openShelf,
  withoutBytes,
  type DockAct,
  type Finishing,
  type KeptPicture,
  type Picture,
  type Refused,
  type Shelf,
  type Waiting,
} from './outbox.ts';

export type Outcome =
  /** What the book kept and what it did not. */
  | { is: 'answered'; kept: CardEntry[]; refused: { id: string; because: string }[]; clash?: string | null }
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
  dock: (act: DockAct) => Promise<Outcome>;
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
    const { entry, finish, dock, jobId, personId } = w;
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
            ...(dock && { dock }),
            because,
            ...(outcome.is === 'refused' && outcome.type !== undefined && { type: outcome.type }),
          },
        ];
  });
}

/** A lot that was too large, or at which the server failed, goes in halves: one entry never keeps the others back. */
const splits = (lot: readonly Waiting[], outcome: Outcome) =>
  lot.length > 1 && (outcome.is === 'too large' || (outcome.is === 'refused' && outcome.type === 'fault'));

/** Who hears what became of what was sent. */
export interface Hears {
  /** Every lot of a card that was answered. */
  told: (jobId: number, sent: readonly Waiting[], kept: CardEntry[], refused: Refused[]) => void;
  /** Something of the dock; with why, where it was not taken, or what it went against. */
  docked?: (sent: Waiting, refused: Refused | null, clash: string | null) => void;
  /** How far a picture is; null when the book has it. */
  pictured?: (id: string, jobId: number, picture: Picture | null) => void;
}

/** Out of the outbox and onto the other shelf in one go, so that nothing is on neither. */
async function settle(db: IDBPDatabase<Shelf>, lot: readonly Waiting[], refused: readonly Refused[]): Promise<void> {
  const tx = db.transaction(['waiting', 'refused'], 'readwrite');
  for (const r of refused) await tx.objectStore('refused').put(r);
  for (const w of lot) await tx.objectStore('waiting').delete(w.order!);
  await tx.done;
}

/**
 * Sends what waits of this person: card by card, each in its order, then what was done at the dock, and after it the
 * pictures. A lot without an answer stays; the book keeps each once however often it is sent.
 *
 * @returns false when there was no signal
 */
export async function sendAll(personId: number, post: Post, hears: Hears): Promise<boolean> {
  const db = await openShelf();
  const mine = (await db.getAll('waiting')).filter((w) => w.personId === personId);
  for (const jobId of new Set(mine.flatMap((w) => (w.jobId === null ? [] : [w.jobId]))))
    if (
      !(await sendCard(
        db,
        jobId,
        mine.filter((w) => w.jobId === jobId),
        post,
        hears,
      ))
    )
      return false;
  return (
    (await sendDock(
      db,
      mine.filter((w) => w.dock !== undefined),
      post,
      hears,
    )) && sendPictures(db, personId, post, hears)
  );
}

/** A card is not finished when something written before was not taken. */
async function sendCard(
  db: IDBPDatabase<Shelf>,
  jobId: number,
  waiting: readonly Waiting[],
  post: Post,
  { told }: Hears,
): Promise<boolean> {
  let left = waiting;
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
    await settle(db, lot, refused);
    told(jobId, lot, outcome.is === 'answered' ? outcome.kept : [], refused);
  }
  return true;
}

/** One after the other, as they were done: out before back, hours after it. */
async function sendDock(
  db: IDBPDatabase<Shelf>,
  waiting: readonly Waiting[],
  post: Post,
  { docked }: Hears,
): Promise<boolean> {
  for (const w of waiting) {
    // Taken back meanwhile by the person who put it there.
    if ((await db.get('waiting', w.order!)) === undefined) continue;
    const outcome = await post.dock(w.dock!);
    if (outcome.is === 'no signal') return false;
    const refused = refusedOf([w], outcome);
    await settle(db, [w], refused);
    docked?.(w, refused[0] ?? null, outcome.is === 'answered' ? (outcome.clash ?? null) : null);
  }
  return true;
}

const missingText = (n: number) =>
  `${n === 1 ? 'One entry' : `${n} entries`} written before it ${n === 1 ? 'was' : 'were'} not taken. Look through the card, then finish it again.`;

/** Pictures one after the other, each piece by piece from where the book has it; false when there was no signal. */
async function sendPictures(
  db: IDBPDatabase<Shelf>,
  personId: number,
  post: Post,
  { pictured }: Hears,
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
        pictured?.(id, kept.jobId, null);
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
      pictured?.(id, kept.jobId, withoutBytes(next));
      if (next.because !== undefined) break;
      sent = next.sent;
    }
  }
  return true;
}
