import { BoatSolver, boatSets, fewestAtOnce, MOST_AT_ONCE, type BoatSets, type DayTerms, type Place } from './boat.ts';
import type { Guide } from '../bound/bound.ts';
import { Draft, type DraftVisit } from './draft.ts';
import type { FullModel } from '../problem/model.ts';
import { seeded, type Random } from '../../random/index.ts';

/** Costs that differ by less are the same. */
const EPS = 1e-6;
/** Share of rounds in which boats pay the prices found elsewhere. */
const GUIDED = 0.6;

/** Lets a boat pay for what others want. */
function leanOn(guide: Guide, weight: number, model: FullModel, boat: number, places: Place[], terms: DayTerms): void {
  const { days } = model;
  const { base, free } = model.boats[boat]!;
  for (const p of places) {
    const stretches = guide.stretches.get(p.tech * days + p.day);
    if (!stretches) continue;
    const { from, to } = free[p.day]![p.window]!;
    const release = Math.max(from, model.techs[p.tech]!.from[p.day]!);
    const deadline = Math.min(to, model.techs[p.tech]!.hard[p.day]!);
    for (const s of stretches) if (s.from <= release && s.to >= deadline) p.perMinute += weight * s.price;
  }
  const { lift, taskCost } = terms;
  terms.lift = (day) => lift!(day) + weight * guide.lifts[base * days + day]!;
  terms.taskCost = (i, day) => {
    let sum = taskCost ? taskCost(i, day) : 0;
    for (const { part, quantity } of model.tasks[i]!.parts) sum += weight * quantity * guide.parts[part * days + day]!;
    return sum;
  };
}

/**
 * Large neighbourhood search. A boat is planned anew as a whole: every set of its tasks, every place beside
 * what stands, the cheapest partition. A few boats that want the same day, person or part are taken out and
 * put back in another order; what costs more is kept with a chance that shrinks as the search cools.
 */
export class Search {
  readonly model: FullModel;
  readonly draft: Draft;
  /** Visits of the best plan found, by boat. */
  best: DraftVisit[][] = [];
  bestCost = Infinity;
  rounds = 0;
  private most = MOST_AT_ONCE;
  private readonly random: Random;
  private readonly solver: BoatSolver;
  private readonly whole = new Map<number, BoatSets>();
  /** Parts of which there is less than everybody wants, with the boats that want them. */
  private readonly wanting: Map<number, number[]>;
  /** Boats with anything to plan, and by base. */
  private readonly boats: number[];
  private readonly atBase: number[][];
  /** Boats with a task that needs the lift. */
  private readonly lifting: boolean[];

  constructor(model: FullModel, seed: number) {
    this.model = model;
    this.draft = new Draft(model);
    this.random = seeded(seed);
    this.solver = new BoatSolver(model);
    const demand = new Map<number, { sum: number; boats: Set<number> }>();
    for (const t of model.tasks) {
      for (const { part, quantity } of t.parts) {
        const d = demand.get(part) ?? { sum: 0, boats: new Set<number>() };
        d.sum += quantity;
        d.boats.add(t.boat);
        demand.set(part, d);
      }
    }
    this.wanting = new Map(
      [...demand]
        .filter(([part, d]) => d.sum > model.supply[part * model.days]! + 1e-9)
        .map(([part, d]) => [part, [...d.boats]]),
    );
    this.boats = [...model.boats.keys()].filter((b) => model.boats[b]!.tasks.length > 0);
    this.lifting = model.boats.map((b) => b.tasks.some((i) => model.tasks[i]!.needsLift));
    this.atBase = model.problem.bases.map((_, base) => this.boats.filter((b) => model.boats[b]!.base === base));
  }

  private setsOf(boat: number, tasks: readonly number[]): BoatSets {
    const all = this.model.boats[boat]!.tasks;
    if (tasks.length < all.length) return boatSets(this.model, tasks);
    let sets = this.whole.get(boat);
    if (!sets) this.whole.set(boat, (sets = boatSets(this.model, all)));
    return sets;
  }

