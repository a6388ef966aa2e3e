import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { FinishBody } from '@diurna/contract/jobs';
import type { SentEntry } from '@diurna/contract/visit';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import { openDB } from 'idb';
import { PICTURE_PIECE_BYTES } from '@diurna/contract/visit';
import {
  allPictures,
  allRefused,
  allWaiting,
  asCardEntries,
  closeOutbox,
  entryOf,
  put,
  putAway,
  putDock,
  putPicture,
  takeBack,
  throwPictureAway,
  tryAgain,
  tryPictureAgain,
  type Picture,
  type Refused,
  type Waiting,
} from './outbox.ts';
import { sendAll, type Outcome, type PictureOutcome } from './send.ts';

const ME = 3;
const tick = (step: string): CardAct => ({ kind: 'tick', step, done: true });
const write = (jobId: number, step: string, personId = ME) => put(jobId, personId, entryOf(tick(step), 0));
const stepsOf = (list: Waiting[]) => list.map((w) => (w.entry ? (w.entry.act as { step: string }).step : 'finish'));
const body: FinishBody = {
  version: 1,
  tasks: [{ engineId: 1, task: 'engine-oil', done: true }],
  hours: [],
  parts: [],
  remark: null,
};
const finish = (jobId: number) =>
  put(jobId, ME, { finish: { id: crypto.randomUUID(), at: 5, boatName: 'Razorbill', body } });

