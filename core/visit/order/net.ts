import type { Step } from '../step.ts';
import { openTimes, type OpenTime } from '../state/safe-order.ts';
import type { Stance } from '../template.ts';

/** Minutes of hands to tilt an engine or bring it level. Common practice, no source. */
export const MOVE_MINUTES = 0.5;
/** An engine hangs level when the technician comes. */
const FIRST_STANCE: Stance = 'level';
const STARTED = ' started';
const WARM_RUN = ' warm up';
/**
 * A wait of so many minutes is a drain: begun as soon as it can be, it has the longest to run out. Common practice, no
 * source.
 */
const DRAIN = 10;
export const EPS = 1e-9;

export interface Net {
  n: number;
  minutes: number[];
  wait: number[];
  /** Minutes hands stay with a running engine after the step: nobody leaves it. */
  stays: number[];
  /** Before each step: which others, and whether only their hands have to be done. */
  before: { at: number; hands: boolean }[][];
  /** Those a step lets begin, and how long after its hands are done. */
  next: { at: number; lag: number }[][];
  /** From a step's start to the end of all that follows from it. */
  tail: number[];
  head: number[];
  /** Which engine a step is at, by place; -1 = the whole visit. */
  engine: number[];
  engines: number;
  /** 0 = level, 1 = tilted, -1 = as it stands. */
  stance: number[];
  move: number;
  /** Steps of one task at one engine belong together. */
  group: number[];
  /** Drains and what is done warm: begun as soon as they can be. */
  soon: boolean[];
  /** How much these are to be hurried on, and what has to be done before one: more once the engine is warm. */
  urgency: number[];
  /** The run before a step that has its engine warm; -1 = none. */
  warmedBy: number[];
  /** What stands open until it is closed. */
  openTimes: OpenTime[];
  /** Of each step: those it begins, and those it ends. */
  opening: OpenTime[][];
  closing: OpenTime[][];
  /** Moves no order can do without, in minutes. */
  leastMoves: number;
  /** The longest chain with its waiting and the moves on it. */
  longest: number;
}

/**
 * A visit's steps as a net: what has to come before what, with hands and waits in minutes.
 *
 * @param pace stretches hands, not waiting nor running
 */
export function netOf(steps: readonly Step[], pace: number): Net {
  const index = new Map(steps.map((s, i) => [s.id, i]));
  const n = steps.length;
  const before = steps.map((s) =>
    s.after.flatMap((id) => {
      const hands = id.endsWith(STARTED);
      const at = index.get(hands ? id.slice(0, -STARTED.length) : id);
      return at === undefined ? [] : [{ at, hands }];
    }),
  );
  const minutes = steps.map((s) => (s.minutes - s.running) * pace + s.running);
  const wait = steps.map((s) => s.wait);
  const stays = steps.map((s) => (s.turns === null ? 0 : s.wait));
  const next: Net['next'] = steps.map(() => []);
  before.forEach((list, i) => {
    for (const b of list) next[b.at]!.push({ at: i, lag: b.hands ? 0 : wait[b.at]! });
  });
  const order = topological(n, before);
  const head = new Array<number>(n).fill(0);
  for (const i of order)
    for (const b of before[i]!)
      head[i] = Math.max(head[i]!, head[b.at]! + minutes[b.at]! + (b.hands ? 0 : wait[b.at]!));
  const tail = new Array<number>(n).fill(0);
  for (const i of [...order].reverse()) {
    tail[i] = Math.max(tail[i]!, minutes[i]! + wait[i]!);
    for (const b of before[i]!)
      tail[b.at] = Math.max(tail[b.at]!, minutes[b.at]! + (b.hands ? 0 : wait[b.at]!) + tail[i]);
  }
  const ids = [...new Set(steps.map((s) => s.engineId))].filter((id) => id !== null);
  const engine = steps.map((s) => (s.engineId === null ? -1 : ids.indexOf(s.engineId)));
  const stance = steps.map((s) => (s.engineId === null || s.stance === null ? -1 : s.stance === 'level' ? 0 : 1));
  const soon = steps.map((s) => s.warm || (s.wait >= DRAIN && s.task !== null));
  const warmedBy = warmRuns(steps, order, before);
  const times = openTimes(steps);
  const net: Net = {
    n,
    minutes,
    wait,
    stays,
    before,
    next,
    tail,
    head,
    engine,
    engines: ids.length,
    stance,
    move: MOVE_MINUTES * pace,
    group: groupsOf(steps),
    soon,
    warmedBy,
    openTimes: times,
    opening: steps.map((_, i) => times.filter((o) => o.opener === i)),
    closing: steps.map((_, i) => times.filter((o) => o.closer === i)),
    urgency: urgencyOf(order, before, soon, warmedBy),
    leastMoves: MOVE_MINUTES * pace * movesNeeded(order, before, engine, stance),
    longest: 0,
  };
  net.longest = longestChain(net, order);
  return net;
}

/**
 * The longest chain, moves on it counted where they cannot hide behind a wait: a step holds its engine's stance
 * until its own waiting is over, so the move comes after that, and takes hands like every step that follows.
 */
