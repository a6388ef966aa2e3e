import { EPS, type Net } from './net.ts';

export interface Line {
  starts: Float64Array;
  moved: Uint8Array;
  /** Minutes drains waited to be begun, since their engine was warm or they were ready. */
  lag: number;
  /** How often the work turned to another task or engine. */
  turns: number;
}

/** Room for the hours of so many steps; none has one yet. */
export const emptyLine = (n: number): Line => ({
  starts: new Float64Array(n),
  moved: new Uint8Array(n),
  lag: 0,
  turns: 0,
});

/**
 * How an order is made: what goes first, how much a move is put off, how much the work at hand is stayed with, and how
 * much a drain is hurried on.
 */
export interface Taste {
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
export function schedule(net: Net, { priority, moveWeight, stay, hurry }: Taste, line: Line): number {
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
