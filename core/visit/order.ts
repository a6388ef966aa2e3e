import type { Step } from './steps.ts';

/** A step with its hour, in minutes from the visit's start. */
export interface TimedStep {
  step: Step;
  start: number;
  /** When its hands are done; the waiting comes after. */
  end: number;
}

export interface WorkingOrder {
  steps: TimedStep[];
  /** Until the last step is over, its waiting too. */
  elapsed: number;
  /** No order is shorter. */
  bound: number;
}

const STARTED = ' started';
/** Rounds of improving an order that is not yet as short as the bound. */
const ROUNDS = 400;
const EPS = 1e-9;

interface Net {
  n: number;
  minutes: number[];
  wait: number[];
  /** Before each step: which others, and whether only their hands have to be done. */
  before: { at: number; hands: boolean }[][];
  next: number[][];
  /** From a step's start to the end of all that follows from it. */
  tail: number[];
  head: number[];
}

function netOf(steps: readonly Step[], pace: number): Net {
  const index = new Map(steps.map((s, i) => [s.id, i]));
  const n = steps.length;
  const before = steps.map((s) => s.after.flatMap((id) => {
    const hands = id.endsWith(STARTED);
    const at = index.get(hands ? id.slice(0, -STARTED.length) : id);
    return at === undefined ? [] : [{ at, hands }];
  }));
  const minutes = steps.map((s) => s.minutes * pace);
  const wait = steps.map((s) => s.wait);
  const next: number[][] = steps.map(() => []);
  before.forEach((list, i) => { for (const b of list) next[b.at]!.push(i); });
  const order = topological(n, before);
  const head = new Array<number>(n).fill(0);
  for (const i of order) for (const b of before[i]!) head[i] = Math.max(head[i]!, head[b.at]! + minutes[b.at]! + (b.hands ? 0 : wait[b.at]!));
  const tail = new Array<number>(n).fill(0);
  for (const i of [...order].reverse()) {
    tail[i] = Math.max(tail[i]!, minutes[i]! + wait[i]!);
    for (const b of before[i]!) tail[b.at] = Math.max(tail[b.at]!, minutes[b.at]! + (b.hands ? 0 : wait[b.at]!) + tail[i]);
  }
  return { n, minutes, wait, before, next, tail, head };
}

