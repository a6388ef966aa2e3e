import { describe, expect, test } from '@jest/globals';
import { addDays } from '../../calendar/index.ts';
import { Board, planTaskId, problemOf, type YardFacts } from '../../planner/index.ts';
import { seeded } from '../../random/index.ts';
import type { Due } from '../../service/index.ts';
import type { BoardTask, Matter, PlanBoard } from '../types.ts';
import { mattersOf } from './index.ts';

/** An invented fleet: every boat goes out tomorrow at nine, some over a limit, a third of them with a card. */
const FIRST = '2026-05-11';
const DAYS = 7;
const random = seeded(5);
const ids = Array.from({ length: 40 }, (_, i) => i + 1);
const over = (boat: number) => boat % 3 === 0;
const yard: YardFacts = {
  firstDay: FIRST,
  days: DAYS,
  lateWeight: 1,
  bases: [
    {
      id: 1,
      workdays: [1, 2, 3, 4, 5],
      dayMinutes: 480,
      opensAt: 420,
      closesAt: 1140,
      rest: null,
      closed: new Set(),
      liftSlots: 3,
      liftOut: [],
      now: 480,
    },
  ],
  people: [5, 6].map((id) => ({
    id,
    baseId: 1,
    skills: [],
    pace: 1 + id / 50,
    ratePerHour: 40 + id,
    overtimeMinutes: 60,
    overtimeFactor: 1.5,
    shifts: [],
    exceptions: [],
  })),
  boats: ids.map((id) => ({
    id,
    baseId: 1,
    hires: [[1440 + 540, 1440 + 1020]] as const,
    hireIncome: 100 + id,
    hireChance: Array.from({ length: DAYS }, () => random.next() / 2),
    engines: [{ id: 100 + id, cylinders: 4 }],
  })),
  tasks: ids.flatMap((id) =>
    (['engine-oil', 'gear-lube'] as const).map((task) => ({
      engineId: 100 + id,
      boatId: id,
      task,
      early: over(id) ? 0 : 20,
      likely: over(id) ? 0 : 24,
      late: over(id) ? 0 : 30,
      over: over(id),
      unknown: false,
      share: over(id) ? 1.1 : 0.7,
      partsCost: 20,
      parts: [{ partId: 2, quantity: 1000 }],
    })),
  ),
  parts: [
    {
      partId: 2,
      baseId: 1,
      onHand: 7000,
      arrivals: [
        { day: 2, quantity: 5000 },
        { day: 9, quantity: 90_000 },
      ],
    },
  ],
};
const due = (t: YardFacts['tasks'][number]): Due => ({
  task: t.task,
  state: t.over ? 'over' : 'fine',
  by: 'hours',
  hoursLeft: t.over ? -6 : 30,
  limitHours: 200,
  daysLeft: null,
  limitDay: null,
  share: t.share,
  hoursOn: null,
  estimated: false,
  last: null,
  hoursUnchecked: false,
  tolerated: false,
});
const carded = ids.filter((id) => id % 9 === 0);
const board: PlanBoard = {
  firstDay: FIRST,
  days: DAYS,
  yard,
  standing: carded.map((id, i) => ({
    boat: String(id),
    day: 2 + (i % 3),
    technician: String(5 + (i % 2)),
    start: 0,
    elapsed: 0,
    tasks: [planTaskId(100 + id, 'engine-oil')],
    jobId: 1000 + id,
    version: 1,
    started: false,
  })),
  boats: Object.fromEntries(
    ids.map((id) => [
      String(id),
      {
        name: `Boat ${id}`,
        baseId: 1,
        classKey: 'class day boat',
        held: [],
        hires: [[1980, 2460]] as [number, number][],
      },
    ]),
  ),
  people: { '5': { name: 'Ada Quill' }, '6': { name: 'Bo Rask' } },
  bases: { '1': { name: 'North Quay' } },
  tasks: new Map(
    yard.tasks.map((t): [string, BoardTask] => [
      planTaskId(t.engineId, t.task),
      {
        engineId: t.engineId,
        position: 'single',
        due: due(t),
        likely: t.likely === null ? null : addDays(FIRST, t.likely),
      },
    ]),
  ),
  parts: { '2 at 1': { partId: 2, name: 'Gear lube', unit: 'mL' } },
};
/** Eight in the morning, and nothing else in the book. */
const NOTHING = {
  people: [],
  today: FIRST,
  minute: 480,
  holds: [],
  undecided: [],
  hires: [],
  old: [],
  lateParts: [],
  calendars: [],
  unread: { engines: 0, names: [] },
  waiting: [],
};
const mattersIn = (at: PlanBoard) => mattersOf({ ...NOTHING, board: at });
const found = mattersIn(board);
const prices = (m: Matter) => m.options.map((o) => o.cost);