/** A book that keeps what it is sent, once each. */
function book(answer: (jobId: number, entries: SentEntry[]) => Outcome | null = () => null) {
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
const nobody = { told: () => undefined };

beforeEach(async () => {
  // Everything sent or put away: each test begins with an empty outbox.
  await sendAll(ME, book(), nobody);
  await sendAll(4, book(), nobody);
  for (const r of await allRefused()) await putAway(r.id);
  for (const p of await allPictures()) await throwPictureAway(p.id);
});

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

describe('pictures taken without signal', () => {
  const shot = (n: number, bytes: number) => ({
    type: 'image/jpeg' as const,
    bytes: Uint8Array.from({ length: bytes }, (_, i) => (i * 7 + n) % 251),
  });
  const take = (jobId: number, n: number, bytes = 600_000) =>
    putPicture(jobId, ME, entryOf({ kind: 'photo', step: null, photoId: null }, 0), shot(n, bytes));

  test('thirty of one visit, with the ticks between them, arrive whole through three cuts', async () => {
    const ids: string[] = [];
    for (let n = 0; n < 30; n++) {
      await write(10, `step ${n}`);
      ids.push((await take(10, n)).picture.id);
    }
    const b = book();
    let asked = 0;
    // The line is cut in the middle: at the second lot's answer, and twice within the pictures.
    const cuts = new Set([2, 20, 55]);
    const cut = <T extends { is: string }>(answer: T): T | { is: 'no signal' } =>
      cuts.has(++asked) ? { is: 'no signal' } : answer;
    const poor = {
      ...b,
      entries: async (jobId: number, entries: SentEntry[]) => cut(await b.entries(jobId, entries)),
      picture: async (p: Picture, from: number, piece: Uint8Array) => cut(await b.picture(p, from, piece)),
    };
    let tries = 0;
    while (!(await sendAll(ME, poor, nobody))) {
      tries++;
      // The phone is put away and taken out again.
      await closeOutbox();
    }
    expect(tries).toBe(3);
    expect(b.kept.size).toBe(60);
    expect([...b.pictures.keys()].sort()).toEqual([...ids].sort());
    ids.forEach((id, n) => {
      expect(Buffer.compare(b.pictures.get(id)!, shot(n, 600_000).bytes)).toBe(0);
    });
    expect([await allWaiting(), await allPictures(), await allRefused()]).toEqual([[], [], []]);
    // What was sent before a cut was not sent again, but for the piece whose answer was lost.
    const pieces = 30 * Math.ceil(600_000 / PICTURE_PIECE_BYTES);
    expect(asked).toBeLessThanOrEqual(2 + pieces + 3);
  });

  test('no picture goes before its entry; one whose entry was not taken stays on the phone', async () => {
    const { picture } = await take(10, 1);
    const b = book((_, entries) => ({
      is: 'answered',
      kept: [],
      refused: entries.map((e) => ({ id: e.id, because: 'The card was finished before this came.' })),
    }));
    await sendAll(ME, b, nobody);
    expect(b.pictures.size).toBe(0);
    expect((await allPictures()).map((p) => p.id)).toEqual([picture.id]);
    // The card is open again: both go.
    const open = book();
    await tryAgain((await allRefused())[0]!);
    await sendAll(ME, open, nobody);
    expect(open.pictures.get(picture.id)).toHaveLength(600_000);
    expect(await allPictures()).toEqual([]);
  });

  test('one the book cannot read says why and keeps no other back; it is gone only when somebody throws it away', async () => {
    const bad = (await take(10, 1)).picture;
    const good = (await take(10, 2)).picture;
    const b = book();
    const heard: (Picture | null)[] = [];
    await sendAll(
      ME,
      {
        ...b,
        picture: (p, from, piece) =>
          p.id === bad.id
            ? Promise.resolve({ is: 'refused', because: 'It cannot be read.' })
            : b.picture(p, from, piece),
      },
      {
        ...nobody,
        pictured: (_id, _job, p) => {
          heard.push(p);
        },
      },
    );
    expect(b.pictures.get(good.id)).toHaveLength(600_000);
    expect(heard).toContain(null);
    expect(await allPictures()).toMatchObject([{ id: bad.id, because: 'It cannot be read.' }]);
    // It is not asked again by itself.
    await sendAll(ME, b, nobody);
    expect(b.pictures.has(bad.id)).toBe(false);
    await tryPictureAgain(bad.id);
    await sendAll(ME, b, nobody);
    expect(b.pictures.get(bad.id)).toHaveLength(600_000);
  });

  test('pictures of an older app, kept within their entries, are not lost', async () => {
    await closeOutbox();
    const old = indexedDB as unknown as { deleteDatabase: (name: string) => { onsuccess: () => void } };
    await new Promise<void>((resolve) => {
      old.deleteDatabase('diurna').onsuccess = resolve;
    });
    const entry = {
      ...entryOf({ kind: 'photo', step: null, photoId: null }, 0),
      photo: { type: 'image/jpeg', base64: btoa('jpeg') },
    };
    const db = await openDB('diurna', 1, {
      upgrade(fresh) {
        fresh.createObjectStore('waiting', { keyPath: 'order', autoIncrement: true }).createIndex('job', 'jobId');
        fresh.createObjectStore('refused', { keyPath: 'id' });
      },
    });
    await db.add('waiting', { jobId: 10, personId: ME, entry });
    db.close();
    const b = book();
    await sendAll(ME, b, nobody);
    expect(String.fromCharCode(...b.pictures.get(entry.id)!)).toBe('jpeg');
    expect(b.kept.get(entry.id)).not.toHaveProperty('photo');
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

describe('what was done at the dock', () => {
  const of = { boatId: 1, boatName: 'Plover', at: 0 };
  const acts = {
    out: { ...of, id: 'dock-out-1', kind: 'out' as const, hireId: 7, out: true },
    back: { ...of, id: 'dock-back-1', kind: 'back' as const, hireId: 7, back: true },
  };

  test('goes one after the other as it was done, after the cards; without signal nothing overtakes', async () => {
    await putDock(ME, acts.out);
    await write(10, 'a');
    await putDock(ME, acts.back);
    const b = book();
    const went: string[] = [];
    const dead = { ...b, dock: () => Promise.resolve({ is: 'no signal' as const }) };
    expect(await sendAll(ME, dead, nobody)).toBe(false);
    expect((await allWaiting()).map((w) => w.dock?.id)).toEqual(['dock-out-1', 'dock-back-1']);
    const heard: unknown[] = [];
    const post = {
      ...b,
      dock: (act: { id: string }) => {
        went.push(act.id);
        return Promise.resolve(
          act.id === 'dock-out-1'
            ? { is: 'answered' as const, kept: [], refused: [], clash: 'Plover is out already.' }
            : { is: 'refused' as const, because: 'It was never out.' },
        );
      },
    };
    expect(
      await sendAll(ME, post, {
        ...nobody,
        docked: (sent, refused, clash) => heard.push([sent.dock!.id, refused?.because ?? null, clash]),
      }),
    ).toBe(true);
    expect(went).toEqual(['dock-out-1', 'dock-back-1']);
    expect(heard).toEqual([
      ['dock-out-1', null, 'Plover is out already.'],
      ['dock-back-1', 'It was never out.', null],
    ]);
    expect(await allWaiting()).toEqual([]);
    expect(await allRefused()).toMatchObject([{ jobId: null, dock: { id: 'dock-back-1' } }]);
    // Put right and tried again it is the same act under the same number.
    const again = await tryAgain((await allRefused())[0]!);
    expect(again).toMatchObject({ jobId: null, dock: { id: 'dock-back-1' } });
  });

  test('of somebody else it stays until they sign in here', async () => {
    await putDock(4, acts.out);
    const went: string[] = [];
    await sendAll(ME, { ...book(), dock: (act) => (went.push(act.id), Promise.resolve({ is: 'no signal' })) }, nobody);
    expect([went, (await allWaiting()).length]).toEqual([[], 1]);
  });
});