/** @throws when steps wait for each other in a circle */
function topological(n: number, before: readonly (readonly { at: number }[])[]): number[] {
  const open = before.map((list) => list.length);
  const after: number[][] = Array.from({ length: n }, () => []);
  before.forEach((list, i) => { for (const b of list) after[b.at]!.push(i); });
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
 * No order is shorter: the longest chain with its waiting; all the hands there are; and, for every hour a set
 * of steps may begin at the earliest, that hour, their hands, and the shortest that follows from any of them
 * (one machine with heads and tails; Carlier, "The one-machine sequencing problem", 1982, from memory).
 */
function boundOf(net: Net): number {
  const { n, minutes, head, tail } = net;
  let bound = Math.max(0, ...head.map((h, i) => h + tail[i]!));
  const byTail = [...Array(n).keys()].sort((a, b) => rest(net, b) - rest(net, a));
  for (const from of new Set(head)) {
    let sum = 0;
    for (const i of byTail) {
      if (head[i]! < from - EPS) continue;
      sum += minutes[i]!;
      bound = Math.max(bound, from + sum + rest(net, i));
    }
  }
  return bound;
}

/** What has to pass after a step's hands are done. */
const rest = ({ tail, minutes }: Net, i: number) => tail[i]! - minutes[i]!;

/** An order by priorities: whatever can begin soonest, of those the one most follows from. Hands never idle while something is ready. */
function schedule(net: Net, priority: readonly number[], starts: Float64Array): number {
  const { n, minutes, wait, before, next } = net;
  const open = before.map((list) => list.length);
  const ready = new Float64Array(n);
  const list: number[] = [];
  for (let i = 0; i < n; i++) if (open[i] === 0) list.push(i);
  let at = 0;
  let end = 0;
  for (let done = 0; done < n; done++) {
    let soonest = Infinity;
    for (const i of list) soonest = Math.min(soonest, ready[i]!);
    const now = Math.max(at, soonest);
    let best = -1;
    for (let k = 0; k < list.length; k++) {
      const i = list[k]!;
      if (ready[i]! <= now + EPS && (best < 0 || priority[i]! > priority[list[best]!]!)) best = k;
    }
    const i = list[best]!;
    list[best] = list[list.length - 1]!;
    list.pop();
    starts[i] = now;
    at = now + minutes[i]!;
    end = Math.max(end, at + wait[i]!);
    for (const j of next[i]!) {
      for (const b of before[j]!) if (b.at === i) ready[j] = Math.max(ready[j]!, at + (b.hands ? 0 : wait[i]!));
      if (--open[j]! === 0) list.push(j);
    }
  }
  return end;
}

/** Orders of so few steps are all looked at, as far as they could be shorter. */
const ALL_ORDERS = 12;
const MOST_NODES = 300_000;

/** The shortest order of few steps: every order is gone through, but for those that cannot become shorter than the best known. */
function shortest(net: Net, known: number, best: Float64Array): number {
  const { n, minutes, wait, before, next, tail } = net;
  const starts = new Float64Array(n);
  const open = before.map((list) => list.length);
  const ready = new Float64Array(n);
  const done = new Uint8Array(n);
  let elapsed = known;
  let nodes = 0;
  const go = (count: number, at: number, over: number, left: number) => {
    if (count === n) {
      if (over < elapsed - EPS) {
        elapsed = over;
        best.set(starts);
      }
      return;
    }
    if (++nodes > MOST_NODES || at + left >= elapsed - EPS) return;
    for (let i = 0; i < n; i++) if (!done[i] && Math.max(at, open[i] === 0 ? ready[i]! : at) + tail[i]! >= elapsed - EPS) return;
    const candidates: number[] = [];
    let soonestEnd = Infinity;
    for (let i = 0; i < n; i++) {
      if (done[i] || open[i]! > 0) continue;
      candidates.push(i);
      soonestEnd = Math.min(soonestEnd, Math.max(at, ready[i]!) + minutes[i]!);
    }
    candidates.sort((a, b) => tail[b]! - tail[a]!);
    for (const i of candidates) {
      const start = Math.max(at, ready[i]!);
      // Another step would be over before this one can begin: it goes first at no loss.
      if (start >= soonestEnd + EPS) continue;
      const end = start + minutes[i]!;
      done[i] = 1;
      starts[i] = start;
      const was = next[i]!.map((j) => ready[j]!);
      for (const j of next[i]!) {
        open[j]!--;
        for (const b of before[j]!) if (b.at === i) ready[j] = Math.max(ready[j]!, end + (b.hands ? 0 : wait[i]!));
      }
      go(count + 1, end, Math.max(over, end + wait[i]!), left - minutes[i]!);
      next[i]!.forEach((j, k) => {
        open[j]!++;
        ready[j] = was[k]!;
      });
      done[i] = 0;
    }
  };
  go(0, 0, 0, minutes.reduce((a, b) => a + b, 0));
  return elapsed;
}

/**
 * The steps of a visit in a working order with their hours: what has to come before comes before, drains run
 * beside other work, one technician's hands are never in two places. Looks for the shortest; at equal length,
 * steps of one engine stay together as far as that costs nothing.
 *
 * @param pace stretches hands, not waiting
 */
export function workingOrder(steps: readonly Step[], pace = 1): WorkingOrder {
  if (steps.length === 0) return { steps: [], elapsed: 0, bound: 0 };
  const net = netOf(steps, pace);
  const bound = boundOf(net);
  const starts = new Float64Array(net.n);
  const priority = [...net.tail];
  let elapsed = schedule(net, priority, starts);
  let best = Float64Array.from(starts);
  if (net.n <= ALL_ORDERS && elapsed > bound + EPS) elapsed = shortest(net, elapsed, best);
  // What does not reach the bound is tried with other priorities, always the same ones.
  let state = 2_463_534_242;
  const chance = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 4_294_967_296;
  };
  for (let round = 0; net.n > ALL_ORDERS && round < ROUNDS && elapsed > bound + 1e-6; round++) {
    const spread = round < ROUNDS / 2 ? 0.25 : 1;
    const tried = net.tail.map((t) => t * (1 + spread * (chance() - 0.5)) + 4 * spread * chance());
    const found = schedule(net, tried, starts);
    if (found < elapsed - EPS) {
      elapsed = found;
      best = Float64Array.from(starts);
    }
  }
  const timed = steps.map((step, i): TimedStep => ({ step, start: best[i]!, end: best[i]! + net.minutes[i]! }));
  return { steps: timed.sort((a, b) => a.start - b.start || a.end - b.end), elapsed, bound };
}