describe('matters of a fleet', () => {
  test('of many, the most pressing are shown: what goes out over its limit before parts that run short', () => {
    const now = found.filter((m) => m.weight === 'now');
    expect(now.length).toBeGreaterThan(10);
    expect(now.every((m) => m.state === 'over')).toBe(true);
    expect(found.slice(0, now.length)).toEqual(now);
    // Of those, what it costs most to leave comes first, and the figure is that of leaving it.
    const waiting = now.map((m) => m.waiting!);
    expect([...waiting].sort((a, b) => b - a)).toEqual(waiting);
    for (const m of now) expect(m.waiting).toBe(m.options.find((o) => o.act.kind === 'leave')!.cost);
  });

  test('places are worked out for those alone, and cost what they cost among the whole fleet', () => {
    const whole = new Board(problemOf(yard), board.standing);
    const going = found.filter((m) => m.key.startsWith('going '));
    expect(going.length).toBeGreaterThan(5);
    for (const matter of going) {
      const boat = matter.key.slice('going '.length);
      const tasks = yard.tasks
        .filter((t) => String(t.boatId) === boat)
        .map((t) => planTaskId(t.engineId, t.task))
        .filter((t) => !board.standing.some((s) => s.tasks.includes(t)));
      const offers = whole.offers({ boat, from: null, tasks });
      const costs = matter.options.flatMap(({ act }) =>
        act.kind === 'add'
          ? [
              offers.find((o) => addDays(FIRST, o.day) === act.day && Number(o.technician) === act.technicianId)!
                .change!,
            ]
          : act.kind === 'leave'
            ? [0]
            : [],
      );
      const least = Math.min(...costs);
      // To the cent: sums of another length round otherwise.
      expect(prices(matter)).toHaveLength(costs.length);
      for (const [i, c] of costs.entries()) expect(Math.abs(prices(matter)[i]! - (c - least))).toBeLessThan(0.0151);
      // The cheapest place before the hire is the first that is told.
      const before = offers.filter((o) => o.change !== null && o.day <= 1).map((o) => o.change!);
      expect(costs[0]).toBeCloseTo(Math.min(...before), 6);
    }
  });

  test('parts are counted over all work that comes, shown or not, against what is there by then', () => {
    const few = ids.filter((id) => id < 13);
    const tasks = yard.tasks.filter((t) => few.includes(t.boatId));
    const short = (parts: YardFacts['parts']) =>
      mattersIn({ ...board, yard: { ...yard, tasks, parts }, standing: [] }).filter((m) => m.key.startsWith('part '));
    // Boats 3, 6, 9 and 12 are over: four times two litres, of 7 on the shelf and 5 that come in time.
    expect(short(yard.parts)).toEqual([]);
    expect(short(yard.parts.map((p) => ({ ...p, onHand: 500 })))).toMatchObject([
      {
        title: '5.5 L of Gear lube at North Quay, 8.0 L wanted',
        options: [{ label: 'Order 3.0 L, here in 7 days' }, {}],
      },
    ]);
  });
});

