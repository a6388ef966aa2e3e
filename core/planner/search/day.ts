/**
 * One technician's day: which order of visits keeps every window and leaves room for the break, and what time is left
 * for one more. Finding such an order is hard in general; days are short, so all sets of visits are gone through.
 */

/** A visit on the day: not before `release`, over by `deadline`, `minutes` long. */
export interface Slot {
  release: number;
  deadline: number;
  minutes: number;
}

/** A pause of so many minutes in one piece, begun at `from` at the earliest and over by `to`. */
export interface Rest {
  from: number;
  to: number;
  minutes: number;
}

/** Start times by the visit's place in `visits`; the pause, and the visit it lies inside of. */
export interface TimedDay {
  starts: number[];
  pause: number | null;
  pausedIn: number | null;
}

/** Days of more visits are put in order of their deadlines only. */
export const EXACT_VISITS = 11;
const EPS = 1e-7;

/**
 * When each set of visits can be over, and how late the others may begin after it: each once with the pause behind
 * (`done`), once with it still ahead (`owed`). Without a break nothing is ever owed. The pause lies before, between or
 * after visits, or inside one, which then takes that much longer.
 */
export class DayPlan {
  readonly visits: readonly Slot[];
  /** Earliest end of all visits; Infinity = no order keeps the windows and leaves room for the pause. */
  readonly end: number;
  private readonly done: Float64Array;
  private readonly owed: Float64Array | null;
  /** Worked out once somebody asks for room. */
  private latest: { done: Float64Array; owed: Float64Array | null } | null = null;
  private readonly from: number;
  private readonly hard: number;
  private readonly rest: Rest | null;
  /** All sets, or one chain of them in order of deadlines that stands for all. */
  private readonly exact: boolean;
  /** The set of all visits. */
  private readonly all: number;

  constructor(visits: readonly Slot[], from: number, hard: number, rest: Rest | null = null) {
    this.exact = visits.length <= EXACT_VISITS;
    this.visits = this.exact ? visits : [...visits].sort((a, b) => a.deadline - b.deadline || a.release - b.release);
    this.from = from;
    this.hard = hard;
    this.rest = rest;
    const n = visits.length;
    const sets = this.exact ? 1 << n : n + 1;
    const all = (this.all = sets - 1);
    this.done = new Float64Array(sets).fill(Infinity);
    this.owed = rest ? new Float64Array(sets).fill(Infinity) : null;
    if (this.owed) this.owed[0] = from;
    else this.done[0] = from;
    for (let set = 0; set <= all; set++) {
      this.pauseAfter(set);
      if (set === all) break;
      if (!this.exact) this.put(set, set + 1, set);
      else for (let i = 0; i < n; i++) if (!(set & (1 << i))) this.put(set, set | (1 << i), i);
    }
    this.end = Math.min(this.done[all]!, this.owedEnd());
  }

  /** How late the visits outside of each set may begin. */
  private latestOf(): { done: Float64Array; owed: Float64Array | null } {
    if (this.latest) return this.latest;
    const { all, exact, rest } = this;
    const n = this.visits.length;
    const done = new Float64Array(all + 1).fill(-Infinity);
    const owed = rest ? new Float64Array(all + 1).fill(-Infinity) : null;
    const latest = (this.latest = { done, owed });
    done[all] = this.hard;
    for (let set = all; set >= 0; set--) {
      this.pauseBefore(set, latest);
      if (set === 0) break;
      if (!exact) this.putBack(set, set - 1, set - 1, latest);
      else for (let i = 0; i < n; i++) if (set & (1 << i)) this.putBack(set, set & ~(1 << i), i, latest);
    }
    return latest;
  }

  /** End of all visits with the pause after the last of them. */
  private owedEnd(): number {
    const { rest, owed, all } = this;
    if (!rest || !owed) return Infinity;
    return owed[all]! <= rest.to - rest.minutes + EPS ? owed[all]! : Infinity;
  }

  /** The pause once these visits are over. */
  private pauseAfter(set: number): void {
    const { rest, owed, done } = this;
    if (!rest || !owed || owed[set] === Infinity) return;
    const end = Math.max(owed[set]!, rest.from) + rest.minutes;
    if (end <= rest.to + EPS && end < done[set]!) done[set] = end;
  }

  private put(set: number, next: number, i: number): void {
    const v = this.visits[i]!;
    const { done, owed, rest } = this;
    const limit = Math.min(v.deadline, this.hard) + EPS;
    if (done[set]! < Infinity) {
      const end = Math.max(done[set]!, v.release) + v.minutes;
      if (end <= limit && end < done[next]!) done[next] = end;
    }
    if (!rest || !owed || owed[set] === Infinity) return;
    const start = Math.max(owed[set]!, v.release);
    const end = start + v.minutes;
    if (end <= limit && end < owed[next]!) owed[next] = end;
    if (start < rest.from && end > rest.from) {
      const paused = end + rest.minutes;
      if (paused <= limit && paused < done[next]!) done[next] = paused;
    }
  }