function longestChain(
  { n, minutes, wait, before, engine, engines, stance, move }: Net,
  order: readonly number[],
): number {
  // For each step and engine: the latest start of its successor by the stance the chain left that engine in, and
  // whether a wait since then could hide the move.
  const state = (): Float64Array => new Float64Array(4).fill(-Infinity);
  let longest = 0;
  for (let e = 0; e < Math.max(1, engines); e++) {
    const ends: Float64Array[] = [];
    for (const i of order) {
      const here = state();
      if (before[i]!.length === 0) here[0] = 0;
      for (const b of before[i]!) {
        const from = ends[b.at]!;
        for (let s = 0; s < 4; s++) {
          const at = from[s]! + (b.hands ? 0 : wait[b.at]!);
          // The stance step's own wait hides nothing; a later one does.
          const hides = !b.hands && wait[b.at]! > 0 && !(engine[b.at] === e && stance[b.at]! >= 0);
          here[hides ? s | 2 : s] = Math.max(here[hides ? s | 2 : s]!, at);
        }
      }
      const end = state();
      for (let s = 0; s < 4; s++) {
        if (here[s] === -Infinity) continue;
        const wanted = engine[i] === e ? stance[i]! : -1;
        const moves = wanted >= 0 && wanted !== (s & 1);
        const over = here[s]! + (moves && s < 2 ? move : 0) + minutes[i]!;
        const to = wanted >= 0 ? wanted : s;
        end[to] = Math.max(end[to]!, over);
        longest = Math.max(longest, over + wait[i]!);
      }
      ends[i] = end;
    }
  }
  return n === 0 ? 0 : longest;
}

function urgencyOf(
  order: readonly number[],
  before: Net['before'],
  soon: readonly boolean[],
  warmedBy: readonly number[],
): number[] {
  const leads = [...soon];
  for (const i of [...order].reverse()) if (leads[i]) for (const b of before[i]!) leads[b.at] = true;
  return leads.map((l, i) => (soon[i] ? 4 : l && warmedBy[i]! >= 0 ? 2 : l ? 1 : 0));
}

function warmRuns(steps: readonly Step[], order: readonly number[], before: Net['before']): number[] {
  const warmedBy = new Array<number>(steps.length).fill(-1);
  for (const i of order) {
    for (const b of before[i]!) {
      if (steps[b.at]!.engineId !== steps[i]!.engineId) continue;
      const run = steps[b.at]!.id.endsWith(WARM_RUN) ? b.at : warmedBy[b.at]!;
      if (run >= 0) warmedBy[i] = run;
    }
  }
  return warmedBy;
}

function groupsOf(steps: readonly Step[]): number[] {
  const known = new Map<string, number>();
  return steps.map((s) => {
    const key = `${s.engineId} ${s.task ?? s.id}`;
    const group = known.get(key) ?? known.size;
    known.set(key, group);
    return group;
  });
}

/** Changes of stance along any chain of one engine's steps: no order has fewer. */
function movesNeeded(
  order: readonly number[],
  before: Net['before'],
  engine: readonly number[],
  stance: readonly number[],
): number {
  /** The most changes on a chain ending here, by the stance it ends in. */
  const least: { level: number; tilted: number }[] = [];
  const most = new Map<number, number>();
  for (const i of order) {
    const here = { level: 0, tilted: FIRST_STANCE === 'level' ? -Infinity : 0 };
    for (const b of before[i]!) {
      if (engine[b.at] !== engine[i]) continue;
      here.level = Math.max(here.level, least[b.at]!.level);
      here.tilted = Math.max(here.tilted, least[b.at]!.tilted);
    }
    if (stance[i] === 0) Object.assign(here, { level: Math.max(here.level, here.tilted + 1), tilted: -Infinity });
    if (stance[i] === 1) Object.assign(here, { tilted: Math.max(here.tilted, here.level + 1), level: -Infinity });
    least[i] = here;
    if (engine[i]! >= 0) most.set(engine[i]!, Math.max(most.get(engine[i]!) ?? 0, here.level, here.tilted));
  }
  return [...most.values()].reduce((a, b) => a + b, 0);
}

/** @throws when steps wait for each other in a circle */
function topological(n: number, before: readonly (readonly { at: number }[])[]): number[] {
  const open = before.map((list) => list.length);
  const after: number[][] = Array.from({ length: n }, () => []);
  before.forEach((list, i) => {
    for (const b of list) after[b.at]!.push(i);
  });
  const ready = open.flatMap((k, i) => (k === 0 ? [i] : []));
  const order: number[] = [];
  while (ready.length > 0) {
    const i = ready.pop()!;
    order.push(i);
    for (const j of after[i]!) if (--open[j]! === 0) ready.push(j);
  }
  if (order.length < n) throw new Error('steps wait for each other in a circle');
  return order;
}

/**
 * No order is shorter: the longest chain with its waiting; all the hands there are, with the moves none can do
 * without; and, for every hour a set of steps may begin at the earliest, that hour, their hands, and the
 * shortest that follows from any of them (one machine with heads and tails; Carlier, "The one-machine
 * sequencing problem", 1982, from memory).
 */
export function boundOf(net: Net): number {
  const { n, head, leastMoves, longest } = net;
  const busy = net.minutes.map((m, i) => m + net.stays[i]!);
  let bound = Math.max(
    longest,
    busy.reduce((a, b) => a + b, 0) + leastMoves + Math.min(...Array.from({ length: n }, (_, i) => rest(net, i))),
  );
  const byTail = [...Array(n).keys()].sort((a, b) => rest(net, b) - rest(net, a));
  for (const from of new Set(head)) {
    let sum = 0;
    for (const i of byTail) {
      if (head[i]! < from - EPS) continue;
      sum += busy[i]!;
      bound = Math.max(bound, from + sum + rest(net, i));
    }
  }
  return bound;
}

/** What has to pass after a step's hands are free. */
const rest = ({ tail, minutes, stays }: Net, i: number) => tail[i]! - minutes[i]! - stays[i]!;