describe('a held boat with a hire', () => {
  // Boat 1 is held for an oil change, as if that were its repair, and goes out tomorrow at nine, back at five.
  const hire = { id: 77, version: 3, boatId: 1, out: 1980, back: 2460, reference: 'Q 12' };
  const hold = {
    id: 5,
    engineId: 101,
    boatId: 1,
    boatName: 'Boat 1',
    position: 'single' as const,
    why: 'The oil is milky.',
    missing: ['engine-oil' as const],
  };
  const few = ids.filter((id) => id < 6);
  const at = (more: Partial<PlanBoard> = {}, yardMore: Partial<YardFacts> = {}): PlanBoard => ({
    ...board,
    standing: [],
    yard: { ...yard, tasks: yard.tasks.filter((t) => few.includes(t.boatId)), ...yardMore },
    boats: {
      ...board.boats,
      '1': { ...board.boats['1']!, held: ['The oil is milky.'] },
      // Boat 4 lies idle all week.
      '4': { ...board.boats['4']!, hires: [] },
    },
    ...more,
  });
  const matterOf = (b: PlanBoard, hires = [hire]) =>
    mattersOf({ ...NOTHING, board: b, holds: [hold], hires }).find((m) => m.key === 'hold 1')!;
  const labels = (m: Matter) => m.options.map((o) => o.label);

  test('offers the repair before the hire, another boat, a word to the desk, each priced; its own going out is no matter more', () => {
    const m = matterOf(at());
    expect(m).toMatchObject({ weight: 'now', title: 'Boat 1 is held and goes out Tue 12 9:00' });
    expect(m.text).toMatch(/^The oil is milky\. Wanted first: engine oil\. It takes 1000 mL Gear lube\.$/);
    expect(labels(m)[0]).toMatch(/^Repair today with (Ada|Bo), ready \d+:\d\d$/);
    // Boat 3 is over, boats 2 and 5 are out at that time: boat 4 alone is free and fit.
    expect(labels(m)).toContain('Give the hire to Boat 4');
    expect(labels(m).filter((l) => l.startsWith('Give'))).toHaveLength(1);
    expect(labels(m).slice(-2)).toEqual(['Call the hire desk', 'Leave it held']);
    const cost = (start: string) => m.options.find((o) => o.label.startsWith(start))!.cost!;
    // Whoever leaves it, or calls, loses the hire: 101 for the day. Boat 4 might have been hired itself.
    const chance = yard.boats.find((b) => b.id === 4)!.hireChance[1]! * 104;
    expect(cost('Leave') - cost('Give')).toBeCloseTo(101 - chance, 1);
    expect(cost('Call')).toBe(cost('Leave'));
    expect(m.options.find((o) => o.label.startsWith('Call'))!.act).toEqual({
      kind: 'message',
      text: 'Boat 1 cannot go out on Tue 12 at 9:00 (Q 12): it is held for a repair. We can give Boat 4 instead.',
    });
    expect(m.options.find((o) => o.label.startsWith('Give'))!.act).toEqual({
      kind: 'stand in',
      hireId: 77,
      version: 3,
      boatId: 4,
    });
  });

  test('a repair that only comes after the hire says so, and costs the hire', () => {
    const away = {
      ...yard,
      people: yard.people.map((p) => ({
        ...p,
        exceptions: [{ kind: 'away' as const, first: FIRST, last: addDays(FIRST, 1) }],
      })),
    };
    const m = matterOf(at({}, { people: away.people }));
    expect(labels(m)[0]).toMatch(/^Repair \w+ \d+ with (Ada|Bo), not before the hire$/);
    expect(m.options[0]!.cost).toBeGreaterThan(90);
  });

  test('a part that is not on the shelf is named; without any place the reason is told', () => {
    const m = matterOf(at({}, { parts: yard.parts.map((p) => ({ ...p, onHand: 0, arrivals: [] })) }));
    expect(m.text).toContain('1000 mL Gear lube (not on the shelf)');
    expect(m.text).toContain('No place for the repair in the next two weeks.');
    expect(labels(m)).toContain('Look at the engine');
  });

  test('a repair that stands on a card says who has it and whether that is in time', () => {
    const standing = [
      {
        boat: '1',
        day: 2,
        technician: '5',
        start: 480,
        elapsed: 60,
        tasks: ['101 engine-oil'],
        jobId: 900,
        version: 1,
        started: false,
      },
    ];
    const m = matterOf(at({ standing }));
    expect(m.text).toMatch(/Ada has it Wed 13, done about \d+:\d\d; that is not before the hire\.$/);
    expect(m.options[0]).toMatchObject({ label: 'Look at the card', act: { kind: 'look', to: '/jobs/900' } });
  });

  test('with no hire ahead it is for soon: the repair alone', () => {
    const m = matterOf(at(), []);
    expect(m.weight).toBe('soon');
    expect(labels(m).some((l) => l.startsWith('Give') || l.startsWith('Call'))).toBe(false);
  });
});
