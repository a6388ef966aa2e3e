import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { RibbonDay } from '@diurna/contract/day';
import type { JobSummary } from '@diurna/contract/jobs';
import { FLEET_CSV, openYard, type Client, type Yard } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

let yard: Yard;
let ilse: Client;
const ids = new Map<string, number>();
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T12:00:00Z'));
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/service', 'serial,task,done_on\nT50-1,gear-lube,2025-04-18\nT50-1,impeller,2025-04-18\n');
  for (const b of (
    await ilse.get<{ rows: { id: number; name: string; engines: { id: number; position: string }[] }[] }>(
      '/fleet/boats',
    )
  ).rows) {
    ids.set(b.name, b.id);
    for (const e of b.engines) ids.set(`${b.name} ${e.position}`, e.id);
  }
  const hand = (boat: string, day: string, ...tasks: [string, string][]) =>
    ilse.post('/jobs', {
      insist: ALL_THE_SAME,
      boatId: ids.get(boat),
      technicianId: yard.people.technician,
      day,
      tasks: tasks.map(([engine, task]) => ({ engineId: ids.get(engine), task })),
    });
  await hand('Turnstone', '2026-04-16', ['Turnstone port', 'engine-oil'], ['Turnstone starboard', 'engine-oil']);
  await hand('Knot', '2026-04-16', ['Knot single', 'gear-lube']);
  await hand('Knot', '2026-04-20', ['Knot kicker', 'spark-plugs']);
});
afterAll(async () => {
  await yard.close();
});

describe('the day ribbon', () => {
  test('load by the visit formula, capacity by people and working days, limits by the calendar', async () => {
    const days = await ilse.get<RibbonDay[]>('/day/ribbon?from=2026-04-13&days=14');
    expect(days).toHaveLength(14);
    const on = (day: string) => days.find((d) => d.day === day)!;
    // Twins' oil: 15 + 2 x (8 + 7 + 25) = 95; gear lube: 15 + 5 + 20 + 18 draining = 58.
    expect(on('2026-04-16')).toEqual({
      day: '2026-04-16',
      jobs: 2,
      loadMinutes: 153,
      capacityMinutes: 450,
      limits: 0,
      boatsOut: 0,
    });
    expect(on('2026-04-18')).toMatchObject({ jobs: 0, capacityMinutes: 0, limits: 2 });
    expect(on('2026-04-20')).toMatchObject({ jobs: 1, loadMinutes: 28 });
  });
  test('a cancelled job weighs nothing; another base has none of it', async () => {
    const job = (await ilse.get<{ rows: JobSummary[] }>('/jobs?from=2026-04-20&to=2026-04-20')).rows[0]!;
    await ilse.post(`/jobs/${job.id}/cancel`, { version: job.version, reason: 'no boat' });
    expect((await ilse.get<RibbonDay[]>('/day/ribbon?from=2026-04-20&days=1'))[0]).toMatchObject({
      jobs: 0,
      loadMinutes: 0,
    });
    const other = await ilse.post<{ id: number }>('/fleet/bases', {
      name: 'Far',
      timeZone: 'UTC',
      hemisphere: 'south',
      dayMinutes: 480,
      workdays: [1, 2, 3, 4, 5, 6, 7],
    });
    expect((await ilse.get<RibbonDay[]>(`/day/ribbon?from=2026-04-16&days=1&baseId=${other.id}`))[0]).toMatchObject({
      jobs: 0,
      capacityMinutes: 0,
      limits: 0,
    });
  });
});

test('boats out on each day they are away, by the clock of the base', async () => {
  const boat = (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats')).rows[0]!;
  // Back at half past eleven in the evening in Halifax, which is the next day in UTC.
  await ilse.post('/hires', {
    boatId: boat.id,
    outDay: '2026-04-21',
    outTime: '09:00',
    backDay: '2026-04-22',
    backTime: '23:30',
    reference: null,
  });
  await ilse.post('/hires', {
    boatId: boat.id,
    outDay: '2026-04-22',
    outTime: '08:00',
    backDay: '2026-04-22',
    backTime: '09:00',
    reference: null,
  });
  const days = await ilse.get<RibbonDay[]>('/day/ribbon?from=2026-04-20&days=5');
  expect(days.map((d) => d.boatsOut)).toEqual([0, 1, 1, 0, 0]);
});

describe('lists of jobs', () => {
  test('by day, person, boat, base and state', async () => {
    const n = async (query: string) => (await ilse.get<{ total: number }>(`/jobs?${query}`)).total;
    expect(await n('from=2026-04-16&to=2026-04-16')).toBe(2);
    expect(await n(`boatId=${ids.get('Knot')}`)).toBe(2);
    expect(await n('status=open')).toBe(2);
    expect(await n('status=cancelled')).toBe(1);
    expect(await n(`technicianId=${yard.people.technician}`)).toBe(3);
    expect(await n(`technicianId=${yard.people.coordinator}`)).toBe(0);
    expect(await n(`baseId=${yard.baseId}`)).toBe(3);
  });
  test('a card tells what sharing the visit saves', async () => {
    const twins = (await ilse.get<{ rows: JobSummary[] }>('/jobs?from=2026-04-16&to=2026-04-16')).rows.find(
      (j) => j.boatName === 'Turnstone',
    )!;
    // Each alone: 15 + 8 + 7 + 25 + 20 draining = 75.
    expect(twins).toMatchObject({ minutes: 95, savedMinutes: 2 * 75 - 95 });
    expect(twins.tasks.map((t) => t.position)).toEqual(['port', 'starboard']);
  });
});