  /** Plans tasks of a boat that stand nowhere, as cheap as can be beside everything that stands. */
  plan(boat: number, tasks: readonly number[], taskCost?: DayTerms['taskCost'], weight = 0): void {
    const { draft, model, guide } = this;
    let left = tasks;
    // Two visits may want the same day or the last part: the better one is taken, the rest looked at again.
    for (let again = 0; again < 4 && left.length > 0; again++) {
      const sets = this.setsOf(boat, left);
      const index = new Map(left.map((i, bit) => [i, bit]));
      const places = draft.places(boat, (i) => (index.has(i) ? 1 << index.get(i)! : 0));
      const { base } = model.boats[boat]!;
      const terms: DayTerms = {
        lift: (day) => (draft.liftsLeft(base, day) > 0 ? 0 : Infinity),
        left: (part, day) => draft.left(part, day),
        ...(taskCost && { taskCost }),
      };
      if (guide && weight > 0) leanOn(guide, weight, this.model, boat, places, terms);
      this.solver.solve(sets, places, terms);
      const chosen = this.solver
        .visits(sets, places)
        .map(({ set, place }) => {
          const own = left.filter((_, bit) => set & (1 << bit));
          const saved =
            own.reduce((sum, i) => sum + Math.min(model.tasks[i]!.skip, 1e7), 0) - this.solver.cheapest[set]!;
          return { own, place, saved };
        })
        .sort((a, b) => b.saved - a.saved);
      let missed = false;
      for (const { own, place } of chosen) {
        if (draft.visits[boat]!.some((v) => v.day === place.day) || !draft.partsReach(own, place.day)) {
          missed = true;
          continue;
        }
        draft.add(draft.visit(boat, place.day, place.tech, place.window, own));
      }
      if (!missed) return;
      left = left.filter((i) => draft.placed[i] === null);
    }
  }

  /** Prices found elsewhere, for boats to make room for each other. */
  guide: Guide | null = null;

  /** Takes a boat's visits out, as many as can be planned anew at once; those tasks, and tasks that stood nowhere. */
  private takeOut(boat: number): { visits: DraftVisit[]; tasks: number[] } {
    const { draft, model, random } = this;
    const all = model.boats[boat]!.tasks;
    const visits = [...draft.visits[boat]!];
    if (all.length <= this.most) {
      for (const v of visits) draft.remove(v);
      return { visits, tasks: all };
    }
    random.shuffle(visits);
    const out: DraftVisit[] = [];
    const tasks: number[] = [];
    for (const v of visits) {
      if (tasks.length > 0 && tasks.length + v.tasks.length > this.most) continue;
      if (v.tasks.length > this.most) continue;
      out.push(v);
      tasks.push(...v.tasks);
      if (random.chance(0.3)) break;
    }
    for (const v of out) draft.remove(v);
    const idle = random.shuffle(all.filter((i) => draft.placed[i] === null && !tasks.includes(i)));
    tasks.push(...idle.slice(0, this.most - tasks.length));
    return { visits: out, tasks };
  }

  /** The first plan: pinned visits as they stand, then boats in order of what leaving them would cost. */
  start(fixed: readonly DraftVisit[] = []): void {
    const { model, draft } = this;
    for (const v of fixed) draft.add(v);
    const worth = (b: number) => model.boats[b]!.tasks.reduce((sum, i) => sum + Math.min(model.tasks[i]!.skip, 1e6), 0);
    const order = this.boats.map((b) => ({ b, worth: worth(b) })).sort((x, y) => y.worth - x.worth);
    for (const { b } of order) this.fill(b);
    this.keep();
  }

  /** Plans what stands nowhere of a boat. */
  private fill(boat: number): void {
    const open = this.model.boats[boat]!.tasks.filter((i) => this.draft.placed[i] === null);
    for (let from = 0; from < open.length; from += this.most) this.plan(boat, open.slice(from, from + this.most));
  }

  private keep(): void {
    this.bestCost = this.draft.cost;
    this.best = this.draft.visits.map((list) => [...list]);
  }

