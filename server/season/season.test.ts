import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { batteryRoutes } from '@diurna/contract/batteries';
import type { ReplyOf } from '@diurna/contract';
import type { JobCard } from '@diurna/contract/jobs';
import ICAL from 'ical.js';
import Papa from 'papaparse';
import { ALL_THE_SAME } from '../test/cards.ts';
import { LOWS, NORTH, openSeasonYard, type Season } from '../test/season-yard.ts';
import { southSlip } from '../test/yard.ts';

let autumn: Awaited<ReturnType<typeof openSeasonYard>>;
let own: (typeof autumn)['own'];
let now = new Date('2026-10-10T10:00:00Z');
let version = 0;
beforeAll(async () => {
  autumn = await openSeasonYard(() => now);
  ({ own } = autumn);
});
afterAll(() => own.yard.close());

describe('the season of a base', () => {
  test('goes by the usual year until somebody enters its own; a fault is told at its field, an older version refused', async () => {
    expect(await autumn.season()).toMatchObject({
      season: { closes: '10-31', opens: '04-01', lows: null, version: 0, entered: false },
      off: { name: '2026/27', closes: '2026-10-31', opens: '2027-04-01', frost: '2026-10-31' },
      phase: 'closing',
    });
    const path = `/season/bases/${own.yard.baseId}`;
    const body = NORTH;
    expect((await own.ilse.refused('put', path, { ...body, closes: '02-30' })).faults![0]!.path).toBe('closes');
    expect((await own.ilse.refused('put', path, { ...body, opens: null })).faults![0]!.path).toBe('opens');
    expect((await own.ilse.refused('put', path, { ...body, lows: LOWS.slice(1) })).faults![0]!.path).toBe('lows');
    await own.ilse.put(path, body);
    expect((await own.ilse.refused('put', path, body)).status).toBe(409);
    expect((await own.ines.refused('put', path, { ...body, version: 1 })).status).toBe(403);
    expect((await autumn.season()).off).toMatchObject({ frost: '2026-11-01', putAwayBy: '2026-11-01' });
  });
  test('one that never closes asks for nothing; one of the southern half stands when the north sails', async () => {
    const slip = await southSlip(own.ilse);
    await own.ilse.put(`/season/bases/${slip}`, { closes: null, opens: null, lows: null, version: 0 });
    expect(await own.ilse.get(`/season?baseId=${slip}`)).toMatchObject({
      off: null,
      phase: null,
      boats: [],
      layUp: null,
    });
    const south = await own.ilse.post<{ id: number }>('/fleet/bases', {
      ...{ name: 'Far Side', timeZone: 'Pacific/Auckland', hemisphere: 'south', dayMinutes: 480, workdays: [1] },
    });
    expect((await own.ilse.get<Season>(`/season?baseId=${south.id}`)).off).toMatchObject({
      // Its season has just begun: boats are being brought out on the day the north puts its own away.
      closes: '2026-04-30',
      opens: '2026-10-01',
    });
  });
});

