import { describe, expect, test } from '@jest/globals';
import type { EngineFacts } from '../ahead/index.ts';
import { traitsOf } from '../fleet/index.ts';
import type { LastDone, TaskKind } from '../service/index.ts';
import { visitSteps } from '../visit/index.ts';
import {
  openingAfter,
  seasonAhead,
  seasonWorkOf,
  standingOf,
  whyNotReady,
  type BaseSeason,
  type BoatSeasonKept,
} from './index.ts';

const SEASON: BaseSeason = { closes: '10-31', opens: '04-01', lows: [-8, -7, -3, 1, 4, 8, 11, 10, 7, 3, -1, -5] };
const at = (text: string) => Date.parse(text);
const hire = (out: string, back: string) => ({ out: at(`${out}T09:00Z`), back: at(`${back}T17:00Z`), madeOn: null });
const HIRES = [hire('2026-10-20', '2026-10-25'), hire('2027-04-03', '2027-04-05')];
const KEPT: BoatSeasonKept = { season: SEASON, staysOut: false, choices: {}, changesOf: () => [] };

/** A boat with one engine on which these tasks were done on that day. */
function boat(done: Record<string, string> = {}, hires = HIRES, readings: [number, number][] = []) {
  const engine = {
    ...{ id: 7, position: 'single', timeZone: 'UTC', stroke: 4, held: [], openJobs: new Map() },
    readings: { days: Int32Array.from(readings.map((r) => r[0])), hours: Float64Array.from(readings.map((r) => r[1])) },
    traits: traitsOf({ powerHp: 60, stroke: 4, cylinders: 4, traits: { induction: 'injection', recoil: false } }),
    lastDone: new Map(
      Object.entries(done).map(([task, day]): [TaskKind, LastDone] => [
        task as TaskKind,
        { day, hours: null, from: 'service' },
      ]),
    ),
  } as unknown as EngineFacts;
  return { engines: [engine], hires };
}
const workOn = (day: string, of = boat(), kept = KEPT) =>
  seasonWorkOf(standingOf(of, kept, day), kept.season, day).get(7) ?? [];
const BEFORE = { 'engine-oil': '2026-10-12', 'oil-filter': '2026-10-12', stabiliser: '2026-10-12' };

describe('what the season wants of an engine now', () => {
  test('nothing while the season runs, and nothing of a boat that stays out', () => {
    expect(workOn('2026-07-01')).toEqual([]);
    expect(workOn('2026-10-10', boat(), { ...KEPT, staysOut: true })).toEqual([]);
    expect(workOn('2026-10-10', boat(), { ...KEPT, season: { ...SEASON, closes: null, opens: null } })).toEqual([]);
  });
  test('before the last hire goes out: oil and first dose, and nothing that comes after it', () => {
    const work = workOn('2026-10-10');
    expect(work.map((w) => w.task)).toEqual(['engine-oil', 'oil-filter', 'stabiliser']);
    expect(work.every((w) => w.by === '2026-10-20')).toBe(true);
    expect(work[0]!.why).toBe('Before the last hire: clean oil is carried round once before it stands.');
    // Done, the rest waits for the boat to come back.
    expect(workOn('2026-10-13', boat(BEFORE)).map((w) => w.task)).not.toContain('engine-oil');
  });
  test('after the last hire all of lay-up by the first frost; what missed the hire comes with it', () => {
    const work = workOn('2026-10-27', boat(BEFORE));
    expect(work.map((w) => w.task)).toEqual(expect.arrayContaining(['flush', 'second-dose', 'gear-lube', 'battery']));
    expect(work.every((w) => w.by === '2026-11-01')).toBe(true);
    expect(workOn('2026-10-27').map((w) => w.task)).toEqual(
      expect.arrayContaining(['engine-oil', 'stabiliser', 'second-dose']),
    );
  });
  test('in spring by the first hire, or by the opening where there is none', () => {
    const work = workOn('2027-03-10', boat(BEFORE));
    expect(work.map((w) => w.task)).toEqual(['battery-check', 'oil-level', 'look-over', 'spring-run']);
    expect(work.every((w) => w.by === '2027-04-03')).toBe(true);
    expect(workOn('2027-03-10', boat(BEFORE, [])).every((w) => w.by === '2027-04-01')).toBe(true);
    // Done in March, it is asked for no more.
    const done = Object.fromEntries(work.map((w) => [w.task, '2027-03-12']));
    expect(workOn('2027-03-20', boat({ ...BEFORE, ...done }))).toEqual([]);
  });
  test('what somebody left out is not asked for; what is put to another visit comes there', () => {
    const kept: BoatSeasonKept = {
      ...KEPT,
      changesOf: (engineId, season) =>
        engineId === 7 && season === '2027'
          ? [
              { task: 'engine-oil', visit: null, reason: 'new in September' },
              { task: 'impeller', visit: 'spring', reason: 'in spring' },
            ]
          : [],
    };
    expect(workOn('2026-10-10', boat(), kept).map((w) => w.task)).toEqual(['oil-filter', 'stabiliser']);
    expect(workOn('2027-03-10', boat(BEFORE), kept)).toContainEqual({
      ...{ task: 'impeller', by: '2027-04-03', why: 'Recommission: in spring.' },
    });
  });
});

