import { EPS, type Net } from './net.ts';
import { emptyLine, type Line } from './schedule.ts';

/** Orders of so few steps are all looked at, as far as they could be shorter. */
export const ALL_ORDERS = 12;
const MOST_NODES = 400_000;

/**
 * The shortest order of few steps: every order is gone through, but for those that cannot become shorter than the best
 * known.
 */
export function shortest(net: Net, known: number, best: Line): number {
  const { n, minutes, wait, stays, before, next, tail, engine, stance, move } = net;
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
        soonestEnd = Math.min(soonestEnd, Math.max(at, ready[i]!) + minutes[i]! + stays[i]!);
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
      go(count + 1, end + stays[i]!, Math.max(over, end + wait[i]!), left - minutes[i]!);
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
