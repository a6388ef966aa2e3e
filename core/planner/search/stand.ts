import { DayPlan } from './day.ts';
import type { Draft, DraftVisit } from './draft.ts';
import { elapsedOf } from '../problem/model.ts';
import type { PlannedVisit, PlanProblem } from '../problem/problem.ts';

/** What keeps tasks from a place, in the order in which a person would look. */
export type Obstacle =
  | 'not allowed'
  | 'boat out'
  | 'person away'
  | 'no skill'
  | 'gap too short'
  | 'boat taken'
  | 'no part'
  | 'no lift'
  | 'person busy';

export interface Hindrance {
  obstacle: Obstacle;
  /** The task, part or skill it lies at; minutes for times. */
  at?: string;
  minutes?: number;
}

const hindered = (obstacle: Obstacle, more: Omit<Hindrance, 'obstacle'> = {}): Hindrance => ({ obstacle, ...more });

/** Numbers of the things a problem names. */
export function indicesOf(problem: PlanProblem): {
  boats: ReadonlyMap<string, number>;
  technicians: ReadonlyMap<string, number>;
  tasks: ReadonlyMap<string, number>;
} {
  const index = (list: { id: string }[]) => new Map(list.map((x, i) => [x.id, i]));
  return { boats: index(problem.boats), technicians: index(problem.technicians), tasks: index(problem.tasks) };
}

/**
 * What keeps these tasks from a place before anybody looks for an hour, in the order in which a person would look.
 *
 * @param all false = the first is enough
 */
function standsAgainst(
  draft: Draft,
  boat: number,
  day: number,
  tech: number,
  tasks: readonly number[],
  all: boolean,
): readonly Hindrance[] {
  const { model } = draft;
  const { problem } = model;
  const own = model.boats[boat]!;
  const t = model.techs[tech]!;
  let found: Hindrance[] = NOTHING;
  /** True = that is enough. */
  const say = (obstacle: Obstacle, more?: Omit<Hindrance, 'obstacle'>) => {
    found = [...found, { obstacle, ...more }];
    return !all;
  };
  const forbidden = tasks.find((i) => model.tasks[i]!.cost[day]! === Infinity);
  if (forbidden !== undefined && say('not allowed', { at: problem.tasks[forbidden]!.id })) return found;
  const windows = own.free[day]!;
  const away = t.base[day] !== own.base;
  if (windows.length === 0 && say('boat out')) return found;
  if (away && say('person away')) return found;
  const unable = tasks.find((i) => !model.tasks[i]!.can[tech]);
  if (unable !== undefined) {
    const { skills } = problem.technicians[tech]!;
    if (say('no skill', { at: problem.tasks[unable]!.skills.find((s) => !skills.includes(s)) ?? '' })) return found;
  }
  if (windows.length > 0 && !away) {
    const empty = new DayPlan([], t.from[day]!, t.hard[day]!, t.rest[day] ?? null);
    const widest = Math.max(...windows.map((w) => empty.room(w.from, w.to)));
    if (elapsedOf(model, tasks, t.pace) > widest + 1e-6 && say('gap too short', { minutes: Math.max(0, widest) }))
      return found;
  }
  if (draft.visits[boat]!.some((v) => v.day === day) && say('boat taken')) return found;
  const wanted = new Map<number, number>();
  for (const i of tasks)
    for (const { part, quantity } of model.tasks[i]!.parts) wanted.set(part, (wanted.get(part) ?? 0) + quantity);
  for (const [part, quantity] of wanted)
    if (quantity > draft.left(part, day) + 1e-9 && say('no part', { at: problem.parts[part]!.id })) return found;
  if (tasks.some((i) => model.tasks[i]!.needsLift) && draft.liftsLeft(own.base, day) <= 0) say('no lift');
  return found;
}
const NOTHING: Hindrance[] = [];

/** The minutes a person has left in a window of a boat beside what stands. */
function roomIn(draft: Draft, boat: number, day: number, tech: number, window: number): number {
  const t = draft.model.techs[tech]!;
  const { from, to } = draft.model.boats[boat]!.free[day]![window]!;
  return draft.techDay(tech, day).length === 0 && !t.rest[day]
    ? Math.min(to, t.hard[day]!) - Math.max(from, t.from[day]!)
    : draft.dayPlan(tech, day).room(from, to);
}

