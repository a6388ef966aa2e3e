import { describe, expect, test } from '@jest/globals';
import { seeded, type Random } from '../random/index.ts';
import { Board, Planner, pricePlan, slipped, type PlannedVisit, type PlanProblem, type Slip } from './index.ts';
import { smallProblem } from './test/small-problem.ts';

/**
 * Days of a yard as they go: people fall ill, boats come late, jobs take longer, hires are booked, cards are begun and
 * finished; after each the rest is arranged anew. Whatever happens, what the judge of plans asks for holds.
 */
const DAYS = 5;
const NOON = { from: 690, to: 840, minutes: 30 };
const people = ['ines', 'reva', 'sven'];
const boats = ['tern', 'skua', 'auk', 'knot', 'ruff'];

function yardOf(random: Random): PlanProblem {
  const days = <T>(of: () => T): T[] => Array.from({ length: DAYS }, of);
  const problem = smallProblem({
    days: DAYS,
    lifts: days(() => 1),
    technicians: people.map((id, i) => ({
      id,
      skills: i === 0 ? ['lower units'] : [],
      pace: 1 + i / 10,
      shift: days(() => (random.next() < 0.1 ? null : { from: 450, to: 960 })),
      overtime: days(() => 30),
      break: days(() => NOON),
    })),
    boats: boats.map((id) => ({ id, free: days(() => gapsOf(random)) })),
    tasks: boats.flatMap((boat) =>
      Array.from({ length: random.whole(1, 4) }, (_, i) => ({
        id: `${boat} ${i}`,
        boat,
        handsOn: random.whole(15, 90),
        wait: random.next() < 0.3 ? 30 : 0,
        access: ['cowl'],
        skills: random.next() < 0.2 ? ['lower units'] : [],
        needsLift: random.next() < 0.2,
        dayCost: days(() => random.whole(0, 40)),
        skipCost: random.whole(200, 500),
        parts: random.next() < 0.4 ? { kit: 1 } : {},
      })),
    ),
    parts: [{ id: 'kit', supply: [random.whole(1, 6), 0, random.whole(0, 3), 0, 0] }],
  });
  return { ...problem, version: 2 };
}

/** Out on hire, or there in the morning, the evening or all day. */
function gapsOf(random: Random) {
  const at = random.next();
  const out = random.whole(480, 780);
  if (at < 0.15) return [];
  if (at < 0.5) return [{ from: 420, to: 1140, idleCost: random.whole(0, 30) }];
  return [
    { from: 420, to: out, idleCost: 0 },
    { from: out + 200, to: 1140, idleCost: 0 },
  ];
}

const arranged = (problem: PlanProblem, standing: readonly PlannedVisit[]): PlannedVisit[] => {
  const planner = new Planner(problem, { standing, moveCost: 5 });
  planner.start();
  for (let k = 0; k < 8; k++) planner.improve(1 - k / 8);
  return planner.plan().visits;
};

/** Some of what can happen on a day. */
function happens(random: Random, standing: readonly PlannedVisit[]): Slip[] {
  const todays = standing.filter((v) => v.day === 0);
  const slips: Slip[] = [];
  if (random.next() < 0.4) slips.push({ kind: 'person away', technician: random.pick(people) });
  if (random.next() < 0.4) slips.push({ kind: 'boat late', boat: random.pick(boats), back: random.whole(600, 900) });
  if (random.next() < 0.3) slips.push({ kind: 'part missing', part: 'kit', untilDay: random.whole(1, 4) });
  if (todays.length > 0 && random.next() < 0.4)
    slips.push({ kind: 'job late', boat: random.pick(todays).boat, until: random.whole(700, 950) });
  return slips;
}

/** A hire booked over a day of a boat, leave entered for a person. */
const booked = (problem: PlanProblem, random: Random): PlanProblem => {
  const [boat, person, day] = [random.pick(boats), random.pick(people), random.whole(1, DAYS)];
  return {
    ...problem,
    boats: problem.boats.map((b) => (b.id === boat ? { ...b, free: b.free.map((f, d) => (d === day ? [] : f)) } : b)),
    technicians: problem.technicians.map((t) =>
      t.id === person ? { ...t, shift: t.shift.map((s, d) => (d === day ? null : s)) } : t,
    ),
  };
};

describe('five hundred random days', () => {
  test.each(Array.from({ length: 25 }, (_, i) => i))('yard %i, twenty days', (seed) => {
    const random = seeded(1000 + seed);
    for (let i = 0; i < 20; i++) {
      const yard = yardOf(random);
      const first = arranged(yard, []);
      const problem = booked(yard, random);
      // What the booking and the leave left of the plan, and of today's visits some begun and some finished.
      const left = new Board(problem, first).visits();
      const finished = new Set(left.filter((v) => v.day === 0 && random.next() < 0.3).map((v) => v.boat));
      const standing = left
        .filter((v) => v.day > 0 || !finished.has(v.boat))
        .map((v) => ({ ...v, started: v.day === 0 && random.next() < 0.4 }));
      const rest: PlanProblem = {
        ...problem,
        tasks: problem.tasks.filter(
          (t) => !left.some((v) => finished.has(v.boat) && v.day === 0 && v.tasks.includes(t.id)),
        ),
      };
      const slips = happens(random, standing);
      const now = slipped(rest, standing, slips);
      const visits = arranged(now.problem, now.standing);
      const { faults } = pricePlan(now.problem, { visits });
      // The judge: nobody in two places, hours and breaks kept, boats there, parts and lift there, pins kept.
      expect(faults).toEqual([]);

      const all = [...visits, ...now.underWay];
      // No task is lost or done twice: each stands once, or is told as left.
      const placed = all.flatMap((v) => v.tasks);
      expect(new Set(placed).size).toBe(placed.length);
      const known = new Set(standing.flatMap((v) => v.tasks));
      expect(placed.every((t) => known.has(t))).toBe(true);
      expect([...known].every((t) => placed.includes(t) || now.problem.tasks.some((x) => x.id === t))).toBe(true);
      // What is finished is no work any more.
      expect(placed.some((t) => !rest.tasks.some((x) => x.id === t))).toBe(false);
      // What was begun stays with whoever began it, unless that person or the part is what is missing.
      const away = new Set(slips.flatMap((s) => (s.kind === 'person away' ? [s.technician] : [])));
      const gone = slips.some((s) => s.kind !== 'person away');
      for (const v of standing)
        if (v.started && !away.has(v.technician) && !gone)
          expect(visits.find((x) => x.boat === v.boat && x.day === 0)?.technician).toBe(v.technician);
      // Whoever is kept by a job that takes longer begins nothing before it is done.
      for (const s of slips)
        if (s.kind === 'job late') {
          const busy = now.underWay.find((v) => v.boat === s.boat)!;
          for (const v of visits)
            if (v.day === 0 && v.technician === busy.technician) expect(v.start).toBeGreaterThanOrEqual(s.until);
        }
    }
  });
});
