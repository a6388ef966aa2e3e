import { dayFromNumber, dayNumber, type Day } from '../calendar/index.ts';
import type { Due, LastDone } from './due.ts';
import type { TaskKind } from './tasks.ts';

/** Work a finding or a finished job asks for, besides the programme. */
export interface FollowUp {
  id: number;
  task: TaskKind;
  /** By when; null = at the next return from a hire. */
  dueOn: Day | null;
  /** The one that has to be done before; null = none. */
  afterId: number | null;
  /** Milliseconds since 1970. */
  at: number;
  why: string;
}

/** A service written down; cancelled ones are left out. `id` counts up with the log. */
export interface ServiceDone {
  id: number;
  task: TaskKind;
  /** When hands began on it and when it was over; left out: at once. */
  from?: number;
  at: number;
}

/**
 * Which follow-ups are still to be done, and which of them can be done now. One is done by the first service of
 * its task begun after it was asked for, and over after the one before it was: an oil change before the fuel system was
 * mended does not count as the one after it.
 */
export function openFollowUps(
  asked: readonly FollowUp[],
  done: readonly ServiceDone[],
): { followUp: FollowUp; waitsFor: FollowUp | null }[] {
  const log = [...done].sort((a, b) => a.at - b.at || a.id - b.id);
  const used = new Set<number>();
  /** The log's place at which each was done; null = not yet. */
  const doneAt = new Map<number, number | null>();
  const byId = new Map(asked.map((f) => [f.id, f]));
  const settle = (f: FollowUp): number | null => {
    const known = doneAt.get(f.id);
    if (known !== undefined) return known;
    const before = f.afterId === null ? undefined : byId.get(f.afterId);
    let from = -1;
    if (before) {
      const at = settle(before);
      if (at === null) {
        doneAt.set(f.id, null);
        return null;
      }
      from = at;
    }
    // Of one card, ticked in one go, both were over at the same moment.
    const found = log.findIndex(
      (d, i) =>
        (i > from || (i !== from && d.at === log[from]?.at)) &&
        !used.has(d.id) &&
        d.task === f.task &&
        (before ? d.at : (d.from ?? d.at)) >= f.at,
    );
    if (found >= 0) used.add(log[found]!.id);
    doneAt.set(f.id, found < 0 ? null : found);
    return doneAt.get(f.id)!;
  };
  // In the order they were asked for, so that two alike are not both done by one service.
  const inOrder = [...asked].sort((a, b) => a.at - b.at || a.id - b.id);
  for (const f of inOrder) settle(f);
  return inOrder
    .filter((f) => doneAt.get(f.id) === null)
    .map((followUp) => {
      const before = followUp.afterId === null ? undefined : byId.get(followUp.afterId);
      return { followUp, waitsFor: before && doneAt.get(before.id) === null ? before : null };
    });
}

/**
 * Work that waits for other work of the same engine, which would undo it: lube filled in before the seals are done is
 * drained with them. What is wanted in its own right too may be done now and again afterwards.
 *
 * @returns by the task that waits, the one that comes first
 */
export function waitsIn(open: ReturnType<typeof openFollowUps>): Map<TaskKind, TaskKind> {
  const waits = new Map<TaskKind, TaskKind>();
  for (const { followUp, waitsFor } of open) if (waitsFor) waits.set(followUp.task, waitsFor.task);
  for (const { followUp, waitsFor } of open) if (!waitsFor) waits.delete(followUp.task);
  return waits;
}

/** Hires of a boat, in milliseconds since 1970. */
export interface Outing {
  out: number;
  back: number;
}

/** When the boat next comes back from a hire that begins after `from`; null where none is known. */
export function nextReturn(hires: readonly Outing[], from: number): number | null {
  let first: Outing | null = null;
  for (const h of hires) if (h.out >= from && (first === null || h.out < first.out)) first = h;
  return first?.back ?? null;
}

/** Work asked for falls due on its day; with no day known it is soon, whenever the boat comes back. */
export function followUpDue(task: TaskKind, dueOn: Day | null, last: LastDone | null, todayNo: number): Due {
  const daysLeft = dueOn === null ? null : dayNumber(dueOn) - todayNo;
  return {
    task,
    by: daysLeft === null ? null : 'months',
    hoursLeft: null,
    limitHours: null,
    daysLeft,
    limitDay: daysLeft === null ? null : dayFromNumber(todayNo + daysLeft),
    share: daysLeft === null ? 0 : daysLeft <= 0 ? 1 : Math.round(1000 / (1 + daysLeft)) / 1000,
    hoursOn: null,
    estimated: false,
    last,
    hoursUnchecked: false,
    tolerated: false,
    state:
      daysLeft === null ? 'soon' : daysLeft < 0 ? 'over' : daysLeft <= 7 ? 'due' : daysLeft <= 42 ? 'soon' : 'fine',
  };
}
