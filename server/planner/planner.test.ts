import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { BoardReply } from '@diurna/contract/planner';
import type { DayReply } from '@diurna/contract/day';
import { addDays, weekday } from '@diurna/core/calendar';
import { Board, Planner, pricePlan, type PlannedVisit } from '@diurna/core/planner';
import ICAL from 'ical.js';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

describe('plans in the book', () => {
  // A Monday, before work.
  const now = new Date('2026-05-11T10:00:00Z');
  let yard: Yard;
  let coordinator: Client;
  let administrator: Client;
  beforeAll(async () => {
    yard = await openYard(() => now);
    administrator = await yard.as('administrator');
    coordinator = await yard.as('coordinator');
    await administrator.post('/exchange/fleet', FLEET_CSV);
    await administrator.post('/exchange/parts', PARTS_CSV);
    const { people } = await coordinator.get<{ people: { id: number; version: number; role: string }[] }>(
      '/people/work?from=2026-05-11',
    );
    const t = people.find((p) => p.role === 'technician')!;
    await coordinator.put(`/people/${t.id}/work`, {
      skills: ['lower units'],
      pace: 1,
      rateMinor: 4800,
      overtimeMinutes: 60,
      overtimePercent: 150,
      shifts: [],
      version: t.version,
    });
  });
  afterAll(() => yard.close());

  const board = () => coordinator.get<BoardReply>('/plan?days=14');
  const planOf = (b: BoardReply) => {
    const planner = new Planner(b.problem);
    planner.start();
    for (let k = 0; k < 300; k++) planner.improve(1 - k / 300);
    return planner.plan();
  };
  const acceptBody = (b: BoardReply, visits: PlannedVisit[]) => ({
    firstDay: b.firstDay,
    days: b.days,
    basedOn: b.accepted?.id ?? null,
    jobs: b.standing.map((j) => ({ id: j.jobId, version: j.version })),
    visits: visits.map((v) => ({ ...v, start: Math.floor(v.start) })),
    cost: pricePlan(b.problem, { visits }).cost,
  });

  test('the problem of the book: people, gaps, work that falls due, the shelf', async () => {
    const b = await board();
    expect(b).toMatchObject({ firstDay: '2026-05-11', days: 14, accepted: null, standing: [] });
    expect(b.problem.technicians).toMatchObject([{ skills: ['lower units'], ratePerHour: 48 }]);
    expect(b.problem.technicians[0]!.shift.map((s) => s !== null)).toEqual(
      Array.from({ length: 14 }, (_, d) => weekday(addDays('2026-05-11', d)) < 6),
    );
    // New in 2024 and never serviced in the book: twelve months are long over.
    expect(Object.values(b.tasks).filter((t) => t.state === 'over').length).toBeGreaterThan(4);
    expect(b.problem.parts.find((p) => b.parts[p.id]!.number === 'OIL')!.supply[0]).toBe(9000);
  });

  test('accepted: visits become cards, the next board has them standing, people are told, the log knows', async () => {
    const b = await board();
    const plan = planOf(b);
    expect(plan.visits.length).toBeGreaterThan(0);
    const reply = await coordinator.post<{ added: number; moved: number }>('/plan/accept', acceptBody(b, plan.visits));
    expect(reply).toMatchObject({ added: plan.visits.length, moved: 0, calledOff: 0 });
    const next = await board();
    expect(next.standing).toHaveLength(plan.visits.length);
    expect(next.accepted).toMatchObject({
      by: 'coordinator',
      visits: plan.visits.map((v) => ({ boat: v.boat, day: v.day })),
    });
    // Its parts are kept back: 2.7 L for each of Turnstone's twins; for the kicker no part is known.
    const { rows: parts } = await coordinator.get<{ rows: { number: string; keptBack: { quantity: number }[] }[] }>(
      '/stores/parts?size=50',
    );
    const twins = plan.visits
      .filter((v) => b.boats[v.boat]!.name === 'Turnstone')
      .flatMap((v) => v.tasks)
      .filter((t) => t.endsWith(' engine-oil')).length;
    expect(twins).toBeGreaterThan(0);
    expect(parts.find((p) => p.number === 'OIL')!.keptBack[0]!.quantity).toBe(twins * 2700);
    const technician = await yard.as('technician');
    const told = await technician.get<{ id: number; text: string }[]>('/session/notices');
    // Once, however many cards.
    expect(told).toHaveLength(1);
    expect(told[0]!.text.match(/ on (Mon|Tue|Wed|Thu|Fri) \d+ May: /g)).toHaveLength(plan.visits.length);
    await technician.post('/session/notices/read', { upTo: told.at(-1)!.id });
    expect(await technician.get('/session/notices')).toEqual([]);
    const { rows } = await administrator.get<{ rows: { subject: string; act: string }[] }>('/records/audit?size=50');
    expect(rows.filter((r) => r.subject === 'plan')).toHaveLength(1);
  });

  test('a second plan from the same page is refused, and nothing is lost', async () => {
    const b = await board();
    const visits = new Board(b.problem, b.standing).visits();
    await coordinator.post('/plan/accept', acceptBody(b, visits));
    const refused = await coordinator.refused('post', '/plan/accept', acceptBody(b, visits.slice(1)));
    expect(refused).toMatchObject({ status: 409, type: 'stale' });
    expect((await board()).standing).toHaveLength(visits.length);
  });

  test('a moved visit moves its card, one left out is called off, the rest keeps its number', async () => {
    const b = await board();
    const table = new Board(b.problem, b.standing);
    const before = table.visits();
    expect(before.length).toBeGreaterThan(1);
    const [first, ...rest] = before;
    const offer = table
      .offers({ boat: first!.boat, from: { day: first!.day }, tasks: first!.tasks })
      .find((o) => o.change !== null && o.day !== first!.day && !o.joins)!;
    expect(
      table.move({ boat: first!.boat, from: { day: first!.day }, tasks: first!.tasks }, offer.day, offer.technician),
    ).toBe(true);
    const after = table.visits().filter((v) => v.boat !== rest.at(-1)!.boat || v.day !== rest.at(-1)!.day);
    const reply = await coordinator.post('/plan/accept', acceptBody(b, after));
    expect(reply).toMatchObject({ added: 0, moved: 1, calledOff: 1, kept: before.length - 2 });
    const card = b.standing.find((s) => s.boat === first!.boat && s.day === first!.day)!;
    const next = await board();
    expect(next.standing.find((s) => s.jobId === card.jobId)).toMatchObject({ day: offer.day });
  });

  test('a card changed by somebody else makes the page stale', async () => {
    const b = await board();
    const card = b.standing[0]!;
    await coordinator.put(`/jobs/${card.jobId}`, {
      version: card.version,
      technicianId: Number(card.technician),
      day: addDays(b.firstDay, card.day === 3 ? 4 : 3),
      tasks: card.tasks.map((t) => ({ engineId: Number(t.split(' ')[0]), task: t.split(' ')[1] })),
    });
    expect(await coordinator.refused('post', '/plan/accept', acceptBody(b, b.standing))).toMatchObject({
      type: 'stale',
    });
  });

  test('visits of another fleet are refused with their place', async () => {
    const b = await board();
    const [v] = b.standing;
    expect(await coordinator.refused('post', '/plan/accept', acceptBody(b, [{ ...v!, boat: '99999' }]))).toMatchObject({
      status: 422,
      faults: [{ path: 'visits.0' }],
    });
    expect(
      await coordinator.refused('post', '/plan/accept', acceptBody(b, [v!, { ...v!, day: v!.day + 1 }])),
    ).toMatchObject({ status: 422 });
  });

  test('leave, a day without work, the lift and an order change the problem', async () => {
    await coordinator.post(`/people/${yard.people.technician}/exceptions`, {
      kind: 'away',
      firstDay: '2026-05-12',
      lastDay: '2026-05-13',
      reason: 'leave',
    });
    await coordinator.post(`/fleet/bases/${yard.baseId}/closed-days`, { day: '2026-05-14', name: 'Ascension Day' });
    await coordinator.post(`/fleet/bases/${yard.baseId}/lift-out`, {
      firstDay: '2026-05-15',
      lastDay: '2026-05-15',
      slots: 0,
      reason: 'inspected',
    });
    const b0 = await board();
    const filter = Object.entries(b0.parts).find(([, p]) => p.number === 'F1')!;
    await coordinator.post('/stores/arrivals', {
      partId: filter[1].partId,
      baseId: yard.baseId,
      day: '2026-05-18',
      quantity: 3,
      note: null,
    });
    const b = await board();
    expect(b.problem.technicians[0]!.shift.slice(0, 5).map((s) => s !== null)).toEqual([
      true,
      false,
      false,
      false,
      true,
    ]);
    expect(b.problem.bases[0]!.liftSlots.slice(3, 6)).toEqual([2, 0, 2]);
    expect(b.problem.parts.find((p) => p.id === filter[0])!.supply).toMatchObject({ 0: 1, 7: 3 });
    const [order] = await coordinator.get<{ id: number }[]>(`/stores/arrivals?partId=${filter[1].partId}`);
    await coordinator.post(`/stores/arrivals/${order!.id}/close`, { received: 2 });
    expect((await board()).problem.parts.find((p) => p.id === filter[0])!.supply[0]).toBe(3);
    expect(await coordinator.refused('post', `/stores/arrivals/${order!.id}/close`, { received: 2 })).toMatchObject({
      status: 409,
    });
  });

  test('holidays come from a calendar file, once', async () => {
    const ics = [
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//x//y//EN',
      'BEGIN:VEVENT',
      'UID:a@x',
      'SUMMARY:Harbour day',
      'DTSTART;VALUE=DATE:20260525',
      'DTEND;VALUE=DATE:20260527',
      'END:VEVENT',
      'BEGIN:VEVENT',
      'UID:b@x',
      'SUMMARY:Yearly',
      'DTSTART;VALUE=DATE:20260601',
      'RRULE:FREQ=YEARLY;COUNT=2',
      'END:VEVENT',
      'END:VCALENDAR',
    ].join('\r\n');
    expect(await coordinator.post(`/fleet/bases/${yard.baseId}/closed-days/calendar`, ics)).toEqual({
      added: 4,
      known: 0,
    });
    expect(await coordinator.post(`/fleet/bases/${yard.baseId}/closed-days/calendar`, ics)).toEqual({
      added: 0,
      known: 4,
    });
    expect(
      await coordinator.refused(
        'post',
        `/fleet/bases/${yard.baseId}/closed-days/calendar`,
        'BEGIN:VCALENDAR\r\nEND:VCALENDAR',
      ),
    ).toMatchObject({ status: 422 });
  });

  test('a person’s calendar reads back with a calendar library: every card at its hour', async () => {
    const technician = await yard.as('technician');
    const { path } = await technician.post<{ path: string }>('/session/calendar-key');
    const reply = await yard.visitor().raw('get', path.replace('/api', ''));
    expect(reply.headers['content-type']).toContain('text/calendar');
    const events = new ICAL.Component(ICAL.parse(reply.text) as unknown[])
      .getAllSubcomponents('vevent')
      .map((e) => new ICAL.Event(e));
    const b = await board();
    for (const s of b.standing) {
      const event = events.find((e) => e.uid === `job-${s.jobId}@diurna.example`)!;
      expect(event.summary).toContain(b.boats[s.boat]!.name);
      // Halifax is three hours behind in May.
      if (s.start > 0)
        expect(event.startDate.toJSDate().toISOString()).toBe(
          new Date(Date.parse(`${addDays(b.firstDay, s.day)}T00:00:00Z`) + (s.start + 180) * 60_000).toISOString(),
        );
    }
    expect(events.length).toBeGreaterThanOrEqual(b.standing.length);
    const again = await technician.post<{ path: string }>('/session/calendar-key');
    expect((await yard.visitor().raw('get', path.replace('/api', ''))).status).toBe(404);
    expect((await yard.visitor().raw('get', again.path.replace('/api', ''))).status).toBe(200);
  });

  test('the day: lines by the hour, boats, kits; an option of a matter does what it says', async () => {
    const boats = (await coordinator.get<{ rows: { id: number; name: string }[] }>('/fleet/boats?size=20')).rows;
    const knot = boats.find((b) => b.name === 'Knot')!;
    // Out tomorrow at nine, though its pump is long over; leave and the day without work are taken back.
    const work = await coordinator.get<{
      people: { exceptions: { id: number }[] }[];
      closed: { id: number; day: string }[];
    }>('/people/work?from=2026-05-11');
    for (const x of work.people.flatMap((p) => p.exceptions))
      await coordinator.raw('delete', `/people/exceptions/${x.id}`);
    for (const c of work.closed) await coordinator.raw('delete', `/fleet/closed-days/${c.id}`);
    for (const j of (await board()).standing.filter((s) => s.boat === String(knot.id)))
      await coordinator.post(`/jobs/${j.jobId}/cancel`, { version: j.version, reason: 'for the test' });
    await coordinator.post('/service/entries', {
      engineId: Number((await board()).problem.engines.find((e) => e.boat === String(knot.id))!.id),
      tasks: ['gear-lube'],
      doneOn: '2024-01-10',
      hours: null,
      doneBy: 'yard',
      remark: null,
    });
    await coordinator.post('/hires', {
      boatId: knot.id,
      outDay: '2026-05-12',
      outTime: '09:00',
      backDay: '2026-05-12',
      backTime: '17:00',
      reference: null,
    });
    const day = await coordinator.get<DayReply>('/day?day=2026-05-11');
    expect(day.people.map((p) => p.name)).toEqual(['technician']);
    for (const v of day.people[0]!.visits) expect(v.start).not.toBeNull();
    expect(day.boats).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ boatName: 'Knot', way: 'out', at: 1440 + 540, state: 'over' }),
      ]),
    );
    const matter = day.matters!.find((m) => m.key === `going ${knot.id}`)!;
    expect(matter.title).toContain('Knot goes out');
    expect(matter.options.length).toBeGreaterThan(1);
    expect(matter.options[0]!.cost).toBe(0);
    const { act } = matter.options[0]!;
    expect(act.kind).toBe('add');
    if (act.kind === 'add')
      await coordinator.post('/jobs', {
        insist: ALL_THE_SAME,
        boatId: act.boatId,
        day: act.day,
        technicianId: act.technicianId,
        startMinute: act.startMinute,
        tasks: act.tasks,
      });
    const after = await coordinator.get<DayReply>('/day?day=2026-05-11');
    expect(after.matters!.some((m) => m.key === matter.key)).toBe(false);
    expect(
      after.kits.some((k) => k.boatName === 'Knot') || after.people[0]!.visits.every((v) => v.boatName !== 'Knot'),
    ).toBe(true);
    // Technicians see the day, not the decisions.
    expect((await (await yard.as('technician')).get<DayReply>('/day?day=2026-05-11')).matters).toBeNull();
  });

  test('whoever does not steer may not plan; who reads may look', async () => {
    expect((await (await yard.as('technician')).raw('get', '/plan?days=14')).status).toBe(403);
    const manager = await yard.as('manager');
    expect((await manager.raw('get', '/plan?days=14')).status).toBe(200);
    expect((await manager.raw('post', '/plan/accept', {})).status).toBe(403);
  });
});
