import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { PICTURE_PIECE_BYTES, type SentEntry } from '@diurna/contract/visit';
import { openDB } from 'idb';
import { book, emptied, ME, nobody, write } from '../test/outbox.ts';
import {
  allPictures,
  allRefused,
  allWaiting,
  closeOutbox,
  entryOf,
  putDock,
  putPicture,
  tryAgain,
  tryPictureAgain,
  type Picture,
} from './outbox.ts';
import { sendAll } from './send.ts';

beforeEach(emptied);

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
