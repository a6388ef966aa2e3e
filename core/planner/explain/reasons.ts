import { minutesText } from '../../visit/index.ts';
import { Draft, type DraftVisit } from '../search/draft.ts';
import type { FullModel } from '../problem/model.ts';
import { elapsedOf } from '../problem/model.ts';
import type { Plan } from '../problem/problem.ts';
import { isVisit, standAt, type Hindrance, type Obstacle } from '../search/stand.ts';

/** What a choice costs, by kind, against another one. Negative = saves. */
export interface CostChange {
  total: number;
  day: number;
  labour: number;
  overtime: number;
  idle: number;
  skip: number;
}

/** The cheapest place for a task that stands nowhere, or what keeps it from all of them. */
export interface TaskOutlook {
  task: number;
  /** Against leaving it; null = it can stand nowhere. */
  best: { day: number; tech: number; joins: boolean; change: number } | null;
  /** How far the places got: the last obstacle of each, counted. */
  obstacles: Map<Obstacle, { count: number; first: { day: number; tech: number; why: Hindrance } }>;
}

/** Goes through every place a task could take by itself or in a visit that stands. */
export function outlookOf(draft: Draft, task: number): TaskOutlook {
  const { model } = draft;
  const t = model.tasks[task]!;
  const boat = model.boats[t.boat]!;
  const obstacles: TaskOutlook['obstacles'] = new Map();
  let best: TaskOutlook['best'] = null;
  const before = draft.cost;
  const note = (day: number, tech: number, why: Hindrance) => {
    const seen = obstacles.get(why.obstacle);
    if (!seen) obstacles.set(why.obstacle, { count: 1, first: { day, tech, why } });
    else {
      seen.count++;
      if ((why.minutes ?? 0) > (seen.first.why.minutes ?? 0)) seen.first = { day, tech, why };
    }
  };
  for (let day = 0; day < model.days; day++) {
    if (t.cost[day]! === Infinity) {
      note(day, -1, { obstacle: 'not allowed' });
      continue;
    }
    if (boat.free[day]!.length === 0) {
      note(day, -1, { obstacle: 'boat out' });
      continue;
    }
    const standing = draft.visits[t.boat]!.find((v) => v.day === day);
    const crew = standing ? [standing.tech] : model.crew[boat.base]![day]!;
    if (crew.length === 0) {
      note(day, -1, { obstacle: 'person away' });
      continue;
    }
    for (const tech of crew) {
      if (standing) draft.remove(standing);
      const found = standAt(draft, t.boat, day, tech, standing ? [...standing.tasks, task] : [task]);
      if (isVisit(found)) {
        draft.add(found);
        const change = draft.cost - before;
        draft.remove(found);
        if (!best || change < best.change) best = { day, tech, joins: standing !== undefined, change };
      } else note(day, tech, found);
      if (standing) draft.add(standing);
    }
  }
  return { task, best, obstacles };
}

const DEPTH: Obstacle[] = [
  'not allowed',
  'boat out',
  'person away',
  'no skill',
  'gap too short',
  'boat taken',
  'no part',
  'no lift',
  'person busy',
];

/** Names to tell a plan by; what is not in it is told by the problem's own. Days from the plan's first. */
export interface PlanWords {
  people: Readonly<Record<string, string>>;
  parts: Readonly<Record<string, string>>;
  days: readonly string[];
}
const NO_WORDS: PlanWords = { people: {}, parts: {}, days: [] };

