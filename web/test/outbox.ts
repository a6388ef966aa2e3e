import type { FinishBody } from '@diurna/contract/jobs';
import type { SentEntry } from '@diurna/contract/visit';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import {
  allPictures,
  allRefused,
  entryOf,
  put,
  putAway,
  throwPictureAway,
  type Picture,
  type Waiting,
} from '../outbox/outbox.ts';
import { sendAll, type Outcome, type PictureOutcome } from '../outbox/send.ts';

/** Whose phone it is. */
export const ME = 3;
/** The tick of a step. */
export const tick = (step: string): CardAct => ({ kind: 'tick', step, done: true });
/** Ticks a step on this phone. */
export const write = (jobId: number, step: string, personId = ME) => put(jobId, personId, entryOf(tick(step), 0));
/** The steps of what waits. */
export const stepsOf = (list: Waiting[]) =>
  list.map((w) => (w.entry ? (w.entry.act as { step: string }).step : 'finish'));
/** What a card is finished with. */
export const body: FinishBody = {
  version: 1,
  tasks: [{ engineId: 1, task: 'engine-oil', done: true }],
  hours: [],
  parts: [],
  remark: null,
};
/** Finishes a card on this phone. */
export const finish = (jobId: number) =>
  put(jobId, ME, { finish: { id: crypto.randomUUID(), at: 5, boatName: 'Razorbill', body } });

/** A book that keeps what it is sent, once each. */
export function book(answer: (jobId: number, entries: SentEntry[]) => Outcome | null = () => null) {
  const kept = new Map<string, CardEntry>();
  let seq = 0;
  const lots: string[][] = [];
  return {
    kept,
    lots,
    pictures: new Map<string, Uint8Array>(),
    picture(p: Picture, from: number, piece: Uint8Array): Promise<PictureOutcome> {
      // An entry the book does not have has no picture.
      if (!kept.has(p.id)) return Promise.resolve({ is: 'refused', because: 'There is no such entry.' });
      let there = this.pictures.get(p.id) ?? new Uint8Array();
      if (from === there.length) there = Uint8Array.from([...there, ...piece]);
      this.pictures.set(p.id, there);
      return Promise.resolve({ is: 'answered', received: there.length, photoId: there.length === p.size ? 1 : null });
    },
    dock: (): Promise<Outcome> => Promise.resolve({ is: 'answered', kept: [], refused: [] }),
    finish: (jobId: number): Promise<Outcome> => {
      lots.push(['finish']);
      return Promise.resolve(answer(jobId, []) ?? { is: 'answered', kept: [], refused: [] });
    },
    entries: (jobId: number, entries: SentEntry[]): Promise<Outcome> => {
      lots.push(entries.map((e) => (e.act as { step: string }).step));
      const own = answer(jobId, entries);
      if (own) return Promise.resolve(own);
      for (const e of entries) if (!kept.has(e.id)) kept.set(e.id, { ...e, seq: ++seq, by: ME, against: null });
      return Promise.resolve({ is: 'answered', kept: entries.map((e) => kept.get(e.id)!), refused: [] });
    },
  };
}
/** Nobody hears what became of it. */
export const nobody = { told: () => undefined };

/** Everything sent or put away: each test begins with an empty outbox. */
export async function emptied(): Promise<void> {
  await sendAll(ME, book(), nobody);
  await sendAll(4, book(), nobody);
  for (const r of await allRefused()) await putAway(r.id);
  for (const p of await allPictures()) await throwPictureAway(p.id);
}
