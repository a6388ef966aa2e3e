import { minutesText } from '../../visit/index.ts';
import { Draft, type DraftVisit } from './draft.ts';
import type { FullModel } from '../problem/model.ts';
import { DayPlan } from './day.ts';
import { elapsedOf } from '../problem/model.ts';
import type { ProblemFault } from '../../problem/index.ts';
import { isVisit, standAt, type Hindrance } from './stand.ts';

/** More combinations of windows than this are not tried for one person's pinned day. */
const MOST_COMBINATIONS = 20_000;

/**
 * The visits that pins ask for, each in a window such that every day can be put in order.
 *
 * @returns the visits; or a fault for each pin that cannot be kept, with what stands in its way
 */
export function pinnedVisits(model: FullModel): { visits: DraftVisit[]; faults: ProblemFault[] } {
  const { problem } = model;
  const faults: ProblemFault[] = [];
  const draft = new Draft(model);
  const empty = new Draft(model);
  const pinIndex = (boat: number, day: number, task: number) =>
    problem.pinned.findIndex(
      (p) => p.boat === problem.boats[boat]!.id && p.day === day && p.tasks.includes(problem.tasks[task]!.id),
    );
  const say = (boat: number, day: number, task: number, text: string) =>
    faults.push({
      path: `pinned[${pinIndex(boat, day, task)}]`,
      text: `${problem.boats[boat]!.id} on day ${day}: ${text}`,
    });
  interface Wish {
    boat: number;
    day: number;
    tech: number;
    tasks: number[];
    windows: number[];
  }
  const byTechDay = new Map<string, Wish[]>();
  model.boats.forEach((b, boat) => {
    const days = new Set<number>();
    for (const { day, tech, tasks } of b.pins) {
      if (days.has(day)) {
        say(boat, day, tasks[0]!, 'pinned to two technicians; a boat has one visit a day');
        continue;
      }
      days.add(day);
      // Alone, beside nothing else: what keeps it from there by itself.
      const alone = standAt(empty, boat, day, tech, tasks);
      if (!isVisit(alone)) {
        say(boat, day, tasks[0]!, hindranceText(alone, problem.technicians[tech]!.id));
        continue;
      }
      const t = model.techs[tech]!;
      const minutes = elapsedOf(model, tasks, t.pace);
      const windows = [...b.free[day]!.keys()]
        .filter(
          (w) =>
            Math.min(b.free[day]![w]!.to, t.hard[day]!) - Math.max(b.free[day]![w]!.from, t.from[day]!) >=
            minutes - 1e-6,
        )
        .sort((x, y) => b.free[day]![x]!.idle - b.free[day]![y]!.idle);
      const key = `${tech} ${day}`;
      byTechDay.set(key, [...(byTechDay.get(key) ?? []), { boat, day, tech, tasks, windows }]);
    }
  });
  for (const wishes of byTechDay.values()) {
    const fitting = combination(model, wishes);
    if (!fitting) {
      const [first] = wishes;
      for (const w of wishes)
        say(
          w.boat,
          w.day,
          w.tasks[0]!,
          wishes.length === 1
            ? `it does not fit into the day of ${problem.technicians[first!.tech]!.id}`
            : `the ${wishes.length} visits pinned to ${problem.technicians[first!.tech]!.id} do not fit into that day together`,
        );
      continue;
    }
    wishes.forEach((w, k) => {
      const lift = w.tasks.some((i) => model.tasks[i]!.needsLift);
      if (lift && draft.liftsLeft(model.boats[w.boat]!.base, w.day) <= 0)
        return say(w.boat, w.day, w.tasks[0]!, hindranceText({ obstacle: 'no lift' }, ''));
      if (!draft.partsReach(w.tasks, w.day)) {
        const short =
          w.tasks.flatMap((i) => model.tasks[i]!.parts).find((p) => p.quantity > draft.left(p.part, w.day) + 1e-9) ??
          model.tasks[w.tasks[0]!]!.parts[0];
        return say(
          w.boat,
          w.day,
          w.tasks[0]!,
          `too little of ${short ? problem.parts[short.part]!.id : 'a part'} for all that is pinned by then`,
        );
      }
      draft.add(draft.visit(w.boat, w.day, w.tech, fitting[k]!, w.tasks));
      return undefined;
    });
  }
  return { visits: draft.visits.flat(), faults };
}

/** A window for each wish of one person's day such that some order keeps them all; null = none. */
function combination(
  model: FullModel,
  wishes: readonly { boat: number; day: number; tech: number; tasks: readonly number[]; windows: readonly number[] }[],
): number[] | null {
  const { tech, day } = wishes[0]!;
  const t = model.techs[tech]!;
  const minutes = wishes.map((w) => elapsedOf(model, w.tasks, t.pace));
  const chosen = wishes.map(() => 0);
  for (let tries = 0; tries < MOST_COMBINATIONS; tries++) {
    const slots = wishes.map((w, k) => {
      const { from, to } = model.boats[w.boat]!.free[day]![w.windows[chosen[k]!]!]!;
      return { release: from, deadline: to, minutes: minutes[k]! };
    });
    if (new DayPlan(slots, t.from[day]!, t.hard[day]!, t.rest[day] ?? null).end < Infinity)
      return chosen.map((c, k) => wishes[k]!.windows[c]!);
    let k = 0;
    while (k < chosen.length && ++chosen[k]! >= wishes[k]!.windows.length) chosen[k++] = 0;
    if (k === chosen.length) return null;
  }
  return null;
}

/**
 * What keeps a visit from a place, as part of a sentence.
 *
 * @param say the plan's names of tasks, parts and skills in words; left out: as the problem names them
 */
export function hindranceText(
  { obstacle, at = '', minutes }: Hindrance,
  technician: string,
  say: (at: string) => string = (name) => name,
): string {
  switch (obstacle) {
    case 'not allowed':
      return `${say(at)} is not allowed that day`;
    case 'boat out':
      return 'the boat is out all day';
    case 'person away':
      return `${technician} is off, or at another base`;
    case 'no skill':
      return `${technician} lacks ${say(at)}`;
    case 'gap too short':
      return `the longest gap within the hours of ${technician} is ${minutesText(Math.floor(minutes ?? 0))}`;
    case 'boat taken':
      return 'the boat has another visit that day';
    case 'no part':
      return `${say(at)} is not there by then`;
    case 'no lift':
      return 'the lift is taken all day';
    case 'person busy':
      return `${technician} has ${minutesText(Math.floor(minutes ?? 0))} left in the boat’s gap`;
  }
}

/** All that keeps a visit from a place, in words: "the boat is out all day; Ines lacks lower units". */
export const hindrancesText = (why: readonly Hindrance[], technician: string, say?: (at: string) => string): string =>
  why.map((h) => hindranceText(h, technician, say)).join('; ');
