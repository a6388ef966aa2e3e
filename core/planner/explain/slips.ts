import { Board, pinsOf } from './board.ts';
import type { PlannedVisit, PlanProblem } from '../problem/problem.ts';

/** How a day turned out other than planned. Minutes after midnight. */
export type Slip =
  | { kind: 'person away'; technician: string }
  /** The visit under way ends then; its person is not free before. */
  | { kind: 'job late'; boat: string; until: number }
  | { kind: 'boat late'; boat: string; back: number }
  /** Nothing of it is there before that day. */
  | { kind: 'part missing'; part: string; untilDay: number };

/**
 * The problem as the first day turned out, with the work of the standing plan only and every visit that is begun or of
 * later days pinned where it can stand, so that a new plan rearranges the rest of this day and finds other days for
 * what
 * it cannot hold. What cannot stand any more is arranged with it.
 *
 * @param standing the plan as it was; what was begun stays with whoever began it
 * @returns the problem, and what of the plan still may stand
 */
export function slipped(
  problem: PlanProblem,
  standing: readonly (PlannedVisit & { started?: boolean })[],
  slips: readonly Slip[],
): { problem: PlanProblem; standing: PlannedVisit[]; underWay: PlannedVisit[] } {
  let next = problem;
  const underWay: (PlannedVisit & { started?: boolean })[] = [];
  for (const slip of slips) {
    switch (slip.kind) {
      case 'person away':
        next = {
          ...next,
          technicians: next.technicians.map((t) =>
            t.id === slip.technician ? { ...t, shift: t.shift.map((s, d) => (d === 0 ? null : s)) } : t,
          ),
        };
        break;
      case 'job late': {
        const visit = standing.find((v) => v.day === 0 && v.boat === slip.boat);
        if (!visit) break;
        underWay.push(visit);
        const done = new Set(visit.tasks);
        next = {
          ...next,
          tasks: next.tasks.filter((t) => !done.has(t.id)),
          technicians: next.technicians.map((t) =>
            t.id === visit.technician
              ? {
                  ...t,
                  shift: t.shift.map((s, d) =>
                    d === 0 && s ? (slip.until < s.to ? { from: Math.max(s.from, slip.until), to: s.to } : null) : s,
                  ),
                }
              : t,
          ),
          // What it takes from the shelf is taken.
          parts: next.parts.map((p) => {
            const used = next.tasks.filter((t) => done.has(t.id)).reduce((sum, t) => sum + (t.parts[p.id] ?? 0), 0);
            return { ...p, supply: p.supply.map((n, d) => (d === 0 ? Math.max(0, n - used) : n)) };
          }),
          // Nobody else gets onto the boat meanwhile.
          boats: next.boats.map((b) =>
            b.id === slip.boat ? { ...b, free: b.free.map((list, d) => (d === 0 ? [] : list)) } : b,
          ),
        };
        break;
      }
      case 'boat late':
        next = {
          ...next,
          boats: next.boats.map((b) =>
            b.id === slip.boat
              ? {
                  ...b,
                  free: b.free.map((list, d) =>
                    d === 0
                      ? list.flatMap((w) => (w.to > slip.back ? [{ ...w, from: Math.max(w.from, slip.back) }] : []))
                      : list,
                  ),
                }
              : b,
          ),
        };
        break;
      case 'part missing':
        next = {
          ...next,
          parts: next.parts.map((p) => {
            if (p.id !== slip.part) return p;
            const supply = p.supply.map((n, d) => (d < slip.untilDay ? 0 : n));
            const held = p.supply.slice(0, slip.untilDay).reduce((a, b) => a + b, 0);
            if (slip.untilDay < supply.length) supply[slip.untilDay]! += held;
            return { ...p, supply };
          }),
        };
        break;
    }
  }
  const left = standing.filter((v) => !underWay.includes(v));
  const short = new Set(slips.flatMap((s) => (s.kind === 'part missing' ? [s.part] : [])));
  const wantsShort = (v: PlannedVisit) =>
    v.tasks.some((id) => Object.keys(next.tasks.find((t) => t.id === id)?.parts ?? {}).some((p) => short.has(p)));
  const carded = new Set(left.flatMap((v) => v.tasks));
  const own: PlanProblem = { ...next, tasks: next.tasks.filter((t) => carded.has(t.id)), pinned: [] };
  const stays = left.filter((v) => (v.day > 0 || v.started === true) && !wantsShort(v));
  const pinned = pinsOf(new Board(own, stays).visits());
  return { problem: { ...own, pinned }, standing: left.map(plainVisit), underWay: underWay.map(plainVisit) };
}

/** A visit without what is only known of it, such as whether it was begun. */
export const plainVisit = ({ boat, day, technician, start, elapsed, tasks }: PlannedVisit): PlannedVisit => ({
  boat,
  day,
  technician,
  start,
  elapsed,
  tasks,
});
