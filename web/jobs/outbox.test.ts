import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { SentEntry } from '@diurna/contract/visit';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import { allRefused, allWaiting, asCardEntry, closeOutbox, entryOf, put, putAway, sendAll, type Outcome, type Refused } from './outbox.ts';

const ME = 3;
const tick = (step: string): CardAct => ({ kind: 'tick', step, done: true });
const write = (jobId: number, step: string, personId = ME) => put(jobId, personId, entryOf(tick(step), 0));
const stepsOf = (list: { entry: SentEntry }[]) => list.map((w) => (w.entry.act as { step: string }).step);

/** A book that keeps what it is sent, once each. */
function book(answer: (jobId: number, entries: SentEntry[]) => Outcome | null = () => null) {
  const kept = new Map<string, CardEntry>();
  let seq = 0;
  const lots: string[][] = [];
  return {
    kept, lots,
    send: (jobId: number, entries: SentEntry[]): Promise<Outcome> => {
      lots.push(entries.map((e) => (e.act as { step: string }).step));
      const own = answer(jobId, entries);
      if (own) return Promise.resolve(own);
      for (const e of entries) if (!kept.has(e.id)) kept.set(e.id, { ...e, seq: ++seq, by: ME, against: null });
      return Promise.resolve({ is: 'answered', kept: entries.map((e) => kept.get(e.id)!), refused: [] });
    },
  };
}
const nobody = () => undefined;

beforeEach(async () => {
  // Everything sent or put away: each test begins with an empty outbox.
  await sendAll(ME, book().send, nobody);
  await sendAll(4, book().send, nobody);
  for (const r of await allRefused()) await putAway(r.id);
});

describe('the outbox of a phone', () => {
  test('what is written outlives the page, and is sent in its order, card by card', async () => {
    for (const s of ['a', 'b', 'c']) await write(10, s);
    await write(11, 'x');
    await closeOutbox();
    expect(stepsOf(await allWaiting())).toEqual(['a', 'b', 'c', 'x']);
    const b = book();
    expect(await sendAll(ME, b.send, nobody)).toBe(true);
    expect(b.lots).toEqual([['a', 'b', 'c'], ['x']]);
    expect(await allWaiting()).toEqual([]);
  });
  test('without signal everything stays, and the next try sends all of it', async () => {
    await write(10, 'a');
    const gone = book(() => ({ is: 'no signal' }));
    expect(await sendAll(ME, gone.send, nobody)).toBe(false);
    expect(stepsOf(await allWaiting())).toEqual(['a']);
    const b = book();
    await sendAll(ME, b.send, nobody);
    expect(b.kept.size).toBe(1);
  });
  test('an answer lost on the way: sent again, kept once', async () => {
    await write(10, 'a');
    const b = book();
    // The book has it, but the phone never hears.
    await sendAll(ME, async (jobId, entries) => { await b.send(jobId, entries); return { is: 'no signal' }; }, nobody);
    expect(stepsOf(await allWaiting())).toEqual(['a']);
    await sendAll(ME, b.send, nobody);
    expect([b.kept.size, (await allWaiting()).length]).toEqual([1, 0]);
  });
  test('what the book does not take is kept with its reason until somebody has read it', async () => {
    await write(10, 'a');
    await write(10, 'b');
    const told: Refused[] = [];
    const b = book((_, entries) => ({ is: 'answered', kept: [], refused: entries.filter((e) => (e.act as { step: string }).step === 'b').map((e) => ({ id: e.id, because: 'not on the card any more' })) }));
    await sendAll(ME, b.send, (_, __, refused) => { told.push(...refused); });
    expect(told.map((r) => r.because)).toEqual(['not on the card any more']);
    await closeOutbox();
    const [left] = await allRefused();
    expect(left).toMatchObject({ jobId: 10, because: 'not on the card any more' });
    await putAway(left!.id);
    expect(await allRefused()).toEqual([]);
  });
  test('a whole lot refused is not dropped either, and other cards go on', async () => {
    await write(10, 'a');
    await write(11, 'x');
    const b = book((jobId) => (jobId === 10 ? { is: 'refused', because: 'belongs to a colleague' } : null));
    expect(await sendAll(ME, b.send, nobody)).toBe(true);
    expect((await allRefused()).map((r) => r.because)).toEqual(['belongs to a colleague']);
    expect([...b.kept.values()].map((e) => (e.act as { step: string }).step)).toEqual(['x']);
  });
  test('a colleague’s entries on a shared phone are not sent under another name', async () => {
    await write(10, 'mine');
    await write(10, 'hers', 4);
    const b = book();
    await sendAll(ME, b.send, nobody);
    expect(b.lots).toEqual([['mine']]);
    expect(stepsOf(await allWaiting())).toEqual(['hers']);
  });
  test('a long day without signal goes in lots, in order', async () => {
    for (let i = 0; i < 95; i++) await write(10, String(i));
    const b = book();
    await sendAll(ME, b.send, nobody);
    expect(b.lots.map((l) => l.length)).toEqual([40, 40, 15]);
    expect(b.lots.flat()).toEqual(Array.from({ length: 95 }, (_, i) => String(i)));
  });
  test('on the card it counts as the last word of whoever wrote it', async () => {
    const waiting = await write(10, 'a');
    expect(asCardEntry(waiting)).toMatchObject({ seq: null, by: ME, against: null, act: tick('a') });
  });
});
