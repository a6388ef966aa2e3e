import { addDays, dayNumber, type Day } from '../../calendar/index.ts';
import { TASKS, type TaskKind } from '../../service/index.ts';
import type { SeasonVisit } from '../campaign.ts';
import type { BackwardProblem, SeasonDay, SeasonWork } from './problem.ts';

/** A boat's next visit, as a campaign plans it. */
export interface WantedVisit {
  boatId: number;
  visit: SeasonVisit;
  minutes: number;
  tasks: readonly TaskKind[];
  /** An engine of it is held: its repair wants the months of standing. */
  held: boolean;
  /** The last hire before closing, and the first after opening. */
  lastOut: Day | null;
  lastBack: Day | null;
  firstOut: Day | null;
}

/** What a campaign is planned against. */
export interface Campaign {
  today: Day;
  opens: Day;
  putAwayBy: Day;
  frost: Day | null;
  /** Each day from today on. */
  days: readonly SeasonDay[];
  /** Money: a day on hire, and a minute of overtime. */
  hireDay: number;
  overtimeMinute: number;
}

/** Money a day an engine stands unprotected in frost, past its day without frost, or waits with a finding. Estimates. */
const FROST_A_DAY = 25;
const WAITING_A_DAY = 3;
/** A last hire on old oil and untreated fuel: what it costs in wear, and the run that is made for it later. An estimate. */
const WITHOUT_OIL = 60;
/** A boat that is not put away at all, or not brought out. An estimate. */
const NOT_AT_ALL = 1500;
/** A person's day is longer by a quarter at most. Common practice, no source. */
const OVERTIME_SHARE = 0.25;

/** What a day past the limit costs on average, of the dearest of the work. */
const risk = (tasks: readonly TaskKind[]) => tasks.reduce((most, t) => Math.max(most, TASKS[t].riskPerDay), 0);

/** States a campaign as a problem: each visit with its days, and what it costs to be late. */
export function campaignProblem(visits: readonly WantedVisit[], of: Campaign): BackwardProblem {
  const last = of.days.length - 1;
  const at = (day: Day) => dayNumber(day) - dayNumber(of.today);
  const inside = (n: number) => Math.max(0, Math.min(last, n));
  const work = visits.map((v): SeasonWork => {
    const common = {
      id: `${v.boatId} ${v.visit}`,
      minutes: v.minutes,
      lift: v.tasks.some((t) => TASKS[t].needsLift),
      waitADay: v.held ? WAITING_A_DAY : 0,
    };
    if (v.visit === 'before') {
      const until = inside(at(addDays(v.lastOut!, -1)));
      return { ...common, from: 0, until, by: until, lateADay: 0, frostADay: 0, undone: WITHOUT_OIL };
    }
    if (v.visit === 'spring') {
      // A hire that finds the boat not ready is lost, day by day.
      const by = inside(at(addDays(v.firstOut ?? of.opens, -1)));
      const lateADay = v.firstOut === null ? risk(v.tasks) : of.hireDay;
      return { ...common, from: 0, until: last, by, lateADay, frostADay: 0, undone: NOT_AT_ALL };
    }
    const from = v.lastBack === null ? 0 : inside(at(v.lastBack));
    return {
      ...common,
      from,
      until: last,
      by: Math.max(from, inside(at(of.putAwayBy))),
      lateADay: risk(v.tasks),
      frostADay: v.tasks.includes('gear-lube') || v.tasks.includes('antifreeze') ? FROST_A_DAY : 0,
      undone: NOT_AT_ALL,
    };
  });
  return {
    work,
    days: of.days,
    frost: of.frost === null ? null : Math.max(0, at(of.frost)),
    overtime: { share: OVERTIME_SHARE, aMinute: of.overtimeMinute },
  };
}
