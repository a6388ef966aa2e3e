import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { openHires } from '../test/hires.ts';

let book: Awaited<ReturnType<typeof openHires>>;
beforeAll(async () => {
  book = await openHires();
});
afterAll(() => book.yard.close());
beforeEach(() => book.clear());
const edit = (more: object = {}) => ({
  boatId: book.boats.Turnstone,
  outDay: '2026-04-20',
  outTime: '09:00',
  backDay: '2026-04-20',
  backTime: '17:30',
  reference: 'B-1',
  ...more,
});

describe('hires by hand', () => {
  test('are kept in the time of the base, and listed for days they touch', async () => {
    await book.ilse.post('/hires', edit({ backDay: '2026-04-22' }));
    const [h] = await book.hires('2026-04-21', 1);
    // Halifax is three hours behind UTC in April.
    expect(h).toMatchObject({
      boatName: 'Turnstone',
      out: '2026-04-20T12:00:00.000Z',
      outTime: '09:00',
      backDay: '2026-04-22',
      backTime: '17:30',
      fromFeed: false,
    });
    expect(await book.hires('2026-04-23', 10)).toEqual([]);
  });
  test('two at the same time are said, not refused', async () => {
    await book.ilse.post('/hires', edit());
    expect(await book.ilse.post('/hires', edit({ outTime: '12:00', reference: 'B-2' }))).toMatchObject({
      overlaps: ['2026-04-20 09:00 to 2026-04-20 17:30 (B-1)'],
    });
  });
  test('booked again every week at the same hour of the base, also over the day clocks change', async () => {
    // Clocks in Halifax go back on 1 November 2026.
    const saved = await book.ilse.post(
      '/hires',
      edit({ outDay: '2026-10-25', backDay: '2026-10-25', repeat: { everyDays: 7, times: 3 } }),
    );
    expect(saved).toMatchObject({ hires: 3, overlaps: [] });
    const all = await book.hires('2026-10-20', 40);
    expect(all.map((h) => [h.outDay, h.outTime, h.out])).toEqual([
      ['2026-10-25', '09:00', '2026-10-25T12:00:00.000Z'],
      ['2026-11-01', '09:00', '2026-11-01T13:00:00.000Z'],
      ['2026-11-08', '09:00', '2026-11-08T13:00:00.000Z'],
    ]);
    expect((await book.ilse.refused('post', '/hires', edit({ repeat: { everyDays: 0, times: 3 } }))).status).toBe(422);
  });
  test('are found by a piece of the boat’s name or of the reference; a sign of patterns is plain', async () => {
    await book.ilse.post('/hires', edit());
    await book.ilse.post('/hires', edit({ boatId: book.boats.Knot, reference: '50 % paid' }));
    const found = async (q: string) =>
      (
        await book.ilse.get<{ rows: { boatName: string }[] }>(
          `/hires?from=2026-04-15&days=20&q=${encodeURIComponent(q)}`,
        )
      ).rows.map((h) => h.boatName);
    expect(await found('turn')).toEqual(['Turnstone']);
    expect(await found('B-1')).toEqual(['Turnstone']);
    expect(await found('0 %')).toEqual(['Knot']);
    expect(await found('_')).toEqual([]);
  });
  test('back before out, a year too long and an old version are refused in words', async () => {
    expect((await book.ilse.refused('post', '/hires', edit({ backTime: '08:00' }))).detail).toContain(
      'back before it is out',
    );
    expect((await book.ilse.refused('post', '/hires', edit({ backDay: '2027-07-20' }))).detail).toContain('400 days');
    const { id } = await book.ilse.post<{ id: number }>('/hires', edit());
    await book.ilse.put(`/hires/${id}`, edit({ version: 1, backTime: '18:00' }));
    expect((await book.ilse.refused('put', `/hires/${id}`, edit({ version: 1 }))).status).toBe(409);
  });
  test('called off and taken back', async () => {
    const { id } = await book.ilse.post<{ id: number }>('/hires', edit());
    await book.ilse.post(`/hires/${id}/cancel`, { version: 1, cancelled: true });
    expect(await book.hires()).toEqual([]);
    expect(await book.hires('2026-04-01', 60, '&cancelled=yes')).toMatchObject([{ cancelled: true }]);
    await book.ilse.post(`/hires/${id}/cancel`, { version: 2, cancelled: false });
    expect(await book.hires()).toHaveLength(1);
  });
  test('over a change of clocks the wall times stay', async () => {
    await book.ilse.post('/hires', edit({ outDay: '2026-10-31', backDay: '2026-11-02', backTime: '09:00' }));
    const [h] = await book.hires('2026-10-30');
    expect((Date.parse(h!.back) - Date.parse(h!.out)) / 3_600_000).toBe(49);
  });
});