  /** How late the pause may begin before the visits outside the set. */
  private pauseBefore(
    set: number,
    { done: latestDone, owed: latestOwed }: { done: Float64Array; owed: Float64Array | null },
  ): void {
    const { rest } = this;
    if (!rest || !latestOwed) return;
    const until = Math.min(latestDone[set]!, rest.to);
    if (rest.from + rest.minutes > until + EPS) return;
    latestOwed[set] = Math.max(latestOwed[set]!, until - rest.minutes);
  }

  private putBack(
    set: number,
    before: number,
    i: number,
    { done: latestDone, owed: latestOwed }: { done: Float64Array; owed: Float64Array | null },
  ): void {
    const v = this.visits[i]!;
    const { rest } = this;
    const first = Math.max(v.release, this.from) - EPS;
    const limit = Math.min(v.deadline, this.hard);
    const start = Math.min(latestDone[set]!, limit) - v.minutes;
    if (start >= first && start > latestDone[before]!) latestDone[before] = start;
    if (!rest || !latestOwed) return;
    const owing = Math.min(latestOwed[set]!, limit) - v.minutes;
    if (owing >= first && owing > latestOwed[before]!) latestOwed[before] = owing;
    const paused = start - rest.minutes;
    if (paused < rest.from && paused + v.minutes > rest.from && paused >= first && paused > latestOwed[before]!)
      latestOwed[before] = paused;
  }

  /** The longest visit that still fits into a window, beside the others and the pause; negative = none. */
  room(windowFrom: number, windowTo: number): number {
    const release = Math.max(windowFrom, this.from);
    const deadline = Math.min(windowTo, this.hard);
    let most = -1;
    const { done, owed, rest } = this;
    const { done: latestDone, owed: latestOwed } = this.latestOf();
    for (let set = 0; set < done.length; set++) {
      if (done[set]! < Infinity) {
        const room = Math.min(deadline, latestDone[set]!) - Math.max(done[set]!, release);
        if (room > most) most = room;
      }
      if (!rest || !owed || !latestOwed || owed[set] === Infinity) continue;
      const start = Math.max(owed[set]!, release);
      const room = Math.min(deadline, latestOwed[set]!) - start;
      if (room > most) most = room;
      // With the pause inside it. A shorter one pauses behind it.
      const end = Math.min(deadline, latestDone[set]!) - rest.minutes;
      if (start < rest.from && end > rest.from && end - start > most) most = end - start;
    }
    return most;
  }

  /** Start times that end earliest. Windows must be kept by some order. */
  timed(): TimedDay {
    const n = this.visits.length;
    const day: TimedDay = { starts: new Array<number>(n).fill(0), pause: null, pausedIn: null };
    let owing = this.done[this.all]! > this.owedEnd();
    if (owing && this.rest) day.pause = Math.max(this.owed![this.all]!, this.rest.from);
    for (let set = this.all; ;) {
      if (!owing && this.pausedAfter(set)) {
        day.pause = Math.max(this.owed![set]!, this.rest!.from);
        owing = true;
      }
      if (set === 0) return day;
      const last = this.lastOf(set, owing);
      // No order keeps the windows: whoever asks all the same gets what there is.
      if (last === null) return day;
      day.starts[last.visit] = last.start;
      if (last.paused) {
        day.pause = this.rest!.from;
        day.pausedIn = last.visit;
        owing = true;
      }
      set = last.before;
    }
  }

  /** Start times alone. */
  starts(): number[] {
    return this.timed().starts;
  }

  private pausedAfter(set: number): boolean {
    const { rest, owed, done } = this;
    if (!rest || !owed || owed[set] === Infinity) return false;
    const end = Math.max(owed[set]!, rest.from) + rest.minutes;
    return end <= rest.to + EPS && Math.abs(end - done[set]!) < EPS;
  }

  /** The visit of a set that was put last on the way to its earliest end. */
  private lastOf(
    set: number,
    owing: boolean,
  ): { visit: number; start: number; before: number; paused: boolean } | null {
    const { rest, owed, done } = this;
    const ends = owing ? owed! : done;
    for (let i = this.exact ? 0 : set - 1; i < (this.exact ? this.visits.length : set); i++) {
      if (this.exact && !(set & (1 << i))) continue;
      const before = this.exact ? set & ~(1 << i) : set - 1;
      const v = this.visits[i]!;
      const limit = Math.min(v.deadline, this.hard) + EPS;
      const start = Math.max(ends[before]!, v.release);
      if (ends[before]! < Infinity && start + v.minutes <= limit && Math.abs(start + v.minutes - ends[set]!) < EPS)
        return { visit: i, start, before, paused: false };
      if (owing || !rest || !owed || owed[before] === Infinity) continue;
      const early = Math.max(owed[before]!, v.release);
      const end = early + v.minutes;
      const paused = end + rest.minutes;
      if (early < rest.from && end > rest.from && paused <= limit && Math.abs(paused - done[set]!) < EPS)
        return { visit: i, start: early, before, paused: true };
    }
    return null;
  }
}