describe('a boat goes through its season', () => {
  test('oil and first dose come before its last hire; what is left out says why', async () => {
    const b = await autumn.boat();
    expect(b).toMatchObject({ next: 'before', lastOut: '2026-10-20', lastBack: '2026-10-25', firstOut: '2027-04-03' });
    const before = b.visits.find((v) => v.visit === 'before')!;
    expect(before).toMatchObject({ open: 6, done: 0 });
    expect(before.tasks.filter((t) => t.engineId === own.port).map((t) => t.task)).toEqual([
      'engine-oil',
      'oil-filter',
      'stabiliser',
    ]);
    expect(before.minutes).toBeGreaterThan(60);
    expect(b.leftOut).toContainEqual(
      expect.objectContaining({ task: 'fogging', because: 'a four-stroke keeps its film of oil' }),
    );
    // Without a hire left they go in at lay-up, and that is said.
    expect(await autumn.boat('Knot')).toMatchObject({ next: 'after', note: expect.stringMatching(/^No hire is left/) });
  });
  test('its work is a card like any other: handed out, and shown as such', async () => {
    const { tasks } = await autumn.visitOf('before');
    const { id } = await own.ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId: own.boatId,
      technicianId: own.yard.people.technician,
      day: '2026-10-12',
      tasks: tasks.map(({ engineId, task }) => ({ engineId, task })),
    });
    const card = await own.ilse.get<JobCard>(`/jobs/${id}`);
    const at = (part: string) => card.steps.findIndex((s) => s.step.id.endsWith(part));
    expect(at('stabiliser/first')).toBeGreaterThanOrEqual(0);
    expect((await autumn.visitOf('before')).tasks.every((t) => t.job?.id === id)).toBe(true);
    await own.ilse.post(`/jobs/${id}/cancel`, { version: card.version, reason: 'by hand instead' });
  });
  test('done counts from the weeks before the closing on; after the hire the second visit is next', async () => {
    now = new Date('2026-10-12T15:00:00Z');
    await autumn.doIt('before', '2026-10-12');
    expect(await autumn.boat()).toMatchObject({ next: 'after', laidUpOn: null });
    now = new Date('2026-10-27T10:00:00Z');
    await autumn.doIt('after', '2026-10-26');
    expect(await autumn.boat()).toMatchObject({ next: null, laidUpOn: '2026-10-26', readyOn: null });
    const { layUp } = await autumn.season();
    expect(layUp).toMatchObject({ total: 2, done: 1, left: 1, by: '2026-11-01' });
    expect(layUp!.reached).toBeGreaterThan(0);
    expect(layUp!.weeks.reduce((n, w) => n + w.done, 0)).toBe(1);
  });
});

describe('what the season wants stands where all work stands', () => {
  type Row = { boatName: string; asked: string | null; due: { task: string; limitDay: string | null; state: string } };
  const asked = async (name: string) =>
    (await own.ilse.get<{ rows: Row[] }>('/service/due?size=200')).rows.filter(
      (r) => r.boatName === name && /^(Before the last hire|Lay-up|Recommission): /.test(r.asked ?? ''),
    );
  test('in Due by the day it is wanted, with its reason; not what is done, put elsewhere, or of a boat that stays out', async () => {
    // Turnstone is laid up; Knot has no hire left, so all of it is wanted before frost.
    expect(await asked('Turnstone')).toEqual([]);
    const knot = await asked('Knot');
    expect(knot.map((r) => r.due.task)).toEqual(expect.arrayContaining(['flush', 'second-dose', 'stabiliser']));
    // Of what its programme asks for besides, the nearer limit counts.
    expect(knot.every((r) => r.due.state === 'over' || r.due.state === 'due')).toBe(true);
    expect(knot.find((r) => r.due.task === 'flush')!.due).toMatchObject({ limitDay: '2026-11-01', state: 'due' });
    const engineId = (await autumn.boat('Knot')).visits[1]!.tasks[0]!.engineId;
    const flush = { task: 'flush', put: 'left out', reason: 'flushed by the jet' };
    await own.ilse.put(`/season/engines/${engineId}`, flush);
    expect((await asked('Knot')).filter((r) => r.due.task === 'flush')).toHaveLength(
      knot.filter((r) => r.due.task === 'flush').length - 1,
    );
    await own.ilse.put(`/season/engines/${engineId}`, { ...flush, put: 'as usual' });
    const { boatId } = await autumn.boat('Knot');
    const stays = { staysOut: true, placeId: null, tankLitres: null };
    await own.ilse.put(`/season/boats/${boatId}`, { ...stays, version: 0 });
    expect(await asked('Knot')).toEqual([]);
    await own.ilse.put(`/season/boats/${boatId}`, { ...stays, staysOut: false, version: 1 });
    version = 2;
    expect(await asked('Knot')).toHaveLength(knot.length);
  });
});