describe('hires as a file', () => {
  const csv = [
    'boat,out,back,booked_on,reference',
    'Turnstone,2026-04-20 09:00,2026-04-20 17:00,2026-04-01,B-7',
    'Knot,2026-04-21 09:00,2026-04-23 17:00,,',
  ].join('\n');
  test('goes in, comes out the same, and in again without change', async () => {
    expect(await book.ilse.post('/exchange/hires', csv)).toMatchObject({ counts: { add: 2 } });
    expect(await book.ilse.post('/exchange/hires', csv)).toMatchObject({ counts: { same: 2 } });
    expect((await book.ilse.raw('get', '/exchange/hires')).text.trim().split('\r\n').sort()).toEqual(
      csv.split('\n').sort(),
    );
    expect(await book.ilse.post('/exchange/hires', csv.replace('17:00,2026-04-01', '18:00,2026-04-01'))).toMatchObject({
      counts: { change: 1, same: 1 },
    });
  });
  test('each faulty cell is told', async () => {
    const bad = [
      'boat,out,back',
      'Nobody,2026-04-20 09:00,2026-04-20 17:00',
      'Knot,20.4.2026,2026-04-20 17:00',
      'Knot,2026-04-20 09:00,2026-04-20 08:00',
      'Knot,2026-04-20 25:00,2026-04-21 08:00',
    ].join('\n');
    const look = await book.ilse.post<{ counts: object; rows: { faults: { column: string }[] }[] }>(
      '/exchange/hires/preview',
      bad,
    );
    expect(look.counts).toMatchObject({ faulty: 4 });
    expect(look.rows.map((r) => r.faults[0]!.column)).toEqual(['boat', 'out', 'back', 'out']);
  });
});

describe('what hires do to due dates', () => {
  interface Row {
    position: string;
    due: {
      task: string;
      estimated: boolean;
      hoursLeft: number | null;
      hoursOn: { early: string | null; likely: string | null } | null;
    };
  }
  const oil = async (position: string) =>
    (await book.ilse.get<{ rows: Row[] }>(`/service/due?boatId=${book.boats.Knot}&size=100`)).rows.find(
      (r) => r.position === position && r.due.task === 'gear-lube',
    )!.due;
  test('an engine without a meter is counted by them, and a booking made now shows at once', async () => {
    const kicker = (
      await book.ilse.get<{ rows: { engineId: number; position: string }[] }>(
        `/service/due?boatId=${book.boats.Knot}&size=100`,
      )
    ).rows.find((r) => r.position === 'kicker')!.engineId;
    await book.ilse.post('/service/entries', {
      engineId: kicker,
      tasks: ['gear-lube'],
      doneOn: '2026-02-01',
      hours: null,
      doneBy: 'Ada',
      remark: null,
    });
    expect(await oil('kicker')).toMatchObject({ estimated: false, hoursLeft: null });
    const rows = Array.from({ length: 60 }, (_, i) =>
      new Date(Date.UTC(2026, 1, 1 + i)).toISOString().slice(0, 10),
    ).map((d) => `Knot,${d} 10:00,${d} 14:00,${d}`);
    await book.ilse.post('/exchange/hires', ['boat,out,back,booked_on', ...rows].join('\n'));
    const before = await oil('kicker');
    // 60 days of 4 h on hire at a tenth, the usual share of a kicker: about 24 h.
    expect(before.estimated).toBe(true);
    expect(before.hoursLeft).toBeGreaterThan(70);
    expect(before.hoursLeft).toBeLessThan(82);
    await book.ilse.post('/hires', edit({ boatId: book.boats.Knot, outDay: '2026-04-16', backDay: '2026-04-19' }));
    const after = await oil('kicker');
    expect((after.hoursOn!.likely ?? '9') <= (before.hoursOn!.likely ?? '9')).toBe(true);
    expect(after.hoursOn!.early! <= before.hoursOn!.early!).toBe(true);
  });
});

describe('an engine that is not run in yet', () => {
  test('whoever hands the boat out hears of it, and the desk when it goes', async () => {
    const of = async () => (await book.hires('2026-04-20', 1))[0]!;
    await book.ilse.post('/hires', edit());
    // In service for two years without a meter read: it has run for certain.
    expect((await of()).runIn).toEqual([]);
    await book.ilse.post('/exchange/hours', 'serial,read_on,count\nC60-40116,2026-04-10,3.4');
    // Ten hours in all, the first two with care at every minute (common practice, no source): 6.6 h of eight are left.
    expect((await of()).runIn).toEqual([
      expect.stringMatching(/^The port engine is new: 6\.6 h of the next eight hours left\. .*No single speed/),
    ]);
    const admin = await book.yard.as('administrator');
    await book.ilse.post(`/hires/${(await of()).id}/let-go`, { boatId: (await of()).boatId });
    const told = await admin.get<{ text: string }[]>('/session/notices');
    expect(told.map((n) => n.text)).toContainEqual(
      expect.stringMatching(/^Turnstone is out on hire while it is run in\. The port engine is new/),
    );
  });
});
