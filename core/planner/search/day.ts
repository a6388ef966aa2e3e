/**
 * One technician's day: which order of visits keeps every window, and what time is left for one more.
 * Finding such an order is hard in general; days are short, so all sets of visits are gone through.
 */

/** A visit on the day: not before `release`, over by `deadline`, `minutes` long. */
export interface Slot {
  release: number;
  deadline: number;
  minutes: number;
}

/** Days of more visits are put in order of their deadlines only. */
export const EXACT_VISITS = 11;
const EPS = 1e-7;

/** When each set of visits can be over, and how late the others may begin after it. */
export class DayPlan {
  readonly visits: readonly Slot[];
  /** Earliest end of all visits; Infinity = no order keeps the windows. */
  readonly end: number;
  private readonly ends: Float64Array;
  private readonly latest: Float64Array;
  private readonly from: number;
  private readonly hard: number;

  constructor(visits: readonly Slot[], from: number, hard: number) {
    this.visits = visits;
    this.from = from;
    this.hard = hard;
    if (visits.length > EXACT_VISITS) {
      // One chain of sets in order of deadlines stands for all.
      const inOrder = [...visits].sort((a, b) => a.deadline - b.deadline || a.release - b.release);
      this.visits = inOrder;
      this.ends = new Float64Array(inOrder.length + 1);
      this.latest = new Float64Array(inOrder.length + 1);
      this.ends[0] = from;
      inOrder.forEach((v, i) => {
        const end = Math.max(this.ends[i]!, v.release) + v.minutes;
        this.ends[i + 1] = end <= Math.min(v.deadline, hard) + EPS ? end : Infinity;
      });
      this.latest[inOrder.length] = hard;
      for (let i = inOrder.length - 1; i >= 0; i--) {
        const v = inOrder[i]!;
        const start = Math.min(this.latest[i + 1]!, v.deadline, hard) - v.minutes;
        this.latest[i] = start >= Math.max(v.release, from) - EPS ? start : -Infinity;
      }
      this.end = this.ends[inOrder.length]!;
      return;
    }
    const n = visits.length;
    const all = (1 << n) - 1;
    const ends = (this.ends = new Float64Array(1 << n).fill(Infinity));
    const latest = (this.latest = new Float64Array(1 << n).fill(-Infinity));
    ends[0] = from;
    for (let set = 0; set < all; set++) {
      const at = ends[set]!;
      if (at === Infinity) continue;
      for (let i = 0; i < n; i++) {
        if (set & (1 << i)) continue;
        const v = visits[i]!;
        const end = Math.max(at, v.release) + v.minutes;
        const next = set | (1 << i);
        if (end <= Math.min(v.deadline, hard) + EPS && end < ends[next]!) ends[next] = end;
      }
    }
    // latest[set]: how late the visits outside the set may begin.
    latest[all] = hard;
    for (let set = all; set > 0; set--) {
      const until = latest[set]!;
      if (until === -Infinity) continue;
      for (let i = 0; i < n; i++) {
        if (!(set & (1 << i))) continue;
        const v = visits[i]!;
        const start = Math.min(until, v.deadline, hard) - v.minutes;
        const before = set & ~(1 << i);
        if (start >= Math.max(v.release, from) - EPS && start > latest[before]!) latest[before] = start;
      }
    }
    this.end = ends[all]!;
  }

  /** The longest visit that still fits into a window, beside the others; negative = none. */
  room(windowFrom: number, windowTo: number): number {
    const release = Math.max(windowFrom, this.from);
    const deadline = Math.min(windowTo, this.hard);
    let most = -1;
    const { ends, latest } = this;
    for (let set = 0; set < ends.length; set++) {
      const at = ends[set]!;
      if (at === Infinity) continue;
      const room = Math.min(deadline, latest[set]!) - Math.max(at, release);
      if (room > most) most = room;
    }
    return most;
  }

  /** Start times that end earliest, by the visit's place in `visits`. Windows must be kept by some order. */
  starts(): number[] {
    const n = this.visits.length;
    const starts = new Array<number>(n).fill(0);
    if (n > EXACT_VISITS) {
      this.visits.forEach((v, i) => {
        starts[i] = Math.max(this.ends[i]!, v.release);
      });
      return starts;
    }
    for (let set = (1 << n) - 1; set > 0;) {
      for (let i = 0; i < n; i++) {
        if (!(set & (1 << i))) continue;
        const before = set & ~(1 << i);
        const v = this.visits[i]!;
        const start = Math.max(this.ends[before]!, v.release);
        if (
          this.ends[before]! < Infinity &&
          start + v.minutes <= Math.min(v.deadline, this.hard) + EPS &&
          Math.abs(start + v.minutes - this.ends[set]!) < EPS
        ) {
          starts[i] = start;
          set = before;
          break;
        }
      }
    }
    return starts;
  }
}
