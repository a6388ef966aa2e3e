import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { book, emptied, finish, ME, nobody, stepsOf, write, body, tick } from '../test/outbox.ts';
import {
  allRefused,
  allWaiting,
  asCardEntries,
  closeOutbox,
  putAway,
  takeBack,
  tryAgain,
  type Refused,
} from './outbox.ts';
import { sendAll, type Outcome } from './send.ts';

beforeEach(emptied);

describe('the outbox of a phone', () => {
  test('what is written outlives the page, and is sent in its order, card by card', async () => {
    for (const s of ['a', 'b', 'c']) await write(10, s);
    await write(11, 'x');
    await closeOutbox();
    expect(stepsOf(await allWaiting())).toEqual(['a', 'b', 'c', 'x']);
    const b = book();
    expect(await sendAll(ME, b, nobody)).toBe(true);
    expect(b.lots).toEqual([['a', 'b', 'c'], ['x']]);
    expect(await allWaiting()).toEqual([]);
  });
  test('without signal everything stays, and the next try sends all of it', async () => {
    await write(10, 'a');
    const gone = book(() => ({ is: 'no signal' }));
    expect(await sendAll(ME, gone, nobody)).toBe(false);
    expect(stepsOf(await allWaiting())).toEqual(['a']);
    const b = book();
    await sendAll(ME, b, nobody);
    expect(b.kept.size).toBe(1);
  });
  test('an answer lost on the way: sent again, kept once', async () => {
    await write(10, 'a');
    const b = book();
    // The book has it, but the phone never hears.
    await sendAll(
      ME,
      {
        ...b,
        entries: async (jobId, entries) => {
          await b.entries(jobId, entries);
          return { is: 'no signal' };
        },
      },
      nobody,
    );
    expect(stepsOf(await allWaiting())).toEqual(['a']);
    await sendAll(ME, b, nobody);
    expect([b.kept.size, (await allWaiting()).length]).toEqual([1, 0]);
  });
  test('what the book does not take is kept with its reason until somebody has read it', async () => {
    await write(10, 'a');
    await write(10, 'b');
    const told: Refused[] = [];
    const b = book((_, entries) => ({
      is: 'answered',
      kept: [],
      refused: entries
        .filter((e) => (e.act as { step: string }).step === 'b')
        .map((e) => ({ id: e.id, because: 'not on the card any more' })),
    }));
    await sendAll(ME, b, {
      told: (_, __, ___, refused) => {
        told.push(...refused);
      },
    });
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
    expect(await sendAll(ME, b, nobody)).toBe(true);
    expect((await allRefused()).map((r) => r.because)).toEqual(['belongs to a colleague']);
    expect([...b.kept.values()].map((e) => (e.act as { step: string }).step)).toEqual(['x']);
  });
  test('a colleague’s entries on a shared phone are not sent under another name', async () => {
    await write(10, 'mine');
    await write(10, 'hers', 4);
    const b = book();
    await sendAll(ME, b, nobody);
    expect(b.lots).toEqual([['mine']]);
    expect(stepsOf(await allWaiting())).toEqual(['hers']);
  });
  test('a long day without signal goes in lots, in order', async () => {
    for (let i = 0; i < 95; i++) await write(10, String(i));
    const b = book();
    await sendAll(ME, b, nobody);
    expect(b.lots.map((l) => l.length)).toEqual([40, 40, 15]);
    expect(b.lots.flat()).toEqual(Array.from({ length: 95 }, (_, i) => String(i)));
  });
  test('on the card it counts as the last word of whoever wrote it', async () => {
    const waiting = await write(10, 'a');
    expect(asCardEntries([waiting, await finish(10)])).toMatchObject([
      { seq: null, by: ME, against: null, act: tick('a') },
    ]);
  });
  test('a card finished without signal goes after its entries, what is written later after that', async () => {
    await write(10, 'a');
    await finish(10);
    await closeOutbox();
    await write(10, 'b');
    await write(11, 'x');
    const b = book();
    expect(await sendAll(ME, b, nobody)).toBe(true);
    expect(b.lots).toEqual([['a'], ['finish'], ['b'], ['x']]);
    expect(await allWaiting()).toEqual([]);
  });
  test('it is not finished when something written before was not taken', async () => {
    await write(10, 'a');
    await finish(10);
    const b = book((_, entries) =>
      entries.length > 0
        ? { is: 'answered', kept: [], refused: [{ id: entries[0]!.id, because: 'not on the card any more' }] }
        : null,
    );
    await sendAll(ME, b, nobody);
    expect(b.lots).toEqual([['a']]);
    const refused = await allRefused();
    expect(refused.find((r) => r.finish)).toMatchObject({
      because: 'One entry written before it was not taken. Look through the card, then finish it again.',
      finish: { boatName: 'Razorbill', body },
    });
    expect(refused).toHaveLength(2);
  });
  test('the book’s reason against a finish is kept with its kind; taken back in time it is never sent', async () => {
    await finish(10);
    await sendAll(
      ME,
      book(() => ({ is: 'refused', because: 'Only 1 on the shelf.', type: 'short' })),
      nobody,
    );
    expect(await allRefused()).toMatchObject([{ because: 'Only 1 on the shelf.', type: 'short' }]);
    await takeBack((await finish(11)).order!);
    const b = book();
    await sendAll(ME, b, nobody);
    expect(b.lots).toEqual([]);
  });
});

describe('a book that fails at something', () => {
  test('too much at once goes in halves, in order; nothing is given up', async () => {
    for (let i = 0; i < 10; i++) await write(10, String(i));
    const b = book((_, entries) => (entries.length > 3 ? { is: 'too large' } : null));
    await sendAll(ME, b, nobody);
    expect([...b.kept.values()].map((e) => (e.act as { step: string }).step)).toEqual('0123456789'.split(''));
    expect(await allRefused()).toEqual([]);
  });

  test('an entry at which the server fails is set aside, the rest of the queue goes on', async () => {
    for (const s of ['a', 'b', 'c', 'd']) await write(10, s);
    await write(11, 'x');
    const fault: Outcome = { is: 'refused', because: 'The book failed at it.', type: 'fault' };
    const b = book((_, entries) => (entries.some((e) => (e.act as { step: string }).step === 'b') ? fault : null));
    expect(await sendAll(ME, b, nobody)).toBe(true);
    expect([...b.kept.values()].map((e) => (e.act as { step: string }).step)).toEqual(['a', 'c', 'd', 'x']);
    const [aside] = await allRefused();
    expect(aside).toMatchObject({ because: 'The book failed at it.', type: 'fault', entry: { act: tick('b') } });
    // Mended, it goes when it is tried again.
    await tryAgain(aside!);
    const mended = book();
    await sendAll(ME, mended, nobody);
    expect(mended.lots).toEqual([['b']]);
    expect(await allRefused()).toEqual([]);
  });

  test('one entry alone that is too large stays here and says so', async () => {
    await write(10, 'huge');
    await write(10, 'small');
    const b = book((_, entries) =>
      entries.some((e) => (e.act as { step: string }).step === 'huge') ? { is: 'too large' } : null,
    );
    await sendAll(ME, b, nobody);
    expect([...b.kept.values()].map((e) => (e.act as { step: string }).step)).toEqual(['small']);
    expect((await allRefused())[0]!.because).toMatch(/more than the book takes at once/);
  });
});
