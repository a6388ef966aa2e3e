import { boatSets, elapsedOfSets, type BoatSets, type Place } from '../search/boat.ts';
import type { FullModel } from '../problem/model.ts';
import { groupsOf, shared } from '../problem/groups.ts';
import { reachable, SLICED_MINUTES, SLICES, type Slice } from '../search/slices.ts';

/** Minutes of an hour, in which prices count. */
export const HOUR = 60;

/** Visits whose windows lie within [from, to] of a technician's day must fit into it. */
export interface Interval {
  tech: number;
  day: number;
  from: number;
  to: number;
  /** Hours there are. */
  hours: number;
  /** Up to the end of the day: overtime makes it longer. */
  open: boolean;
}

/** Use of a part up to and with a day: the last one before more arrives, since use only grows. */
export interface PartLimit {
  part: number;
  day: number;
  /** As much of the supply as whole tasks can use. */
  supply: number;
  /** First of its slices, and how many. */
  slices: number;
}
const PART_SLICES = [2, 3, 4, 5, 6];

/** A boat, or a part of one with more tasks than are looked at at once. */
export interface Group {
  boat: number;
  sets: BoatSets;
  places: Place[];
  /** Intervals each place lies within. */
  within: Int32Array[];
  /** Slices of those intervals. */
  slices: Int32Array[];
  share: number;
}

/** Open intervals of a technician's day: what overtime costs there, and how much of it there is (h). */
export interface OpenDay {
  extra: number;
  overtime: number;
  intervals: number[];
}

/** The stretches of every technician's day within which boats can lie. */
export function layIntervals(model: FullModel): { intervals: Interval[]; openOf: OpenDay[] } {
  const { days } = model;
  const intervals: Interval[] = [];
  const openOf: OpenDay[] = [];
  const releases = new Map<number, Set<number>>();
  const deadlines = new Map<number, Set<number>>();
  model.boats.forEach((b) => {
    if (b.tasks.length === 0) return;
    for (const day of b.days) {
      for (const tech of model.crew[b.base]![day]!) {
        const key = tech * days + day;
        const t = model.techs[tech]!;
        if (!releases.has(key)) {
          releases.set(key, new Set());
          deadlines.set(key, new Set());
        }
        for (const w of b.free[day]!) {
          releases.get(key)!.add(Math.max(w.from, t.from[day]!));
          deadlines.get(key)!.add(Math.min(w.to, t.hard[day]!));
        }
      }
    }
  });
  for (const [key, starts] of releases) {
    const tech = Math.floor(key / days);
    const day = key % days;
    const t = model.techs[tech]!;
    const rest = t.rest[day] ?? null;
    const open: number[] = [];
    for (const from of starts) {
      for (const to of deadlines.get(key)!) {
        if (to <= from || to >= t.hard[day]!) continue;
        // A stretch that holds all of the time the break may lie in holds the break.
        const pause = rest && from <= rest.from && to >= rest.to ? rest.minutes : 0;
        intervals.push({ tech, day, from, to, hours: (to - from - pause) / HOUR, open: false });
      }
      if (from >= t.hard[day]!) continue;
      open.push(intervals.length);
      const pause = rest && from <= rest.from && t.to[day]! >= rest.to ? rest.minutes : 0;
      const hours = Math.max(0, t.to[day]! - from - pause) / HOUR;
      intervals.push({ tech, day, from, to: Infinity, hours, open: true });
    }
    openOf.push({ extra: t.extra * HOUR, overtime: (t.hard[day]! - t.to[day]!) / HOUR, intervals: open });
  }
  return { intervals, openOf };
}

/** Short stretches are counted in slices as well, of which a visit takes whole ones. */
function sliced(model: FullModel, intervals: readonly Interval[]): { slices: Slice[]; slicesOf: number[][] } {
  const slices: Slice[] = [];
  const slicesOf: number[][] = intervals.map(() => []);
  intervals.forEach((v, k) => {
    const minutes = (v.open ? model.techs[v.tech]!.hard[v.day]! : v.to) - v.from;
    if (minutes > SLICED_MINUTES) return;
    for (const n of SLICES) slicesOf[k]!.push(slices.push({ interval: k, minutes, n }) - 1);
  });
  return { slices, slicesOf };
}

