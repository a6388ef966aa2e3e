import { Draft, type DraftVisit } from '../search/draft.ts';
import type { FullModel } from '../problem/model.ts';
import { modelOf } from '../problem/model.ts';
import { pricePlan } from '../problem/price.ts';
import type { PlanCost, PlannedVisit, PlanPin, PlanProblem } from '../problem/problem.ts';
import {
  choicesBeside,
  frees,
  outlookOf,
  outlookTexts,
  type PlanWords,
  type CostChange,
  type Freed,
  type VisitChoice,
} from './reasons.ts';
import { hindrancesAt, indicesOf, isVisit, standAll, standAt, type Hindrance } from '../search/stand.ts';

/** What is picked up: tasks that stand in a visit of the boat on a day, or that stand nowhere (`from` null). */
export interface PickedUp {
  boat: string;
  from: { day: number } | null;
  tasks: string[];
}

/** A place for what was picked up: what all would cost more there, or why not. */
export interface Offer {
  day: number;
  technician: string;
  change: number | null;
  /** All that is against it; none where it can stand. */
  why: Hindrance[];
  /** It would join a visit that stands. */
  joins: boolean;
}

export interface VisitReasons {
  otherDay: (Omit<VisitChoice, 'tech'> & { technician: string }) | null;
  otherPerson: (Omit<VisitChoice, 'tech'> & { technician: string }) | null;
  /** What leaving its tasks would cost. */
  left: CostChange;
}

export interface TaskReasons {
  task: string;
  reasons: string[];
  /** The cheapest place, where there is one: dearer than leaving it. */
  best: { day: number; technician: string; change: number; joins: boolean } | null;
  frees: (Omit<Freed, 'tech'> & { technician: string | null })[];
}

/**
 * A plan on the table: what any move would cost, why visits stand where they do, and the moves themselves.
 * Nothing here searches; every answer is the price of one changed plan.
 */
export class Board {
  readonly problem: PlanProblem;
  private readonly model: FullModel;
  private readonly draft: Draft;
  private readonly index: ReturnType<typeof indicesOf>;

  /** Visits that can no longer stand are left out; see `refused`. */
  readonly refused: { visit: PlannedVisit; why: Hindrance[] }[];

  constructor(problem: PlanProblem, visits: readonly PlannedVisit[]) {
    // Pins hold the search, not the hand: a person may move what a person fixed.
    this.problem = problem.pinned.length > 0 ? { ...problem, pinned: [] } : problem;
    this.model = modelOf(this.problem);
    this.draft = new Draft(this.model);
    this.index = indicesOf(problem);
    this.refused = standAll(this.draft, visits);
  }

  visits(): PlannedVisit[] {
    return this.draft.planned();
  }

  cost(): PlanCost {
    return pricePlan(this.problem, { visits: this.visits() }).cost;
  }

  /** Its total, kept up to date with every move. */
  get total(): number {
    return this.draft.cost;
  }

  unplanned(): string[] {
    return this.draft.placed.flatMap((v, i) => (v === null ? [this.problem.tasks[i]!.id] : []));
  }

  private visitOf(boat: string, day: number): DraftVisit | null {
    const b = this.index.boats.get(boat);
    return b === undefined ? null : (this.draft.visits[b]!.find((v) => v.day === day) ?? null);
  }

  /** Takes what was picked up out; gives back how to put it there again. */
  private lift({ boat, from, tasks }: PickedUp): { boat: number; tasks: number[]; back: () => void } | null {
    const b = this.index.boats.get(boat);
    const own = tasks.flatMap((id) => {
      const i = this.index.tasks.get(id);
      return i !== undefined && this.model.tasks[i]!.boat === b ? [i] : [];
    });
    if (b === undefined || own.length === 0 || own.length !== tasks.length) return null;
    const { draft } = this;
    if (!from)
      return own.every((i) => draft.placed[i] === null) ? { boat: b, tasks: own, back: () => undefined } : null;
    const visit = this.visitOf(boat, from.day);
    if (!visit || own.some((i) => !visit.tasks.includes(i))) return null;
    draft.remove(visit);
    const rest = visit.tasks.filter((i) => !own.includes(i));
    const left = rest.length > 0 ? draft.visit(b, visit.day, visit.tech, visit.window, rest) : null;
    if (left) draft.add(left);
    return {
      boat: b,
      tasks: own,
      back: () => {
        if (left) draft.remove(left);
        draft.add(visit);
      },
    };
  }

