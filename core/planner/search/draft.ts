import { DayPlan } from './day.ts';
import { elapsedOf, type FullModel } from '../problem/model.ts';
import type { Place } from './boat.ts';
import type { PlannedVisit } from '../problem/problem.ts';

/** A visit in a draft. Never changed once it stands; a change is another visit. */
export interface DraftVisit {
  boat: number;
  day: number;
  tech: number;
  window: number;
  tasks: readonly number[];
  minutes: number;
  /** Day costs, labour and idle; overtime belongs to the technician's day. */
  cost: number;
  needsLift: boolean;
}

interface TechDay {
  visits: DraftVisit[];
  /** A cache; null = to be worked out. */
  plan: DayPlan | null;
  overtime: number;
}

/** A plan while it is worked on: visits in their places, what is left of days, lifts and parts, and what all costs. */
export class Draft {
  readonly model: FullModel;
  /** Visits by boat. */
  readonly visits: DraftVisit[][];
  /** Visit by task, null = unplanned. */
  readonly placed: (DraftVisit | null)[];
  cost: number;
  private readonly techDays: TechDay[];
  /** Supply less use, up to and with each day. */
  private readonly stock: Float64Array;
  /** The least of it from each day on; a cache by part. */
  private readonly free: Float64Array;
  private readonly stale: Uint8Array;
  private readonly lifts: Int32Array;

  constructor(model: FullModel) {
    this.model = model;
    this.visits = model.boats.map(() => []);
    this.placed = model.tasks.map(() => null);
    // A pinned task is never left.
    this.cost = model.tasks.reduce((sum, t) => sum + (t.skip === Infinity ? 0 : t.skip), 0);
    this.techDays = Array.from({ length: model.techs.length * model.days }, () => ({
      visits: [],
      plan: null,
      overtime: 0,
    }));
    this.stock = Float64Array.from(model.supply);
    this.free = new Float64Array(model.supply.length);
    this.stale = new Uint8Array(model.problem.parts.length).fill(1);
    this.lifts = Int32Array.from(model.lifts);
  }

  /** A visit as it would stand there; windows, skills and stock are not looked at. */
  visit(boat: number, day: number, tech: number, window: number, tasks: readonly number[]): DraftVisit {
    const { model } = this;
    const t = model.techs[tech]!;
    const minutes = elapsedOf(model, tasks, t.pace);
    let cost = minutes * t.perMinute + model.boats[boat]!.free[day]![window]!.idle;
    let needsLift = false;
    for (const i of tasks) {
      cost += model.tasks[i]!.cost[day]!;
      needsLift ||= model.tasks[i]!.needsLift;
    }
    return { boat, day, tech, window, tasks, minutes, cost, needsLift };
  }

  techDay(tech: number, day: number): readonly DraftVisit[] {
    return this.techDays[tech * this.model.days + day]!.visits;
  }

  private slotOf(v: DraftVisit) {
    const w = this.model.boats[v.boat]!.free[v.day]![v.window]!;
    return { release: w.from, deadline: w.to, minutes: v.minutes };
  }

  dayPlan(tech: number, day: number): DayPlan {
    const t = this.techDays[tech * this.model.days + day]!;
    const { from, hard, rest } = this.model.techs[tech]!;
    return (t.plan ??= new DayPlan(
      t.visits.map((v) => this.slotOf(v)),
      from[day]!,
      hard[day]!,
      rest[day] ?? null,
    ));
  }

  private settle(tech: number, day: number): void {
    const t = this.techDays[tech * this.model.days + day]!;
    t.plan = null;
    const { to, extra } = this.model.techs[tech]!;
    let overtime = 0;
    // Only a day that could run past its shift is put in order.
    if (t.visits.length > 0 && extra > 0) {
      const until = t.visits.reduce((most, v) => Math.max(most, this.model.boats[v.boat]!.free[day]![v.window]!.to), 0);
      if (until > to[day]!) {
        const { end } = this.dayPlan(tech, day);
        // A broken order is dear, so that nobody keeps it.
        overtime = end === Infinity ? 1e9 : Math.max(0, end - to[day]!) * extra;
      }
    }
    this.cost += overtime - t.overtime;
    t.overtime = overtime;
  }

  add(v: DraftVisit): void {
    const { days } = this.model;
    this.visits[v.boat]!.push(v);
    this.techDays[v.tech * days + v.day]!.visits.push(v);
    for (const i of v.tasks) {
      this.placed[i] = v;
      const t = this.model.tasks[i]!;
      if (t.skip !== Infinity) this.cost -= t.skip;
      for (const { part, quantity } of t.parts) this.take(part, v.day, quantity);
    }
    if (v.needsLift) this.lifts[this.model.boats[v.boat]!.base * days + v.day]!--;
    this.cost += v.cost;
    this.settle(v.tech, v.day);
  }

  remove(v: DraftVisit): void {
    const { days } = this.model;
    const drop = (list: DraftVisit[]) => {
      list.splice(list.indexOf(v), 1);
    };
    drop(this.visits[v.boat]!);
    drop(this.techDays[v.tech * days + v.day]!.visits);
    for (const i of v.tasks) {
      this.placed[i] = null;
      const t = this.model.tasks[i]!;
      if (t.skip !== Infinity) this.cost += t.skip;
      for (const { part, quantity } of t.parts) this.take(part, v.day, -quantity);
    }
    if (v.needsLift) this.lifts[this.model.boats[v.boat]!.base * days + v.day]!++;
    this.cost -= v.cost;
    this.settle(v.tech, v.day);
  }

