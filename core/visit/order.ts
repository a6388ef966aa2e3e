import type { Step } from './steps.ts';
import type { Stance } from './template.ts';

/** A step with its hour, in minutes from the visit's start. */
export interface TimedStep {
  step: Step;
  start: number;
  /** When its hands are done; the waiting comes after. */
  end: number;
  /** The engine is brought to this stance first, as part of the step's minutes; null = it stands right. */
  move: Stance | null;
}

export interface WorkingOrder {
  steps: TimedStep[];
  /** Until the last step is over, its waiting too. */
  elapsed: number;
  /** No order is shorter. */
  bound: number;
}

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
/** Rounds of improving an order that is not yet as short as the bound. */
const ROUNDS = 140;
const EPS = 1e-9;

interface Net {
  n: number;
  minutes: number[];
  wait: number[];
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
  /** Moves no order can do without, in minutes. */
  leastMoves: number;
  /** The longest chain with its waiting and the moves on it. */
  longest: number;
}

function netOf(steps: readonly Step[], pace: number): Net {
  const index = new Map(steps.map((s, i) => [s.id, i]));
  const n = steps.length;
  const before = steps.map((s) =>
    s.after.flatMap((id) => {
      const hands = id.endsWith(STARTED);
      const at = index.get(hands ? id.slice(0, -STARTED.length) : id);
      return at === undefined ? [] : [{ at, hands }];
    }),
  );
  const minutes = steps.map((s) => s.minutes * pace);
  const wait = steps.map((s) => s.wait);
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
  const net: Net = {
    n,
    minutes,
    wait,
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
function boundOf(net: Net): number {
  const { n, minutes, head, leastMoves, longest } = net;
  let bound = Math.max(
    longest,
    minutes.reduce((a, b) => a + b, 0) + leastMoves + Math.min(...Array.from({ length: n }, (_, i) => rest(net, i))),
  );
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

interface Line {
  starts: Float64Array;
  moved: Uint8Array;
  /** Minutes drains waited to be begun, since their engine was warm or they were ready. */
  lag: number;
  /** How often the work turned to another task or engine. */
  turns: number;
}

const emptyLine = (n: number): Line => ({ starts: new Float64Array(n), moved: new Uint8Array(n), lag: 0, turns: 0 });

/**
 * How an order is made: what goes first, how much a move is put off, how much the work at hand is stayed with, and how
 * much a drain is hurried on.
 */
interface Taste {
  priority: readonly number[];
  moveWeight: number;
  stay: number;
  hurry: number;
}

/**
 * An order by priorities: whatever can begin soonest, of those the one most follows from; a step that needs no
 * move before one that does. Hands never idle while something is ready. An engine is not moved while something
 * drains at its stance.
 */
function schedule(net: Net, { priority, moveWeight, stay, hurry }: Taste, line: Line): number {
  const { n, minutes, wait, before, next, engine, stance, move, group, urgency, soon, warmedBy } = net;
  const open = before.map((list) => list.length);
  const ready = new Float64Array(n);
  const stands = new Int8Array(net.engines);
  const heldUntil = new Float64Array(net.engines);
  const list: number[] = [];
  for (let i = 0; i < n; i++) if (open[i] === 0) list.push(i);
  const moves = (i: number) => stance[i]! >= 0 && stands[engine[i]!] !== stance[i];
  const from = new Float64Array(n);
  let at = 0;
  let end = 0;
  let where = -1;
  let what = -1;
  line.lag = 0;
  line.turns = 0;
  for (let done = 0; done < n; done++) {
    let soonest = Infinity;
    for (const i of list) {
      from[i] = moves(i) ? Math.max(ready[i]!, heldUntil[engine[i]!]!) : ready[i]!;
      if (from[i] < soonest) soonest = from[i]!;
    }
    const now = Math.max(at, soonest);
    let best = -1;
    let bestWorth = -Infinity;
    for (let k = 0; k < list.length; k++) {
      const i = list[k]!;
      if (from[i]! > now + EPS) continue;
      // A hair for staying at the same engine: it costs nothing and saves walking round.
      const worth =
        priority[i]! -
        (moves(i) ? moveWeight : 0) +
        (engine[i] === where ? 1e-4 + stay / 4 : 0) +
        (group[i] === what ? stay : 0) +
        hurry * urgency[i]!;
      if (worth > bestWorth) {
        bestWorth = worth;
        best = k;
      }
    }
    const i = list[best]!;
    list[best] = list[list.length - 1]!;
    list.pop();
    const moved = moves(i);
    if (moved) stands[engine[i]!] = stance[i]!;
    if (soon[i]) line.lag += now - (warmedBy[i]! < 0 ? ready[i]! : line.starts[warmedBy[i]!]! + minutes[warmedBy[i]!]!);
    if (group[i] !== what) line.turns++;
    where = engine[i]!;
    what = group[i]!;
    line.starts[i] = now;
    line.moved[i] = moved ? 1 : 0;
    at = now + (moved ? move : 0) + minutes[i]!;
    if (stance[i]! >= 0) heldUntil[where] = Math.max(heldUntil[where]!, at + wait[i]!);
    end = Math.max(end, at + wait[i]!);
    for (const { at: j, lag } of next[i]!) {
      ready[j] = Math.max(ready[j]!, at + lag);
      if (--open[j]! === 0) list.push(j);
    }
  }
  return end;
}

/** Orders of so few steps are all looked at, as far as they could be shorter. */
const ALL_ORDERS = 12;
const MOST_NODES = 400_000;

/**
 * The shortest order of few steps: every order is gone through, but for those that cannot become shorter than the best
 * known.
 */
function shortest(net: Net, known: number, best: Line): number {
  const { n, minutes, wait, before, next, tail, engine, stance, move } = net;
  const line = emptyLine(n);
  const open = before.map((list) => list.length);
  const ready = new Float64Array(n);
  const done = new Uint8Array(n);
  const stands = new Int8Array(net.engines);
  const heldUntil = new Float64Array(net.engines);
  let elapsed = known;
  let nodes = 0;
  const moves = (i: number) => stance[i]! >= 0 && stands[engine[i]!] !== stance[i];
  const go = (count: number, at: number, over: number, left: number) => {
    if (count === n) {
      if (over < elapsed - EPS) {
        elapsed = over;
        best.starts.set(line.starts);
        best.moved.set(line.moved);
      }
      return;
    }
    if (++nodes > MOST_NODES || at + left >= elapsed - EPS) return;
    for (let i = 0; i < n; i++)
      if (!done[i] && Math.max(at, open[i] === 0 ? ready[i]! : at) + tail[i]! >= elapsed - EPS) return;
    const candidates: number[] = [];
    let soonestEnd = Infinity;
    for (let i = 0; i < n; i++) {
      if (done[i] || open[i]! > 0) continue;
      candidates.push(i);
      // One that leaves the engine as it stands can go first at no loss to whatever comes after.
      // Unless its own draining then holds the engine.
      if (!moves(i) && (stance[i]! < 0 || wait[i] === 0))
        soonestEnd = Math.min(soonestEnd, Math.max(at, ready[i]!) + minutes[i]!);
    }
    candidates.sort((a, b) => tail[b]! - tail[a]!);
    for (const i of candidates) {
      const moved = moves(i);
      const start = Math.max(at, ready[i]!, moved ? heldUntil[engine[i]!]! : 0);
      if (start >= soonestEnd + EPS) continue;
      const held = engine[i]! >= 0 ? heldUntil[engine[i]!]! : 0;
      const stood = engine[i]! >= 0 ? stands[engine[i]!]! : 0;
      const end = start + (moved ? move : 0) + minutes[i]!;
      if (moved) stands[engine[i]!] = stance[i]!;
      if (stance[i]! >= 0) heldUntil[engine[i]!] = Math.max(held, end + wait[i]!);
      done[i] = 1;
      line.starts[i] = start;
      line.moved[i] = moved ? 1 : 0;
      const was = next[i]!.map((j) => ready[j.at]!);
      for (const { at: j, lag } of next[i]!) {
        open[j]!--;
        ready[j] = Math.max(ready[j]!, end + lag);
      }
      go(count + 1, end, Math.max(over, end + wait[i]!), left - minutes[i]!);
      next[i]!.forEach(({ at: j }, k) => {
        open[j]!++;
        ready[j] = was[k]!;
      });
      done[i] = 0;
      if (moved) stands[engine[i]!] = stood;
      if (engine[i]! >= 0) heldUntil[engine[i]!] = held;
    }
  };
  go(
    0,
    0,
    0,
    minutes.reduce((a, b) => a + b, 0),
  );
  return elapsed;
}

/**
 * The steps of a visit in a working order with their hours: what has to come before comes before, drains run
 * beside other work, engines are tilted and levelled as seldom as pays, one technician's hands are never in two
 * places. Looks for the shortest; among orders within one per cent of it (of few steps: among the shortest), a task
 * is gone through in one go and a drain begins as soon as it can, while the oil is warm.
 *
 * @param pace stretches hands, not waiting
 */
export function workingOrder(steps: readonly Step[], pace = 1): WorkingOrder {
  if (steps.length === 0) return { steps: [], elapsed: 0, bound: 0 };
  const net = netOf(steps, pace);
  const bound = boundOf(net);
  const line = emptyLine(net.n);
  const best = emptyLine(net.n);
  let elapsed = Infinity;
  let taste: Taste = { priority: net.tail, moveWeight: 2, stay: 0, hurry: 0 };
  const keep = () => {
    best.starts.set(line.starts);
    best.moved.set(line.moved);
  };
  const look = (tried: Taste) => {
    const found = schedule(net, tried, line);
    if (found >= elapsed - EPS) return;
    elapsed = found;
    taste = tried;
    keep();
  };
  // A move is worth putting off for little follow-up, or for much.
  for (const moveWeight of MOVE_WEIGHTS) look({ priority: net.tail, moveWeight, stay: 0, hurry: 0 });
  const few = net.n <= ALL_ORDERS;
  if (few && elapsed > bound + EPS) elapsed = shortest(net, elapsed, best);
  // What does not reach the bound is tried with other priorities, always the same ones.
  let state = 2_463_534_242;
  const chance = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 4_294_967_296;
  };
  for (let round = 0; !few && round < ROUNDS && elapsed > bound + 1e-6; round++) {
    const spread = round < ROUNDS / 2 ? 0.25 : 1;
    look({
      priority: net.tail.map((t) => t * (1 + spread * (chance() - 0.5)) + 4 * spread * chance()),
      moveWeight: MOVE_WEIGHTS[round % 3]!,
      stay: 0,
      hurry: 0,
    });
  }
  // Of the short ones, the order that turns least from task to task and lets no warm sump wait; worth tilting an engine
  // once more.
  let worst = Infinity;
  const most = elapsed * (few ? 1 : 1 + GIVEN_UP);
  const least = elapsed;
  for (const moveWeight of MOVE_WEIGHTS) {
    for (const [hurry, stay] of MANNERS) {
      const found = schedule(net, { ...taste, moveWeight, stay, hurry }, line);
      const bother = line.lag + TURN * line.turns + LONGER * Math.max(0, found - least);
      if (found > most + EPS || bother >= worst - EPS) continue;
      worst = bother;
      elapsed = Math.max(least, found);
      keep();
    }
  }
  const timed = steps.map((step, i): TimedStep => {
    const moved = best.moved[i] === 1;
    return {
      step,
      start: best.starts[i]!,
      end: best.starts[i]! + net.minutes[i]! + (moved ? net.move : 0),
      move: moved ? step.stance : null,
    };
  });
  return { steps: timed.sort((a, b) => a.start - b.start || a.end - b.end), elapsed, bound };
}

const MOVE_WEIGHTS = [2, 20, 1000];
/** How much a drain is hurried on and the work at hand stayed with. */
const MANNERS = [
  [0, 400],
  [0, 5],
  [30, 120],
  [120, 25],
  [1000, 400],
  [1000, 25],
  [1000, 2],
] as const;
/** A turn to another task or engine is as bad as a drain begun so many minutes late. */
const TURN = 3;
/** The share of the shortest order's time that may be given up for one a person would rather work by. */
const GIVEN_UP = 0.01;
/** A minute more in all is as bad as a drain begun so many minutes late. */
const LONGER = 10;