/** What stands in a task's way, in sentences. */
export function outlookTexts(
  draft: Draft,
  { task, best, obstacles }: TaskOutlook,
  words: PlanWords = NO_WORDS,
): string[] {
  const { model } = draft;
  const { problem } = model;
  const t = model.tasks[task]!;
  const p = problem.tasks[task]!;
  const nameOf = (id: string) => words.people[id] ?? id;
  const person = (tech: number) => nameOf(problem.technicians[tech]!.id);
  const on = (d: number) => (words.days[d] ? `on ${words.days[d]}` : `on day ${d}`);
  const texts: string[] = [];
  if (best && best.change < -1e-6)
    return [
      `There is room ${on(best.day)} with ${person(best.tech)}; it would save ${money(-best.change)}. Plan again, or put it there.`,
    ];
  if (best) {
    return [
      `Leaving it costs ${money(t.skip)}. The cheapest place, ${on(best.day)} with ${person(best.tech)}${best.joins ? ', in a visit that stands' : ''}, would cost ${money(best.change)} more than that.`,
    ];
  }
  const deepest = DEPTH.filter((o) => obstacles.has(o)).reverse();
  const allowed = model.days - (obstacles.get('not allowed')?.count ?? 0);
  if (allowed === 0) return ['It is not allowed on any day of this plan.'];
  const minutes = Math.ceil(elapsedOf(model, [task], 1));
  for (const obstacle of deepest.slice(0, 3)) {
    const { count, first } = obstacles.get(obstacle)!;
    switch (obstacle) {
      case 'not allowed':
        if (count < model.days) texts.push(`It is allowed on ${allowed} of ${model.days} days only.`);
        break;
      case 'boat out':
        texts.push(
          count >= allowed
            ? 'The boat is out on every day on which it is allowed.'
            : `The boat is out on ${count} of the days on which it is allowed.`,
        );
        break;
      case 'person away':
        texts.push(`Nobody works at the boat’s base on ${count} of the days on which the boat is there.`);
        break;
      case 'no skill': {
        const skills = p.skills.join(' and ');
        const able = problem.technicians
          .filter((x) => p.skills.every((s) => x.skills.includes(s)))
          .map((x) => nameOf(x.id));
        texts.push(
          able.length === 0
            ? `Nobody has ${skills}.`
            : `Only ${able.join(', ')} ${able.length === 1 ? 'has' : 'have'} ${skills}, and not on a day when the boat is at base.`,
        );
        break;
      }
      case 'gap too short':
        texts.push(
          `It takes ${minutesText(minutes)}; the longest gap within anybody’s hours is ${minutesText(Math.floor(first.why.minutes ?? 0))}, ${on(first.day)}.`,
        );
        break;
      case 'boat taken':
        texts.push('The boat’s visits of those days go to others.');
        break;
      case 'no part': {
        const short = t.parts
          .filter(({ part, quantity }) => quantity > draft.left(part, model.days - 1) + 1e-9)
          .map(({ part }) => part);
        const name = short.length > 0 ? problem.parts[short[0]!]!.id : (first.why.at ?? '');
        const supplied = problem.parts.find((x) => x.id === name)?.supply.reduce((a, b) => a + b, 0) ?? 0;
        const called = words.parts[name] ?? name;
        texts.push(
          supplied === 0
            ? `${called} has no supply within this plan.`
            : short.length > 0
              ? `All of ${called} that this plan gets is taken by others.`
              : `${called} is not there on the days on which there is a place.`,
        );
        break;
      }
      case 'no lift':
        texts.push(
          `The lift is taken ${count === 1 ? on(first.day) : `on ${count} of the days on which there would be a place`}.`,
        );
        break;
      case 'person busy':
        texts.push(
          `It takes ${minutesText(minutes)}; beside other work the most anybody has left in the boat’s gaps is ${minutesText(Math.floor(first.why.minutes ?? 0))}, ${on(first.day)}.`,
        );
        break;
    }
  }
  return texts;
}

/** Every task left out of a draft, with what stands in its way. */
export function unplannedReasons(draft: Draft): Plan['unplanned'] {
  const { tasks } = draft.model.problem;
  return draft.placed.flatMap((v, i) =>
    v === null ? [{ task: tasks[i]!.id, reasons: outlookTexts(draft, outlookOf(draft, i)) }] : [],
  );
}

/** What would free a task that is left out. */
export type Relief = 'overtime' | 'parts today' | 'one more lift' | 'lent technician' | 'boat kept at base';

/** Two hours more than anybody's shift and allowed overtime. */
const MORE_MINUTES = 120;

/** The model with one thing less in the way, for all tasks at once. */
function relieved(model: FullModel, relief: Relief): FullModel {
  switch (relief) {
    case 'overtime':
      return {
        ...model,
        techs: model.techs.map((t) => ({
          ...t,
          hard: t.hard.map((h, d) => (t.base[d]! >= 0 ? Math.min(24 * 60, h + MORE_MINUTES) : h)),
        })),
      };
    case 'parts today':
      return { ...model, supply: model.supply.map(() => 1e9) };
    case 'one more lift':
      return { ...model, lifts: model.lifts.map((n) => n + 1) };
    case 'lent technician': {
      // Somebody who can do everything, at every base, at the dearest rate there is.
      const rate = Math.max(0, ...model.techs.map((t) => t.perMinute));
      const lent = model.techs.length;
      const days = model.days;
      const shift = model.techs.flatMap((t) =>
        [...t.from.keys()].filter((d) => t.base[d]! >= 0).map((d) => ({ from: t.from[d]!, to: t.to[d]! })),
      )[0] ?? { from: 480, to: 960 };
      return {
        ...model,
        problem: {
          ...model.problem,
          technicians: [
            ...model.problem.technicians,
            ...model.problem.bases.map((b) => ({
              id: `lent ${b.id}`,
              base: b.id,
              skills: [],
              shift: [],
              overtime: [],
              ratePerHour: 0,
              overtimeFactor: 1,
            })),
          ],
        },
        techs: [
          ...model.techs,
          ...model.problem.bases.map((_, b) => ({
            base: new Int32Array(days).fill(b),
            from: new Float64Array(days).fill(shift.from),
            to: new Float64Array(days).fill(shift.to),
            hard: new Float64Array(days).fill(shift.to),
            rest: new Array<null>(days).fill(null),
            perMinute: rate,
            extra: 0,
            pace: 1,
          })),
        ],
        tasks: model.tasks.map((t) => ({
          ...t,
          can: Uint8Array.from([...t.can, ...model.problem.bases.map(() => 1)]),
        })),
        crew: model.crew.map((of, b) => of.map((crew) => [...crew, lent + b])),
      };
    }
    case 'boat kept at base':
      return {
        ...model,
        // A day at base from the usual opening on; what the lost hire costs is told apart.
        boats: model.boats.map((b) => {
          const free = b.free.map((list) => (list.length > 0 ? list : [{ from: 0, to: 24 * 60, idle: 0 }]));
          return { ...b, free, days: [...free.keys()] };
        }),
      };
  }
}