/**
 * Every boat, or part of one, with the places where it can be worked on and what each lies within.
 * @param most tasks of one group
 */
export function layGroups(
  model: FullModel,
  intervals: readonly Interval[],
  most: number,
): { groups: Group[]; slices: Slice[] } {
  const { days } = model;
  const groups: Group[] = [];
  const { slices, slicesOf } = sliced(model, intervals);
  const ofDay = new Map<number, number[]>();
  intervals.forEach((v, k) => {
    const key = v.tech * days + v.day;
    ofDay.set(key, [...(ofDay.get(key) ?? []), k]);
  });
  model.boats.forEach((b, boat) => {
    if (b.tasks.length === 0) return;
    const cut = groupsOf(model, b.tasks, most);
    const share = 1 / cut.length;
    for (const tasks of cut) {
      const places: Place[] = [];
      const within: Int32Array[] = [];
      const inSlices: Int32Array[] = [];
      for (const day of b.days) {
        const pin = b.pins.find((p) => p.day === day);
        const must = pin && cut.length === 1 ? pin.tasks.reduce((mask, i) => mask | (1 << tasks.indexOf(i)), 0) : 0;
        for (const tech of model.crew[b.base]![day]!) {
          if (pin && pin.tech !== tech) continue;
          const t = model.techs[tech]!;
          b.free[day]!.forEach((w, window) => {
            const from = Math.max(w.from, t.from[day]!);
            const to = Math.min(w.to, t.hard[day]!);
            if (to - from < model.setup * t.pace) return;
            places.push({
              day,
              tech,
              window,
              room: to - from + 1e-9,
              perMinute: t.perMinute,
              fixed: w.idle * share,
              knee: Infinity,
              extra: 0,
              must,
            });
            const inside = (ofDay.get(tech * days + day) ?? []).filter(
              (k) => intervals[k]!.from <= from && intervals[k]!.to >= to,
            );
            within.push(Int32Array.from(inside));
            inSlices.push(Int32Array.from(inside.flatMap((k) => slicesOf[k]!)));
          });
        }
      }
      const sets = boatSets(model, tasks);
      if (cut.length > 1) {
        const own = shared(model, boat, cut);
        for (const pace of new Set(places.map((p) => model.techs[p.tech]!.pace))) elapsedOfSets(own, sets, pace);
      }
      groups.push({ boat, sets, places, within, slices: inSlices, share });
    }
  });
  return { groups, slices };
}

/** What is had of each part up to each day, as far as whole tasks can use it, and the limits that follow. */
export function layParts(model: FullModel): {
  supply: Float64Array;
  limits: PartLimit[];
  limitsOf: number[][];
  partSlices: { minutes: number; n: number }[];
} {
  const { days } = model;
  const limits: PartLimit[] = [];
  const partSlices: { minutes: number; n: number }[] = [];
  const supply = Float64Array.from(model.supply);
  const limitsOf: number[][] = model.problem.parts.map(() => []);
  model.problem.parts.forEach((_, part) => {
    const wanted = model.tasks.flatMap((t) => t.parts.filter((p) => p.part === part).map((p) => p.quantity));
    const reach = reachable(wanted);
    for (let d = 0; d < days; d++) supply[part * days + d] = reach(model.supply[part * days + d]!);
    const total = wanted.reduce((a, b) => a + b, 0);
    for (let d = 0; d < days; d++) {
      const there = supply[part * days + d]!;
      if (there >= total || (d + 1 < days && supply[part * days + d + 1]! <= there)) continue;
      const most = Math.max(...wanted);
      const ns = there > 0 ? PART_SLICES.filter((n) => most * 2 > there / n) : [];
      limitsOf[part]!.push(limits.length);
      limits.push({ part, day: d, supply: there, slices: partSlices.length });
      partSlices.push(...ns.map((n) => ({ minutes: there, n })));
    }
  });
  return { supply, limits, limitsOf, partSlices };
}