  /** The place with what stands there of the boat already, for tasks that were taken out. */
  private place(
    boat: number,
    day: number,
    tech: number,
    tasks: readonly number[],
  ): { visit: DraftVisit | Hindrance[]; joined: DraftVisit | null } {
    const { draft } = this;
    const joined = draft.visits[boat]!.find((v) => v.day === day) ?? null;
    // What is of another person is not joined: all that is against a visit of its own is told.
    if (joined && joined.tech !== tech) return { visit: hindrancesAt(draft, boat, day, tech, tasks), joined };
    if (joined) draft.remove(joined);
    const all = joined ? [...joined.tasks, ...tasks] : tasks;
    const found = standAt(draft, boat, day, tech, all);
    const visit = isVisit(found) ? found : hindrancesAt(draft, boat, day, tech, all);
    if (joined) draft.add(joined);
    return { visit, joined };
  }

  /** What every day and person would cost for what was picked up, against the plan as it stands. */
  offers(picked: PickedUp): Offer[] {
    const { draft, model, problem } = this;
    const before = draft.cost;
    const lifted = this.lift(picked);
    if (!lifted) return [];
    const offers: Offer[] = [];
    for (let day = 0; day < model.days; day++) {
      for (let tech = 0; tech < model.techs.length; tech++) {
        const { visit, joined } = this.place(lifted.boat, day, tech, lifted.tasks);
        const offer: Offer = {
          day,
          technician: problem.technicians[tech]!.id,
          change: null,
          why: [],
          joins: joined !== null,
        };
        if (!Array.isArray(visit)) {
          if (joined) draft.remove(joined);
          draft.add(visit);
          offer.change = draft.cost - before;
          draft.remove(visit);
          if (joined) draft.add(joined);
        } else offer.why = visit;
        offers.push(offer);
      }
    }
    lifted.back();
    return offers;
  }

  /** Puts what was picked up there. `back` takes it up again; null = it cannot stand there, the plan is as it was. */
  private put(picked: PickedUp, day: number, technician: string): { tech: number; back: () => void } | null {
    const { draft } = this;
    const tech = this.index.technicians.get(technician);
    const lifted = tech === undefined ? null : this.lift(picked);
    if (!lifted || tech === undefined) return null;
    const { visit, joined } = this.place(lifted.boat, day, tech, lifted.tasks);
    if (Array.isArray(visit)) {
      lifted.back();
      return null;
    }
    if (joined) draft.remove(joined);
    draft.add(visit);
    return {
      tech,
      back: () => {
        draft.remove(visit);
        if (joined) draft.add(joined);
        lifted.back();
      },
    };
  }

  /**
   * When a visit with what was picked up would begin and end there, in minutes after midnight; null = it cannot stand
   * there.
   */
  timesAt(picked: PickedUp, day: number, technician: string): { start: number; end: number } | null {
    const put = this.put(picked, day, technician);
    if (!put) return null;
    const timed = this.draft.plannedOn(put.tech, day).find((v) => v.boat === picked.boat)!;
    put.back();
    return { start: timed.start, end: timed.start + timed.elapsed };
  }

  /** Moves what was picked up. False = it cannot stand there; the plan is as it was. */
  move(picked: PickedUp, day: number, technician: string): boolean {
    return this.put(picked, day, technician) !== null;
  }

