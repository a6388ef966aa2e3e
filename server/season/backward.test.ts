import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { SeasonPlan } from '@diurna/contract/season-plan';
import { ALL_THE_SAME } from '../test/cards.ts';
import { openSeasonYard } from '../test/season-yard.ts';

let autumn: Awaited<ReturnType<typeof openSeasonYard>>;
let own: (typeof autumn)['own'];
const now = new Date('2026-10-10T10:00:00Z');
beforeAll(async () => {
  autumn = await openSeasonYard(() => now);
  ({ own } = autumn);
  await autumn.enterYear();
  await autumn.addDunlin();
  await own.ilse.post('/season/places', { ...{ baseId: own.yard.baseId, name: 'Long hall', kind: 'hall', room: 2 } });
  for (const visit of ['before', 'after'] as const) await autumn.doIt(visit, '2026-10-09', 'Knot');
});
afterAll(() => own.yard.close());

describe('planned backwards', () => {
  test('a day for each next visit; what comes after the last hire after it; more hands cost no more', async () => {
    const planAt = (share: number) => own.ilse.get<SeasonPlan>(`/season/plan?baseId=${own.yard.baseId}&share=${share}`);
    const [all, few] = [await planAt(100), await planAt(5)];
    expect(all.undone).toBe(0);
    expect(all.visits.length).toBeGreaterThan(0);
    expect(all.visits.every((v) => v.day !== null && v.day >= '2026-10-10')).toBe(true);
    for (const v of all.visits.filter((x) => x.boatName === 'Turnstone' && x.visit === 'after'))
      expect(v.day! >= '2026-10-25').toBe(true);
    expect(all.bound).toBeLessThanOrEqual(all.cost + 1e-6);
    expect(few.cost).toBeGreaterThan(all.cost);
    // What would help is told where something is lost.
    const ifs = new Map(few.whatIfs.map((w) => [w.what, w]));
    expect([...ifs.keys()]).toEqual([
      ...['a technician lent', 'two lift turns more'],
      ...['a week more until it has to be over', 'five boats left as they are', 'no overtime'],
    ]);
    expect(ifs.get('a week more until it has to be over')!.cost).toBeLessThanOrEqual(few.cost + 1e-6);
    // There are no more than five: with all of them left nothing costs anything.
    expect(ifs.get('five boats left as they are')).toMatchObject({ cost: 0, undone: 0 });
    expect(few.whatIfs[0]!.cost).toBeLessThan(few.cost);
    for (const w of all.weeks) expect(w.lifts).toBeLessThanOrEqual(w.liftSlots);
    // Boats are counted against the places; what the base says a boat left as it is costs counts.
    expect(all.room).toBe((await autumn.season()).places.reduce((sum, p) => sum + p.room, 0));
    expect(all.weeks.map((w) => w.away)).toEqual(all.weeks.map((w) => w.away).toSorted((a, b) => a - b));
    // Knot is put away already.
    expect(all.weeks.at(-1)!.away).toBe(1 + all.visits.filter((v) => v.visit === 'after').length);
    const { season: year } = await autumn.season();
    const { entered, version: kept, ...asIs } = year;
    expect(entered).toBe(true);
    const path = `/season/bases/${own.yard.baseId}`;
    const { version: next } = await own.ilse.put<{ version: number }>(path, { ...asIs, notAtAll: 4000, version: kept });
    expect((await planAt(5)).cost).toBeGreaterThan(few.cost);
    await own.ilse.put(path, { ...asIs, version: next });
    // What the weeks take is what the campaign takes without spring, and comes to it in the same containers.
    const lube = all.parts.find((p) => p.number === 'LUBE')!;
    const { parts } = await autumn.season();
    const whole = parts.find((p) => p.number === 'LUBE')!;
    expect(lube.weeks.reduce((sum, w) => sum + w.quantity, 0)).toBeCloseTo(whole.quantity, 1);
    expect(lube.weeks.reduce((sum, w) => sum + w.short, 0)).toBeCloseTo(whole.quantity - whole.onHand, 1);
    const count = (text: string | null) =>
      [...(text ?? '').matchAll(/(\d+) × /g)].reduce((n, m) => n + Number(m[1]), 0);
    expect(lube.weeks.reduce((n, w) => n + count(w.packs), 0)).toBe(count(whole.packs));
    expect(count(whole.packs)).toBeGreaterThan(0);
    expect((await own.ilse.refused('get', `/season/plan?baseId=${own.yard.baseId}&share=0`)).faults![0]!.path).toBe(
      'share',
    );
  });
  test('what is on a card already keeps its day there; what comes after it is planned all the same', async () => {
    const dunlin = (await autumn.boat('Dunlin')).boatId;
    await own.ilse.post('/hires', {
      ...{ boatId: dunlin, outDay: '2026-10-18', outTime: '09:00', backDay: '2026-10-20', backTime: '17:00' },
      reference: null,
    });
    const { tasks } = await autumn.visitOf('before', 'Dunlin');
    await own.ilse.post('/jobs', {
      ...{ insist: ALL_THE_SAME, boatId: dunlin, technicianId: own.yard.people.technician, day: '2026-10-12' },
      tasks: tasks.map(({ engineId, task }) => ({ engineId, task })),
    });
    expect(await autumn.visitOf('before', 'Dunlin')).toMatchObject({ freeMinutes: 0, open: tasks.length });
    const plan = await own.ilse.get<SeasonPlan>(`/season/plan?baseId=${own.yard.baseId}&share=100`);
    const ofIt = plan.visits.filter((v) => v.boatName === 'Dunlin');
    expect(ofIt.map((v) => v.visit)).toEqual(['after']);
    expect(ofIt[0]!.day! >= '2026-10-20').toBe(true);
  });
});
