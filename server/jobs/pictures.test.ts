import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import sharp from 'sharp';
import { MOST_PICTURE_BYTES, PICTURE_PIECE_BYTES, type PictureKept } from '@diurna/contract/visit';
import { openCardYard } from '../test/cards.ts';
import { entryOf, type Client, type EntriesKept } from '../test/yard.ts';

/** Pictures come by themselves after their entry, in pieces, through cuts, from whoever wrote the entry. */
let own: Awaited<ReturnType<typeof openCardYard>>;
let ines: Client;
let job: number;
beforeAll(async () => {
  own = await openCardYard(() => new Date('2026-04-15T10:00:00Z'));
  ines = await own.yard.as('technician');
  job = await own.cards.hand([[own.port, 'engine-oil']]);
});
afterAll(() => own.yard.close());

/** A picture of noise, as a phone takes one: with the place and the camera in it, lying on its side. */
const picture = (width: number, height: number) =>
  sharp({
    create: { width, height, channels: 3, background: 'teal', noise: { type: 'gaussian', mean: 120, sigma: 60 } },
  })
    .jpeg({ quality: 95 })
    .withExif({
      IFD0: { Make: 'Invented Camera' },
      IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '32/1 38/1 0/1', GPSLongitudeRef: 'W', GPSLongitude: '16/1 54/1 0/1' },
    })
    .withMetadata({ orientation: 6 })
    .toBuffer();
/** Begins as a picture does; the rest is noise. */
const broken = (size: number) =>
  Buffer.from(Uint8Array.from({ length: size }, (_, i) => [0xff, 0xd8, 0xff, 0xe0][i] ?? (i * 31) % 256));
let whole: Buffer;
beforeAll(async () => {
  whole = await picture(900, 700);
  expect(whole.length).toBeGreaterThan(PICTURE_PIECE_BYTES * 2);
});
async function entryWith(
  act = { kind: 'photo' as const, step: null, photoId: null as number | null },
): Promise<string> {
  const entry = entryOf(act);
  const { kept } = await ines.post<EntriesKept>(`/jobs/${job}/entries`, { entries: [entry] });
  expect(kept).toHaveLength(1);
  return entry.id;
}
const put = (who: Client, entry: string, whole: Buffer, from: number, to = whole.length, type = 'image/jpeg') =>
  who.agent
    .put(`/api/jobs/pictures/${entry}?from=${from}&size=${whole.length}&type=${encodeURIComponent(type)}`)
    .set('x-diurna-token', who.token)
    .set('content-type', 'application/octet-stream')
    .send(whole.subarray(from, to));
const kept = async (sent: ReturnType<typeof put>) => (await sent).body as PictureKept;
const photoOf = async (entry: string) =>
  ((await ines.get<JobCard>(`/jobs/${job}`)).entries.find((e) => e.id === entry)!.act as { photoId: number | null })
    .photoId;

