import type { PlanBreak, PlannedVisit, PlanProblem, PlanTechnician, Span } from './problem.ts';

const EPS = 1e-6;

/**
 * The break of a technician's day as it can be had within the shift; null = none. A shift that begins too late for it,
 * or is over before it may begin, has none.
 */
export function breakOn(t: Pick<PlanTechnician, 'shift' | 'break'>, day: number): PlanBreak | null {
  const rest = t.break?.[day];
  const shift = t.shift[day];
  if (!rest || !shift || rest.minutes <= 0 || shift.to <= rest.from) return null;
  const from = Math.max(rest.from, shift.from);
  return from + rest.minutes > rest.to + EPS ? null : { ...rest, from };
}

/** The first stretch between these visits that is long enough for the break; null = there is none. */
export function freePause(rest: PlanBreak, visits: readonly Pick<PlannedVisit, 'start' | 'elapsed'>[]): Span | null {
  let from = rest.from;
  for (const v of [...visits].sort((a, b) => a.start - b.start)) {
    if (v.start - from >= rest.minutes - EPS) break;
    from = Math.max(from, v.start + v.elapsed);
  }
  return from + rest.minutes <= rest.to + EPS ? { from, to: from + rest.minutes } : null;
}

/** When each technician pauses, on every day with visits that has a break. */
export function pausesOf(
  problem: PlanProblem,
  visits: readonly PlannedVisit[],
): { technician: string; day: number; start: number }[] {
  const days = new Map<string, PlannedVisit[]>();
  for (const v of visits) days.set(`${v.day} ${v.technician}`, [...(days.get(`${v.day} ${v.technician}`) ?? []), v]);
  return [...days.values()].flatMap((own) => {
    const { technician, day } = own[0]!;
    const rest = breakOn(
      problem.technicians.find((t) => t.id === technician)!,
      day,
    );
    if (!rest) return [];
    const pause = own.find((v) => v.pause)?.pause ?? freePause(rest, own);
    return pause ? [{ technician, day, start: pause.from }] : [];
  });
}
