import type { PlannedVisit } from '@diurna/core/planner';

/** A plan on the table at one moment. */
export interface Snapshot {
  visits: PlannedVisit[];
  /** Fixed visits, as `day boat`. */
  pins: string[];
  /** What was done to come here. */
  act: string;
}

export interface PlanState {
  /** What the book has: open cards and their pins. */
  standing: Snapshot;
  now: Snapshot;
  past: Snapshot[];
  future: Snapshot[];
}

export const pinKey = (v: { boat: string; day: number }) => `${v.day} ${v.boat}`;

export const opened = (standing: Snapshot): PlanState => ({ standing, now: standing, past: [], future: [] });

/** Another plan on the table; what stood there can be taken back. */
export function became(state: PlanState, visits: PlannedVisit[], pins: string[], act: string): PlanState {
  const held = new Set(visits.map(pinKey));
  return {
    ...state,
    now: { visits, pins: pins.filter((p) => held.has(p)), act },
    past: [...state.past, state.now],
    future: [],
  };
}

export function undone(state: PlanState): PlanState {
  const before = state.past.at(-1);
  return before
    ? { ...state, now: before, past: state.past.slice(0, -1), future: [state.now, ...state.future] }
    : state;
}

export function redone(state: PlanState): PlanState {
  const [next, ...rest] = state.future;
  return next ? { ...state, now: next, past: [...state.past, state.now], future: rest } : state;
}

/** A pin put in, or taken out. */
export function pinned(state: PlanState, key: string): PlanState {
  const on = state.now.pins.includes(key);
  return became(
    state,
    state.now.visits,
    on ? state.now.pins.filter((p) => p !== key) : [...state.now.pins, key],
    on ? 'unpin' : 'pin',
  );
}

/** A visit put elsewhere by hand stays there: it is pinned at its new place. */
export function movedByHand(state: PlanState, visits: PlannedVisit[], from: string | null, to: string): PlanState {
  return became(
    state,
    visits,
    [
      ...state.now.pins.filter((p) => p !== from || visits.some((v) => pinKey(v) === p)),
      ...(state.now.pins.includes(to) ? [] : [to]),
    ],
    'move',
  );
}