describe('a picture in pieces', () => {
  test('goes on where it was cut, whatever was lost on the way, and is on the card once it is whole', async () => {
    const entry = await entryWith();
    expect(await photoOf(entry)).toBeNull();
    expect(await kept(put(ines, entry, whole, 0, PICTURE_PIECE_BYTES))).toEqual({
      received: PICTURE_PIECE_BYTES,
      photoId: null,
    });
    // The answer was lost: the same piece again changes nothing. Nor does one from further on.
    for (const from of [0, PICTURE_PIECE_BYTES * 2])
      expect(await kept(put(ines, entry, whole, from, from + 1000))).toEqual({
        received: PICTURE_PIECE_BYTES,
        photoId: null,
      });
    expect((await kept(put(ines, entry, whole, PICTURE_PIECE_BYTES, PICTURE_PIECE_BYTES * 2))).received).toBe(
      PICTURE_PIECE_BYTES * 2,
    );
    const { photoId } = await kept(put(ines, entry, whole, PICTURE_PIECE_BYTES * 2));
    expect(await photoOf(entry)).toBe(photoId);
    const shown = await ines.agent.get(`/api/jobs/photos/${photoId}`).responseType('blob');
    // The same picture, upright, with nothing beside its pixels.
    const drawn = await sharp(shown.body as Buffer).metadata();
    expect([drawn.format, drawn.width, drawn.height]).toEqual(['jpeg', 700, 900]);
    expect([drawn.exif, drawn.iptc, drawn.xmp, drawn.orientation]).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
    const mean = async (p: Buffer) => (await sharp(p).stats()).channels.map((c) => Math.round(c.mean / 4));
    expect(await mean(shown.body as Buffer)).toEqual(await mean(whole));
    expect([shown.headers['content-type'], shown.headers['x-content-type-options']]).toEqual(['image/jpeg', 'nosniff']);
    // Sent once more it is there already, and there is one.
    expect(await kept(put(ines, entry, whole, 0, 10))).toEqual({ received: whole.length, photoId });
    const { rows } = await own.yard.pool.query('select count(*)::int as n from job_photo where entry_id = $1', [entry]);
    expect(rows).toEqual([{ n: 1 }]);
  });

  test('two phones that send the same piece at once: kept once', async () => {
    const entry = await entryWith();
    const two = await Promise.all([put(ines, entry, whole, 0, 5000), put(ines, entry, whole, 0, 5000)]);
    expect(two.map((r) => (r.body as PictureKept).received)).toEqual([5000, 5000]);
  });

  test('also onto a card that was finished meanwhile: the entry was kept in time', async () => {
    const done = await own.cards.hand([[own.port, 'grease']]);
    const entry = entryOf({ kind: 'photo', step: null, photoId: null });
    await ines.post(`/jobs/${done}/entries`, { entries: [entry] });
    await own.cards.finish(ines, done);
    expect((await kept(put(ines, entry.id, whole, 0))).photoId).not.toBeNull();
  });

  test('begun as another picture, it begins anew', async () => {
    const entry = await entryWith();
    const other = await picture(60, 40);
    await put(ines, entry, whole, 0, 5000);
    expect(await kept(put(ines, entry, other, 0, 100))).toEqual({ received: 100, photoId: null });
    expect((await kept(put(ines, entry, other, 100))).photoId).not.toBeNull();
  });
});

describe('what is not taken', () => {
  test('something that is no picture of its type, however it is called', async () => {
    const entry = await entryWith();
    for (const [bytes, type] of [
      [Buffer.from('<svg onload=alert(1)>'), 'image/jpeg'],
      // It begins as one.
      [broken(5000), 'image/jpeg'],
      // A picture, and not what it is said to be.
      [whole, 'image/png'],
    ] as const) {
      const reply = await put(ines, entry, bytes, 0, bytes.length, type);
      expect([reply.status, (reply.body as { detail: string }).detail]).toEqual([
        422,
        'The picture cannot be read. Take it again.',
      ]);
    }
    expect(await photoOf(entry)).toBeNull();
    // Right the next time.
    expect((await kept(put(ines, entry, whole, 0))).photoId).not.toBeNull();
  });

  test('one without its entry, of another kind of entry, of a colleague, too large, or more than it said', async () => {
    const photo = await entryWith();
    const remark = entryOf({ kind: 'remark', text: 'salt' });
    await ines.post(`/jobs/${job}/entries`, { entries: [remark] });
    const stores = await own.yard.as('stores');
    const status = async (sent: ReturnType<typeof put>) => (await sent).status;
    expect(await status(put(ines, '00000000-0000-4000-8000-000000000000', broken(10), 0))).toBe(404);
    expect(await status(put(ines, remark.id, broken(10), 0))).toBe(422);
    expect(await status(put(stores, photo, broken(10), 0))).toBe(403);
    // A coordinator keeps any card.
    expect(await status(put(own.ilse, photo, broken(10), 0, 5))).toBe(200);
    const asked = (query: string) =>
      ines.agent
        .put(`/api/jobs/pictures/${photo}?${query}`)
        .set('x-diurna-token', ines.token)
        .set('content-type', 'application/octet-stream')
        .send(broken(10));
    expect((await asked(`from=0&size=${MOST_PICTURE_BYTES + 1}&type=image/jpeg`)).status).toBe(400);
    expect((await asked('from=0&size=5&type=image/jpeg')).status).toBe(422);
    expect((await asked('from=0&size=10&type=image/svg')).status).toBe(400);
    expect((await asked('from=x&size=10&type=image/jpeg')).status).toBe(400);
  });

  test('an entry names no picture itself: what is on another card stays there', async () => {
    const entry = await entryWith({ kind: 'photo', step: null, photoId: 1 });
    expect(await photoOf(entry)).toBeNull();
  });
});
