import { EPS, type Net } from './net.ts';

export interface Line {
  starts: Float64Array;
  moved: Uint8Array;
  /** Minutes drains waited to be begun, since their engine was warm or they were ready. */
  lag: number;
  /** Minutes things stood open that are better soon closed, summed up. */
  open: number;
  /** How often the work turned to another task or engine. */
  turns: number;
}

/** Room for the hours of so many steps; none has one yet. */
export const emptyLine = (n: number): Line => ({
  starts: new Float64Array(n),
  moved: new Uint8Array(n),
  lag: 0,
  open: 0,
  turns: 0,
});

/**
 * How an order is made: what goes first, how much a move is put off, how much the work at hand is stayed with, and how
 * much a drain is hurried on, how much is done first of what leads to something open being closed.
 */
export interface Taste {
  priority: readonly number[];
  moveWeight: number;
  stay: number;
  hurry: number;
  close: number;
}

/** Where an order stands while it is made. */
interface Stand {
  /** How many prerequisites of a step are still to come. */
  open: number[];
  ready: Float64Array;
  /** How each engine stands, and until when something drains that way. */
  stands: Int8Array;
  heldUntil: Float64Array;
  /** Steps whose prerequisites are behind. */
  list: number[];
  /** Of how many things that stand open each step leads to the closing. */
  leadsToClosed: Float64Array;
  /** When hands are free. */
  at: number;
  /** The engine and the task hands were at last. */
  where: number;
  what: number;
}

function standAtFirst({ n, before, engines }: Net): Stand {
  const open = before.map((list) => list.length);
  return {
    open,
    ready: new Float64Array(n),
    stands: new Int8Array(engines),
    heldUntil: new Float64Array(engines),
    list: open.flatMap((k, i) => (k === 0 ? [i] : [])),
    leadsToClosed: new Float64Array(n),
    at: 0,
    where: -1,
    what: -1,
  };
}

const moves = ({ stance, engine }: Net, { stands }: Stand, i: number) =>
  stance[i]! >= 0 && stands[engine[i]!] !== stance[i];

/**
 * Takes the step that is worth most of those that can begin soonest out of the list.
 *
 * @returns it, and when it begins
 */
function pick(
  net: Net,
  { priority, moveWeight, stay, hurry, close }: Taste,
  s: Stand,
  from: Float64Array,
): { i: number; now: number } {
  const { engine, group, urgency } = net;
  let soonest = Infinity;
  for (const i of s.list) {
    from[i] = moves(net, s, i) ? Math.max(s.ready[i]!, s.heldUntil[engine[i]!]!) : s.ready[i]!;
    if (from[i] < soonest) soonest = from[i]!;
  }
  const now = Math.max(s.at, soonest);
  let best = -1;
  let bestWorth = -Infinity;
  for (let k = 0; k < s.list.length; k++) {
    const i = s.list[k]!;
    if (from[i]! > now + EPS) continue;
    // A hair for staying at the same engine: it costs nothing and saves walking round.
    const worth =
      priority[i]! -
      (moves(net, s, i) ? moveWeight : 0) +
      (engine[i] === s.where ? 1e-4 + stay / 4 : 0) +
      (group[i] === s.what ? stay : 0) +
      hurry * urgency[i]! +
      close * s.leadsToClosed[i]!;
    if (worth > bestWorth) {
      bestWorth = worth;
      best = k;
    }
  }
  const i = s.list[best]!;
  s.list[best] = s.list[s.list.length - 1]!;
  s.list.pop();
  return { i, now };
}

/** Puts a step down at its hour. @returns when it is over, its waiting too */
function put(net: Net, s: Stand, line: Line, i: number, now: number): number {
  const { minutes, wait, next, engine, stance, group, soon, warmedBy } = net;
  const moved = moves(net, s, i);
  if (moved) s.stands[engine[i]!] = stance[i]!;
  if (soon[i]) line.lag += now - (warmedBy[i]! < 0 ? s.ready[i]! : line.starts[warmedBy[i]!]! + minutes[warmedBy[i]!]!);
  if (group[i] !== s.what) line.turns++;
  s.where = engine[i]!;
  s.what = group[i]!;
  for (const o of net.opening[i]!) for (const step of o.steps) s.leadsToClosed[step]!++;
  for (const o of net.closing[i]!) for (const step of o.steps) s.leadsToClosed[step]!--;
  line.starts[i] = now;
  line.moved[i] = moved ? 1 : 0;
  const end = now + (moved ? net.move : 0) + minutes[i]!;
  if (stance[i]! >= 0) s.heldUntil[s.where] = Math.max(s.heldUntil[s.where]!, end + wait[i]!);
  for (const { at: j, lag } of next[i]!) {
    s.ready[j] = Math.max(s.ready[j]!, end + lag);
    if (--s.open[j]! === 0) s.list.push(j);
  }
  s.at = end + net.stays[i]!;
  return end + wait[i]!;
}

/**
 * An order by priorities: whatever can begin soonest, of those the one most follows from; a step that needs no
 * move before one that does. Hands never idle while something is ready. An engine is not moved while something
 * drains at its stance.
 *
 * @param line gets the hours
 * @returns when the last step is over, its waiting too
 */
export function schedule(net: Net, taste: Taste, line: Line): number {
  const stand = standAtFirst(net);
  const from = new Float64Array(net.n);
  line.lag = 0;
  line.turns = 0;
  let end = 0;
  for (let done = 0; done < net.n; done++) {
    const { i, now } = pick(net, taste, stand, from);
    end = Math.max(end, put(net, stand, line, i, now));
  }
  line.open = net.openTimes.reduce((sum, o) => sum + line.starts[o.closer]! - line.starts[o.opener]!, 0);
  return end;
}
