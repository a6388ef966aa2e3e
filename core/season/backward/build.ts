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
  costs?: CampaignCosts;
}

/** What being late costs a base, in money. */
export interface CampaignCosts {
  /** A day an engine stands unprotected in frost, and one on which it waits with a finding. */
  frostDay: number;
  waitDay: number;
  /** A last hire on old oil and untreated fuel: wear, and the run that is made for it later. */
  oldOil: number;
  /** A boat that is not put away at all, or not brought out. */
  notAtAll: number;
}
/** Where a base says nothing else: estimates, no source. */
export const USUAL_COSTS: CampaignCosts = { frostDay: 25, waitDay: 3, oldOil: 60, notAtAll: 1500 };
/** A person's day is longer by a quarter at most. Common practice, no source. */
const OVERTIME_SHARE = 0.25;

/** What a day past the limit costs on average, of the dearest of the work. */
const risk = (tasks: readonly TaskKind[]) => tasks.reduce((most, t) => Math.max(most, TASKS[t].riskPerDay), 0);

/** States a campaign as a problem: each visit with its days, and what it costs to be late. */
export function campaignProblem(visits: readonly WantedVisit[], of: Campaign): BackwardProblem {
  const last = of.days.length - 1;
  const at = (day: Day) => dayNumber(day) - dayNumber(of.today);
  const { frostDay, waitDay, oldOil, notAtAll } = of.costs ?? USUAL_COSTS;
  const inside = (n: number) => Math.max(0, Math.min(last, n));
  const work = visits.map((v): SeasonWork => {
    const common = {
      id: `${v.boatId} ${v.visit}`,
      minutes: v.minutes,
      lift: v.tasks.some((t) => TASKS[t].needsLift),
      waitADay: v.held ? waitDay : 0,
    };
    if (v.visit === 'before') {
      const until = inside(at(addDays(v.lastOut!, -1)));
      return { ...common, from: 0, until, by: until, lateADay: 0, frostADay: 0, undone: oldOil };
    }
    if (v.visit === 'spring') {
      // A hire that finds the boat not ready is lost, day by day.
      const by = inside(at(addDays(v.firstOut ?? of.opens, -1)));
      const lateADay = v.firstOut === null ? risk(v.tasks) : of.hireDay;
      return { ...common, from: 0, until: last, by, lateADay, frostADay: 0, undone: notAtAll };
    }
    const from = v.lastBack === null ? 0 : inside(at(v.lastBack));
    return {
      ...common,
      from,
      until: last,
      by: Math.max(from, inside(at(of.putAwayBy))),
      lateADay: risk(v.tasks),
      frostADay: v.tasks.includes('gear-lube') || v.tasks.includes('antifreeze') ? frostDay : 0,
      undone: notAtAll,
    };
  });
  return {
    work,
    days: of.days,
    frost: of.frost === null ? null : Math.max(0, at(of.frost)),
    overtime: { share: OVERTIME_SHARE, aMinute: of.overtimeMinute },
  };
}
