import type { Step } from '../step.ts';
import type { Stance } from '../template.ts';
import { boundOf, EPS, netOf, type Net } from './net.ts';
import { emptyLine, schedule, type Line, type Taste } from './schedule.ts';
import { ALL_ORDERS, shortest } from './shortest.ts';

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

/** Rounds of improving an order that is not yet as short as the bound. */
const ROUNDS = 140;

/**
 * The steps of a visit in a working order with their hours: what has to come before comes before, drains run
 * beside other work, engines are tilted and levelled as seldom as pays, one technician's hands are never in two
 * places. Looks for the shortest; among orders within one per cent of it (of few steps: among the shortest), a task
 * is gone through in one go and a drain begins as soon as it can, while the oil is warm.
 *
 * @param pace stretches hands, not waiting nor running
 */
export function workingOrder(steps: readonly Step[], pace = 1): WorkingOrder {
  if (steps.length === 0) return { steps: [], elapsed: 0, bound: 0 };
  const net = netOf(steps, pace);
  const bound = boundOf(net);
  const line = emptyLine(net.n);
  const best = emptyLine(net.n);
  let elapsed = Infinity;
  let taste: Taste = { priority: net.tail, moveWeight: 2, stay: 0, hurry: 0, close: 0 };
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
  for (const moveWeight of MOVE_WEIGHTS) look({ priority: net.tail, moveWeight, stay: 0, hurry: 0, close: 0 });
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
      close: 0,
    });
  }
  // Of the short ones, the order that turns least from task to task and lets no warm sump wait; worth tilting an engine
  // once more.
  let worst = Infinity;
  const most = elapsed * (few ? 1 : 1 + GIVEN_UP);
  const least = elapsed;
  for (const moveWeight of MOVE_WEIGHTS) {
    for (const [hurry, stay, close] of MANNERS) {
      const found = schedule(net, { ...taste, moveWeight, stay, hurry, close }, line);
      const bother = line.lag + OPEN * line.open + TURN * line.turns + LONGER * Math.max(0, found - least);
      if (found > most + EPS || bother >= worst - EPS) continue;
      worst = bother;
      elapsed = Math.max(least, found);
      keep();
    }
  }
  return { steps: timedSteps(steps, net, best), elapsed, bound };
}

/** The steps by their hour, each with the move it needs. */
function timedSteps(steps: readonly Step[], net: Net, { starts, moved }: Line): TimedStep[] {
  const timed = steps.map((step, i): TimedStep => {
    const move = moved[i] === 1;
    return {
      step,
      start: starts[i]!,
      end: starts[i]! + net.minutes[i]! + (move ? net.move : 0),
      move: move ? step.stance : null,
    };
  });
  return timed.sort((a, b) => a.start - b.start || a.end - b.end);
}

const MOVE_WEIGHTS = [2, 20, 1000];
/** How much a drain is hurried on, the work at hand stayed with, and what is open closed again. */
const MANNERS = [
  [0, 400, 0],
  [0, 5, 0],
  [30, 120, 0],
  [120, 25, 0],
  [1000, 400, 0],
  [1000, 25, 0],
  [1000, 2, 0],
  [1000, 400, 100],
  [1000, 100, 400],
  [120, 25, 100],
  [1000, 25, 1000],
] as const;
/** A minute that something stands open is as bad as so many that a drain is begun late. */
const OPEN = 0.1;
/** A turn to another task or engine is as bad as a drain begun so many minutes late. */
const TURN = 3;
/** The share of the shortest order's time that may be given up for one a person would rather work by. */
const GIVEN_UP = 0.01;
/** A minute more in all is as bad as a drain begun so many minutes late. */
const LONGER = 10;
