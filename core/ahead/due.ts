import { dayInZone, dayNumber, type Day } from '../calendar/index.ts';
import {
  BREAK_IN_HOURS,
  breakInText,
  deferralHolds,
  deferredDue,
  dueState,
  followUpDue,
  nextReturn,
  worstFirst,
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
    [...(facts.followUps.length === 0 ? dues : withAsked(dues, facts, boat, today)), ...runningIn(facts, isNew)],
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

/** Work asked for joins the programme's: of one task the nearer counts. */
function withAsked(dues: EngineDue[], facts: EngineFacts, boat: BoatFacts, today: Day): EngineDue[] {
  for (const f of facts.followUps) {
    const back = f.dueOn === null ? nextReturn(boat.hires, f.at) : null;
    const due = followUpDue(
      f.task,
      back === null ? f.dueOn : dayInZone(new Date(back), facts.timeZone),
      facts.lastDone.get(f.task) ?? null,
      dayNumber(today),
    );
    const asked: EngineDue = {
      facts,
      due,
      asked: f.why,
      rule: {
        task: f.task,
        everyHours: null,
        everyMonths: null,
        source: { is: 'asked', why: f.why },
        shortened: null,
        shortenedMonths: null,
      },
    };
    const at = dues.findIndex((d) => d.due.task === f.task);
    if (at < 0) dues.push(asked);
    else if (worstFirst(asked.due, dues[at]!.due) < 0) dues[at] = asked;
    else dues[at] = { ...dues[at]!, asked: f.why };
  }
  return dues;
}