describe('an engine that stood for longer than a season', () => {
  const day = (text: string) => Date.parse(`${text}T00:00Z`) / 86_400_000;
  // Read for years, and the meter did not move since June 2025.
  const stood: [number, number][] = [
    [day('2025-05-05'), 100],
    [day('2025-06-01'), 140],
    [day('2025-10-01'), 140],
    [day('2026-08-03'), 140.1],
  ];
  test('gets the fuel’s way before its first run, with how long it stood', () => {
    const work = workOn('2027-03-10', boat(BEFORE, HIRES, stood));
    expect(work.filter((w) => /it stood for more than a year/.test(w.why)).map((w) => w.task)).toEqual([
      'tank-check',
      'fuel-filter',
    ]);
    expect(workOn('2029-03-10', boat({}, [], stood)).find((w) => w.task === 'tank-check')!.why).toContain('3 years');
    // One that ran in summer gets none of it.
    const ran: [number, number][] = [...stood, [day('2026-08-20'), 151]];
    expect(workOn('2027-03-10', boat(BEFORE, HIRES, ran)).map((w) => w.task)).not.toContain('tank-check');
  });
  test('comes before the run in the order of the card', () => {
    const tasks = ['spring-run', 'tank-check', 'fuel-filter'] as const;
    const steps = visitSteps(tasks.map((task) => ({ engineId: 7, task, cylinders: 4 })));
    // What each step waits for, and what that waits for.
    const before = (key: string): Set<string> => {
      const all = new Set<string>();
      const follow = (id: string) => {
        for (const a of steps.find((s) => s.id === id)?.after ?? [])
          if (!all.has(a)) {
            all.add(a);
            follow(a);
          }
      };
      follow(`7 ${key}`);
      return all;
    };
    for (const first of ['tank-check/clean', 'fuel-filter/dry'])
      expect(before('spring-run/fuel')).toContain(`7 ${first}`);
    for (const first of ['spring-run/fuel', 'spring-run/shift', 'tank-check/clean'])
      expect(before('run')).toContain(`7 ${first}`);
  });
});