export interface Freed {
  relief: Relief;
  day: number;
  /** Index in the problem; beyond its list = the lent technician. */
  tech: number;
  /** Cost against leaving the task, with the relief itself for nothing (a lent technician is paid by the hour). */
  change: number;
}

/** For each of these tasks what would free it, cheapest first. Tasks that have a place are told by their cost alone. */
export function frees(draft: Draft, tasks: readonly number[]): Map<number, Freed[]> {
  const out = new Map<number, Freed[]>(tasks.map((i) => [i, []]));
  if (tasks.length === 0) return out;
  for (const relief of ['overtime', 'parts today', 'one more lift', 'lent technician', 'boat kept at base'] as const) {
    const model = relieved(draft.model, relief);
    const eased = new Draft(model);
    for (const list of draft.visits) for (const v of list) eased.add({ ...v });
    for (const i of tasks) {
      const was = outlookOf(draft, i).best?.change ?? Infinity;
      const { best } = outlookOf(eased, i);
      if (best && best.change < Math.min(0, was) - 1e-6)
        out.get(i)!.push({ relief, day: best.day, tech: best.tech, change: best.change });
    }
  }
  for (const list of out.values()) list.sort((a, b) => a.change - b.change);
  return out;
}

export interface VisitChoice {
  day: number;
  tech: number;
  change: CostChange;
}

/** Why a visit stands where it does: the next best other day, and the next best other person on its day. */
export function choicesBeside(
  draft: Draft,
  visit: DraftVisit,
): { otherDay: VisitChoice | null; otherPerson: VisitChoice | null; left: CostChange } {
  const { model } = draft;
  const was = partsOf(draft);
  draft.remove(visit);
  const bare = partsOf(draft);
  let otherDay: VisitChoice | null = null;
  let otherPerson: VisitChoice | null = null;
  const boat = model.boats[visit.boat]!;
  for (const day of boat.days) {
    for (const tech of model.crew[boat.base]![day]!) {
      if (day === visit.day && tech === visit.tech) continue;
      const found = standAt(draft, visit.boat, day, tech, visit.tasks);
      if (!isVisit(found)) continue;
      draft.add(found);
      const change = less(partsOf(draft), was);
      draft.remove(found);
      if (day === visit.day) {
        if (!otherPerson || change.total < otherPerson.change.total) otherPerson = { day, tech, change };
      } else if (!otherDay || change.total < otherDay.change.total) otherDay = { day, tech, change };
    }
  }
  draft.add(visit);
  return { otherDay, otherPerson, left: less(bare, was) };
}

/** The terms of a draft's cost. */
export function partsOf(draft: Draft): CostChange {
  const { model } = draft;
  const sum: CostChange = { total: draft.cost, day: 0, labour: 0, overtime: 0, idle: 0, skip: 0 };
  for (const list of draft.visits) {
    for (const v of list) {
      sum.labour += v.minutes * model.techs[v.tech]!.perMinute;
      sum.idle += model.boats[v.boat]!.free[v.day]![v.window]!.idle;
      for (const i of v.tasks) sum.day += model.tasks[i]!.cost[v.day]!;
    }
  }
  draft.placed.forEach((v, i) => {
    if (v === null && model.tasks[i]!.skip !== Infinity) sum.skip += model.tasks[i]!.skip;
  });
  sum.overtime = sum.total - sum.day - sum.labour - sum.idle - sum.skip;
  return sum;
}

/** What one change costs beyond another, in units of money, part by part. */
export function less(a: CostChange, b: CostChange): CostChange {
  return {
    total: a.total - b.total,
    day: a.day - b.day,
    labour: a.labour - b.labour,
    overtime: a.overtime - b.overtime,
    idle: a.idle - b.idle,
    skip: a.skip - b.skip,
  };
}

const money = (x: number) => Math.round(x).toLocaleString('en-GB');
