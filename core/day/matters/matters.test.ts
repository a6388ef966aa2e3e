import { describe, expect, test } from '@jest/globals';
import { addDays } from '../../calendar/index.ts';
import { Board, planTaskId, problemOf, seeded, type YardFacts } from '../../planner/index.ts';
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
    ids.map((id) => [String(id), { name: `Boat ${id}`, hires: [[1980, 2460]] as [number, number][] }]),
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
const mattersIn = (at: PlanBoard) =>
  mattersOf({ board: at, people: [], today: FIRST, minute: 480, holds: [], undecided: [], old: [] });
const found = mattersIn(board);
const prices = (m: Matter) => m.options.map((o) => o.cost);

describe('matters of a fleet', () => {
  test('of many, the most pressing are shown: what goes out over its limit before parts that run short', () => {
    expect(found).toHaveLength(14);
    expect(found.every((m) => m.weight === 'now' && m.state === 'over')).toBe(true);
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