describe('the list of an engine', () => {
  const change = (put: string, more: object = {}) => ({ ...{ task: 'anodes', put, reason: 'new in August' }, ...more });
  test('is changed with a reason, and back; a repair is not put on it', async () => {
    const knot = (await autumn.boat('Knot')).visits[1]!.tasks[0]!.engineId;
    const path = `/season/engines/${knot}`;
    await own.ilse.put(path, change('left out'));
    const anodes = async () =>
      (await autumn.boat('Knot')).leftOut.find((l) => l.engineId === knot && l.task === 'anodes');
    expect(await anodes()).toMatchObject({ because: 'new in August' });
    expect((await autumn.boat('Knot')).changes).toEqual([
      {
        engineId: knot,
        task: 'anodes',
        put: null,
        by: expect.stringMatching(/\w/),
        on: expect.stringMatching(/^2026-1/),
      },
    ]);
    // A closing day that moves over the new year takes the decision along.
    const year = { opens: '04-01', lows: LOWS };
    await own.ilse.put(`/season/bases/${own.yard.baseId}`, { ...year, closes: '01-05', version: 1 });
    expect((await autumn.season()).off!.name).toBe('2027');
    expect(await anodes()).toMatchObject({ because: 'new in August' });
    await own.ilse.put(`/season/bases/${own.yard.baseId}`, { ...year, closes: '10-31', version: 2 });
    await own.ilse.put(path, change('spring', { reason: 'ordered, comes late' }));
    expect((await autumn.visitOf('spring', 'Knot')).tasks).toContainEqual(
      expect.objectContaining({ engineId: knot, task: 'anodes', because: 'ordered, comes late' }),
    );
    await own.ilse.put(path, change('as usual'));
    expect((await autumn.boat('Knot')).changes).toEqual([]);
    expect(await anodes()).toBeUndefined();
    expect((await own.ilse.refused('put', path, change('after', { task: 'fuel-repair' }))).faults![0]!.path).toBe(
      'task',
    );
    expect((await own.ilse.refused('put', path, change('left out', { reason: '' }))).faults![0]!.path).toBe('reason');
    expect((await own.ines.refused('put', path, change('left out'))).status).toBe(403);
    expect((await own.ilse.refused('put', '/season/engines/99999', change('left out'))).status).toBe(404);
  });
});

describe('where boats stand', () => {
  test('a place takes no more than it has room for; a boat that stays out takes none and gets calendar work only', async () => {
    const place = await own.ilse.post<{ id: number; version: number }>('/season/places', {
      ...{ baseId: own.yard.baseId, name: 'Long hall', kind: 'hall', room: 1 },
    });
    const knot = await autumn.boat('Knot');
    const put = (b: { boatId: number }, more: object) =>
      [
        `/season/boats/${b.boatId}`,
        { staysOut: false, placeId: place.id, tankLitres: null, version: 0, ...more },
      ] as const;
    ({ version } = await own.ilse.put<{ version: number }>(
      `/season/boats/${knot.boatId}`,
      put(knot, { tankLitres: 100, version })[1],
    ));
    expect((await own.ilse.refused('put', ...put(await autumn.boat(), {}))).detail).toMatch(
      /^Long hall is full: it takes 1/,
    );
    expect((await autumn.season()).places).toEqual([
      { id: place.id, version: 1, name: 'Long hall', kind: 'hall', room: 1, boats: 1 },
    ]);
    // 3 mL a litre for a tank that is full; the other boat's tank nobody knows, but its work is done.
    expect((await autumn.season()).stabiliser).toEqual({ ml: 300, withoutTank: 0, secondDoses: 0 });
    const edit = { name: 'Long hall', kind: 'hall', room: 2, version: 1 };
    await own.ilse.put(`/season/places/${place.id}`, edit);
    expect((await own.ilse.refused('put', `/season/places/${place.id}`, edit)).status).toBe(409);
    expect((await own.ilse.refused('put', ...put(knot, { version: 0 }))).status).toBe(409);
    await own.ilse.put(...put(knot, { staysOut: true, placeId: null, version }));
    expect(await autumn.boat('Knot')).toMatchObject({ staysOut: true, visits: [], next: null });
    expect((await autumn.season()).layUp!.total).toBe(1);
    await own.ilse.put(...put(knot, { placeId: place.id, tankLitres: 100, version: version + 1 }));
  });
});

test('what the campaign takes from the shelf: gear lube of what is open, exact, against what lies there', async () => {
  // Turnstone is done; a third twin comes in, two cases of 0.64 L.
  await autumn.addDunlin();
  const { parts, partsUnknown } = await autumn.season();
  expect(parts.find((p) => p.number === 'LUBE')).toMatchObject({
    quantity: 1280,
    onHand: 1000,
    packs: expect.stringMatching(/^2 × .*8 US fl oz.*; 193 mL left open$/),
  });
  // 280 mL short: two tubes of 236.588 mL (NIST SP 811) leave 193 mL, a bottle of a litre costs more.
  // Two sumps of 2.7 L before the last outing.
  expect(parts.find((p) => p.number === 'OIL')).toMatchObject({ quantity: 5400, onHand: 9000 });
  expect(partsUnknown).toBeGreaterThan(0);
});