  /** Some boats that get into each other's way. */
  private neighbours(): number[] {
    const { random, model, draft, boats, atBase, wanting } = this;
    const first = random.pick(boats);
    const kind = random.next();
    const count = random.chance(0.2) ? random.whole(3, 6) : random.whole(1, 3);
    if (kind < 0.2) return [first];
    const others: number[] = [];
    if (kind < 0.5 && wanting.size > 0) {
      // Who wants the same scarce part.
      const parts = model.boats[first]!.tasks.flatMap((i) => model.tasks[i]!.parts).filter((p) => wanting.has(p.part));
      if (parts.length > 0) others.push(...wanting.get(random.pick(parts).part)!);
    } else if (kind < 0.62) {
      // Who wants the same lift.
      if (this.lifting[first]) others.push(...atBase[model.boats[first]!.base]!.filter((b) => this.lifting[b]));
    } else if (kind < 0.88) {
      // Who has a visit on the same day, or could have one on a day this boat would like.
      const { base, days } = model.boats[first]!;
      if (days.length > 0) {
        const visit = draft.visits[first]![0];
        const day = visit && random.chance(0.5) ? visit.day : random.pick(days);
        for (const tech of model.crew[base]![day]!) for (const v of draft.techDay(tech, day)) others.push(v.boat);
      }
    }
    if (others.length === 0)
      others.push(...Array.from({ length: count }, () => random.pick(atBase[model.boats[first]!.base]!)));
    return [...new Set([first, ...random.shuffle(others).slice(0, count)])];
  }

  /** One round at a temperature (money). True when the best plan got better. */
  round(temperature: number): boolean {
    const { draft, random } = this;
    this.rounds++;
    if (this.boats.length === 0) return false;
    this.most = random.whole(fewestAtOnce(this.model.tasks.length), MOST_AT_ONCE);
    const before = draft.cost;
    const taken = this.neighbours().map((boat) => ({ boat, ...this.takeOut(boat) }));
    const order = random.shuffle([...taken]);
    // Now and then some tasks stand back, so that others come by what is scarce; what is left over is offered to all.
    if (random.chance(0.4)) {
      const { tasks: all } = this.model;
      const shy = new Map(
        order
          .flatMap(({ tasks }) => tasks)
          .filter((i) => random.chance(all[i]!.parts.some((p) => this.wanting.has(p.part)) ? 0.4 : 0.1))
          .map((i) => [i, random.next() < 0.5 ? Infinity : random.next() * all[i]!.skip]),
      );
      for (const { boat, tasks } of order) this.plan(boat, tasks, (i) => shy.get(i) ?? 0);
      for (const { boat, tasks } of order) {
        if (tasks.every((i) => draft.placed[i] !== null)) continue;
        for (const v of [...draft.visits[boat]!]) if (v.tasks.some((i) => tasks.includes(i))) draft.remove(v);
        this.plan(boat, tasks);
      }
    } else {
      const weight = this.guide && random.chance(GUIDED) ? random.next() * 1.3 : 0;
      order.forEach(({ boat, tasks }) => {
        this.plan(boat, tasks, undefined, weight);
      });
      // What the prices kept out may stand after all, where nobody else came.
      if (weight > 0)
        for (const { boat, tasks } of order) {
          const left = tasks.filter((i) => draft.placed[i] === null);
          if (left.length === 0) continue;
          for (const v of [...draft.visits[boat]!]) if (v.tasks.some((i) => tasks.includes(i))) draft.remove(v);
          this.plan(boat, tasks);
        }
    }
    const change = draft.cost - before;
    const lost = taken.some(({ tasks }) =>
      tasks.some((i) => draft.placed[i] === null && this.model.tasks[i]!.skip === Infinity),
    );
    if (
      lost ||
      (change > EPS && (temperature <= 0 || change > -temperature * Math.log(Math.max(1e-12, random.next()))))
    ) {
      // Put back what stood there.
      for (const { boat, tasks } of taken)
        for (const v of [...draft.visits[boat]!]) if (v.tasks.some((i) => tasks.includes(i))) draft.remove(v);
      for (const { visits } of taken) for (const v of visits) draft.add(v);
      return false;
    }
    if (draft.cost < this.bestCost - EPS) {
      this.keep();
      return true;
    }
    return false;
  }

  /** Takes a plan found elsewhere as the best. */
  take(visits: readonly (readonly DraftVisit[])[]): void {
    this.best = visits.map((list) => [...list]);
    this.toBest();
    this.bestCost = this.draft.cost;
  }

  /** Goes back to the best plan found. */
  toBest(): void {
    const { draft } = this;
    for (const list of draft.visits) for (const v of [...list]) draft.remove(v);
    for (const list of this.best) for (const v of list) draft.add(v);
  }
}
