import { dayInZone, dayNumber, type Day } from '../calendar/index.ts';
import {
  BREAK_IN_HOURS,
  breakInText,
  deferralHolds,
  deferredDue,
  dueState,
  followUpDue,
  levelWantedOn,
  nextReturn,
  oilWatched,
  oilWatchText,
  worstFirst,
  type Due,
  type LastDone,
  type RuleInForce,
} from '../service/index.ts';
import { aheadOf } from './boat.ts';
import type { BoatFacts, EngineDue, EngineFacts } from './facts.ts';

/** The tasks of one engine under these rules. */
export function dueOfEngine(
  facts: EngineFacts,
  boat: BoatFacts,
  today: Day,
  rules: readonly RuleInForce[] = facts.rules,
): EngineDue[] {
  const isNew: LastDone | null =
    facts.boughtNew && facts.inServiceOn !== null ? { day: facts.inServiceOn, hours: 0, from: 'new' } : null;
  const use = {
    lifeHours: facts.lifeHours,
    lastReadDay: facts.lastReadDay,
    ahead: boat.forecast && aheadOf(boat, facts),
  };
  const dues = rules.map((rule): EngineDue => ({
    facts,
    rule,
    due: dueState(rule, facts.lastDone.get(rule.task) ?? isNew, use, today),
  }));
  return withDeferrals(
    [
      ...withSeason(withOilWatch(withAsked(dues, facts, boat, today), facts, boat, today), facts, boat, today),
      ...runningIn(facts, isNew),
    ],
    facts,
    dayNumber(today),
  );
}

/** What was put off stands by the day it comes back. */
function withDeferrals(dues: EngineDue[], { deferrals }: EngineFacts, todayNo: number): EngineDue[] {
  if (deferrals.length === 0) return dues;
  return dues.map((d) => {
    const put = deferrals.findLast((x) => x.task === d.due.task && deferralHolds(x, d.due.last));
    return put ? { ...d, due: deferredDue(d.due, put, todayNo), deferral: { ...put, otherwise: d.due } } : d;
  });
}

/** A new engine is run in: a task by hours that somebody has to stand at the wheel for. */
function runningIn(facts: EngineFacts, last: LastDone | null): EngineDue[] {
  const why = facts.runIn && breakInText(facts.runIn, facts.position === 'single' ? null : facts.position);
  if (!facts.runIn || why === null) return [];
  const left = Math.round((BREAK_IN_HOURS - facts.runIn.hours) * 10) / 10;
  return [
    {
      facts,
      asked: why,
      rule: {
        task: 'running-in',
        everyHours: null,
        everyMonths: null,
        source: { is: 'asked', why },
        shortened: null,
        shortenedMonths: null,
      },
      due: {
        task: 'running-in',
        state: 'due',
        by: 'hours',
        hoursLeft: left,
        limitHours: BREAK_IN_HOURS,
        daysLeft: null,
        limitDay: null,
        share: Math.round((facts.runIn.hours / BREAK_IN_HOURS) * 1000) / 1000,
        hoursOn: null,
        estimated: false,
        last,
        hoursUnchecked: false,
        tolerated: false,
      },
    },
  ];
}

/** Work findings and finished jobs asked for. */
function withAsked(dues: EngineDue[], facts: EngineFacts, boat: BoatFacts, today: Day): EngineDue[] {
  for (const f of facts.followUps) {
    const back = f.dueOn === null ? nextReturn(boat.hires, f.at) : null;
    const due = followUpDue(
      f.task,
      back === null ? f.dueOn : dayInZone(new Date(back), facts.timeZone),
      facts.lastDone.get(f.task) ?? null,
      dayNumber(today),
    );
    join(dues, facts, due, f.why);
  }
  return dues;
}

/** The level of an engine that uses oil is read every week and before each hire. */
function withOilWatch(dues: EngineDue[], facts: EngineFacts, boat: BoatFacts, today: Day): EngineDue[] {
  if (facts.oilWatch === null || !oilWatched(facts.oilWatch)) return dues;
  const last = facts.lastDone.get('oil-level') ?? null;
  const day = (at: number) => dayInZone(new Date(at), facts.timeZone);
  const hires = boat.recent.hires
    .map((h) => ({ out: day(h.out), back: day(h.back) }))
    .sort((a, b) => (a.out < b.out ? -1 : a.out > b.out ? 1 : 0));
  const due = followUpDue('oil-level', levelWantedOn(last, hires, today), last, dayNumber(today));
  join(dues, facts, due, oilWatchText(facts.oilWatch));
  return dues;
}

/** What lay-up or recommission wants of it now. */
function withSeason(dues: EngineDue[], facts: EngineFacts, boat: BoatFacts, today: Day): EngineDue[] {
  for (const { task, by, why } of boat.seasonWork.get(facts.id) ?? [])
    join(dues, facts, followUpDue(task, by, facts.lastDone.get(task) ?? null, dayNumber(today)), why);
  return dues;
}

/** Work wanted besides the programme joins it: of one task the nearer counts. */
function join(dues: EngineDue[], facts: EngineFacts, due: Due, why: string): void {
  const asked: EngineDue = {
    facts,
    due,
    asked: why,
    rule: {
      task: due.task,
      everyHours: null,
      everyMonths: null,
      source: { is: 'asked', why },
      shortened: null,
      shortenedMonths: null,
    },
  };
  const at = dues.findIndex((d) => d.due.task === due.task);
  if (at < 0) dues.push(asked);
  else if (worstFirst(asked.due, dues[at]!.due) < 0) dues[at] = asked;
  else dues[at] = { ...dues[at]!, asked: why };
}
