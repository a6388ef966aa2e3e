import { MOVE_MINUTES, type Step } from '../index.ts';

/** The shortest order of few steps, by trying every order that keeps what comes before, with every move it needs. */
export function shortestOfAll(steps: readonly Step[]): number {
  let best = Infinity;
  const ends = new Map<string, { hands: number; over: number }>();
  const stands = new Map<number, { stance: string; until: number }>();
  const go = (now: number, over: number) => {
    if (ends.size === steps.length) {
      best = Math.min(best, over);
      return;
    }
    if (now >= best) return;
    for (const s of steps) {
      if (ends.has(s.id)) continue;
      let ready = now;
      let may = true;
      for (const id of s.after) {
        const started = id.endsWith(' started');
        const key = started ? id.slice(0, -8) : id;
        if (!steps.some((x) => x.id === key)) continue;
        const e = ends.get(key);
        if (!e) {
          may = false;
          break;
        }
        ready = Math.max(ready, started ? e.hands : e.over);
      }
      if (!may) continue;
      const was =
        s.engineId === null || s.stance === null ? null : (stands.get(s.engineId) ?? { stance: 'level', until: 0 });
      const moves = was !== null && was.stance !== s.stance;
      if (moves) ready = Math.max(ready, was.until);
      const hands = ready + s.minutes + (moves ? MOVE_MINUTES : 0);
      if (was) stands.set(s.engineId!, { stance: s.stance!, until: Math.max(was.until, hands + s.wait) });
      ends.set(s.id, { hands, over: hands + s.wait });
      go(hands + (s.turns === null ? 0 : s.wait), Math.max(over, hands + s.wait));
      ends.delete(s.id);
      if (was) stands.set(s.engineId!, was);
    }
  };
  go(0, 0);
  return best;
}
