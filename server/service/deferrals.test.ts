import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DueRow } from '@diurna/contract/service';
import { openTwinYard, type Client } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

let own: Awaited<ReturnType<typeof openTwinYard>>;
let now = new Date('2026-04-15T10:00:00Z');
let ilse: Client;
beforeAll(async () => {
  own = await openTwinYard(() => now);
  ilse = own.ilse;
  await ilse.post('/service/entries', {
    engineId: own.port,
    tasks: ['anodes'],
    doneOn: '2025-03-01',
    hours: null,
    doneBy: 'Ines',
    remark: null,
  });
});
afterAll(() => own.yard.close());

const anodes = async () =>
  (await ilse.get<{ rows: DueRow[] }>('/service/due?size=200&task=anodes')).rows.find((r) => r.engineId === own.port)!;
const path = () => `/service/engines/${own.port}/deferrals`;
const put = (more: object = {}) => ({ task: 'anodes', until: '2026-06-15', reason: 'Looked whole in March', ...more });

describe('putting work off', () => {
  test('over, it is put off to a day: it stands by that day, with reason, name and its own limits beside it', async () => {
    expect((await anodes()).due.state).toBe('over');
    await ilse.post(path(), put());
    const row = await anodes();
    expect(row.due).toMatchObject({ state: 'fine', daysLeft: 61, limitDay: '2026-06-15' });
    expect(row.deferral).toMatchObject({
      until: '2026-06-15',
      spring: false,
      reason: 'Looked whole in March',
      on: '2026-04-15',
    });
    expect(row.deferral!.by).toBeTruthy();
    expect(row.deferral!.otherwise).toMatch(/days over/);
  });
  test('in spring: when boats of its hemisphere are brought out again; the new word takes the place of the old', async () => {
    await ilse.post(path(), put({ until: null, reason: 'Impeller in spring' }));
    expect((await anodes()).deferral).toMatchObject({ until: '2027-04-01', spring: true });
    now = new Date('2027-03-28T10:00:00Z');
    expect((await anodes()).due).toMatchObject({ state: 'due', daysLeft: 4 });
    now = new Date('2027-04-02T10:00:00Z');
    expect((await anodes()).due.state).toBe('over');
    now = new Date('2026-04-15T10:00:00Z');
  });
  test('what cannot be put off is refused in words at its field', async () => {
    expect((await ilse.refused('post', path(), put({ until: '2026-04-15' }))).detail).toContain('not ahead');
    expect((await ilse.refused('post', path(), put({ until: '2028-04-15' }))).detail).toContain('change its rule');
    expect((await ilse.refused('post', path(), put({ task: 'bowls' }))).detail).toContain('nothing asks for it');
    expect((await ilse.refused('post', path(), put({ reason: ' ' }))).status).toBeGreaterThanOrEqual(400);
    expect((await own.ines.raw('post', path(), put())).status).toBe(403);
    expect((await ilse.refused('post', '/service/engines/99999/deferrals', put())).status).toBe(404);
  });
  test('on a card it is not put off; the card is', async () => {
    const { id } = await ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId: own.boatId,
      technicianId: own.yard.people.technician,
      day: '2026-04-16',
      tasks: [{ engineId: own.port, task: 'anodes' }],
    });
    expect((await ilse.refused('post', path(), put())).detail).toMatch(/stands on .* card/);
    const card = await ilse.get<{ version: number }>(`/jobs/${id}`);
    await ilse.post(`/jobs/${id}/cancel`, { version: card.version, reason: 'not today' });
  });
  test('taken back, it stands by its own limits; only once', async () => {
    const { id } = (await anodes()).deferral!;
    await ilse.post(`/service/deferrals/${id}/end`, {});
    expect(await anodes()).toMatchObject({ deferral: null, due: { state: 'over' } });
    expect((await ilse.refused('post', `/service/deferrals/${id}/end`, {})).status).toBe(409);
    expect((await ilse.refused('post', '/service/deferrals/99999/end', {})).status).toBe(404);
  });
  test('done meanwhile, the deferral is over by itself', async () => {
    await ilse.post(path(), put());
    await ilse.post('/service/entries', {
      engineId: own.port,
      tasks: ['anodes'],
      doneOn: '2026-04-15',
      hours: null,
      doneBy: 'Ines',
      remark: null,
    });
    expect((await anodes()).deferral).toBeNull();
  });
});

describe('running in', () => {
  test('a new engine has a task by hours until they are run, each outing counted at once', async () => {
    const kicker = (await ilse.get<{ rows: DueRow[] }>('/service/due?size=200&task=running-in')).rows;
    // The kicker of 2025 has neither meter nor log: after half a year it has run for certain.
    expect(kicker).toEqual([]);
    const knot = (await ilse.get<{ rows: { engines: { id: number; position: string }[] }[] }>('/fleet/boats?q=Knot'))
      .rows[0]!;
    const { id } = knot.engines.find((e) => e.position === 'kicker')!;
    await ilse.post(`/service/engines/${id}/break-in`, { hours: 1.5, remark: null });
    const row = async () => (await ilse.get<{ rows: DueRow[] }>('/service/due?size=200&task=running-in')).rows[0];
    expect(await row()).toMatchObject({
      engineId: id,
      due: { state: 'due', by: 'hours', hoursLeft: 8.5, limitHours: 10 },
    });
    expect((await row())!.asked).toMatch(/0\.5 h of the first two hours left/);
    expect(
      (await ilse.refused('post', `/service/engines/${id}/deferrals`, put({ task: 'running-in' }))).detail,
    ).toContain('not put off');
    await ilse.post(`/service/engines/${id}/break-in`, { hours: 9, remark: null });
    expect(await row()).toBeUndefined();
  });
});
