import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { ReplyOf } from '@diurna/contract';
import type { dayRoutes } from '@diurna/contract/day';
import type { hiresRoutes } from '@diurna/contract/hires';
import { openSeasonYard } from '../test/season-yard.ts';

let autumn: Awaited<ReturnType<typeof openSeasonYard>>;
let own: (typeof autumn)['own'];
let now = new Date('2026-11-06T10:00:00Z');
/** Turnstone is put away; the others were not seen to. */
beforeAll(async () => {
  autumn = await openSeasonYard(() => now);
  ({ own } = autumn);
  await autumn.enterYear();
  await autumn.addDunlin();
  await autumn.doIt('before', '2026-10-12');
  await autumn.doIt('after', '2026-10-26');
});
afterAll(() => own.yard.close());

test('in spring it is brought out again, the boat of the first hire first', async () => {
  now = new Date('2027-03-10T10:00:00Z');
  const all = await autumn.season();
  expect(all.phase).toBe('opening');
  // Its first hire is at risk while it is not ready: a matter of the day before.
  const turnstone = await autumn.boat();
  expect(turnstone).toMatchObject({ next: 'spring', firstOut: '2027-04-03' });
  const march = now;
  now = new Date('2027-04-02T10:00:00Z');
  const { matters } = await own.ilse.get<ReplyOf<(typeof dayRoutes)['readDay']>>('/day?day=2027-04-02');
  expect(matters!.find((m) => m.title.startsWith('Turnstone goes out Sat 3 9:00'))!.text).toMatch(
    /first run of the year/i,
  );
  // On the day the dock does not let it go; whoever plans does, once, with a reason that stays in the book.
  now = new Date('2027-04-03T07:30:00Z');
  const dock = await own.yard.as('dock');
  type Hires = ReplyOf<(typeof hiresRoutes)['listHires']>;
  const { rows } = await dock.get<Hires>('/hires?from=2027-04-03&days=1');
  const first = rows.find((h) => h.boatName === 'Turnstone')!;
  expect(first.notReady).toMatch(/^It was put away and is not brought out yet: .*first run of the year\.$/);
  const go = { boatId: first.boatId, out: true };
  const path = `/hires/${first.id}/let-go`;
  const refused = await dock.refused('post', path, { ...go, reason: 'they wait' });
  expect(refused).toMatchObject({ status: 409, detail: expect.stringContaining('Turnstone does not go out yet.') });
  expect((await own.ilse.refused('post', path, go)).status).toBe(409);
  await own.ilse.post(path, { ...go, reason: 'run in on the river yesterday, not written down' });
  const audit = await own.yard.pool.query<{ after: { reason?: string } }>(
    `select after from audit where subject = 'hire' and subject_id = $1 order by id desc limit 1`,
    [first.id],
  );
  expect(audit.rows[0]!.after).toMatchObject({ letGo: true, reason: expect.stringContaining('on the river') });
  await own.ilse.post(path, { ...go, out: false });
  now = march;
  expect(all.boats.map((b) => [b.boatName, b.next])).toEqual([
    ['Turnstone', 'spring'],
    ['Dunlin', 'spring'],
    ['Knot', 'spring'],
  ]);
  await autumn.doIt('spring', '2027-03-09');
  expect(await autumn.boat()).toMatchObject({ next: null, readyOn: '2027-03-09' });
  // Brought out, it goes by a tap.
  now = new Date('2027-04-03T07:30:00Z');
  await dock.post(path, go);
  await dock.post(path, { ...go, out: false });
  // One that was put away and never brought out stays on the list after the season has begun, with its own decisions.
  await autumn.doIt('after', '2026-11-05', 'Knot');
  now = new Date('2027-06-10T10:00:00Z');
  const late = await autumn.season();
  expect(late.off!.name).toBe('2027/28');
  // Its last lay-up is not one of the coming season.
  expect(late.layUp).toMatchObject({ done: 0, total: 3 });
  const knot = await autumn.boat('Knot');
  expect(knot).toMatchObject({ next: 'spring', season: '2027' });
  const spring = knot.visits.find((v) => v.visit === 'spring')!.tasks;
  const change = { put: 'left out', reason: 'no battery aboard', season: knot.season };
  for (const { engineId, task } of spring.filter((t) => t.task === 'battery-check'))
    await own.ilse.put(`/season/engines/${engineId}`, { ...change, task });
  expect((await autumn.visitOf('spring', 'Knot')).open).toBeLessThan(spring.length);
  expect(
    (
      await own.ilse.refused('put', `/season/engines/${spring[0]!.engineId}`, {
        ...{ ...change, task: 'look-over', season: '2025' },
      })
    ).status,
  ).toBe(409);
});
