/** A visit of the season that wants a day. Days count from the first of the problem. */
export interface SeasonWork {
  id: string;
  /** Minutes of one person's day. */
  minutes: number;
  /** It takes a turn of the lift. */
  lift: boolean;
  /** First and last day it can be done on. */
  from: number;
  until: number;
  /** The last day on which nothing is lost. */
  by: number;
  /** What a day after that costs, in money. */
  lateADay: number;
  /** What a day after the first frost costs besides. */
  frostADay: number;
  /** What each day it waits costs: a finding whose repair wants the months of standing. */
  waitADay: number;
  /** What it costs when it is not done at all. */
  undone: number;
}

/**
 * A day of a base: the minutes of all who work, the longest day one of them has, and turns of the lift. Who does what
 * is
 * settled when work is handed out: a campaign asks for days.
 */
export interface SeasonDay {
  minutes: number;
  longest: number;
  lifts: number;
}

export interface BackwardProblem {
  work: readonly SeasonWork[];
  days: readonly SeasonDay[];
  /** The first day of frost; null = none comes. */
  frost: number | null;
  /** Days may be longer by this share, at that price a minute. */
  overtime: { share: number; aMinute: number };
}

/** The day a piece of work stands on; null = not done. */
export type Place = number | null;

/** What a piece of work costs on a day; Infinity where nobody's day is long enough for it, or the lift stands still. */
export function costOn(w: SeasonWork, day: number, { days, frost, overtime }: Omit<BackwardProblem, 'work'>): number {
  const { longest, lifts } = days[day]!;
  if (w.minutes > longest * (1 + overtime.share) + 1e-9 || (w.lift && lifts === 0)) return Infinity;
  return (
    w.waitADay * (day - w.from) +
    w.lateADay * Math.max(0, day - w.by) +
    (frost === null ? 0 : w.frostADay * Math.max(0, day - frost + 1))
  );
}

/** What a whole plan costs, and what is wrong with it; a plan without faults can be worked. */
export function judge(
  problem: BackwardProblem,
  places: readonly Place[],
): { cost: number; overtime: number; undone: number; faults: string[] } {
  const { work, days, overtime } = problem;
  const used = days.map(() => 0);
  const lifts = days.map(() => 0);
  const faults: string[] = [];
  let cost = 0;
  let undone = 0;
  for (const [i, w] of work.entries()) {
    const day = places[i] ?? null;
    if (day === null) {
      cost += w.undone;
      undone++;
      continue;
    }
    if (day < w.from || day > w.until) faults.push(`${w.id} lies outside its days`);
    cost += costOn(w, day, problem);
    used[day]! += w.minutes;
    if (w.lift) lifts[day]!++;
  }
  let extra = 0;
  for (const [d, day] of days.entries()) {
    if (lifts[d]! > day.lifts) faults.push(`day ${d} has ${lifts[d]} turns of the lift of ${day.lifts}`);
    const over = Math.max(0, used[d]! - day.minutes);
    if (over > day.minutes * overtime.share + 1e-6) faults.push(`day ${d} is ${over} min too long`);
    extra += over;
  }
  return { cost: cost + extra * overtime.aMinute, overtime: extra, undone, faults };
}