/**
 * The cheapest visit with these tasks of a boat on a day by a person, beside everything that stands. The
 * tasks must stand nowhere, and the boat have no visit that day.
 *
 * @returns the visit, not added yet; or the first thing that keeps it from there
 */
export function standAt(
  draft: Draft,
  boat: number,
  day: number,
  tech: number,
  tasks: readonly number[],
): DraftVisit | Hindrance {
  const { model } = draft;
  const [first] = standsAgainst(draft, boat, day, tech, tasks, false);
  if (first) return first;
  const windows = model.boats[boat]!.free[day]!;
  const minutes = elapsedOf(model, tasks, model.techs[tech]!.pace);
  let best: { cost: number; visit: DraftVisit } | null = null;
  let room = 0;
  const before = draft.cost;
  for (let w = 0; w < windows.length; w++) {
    const here = roomIn(draft, boat, day, tech, w);
    room = Math.max(room, here);
    if (minutes > here + 1e-6) continue;
    const visit = draft.visit(boat, day, tech, w, tasks);
    // Overtime belongs to the whole day: the visit is put there and taken away again.
    draft.add(visit);
    const cost = draft.cost - before;
    draft.remove(visit);
    if (!best || cost < best.cost) best = { cost, visit };
  }
  return best ? best.visit : hindered('person busy', { minutes: Math.max(0, room) });
}

/** Everything that keeps these tasks from a place where they cannot stand, the first of `standAt` first. */
export function hindrancesAt(
  draft: Draft,
  boat: number,
  day: number,
  tech: number,
  tasks: readonly number[],
): Hindrance[] {
  const found = [...standsAgainst(draft, boat, day, tech, tasks, true)];
  if (found.some((h) => NO_HOUR.includes(h.obstacle))) return found;
  const rooms = draft.model.boats[boat]!.free[day]!.map((_, w) => roomIn(draft, boat, day, tech, w));
  const room = Math.max(0, ...rooms);
  const fits = elapsedOf(draft.model, tasks, draft.model.techs[tech]!.pace) <= room + 1e-6;
  return fits ? found : [...found, hindered('person busy', { minutes: room })];
}
/** Where these hold nobody looks for an hour. */
const NO_HOUR: readonly Obstacle[] = ['boat out', 'person away', 'gap too short'];

/** Tells a visit that stands from what keeps it from standing. */
export const isVisit = (x: DraftVisit | Hindrance): x is DraftVisit => 'window' in x;

/**
 * Puts visits into a draft as far as they still can stand there.
 *
 * @returns those that cannot, each with all that keeps it from there; their tasks stay unplanned
 */
export function standAll(draft: Draft, visits: readonly PlannedVisit[]): { visit: PlannedVisit; why: Hindrance[] }[] {
  const { boats, technicians, tasks } = indicesOf(draft.model.problem);
  const refused: { visit: PlannedVisit; why: Hindrance[] }[] = [];
  const wish = [...visits].sort((a, b) => a.day - b.day || a.start - b.start);
  for (const visit of wish) {
    const boat = boats.get(visit.boat);
    const tech = technicians.get(visit.technician);
    const own = visit.tasks.flatMap((id) => {
      const i = tasks.get(id);
      return i !== undefined && draft.placed[i] === null ? [i] : [];
    });
    if (boat === undefined || tech === undefined || visit.day < 0 || visit.day >= draft.model.days || own.length === 0)
      continue;
    const found = atWindow(draft, boat, visit, tech, own);
    if (isVisit(found)) draft.add(found);
    else refused.push({ visit, why: hindrancesAt(draft, boat, visit.day, tech, own) });
  }
  return refused;
}

/** In the window where it stood, if it can: of two that both cost nothing, another would move it. */
function atWindow(
  draft: Draft,
  boat: number,
  { day, start, elapsed }: PlannedVisit,
  tech: number,
  tasks: readonly number[],
): DraftVisit | Hindrance {
  const any = standAt(draft, boat, day, tech, tasks);
  if (!isVisit(any)) return any;
  const windows = draft.model.boats[boat]!.free[day]!;
  const w = windows.findIndex((x) => x.from <= start + 1e-6 && start + elapsed <= x.to + 1e-6);
  if (w < 0 || w === any.window || any.minutes > draft.dayPlan(tech, day).room(windows[w]!.from, windows[w]!.to) + 1e-6)
    return any;
  return draft.visit(boat, day, tech, w, tasks);
}
