import type { Draft, DraftVisit } from './draft.ts';
import { elapsedOf } from '../problem/model.ts';
import type { PlannedVisit, PlanProblem } from '../problem/problem.ts';

/** What keeps tasks from a place. The first that holds, in the order in which a person would look. */
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
 * The cheapest visit with these tasks of a boat on a day by a person, beside everything that stands. The
 * tasks must stand nowhere, and the boat have no visit that day.
 *
 * @returns the visit, not added yet; or what keeps it from there
 */
export function standAt(
  draft: Draft,
  boat: number,
  day: number,
  tech: number,
  tasks: readonly number[],
): DraftVisit | Hindrance {
  const { model } = draft;
  const { problem } = model;
  const own = model.boats[boat]!;
  const t = model.techs[tech]!;
  for (const i of tasks)
    if (model.tasks[i]!.cost[day]! === Infinity) return hindered('not allowed', { at: problem.tasks[i]!.id });
  const windows = own.free[day]!;
  if (windows.length === 0) return hindered('boat out');
  if (t.base[day] !== own.base) return hindered('person away');
  for (const i of tasks) {
    if (model.tasks[i]!.can[tech]) continue;
    return hindered('no skill', {
      at: problem.tasks[i]!.skills.find((s) => !problem.technicians[tech]!.skills.includes(s)) ?? '',
    });
  }
  const minutes = elapsedOf(model, tasks, t.pace);
  const widest = Math.max(...windows.map((w) => Math.min(w.to, t.hard[day]!) - Math.max(w.from, t.from[day]!)));
  if (minutes > widest + 1e-6) return hindered('gap too short', { minutes: Math.max(0, widest) });
  if (draft.visits[boat]!.some((v) => v.day === day)) return hindered('boat taken');
  const wanted = new Map<number, number>();
  for (const i of tasks)
    for (const { part, quantity } of model.tasks[i]!.parts) wanted.set(part, (wanted.get(part) ?? 0) + quantity);
  for (const [part, quantity] of wanted)
    if (quantity > draft.left(part, day) + 1e-9) return hindered('no part', { at: problem.parts[part]!.id });
  if (tasks.some((i) => model.tasks[i]!.needsLift) && draft.liftsLeft(own.base, day) <= 0) return hindered('no lift');
  const standing = draft.techDay(tech, day);
  let best: { cost: number; visit: DraftVisit } | null = null;
  let room = 0;
  const before = draft.cost;
  for (let w = 0; w < windows.length; w++) {
    const { from, to } = windows[w]!;
    const here =
      standing.length === 0
        ? Math.min(to, t.hard[day]!) - Math.max(from, t.from[day]!)
        : draft.dayPlan(tech, day).room(from, to);
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

/** Tells a visit that stands from what keeps it from standing. */
export const isVisit = (x: DraftVisit | Hindrance): x is DraftVisit => 'window' in x;

/**
 * Puts visits into a draft as far as they still can stand there.
 *
 * @returns those that cannot, each with what keeps it from there; their tasks stay unplanned
 */
export function standAll(draft: Draft, visits: readonly PlannedVisit[]): { visit: PlannedVisit; why: Hindrance }[] {
  const { boats, technicians, tasks } = indicesOf(draft.model.problem);
  const refused: { visit: PlannedVisit; why: Hindrance }[] = [];
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
    else refused.push({ visit, why: found });
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