describe('batteries in store', () => {
  const look = (volts: number | null, more: object = {}) => ({
    ...{ volts, celsius: null, restedHours: 24, kind: 'flooded', charged: false, remark: null },
    ...more,
  });
  test('are on the round once they are out; low they are charged, low again they are replaced', async () => {
    const round = () =>
      own.ilse.get<ReplyOf<(typeof batteryRoutes)['batteryRound']>>(`/season/batteries?baseId=${own.yard.baseId}`);
    const one = async () => (await round()).batteries.find((b) => b.boatName === 'Turnstone')!;
    expect(await one()).toMatchObject({ since: '2026-10-26', verdict: 'not looked at', nextLook: '2026-11-23' });
    now = new Date('2026-11-25T10:00:00Z');
    expect(await one()).toMatchObject({ overdueDays: 2 });
    const path = `/season/boats/${own.boatId}/battery`;
    expect(await own.ines.post(`/season/boats/${own.boatId}/battery`, look(12.3, { charged: true }))).toMatchObject({
      percent: 57,
      verdict: 'fine',
    });
    now = new Date('2026-12-20T10:00:00Z');
    // Kept by a phone since the day before.
    expect(await own.ines.post(path, look(12.1, { at: '2026-12-19T10:00:00Z' }))).toMatchObject({ verdict: 'replace' });
    expect(await one()).toMatchObject({ verdict: 'replace', nextLook: '2027-01-16' });
    expect((await one()).looks.map((l) => l.day)).toEqual(['2026-12-19', '2026-11-25']);
    expect((await own.ines.refused('post', path, look(24))).faults![0]!.path).toBe('volts');
    expect((await (await own.yard.as('dock')).refused('post', path, look(12.6))).status).toBe(403);
  });
});

test('what was put off to spring is on the list of the season until it is done', async () => {
  const [engineId] = [own.port];
  const dues = await own.ilse.get<{ rows: { engineId: number; due: { task: string } }[] }>('/service/due?size=200');
  const { task } = dues.rows.find((r) => r.engineId === engineId && r.due.task === 'impeller')!.due;
  await own.ilse.post(`/service/engines/${engineId}/deferrals`, { task, until: null, reason: 'Impeller in spring' });
  expect((await autumn.season()).deferred).toContainEqual(
    expect.objectContaining({ engineId, task, until: '2027-04-01', reason: 'Impeller in spring', lapsed: false }),
  );
});

test('the campaign as a file and as a calendar, read again by other programs', async () => {
  const { visits, by } = await autumn.boat('Knot');
  const text = (await own.ilse.raw('get', `/season/file?baseId=${own.yard.baseId}`)).text;
  const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
  const knot = rows.filter((r) => r.boat === 'Knot');
  expect(knot).toHaveLength(visits.reduce((n, v) => n + v.tasks.length, 0));
  expect(knot.find((r) => r.task === 'Flush and rinse')).toMatchObject({ visit: 'lay-up', wanted_by: by, done_on: '' });
  expect(rows.find((r) => r.boat === 'Turnstone' && r.visit === 'lay-up')!.done_on).toBe('2026-10-26');
  const ics = (await own.ilse.raw('get', `/season/calendar?baseId=${own.yard.baseId}`)).text;
  const events = new ICAL.Component(ICAL.parse(ics) as unknown[]).getAllSubcomponents('vevent');
  const days = new Map(
    events.map((e) => [String(e.getFirstPropertyValue('summary')), String(e.getFirstPropertyValue('dtstart'))]),
  );
  expect(days.get('North Quay opens')).toBe('2027-04-01');
  expect(days.get('Battery of Turnstone: look at it')).toBe('2027-01-16');
  expect(new Set(events.map((e) => String(e.getFirstPropertyValue('uid')))).size).toBe(events.length);
});