  private take(part: number, day: number, quantity: number): void {
    const { days } = this.model;
    for (let d = part * days + day; d < (part + 1) * days; d++) this.stock[d]! -= quantity;
    this.stale[part] = 1;
  }

  /** What of a part may still be used on a day without taking it from a later one. */
  left(part: number, day: number): number {
    const { days } = this.model;
    const base = part * days;
    if (this.stale[part]) {
      let least = Infinity;
      for (let d = days - 1; d >= 0; d--) this.free[base + d] = least = Math.min(least, this.stock[base + d]!);
      this.stale[part] = 0;
    }
    return this.free[base + day]!;
  }

  liftsLeft(base: number, day: number): number {
    return this.lifts[base * this.model.days + day]!;
  }

  partsReach(tasks: readonly number[], day: number): boolean {
    const wanted = new Map<number, number>();
    for (const i of tasks)
      for (const { part, quantity } of this.model.tasks[i]!.parts) wanted.set(part, (wanted.get(part) ?? 0) + quantity);
    for (const [part, quantity] of wanted) if (quantity > this.left(part, day) + 1e-9) return false;
    return true;
  }

  /**
   * Every place a visit of the boat could take beside what stands, in order of days. Days with a visit of the boat are
   * taken.
   */
  places(boat: number, bitOf: (task: number) => number, onlyDay?: number): Place[] {
    const { model } = this;
    const b = model.boats[boat]!;
    const places: Place[] = [];
    for (const day of onlyDay === undefined ? b.days : [onlyDay]) {
      if (this.visits[boat]!.some((v) => v.day === day)) continue;
      const pin = b.pins.find((p) => p.day === day);
      const must = pin ? pin.tasks.reduce((mask, i) => mask | bitOf(i), 0) : 0;
      const windows = b.free[day]!;
      for (const tech of model.crew[b.base]![day]!) {
        if (pin && pin.tech !== tech) continue;
        const t = model.techs[tech]!;
        const standing = this.techDays[tech * model.days + day]!.visits;
        const plan = standing.length === 0 && !t.rest[day] ? null : this.dayPlan(tech, day);
        for (let w = 0; w < windows.length; w++) {
          const { from, to, idle } = windows[w]!;
          const release = Math.max(from, t.from[day]!);
          const room = plan ? plan.room(from, to) : Math.min(to, t.hard[day]!) - release;
          if (room < model.setup * t.pace) continue;
          // The day ends no earlier than the visits that cannot begin before some hour take from then on.
          let busy = release;
          for (const v of standing) {
            const r = Math.max(t.from[day]!, model.boats[v.boat]!.free[day]![v.window]!.from);
            if (r > release) continue;
            let sum = r;
            for (const u of standing)
              if (Math.max(t.from[day]!, model.boats[u.boat]!.free[day]![u.window]!.from) >= r) sum += u.minutes;
            busy = Math.max(busy, sum);
          }
          if (plan) {
            let later = release;
            for (const u of standing)
              if (model.boats[u.boat]!.free[day]![u.window]!.from >= release) later += u.minutes;
            busy = Math.max(busy, later);
          }
          places.push({
            day,
            tech,
            window: w,
            room: room + 1e-9,
            perMinute: t.perMinute,
            fixed: idle,
            knee: Math.max(t.to[day]!, plan?.end ?? 0) - busy,
            extra: t.extra,
            must,
          });
        }
      }
    }
    return places;
  }

  /** Visits with their start times, as early in the day as the order that ends first allows. */
  planned(): PlannedVisit[] {
    const { model } = this;
    const out = model.techs.flatMap((_, tech) =>
      Array.from({ length: model.days }, (__, day) => this.plannedOn(tech, day)).flat(),
    );
    return out.sort((a, b) => a.day - b.day || a.start - b.start || (a.boat < b.boat ? -1 : 1));
  }

  /** The visits of one person on one day with their start times. */
  plannedOn(tech: number, day: number): PlannedVisit[] {
    const { model } = this;
    const { boats, technicians, tasks } = model.problem;
    const { visits } = this.techDays[tech * model.days + day]!;
    if (visits.length === 0) return [];
    const plan = this.dayPlan(tech, day);
    const { starts, pausedIn, pause } = plan.timed();
    const minutes = this.model.techs[tech]!.rest[day]?.minutes ?? 0;
    const left = [...visits];
    return plan.visits.map((slot, k) => {
      // A long day is put in order of deadlines: find the visit of this slot again.
      const at = left.findIndex((v) => {
        const s = this.slotOf(v);
        return s.release === slot.release && s.deadline === slot.deadline && s.minutes === slot.minutes;
      });
      const [v] = left.splice(at, 1);
      return {
        boat: boats[v!.boat]!.id,
        day,
        technician: technicians[tech]!.id,
        start: starts[k]!,
        elapsed: v!.minutes + (k === pausedIn ? minutes : 0),
        tasks: v!.tasks.map((i) => tasks[i]!.id),
        ...(k === pausedIn && { pause: { from: pause!, to: pause! + minutes } }),
      };
    });
  }
}