  /** Takes tasks out of the plan. */
  leave(picked: PickedUp): boolean {
    return this.lift(picked) !== null;
  }

  /** Why a visit stands where it does. */
  why(boat: string, day: number): VisitReasons | null {
    const visit = this.visitOf(boat, day);
    if (!visit) return null;
    const { otherDay, otherPerson, left } = choicesBeside(this.draft, visit);
    const named = (c: VisitChoice | null) =>
      c ? { day: c.day, change: c.change, technician: this.problem.technicians[c.tech]!.id } : null;
    return { otherDay: named(otherDay), otherPerson: named(otherPerson), left };
  }

  /** What stands in the way of tasks that are left out, and what would free them. */
  whyLeft(tasks: readonly string[], words?: PlanWords): TaskReasons[] {
    const indices = tasks.flatMap((id) => {
      const i = this.index.tasks.get(id);
      return i !== undefined && this.draft.placed[i] === null ? [i] : [];
    });
    const eased = frees(this.draft, indices);
    const name = (tech: number) => this.problem.technicians[tech]?.id ?? null;
    return indices.map((i) => {
      const outlook = outlookOf(this.draft, i);
      return {
        task: this.problem.tasks[i]!.id,
        reasons: outlookTexts(this.draft, outlook, words),
        best: outlook.best
          ? {
              day: outlook.best.day,
              technician: name(outlook.best.tech)!,
              change: outlook.best.change,
              joins: outlook.best.joins,
            }
          : null,
        frees: eased.get(i)!.map(({ tech, ...f }) => ({ ...f, technician: name(tech) })),
      };
    });
  }
}

/** What differs between two plans, boat by boat. */
export interface PlanChange {
  boat: string;
  kind: 'new' | 'gone' | 'moved' | 'changed';
  before: PlannedVisit | null;
  after: PlannedVisit | null;
}

/**
 * What moved between two plans: visits are matched by boat, then by the tasks they share. Only times that differ are no
 * change.
 */
export function planChanges(before: readonly PlannedVisit[], after: readonly PlannedVisit[]): PlanChange[] {
  const changes: PlanChange[] = [];
  const boats = new Set([...before, ...after].map((v) => v.boat));
  for (const boat of boats) {
    const old = before.filter((v) => v.boat === boat);
    const left = new Set(old);
    const fresh = after.filter((v) => v.boat === boat);
    const shared = (a: PlannedVisit, b: PlannedVisit) => a.tasks.filter((t) => b.tasks.includes(t)).length;
    const pairs = old
      .flatMap((b) =>
        fresh
          .map((a) => ({
            b,
            a,
            n: shared(b, a) * 4 + (b.day === a.day ? 2 : 0) + (b.technician === a.technician ? 1 : 0),
          }))
          .filter(({ b: x, a: y }) => shared(x, y) > 0),
      )
      .sort((x, y) => y.n - x.n);
    const taken = new Set<PlannedVisit>();
    for (const { b, a } of pairs) {
      if (!left.has(b) || taken.has(a)) continue;
      left.delete(b);
      taken.add(a);
      if (a.day !== b.day || a.technician !== b.technician) changes.push({ boat, kind: 'moved', before: b, after: a });
      else if (a.tasks.length !== b.tasks.length || shared(a, b) < a.tasks.length)
        changes.push({ boat, kind: 'changed', before: b, after: a });
    }
    for (const b of left) changes.push({ boat, kind: 'gone', before: b, after: null });
    for (const a of fresh) if (!taken.has(a)) changes.push({ boat, kind: 'new', before: null, after: a });
  }
  const dayOf = (c: PlanChange) => (c.after ?? c.before)!.day;
  return changes.sort((x, y) => dayOf(x) - dayOf(y));
}

/** Visits as pins that hold the search. */
export const pinsOf = (visits: readonly PlannedVisit[]): PlanPin[] =>
  visits.map(({ boat, day, technician, tasks }) => ({ boat, day, technician, tasks }));