test('what is still ahead has a window: till the last hire, from there to frost, before the first hire', () => {
  const ahead = (day: string, of = boat()) => {
    const found = seasonAhead(standingOf(of, KEPT, day)!, SEASON, day);
    return (task: string) => found.filter((a) => a.task === task).map((a) => `${a.from} ${a.by}`);
  };
  expect(ahead('2026-08-01')('engine-oil')).toEqual(['2026-08-01 2026-10-20']);
  expect(ahead('2026-08-01')('gear-lube')).toEqual(['2026-10-25 2026-11-01']);
  expect(ahead('2026-08-01')('spring-run')).toEqual(['2027-02-18 2027-04-03']);
  // Missed, the oil goes in at lay-up; in spring nothing of autumn is made up for.
  expect(ahead('2026-10-27')('engine-oil')).toEqual(['2026-10-27 2026-11-01']);
  expect(ahead('2027-03-10')('engine-oil')).toEqual([]);
  expect(ahead('2026-10-13', boat(BEFORE))('engine-oil')).toEqual([]);
});

describe('a boat that was put away', () => {
  const AWAY = { ...BEFORE, flush: '2026-10-27', battery: '2026-10-28' };
  const SPRING = { 'battery-check': '2027-03-12', 'oil-level': '2027-03-12', 'look-over': '2027-03-12' };
  const why = (day: string, of = boat(AWAY)) => whyNotReady(standingOf(of, KEPT, day));
  test('does not go out before all of its recommission is done; one the book never saw put away is not kept', () => {
    expect(why('2027-04-03')).toBe(
      'It was put away and is not brought out yet: battery looked at, oil level, look-over, first run of the year.',
    );
    expect(why('2027-04-03', boat({ ...AWAY, ...SPRING }))).toBe(
      'It was put away and is not brought out yet: first run of the year.',
    );
    expect(why('2027-04-03', boat({ ...AWAY, ...SPRING, 'spring-run': '2027-04-02' }))).toBeNull();
    expect(why('2027-04-03', boat())).toBeNull();
    // In autumn nothing of it keeps a boat here.
    expect(why('2026-10-30')).toBeNull();
  });
  test('and not brought out is still asked for in June; once it went out, no more', () => {
    const late = boat(AWAY, [hire('2026-10-20', '2026-10-25'), hire('2027-06-20', '2027-06-22')]);
    expect(workOn('2027-06-15', late).map((w) => [w.task, w.by])).toContainEqual(['spring-run', '2027-06-20']);
    expect(why('2027-06-20', late)).toContain('not brought out yet');
    expect(workOn('2027-06-21', late)).toEqual([]);
    expect(workOn('2027-06-15', boat({}, late.hires))).toEqual([]);
    // The next time of standing is near: that is what counts now.
    expect(workOn('2027-09-27', late).map((w) => w.task)).not.toContain('spring-run');
  });
  test('on the southern half just so', () => {
    const season = { ...SEASON, closes: '04-30', opens: '10-01' };
    const of = boat({ flush: '2026-05-02', battery: '2026-05-02' }, [hire('2026-12-20', '2026-12-22')]);
    const standing = standingOf(of, { ...KEPT, season }, '2026-12-10');
    expect(standing?.off.opens).toBe('2026-10-01');
    expect(whyNotReady(standing)).toContain('not brought out yet');
  });
});

test('the hull is seen to once for the boat', () => {
  const twin = boat(BEFORE);
  const [port] = twin.engines;
  const engines = [port!, { ...port!, id: 8, position: 'starboard' as const }];
  const work = seasonWorkOf(standingOf({ ...twin, engines }, KEPT, '2026-10-27'), SEASON, '2026-10-27');
  expect(work.get(7)!.map((w) => w.task)).toContain('hull');
  expect(work.get(8)!.map((w) => w.task)).not.toContain('hull');
});

test('the next opening is ahead, in the year after where this year’s is past', () => {
  expect(openingAfter(SEASON, '2026-10-10')).toBe('2027-04-01');
  expect(openingAfter(SEASON, '2027-04-01')).toBe('2028-04-01');
  expect(openingAfter(SEASON, '2027-04-20')).toBe('2028-04-01');
  expect(openingAfter({ ...SEASON, closes: '04-30', opens: '10-01' }, '2026-05-02')).toBe('2026-10-01');
  expect(openingAfter({ ...SEASON, closes: null, opens: null }, '2026-05-02')).toBeNull();
});
