import type { DaySpread, Due, ServiceRule } from './due.ts';
import { TASKS } from './tasks.ts';

/** The nearest limit in the words of the yard: "6 h over", "9 h left", "12 days left", "no history". */
export function nearestLimit(due: Due): string {
  if (due.state === 'unknown') return due.last === null ? 'no history' : 'hours wanted';
  const past = due.tolerated ? 'past, let pass' : 'over';
  if (due.by === 'hours' && due.hoursLeft !== null) {
    const about = due.estimated ? 'about ' : '';
    if (due.hoursLeft < 0) return `${about}${-due.hoursLeft} h ${past}`;
    return due.hoursLeft === 0 ? 'due now' : `${about}${due.hoursLeft} h left`;
  }
  if (due.by === 'months' && due.daysLeft !== null) {
    const days = Math.abs(due.daysLeft);
    const text = days === 1 ? '1 day' : `${days} days`;
    if (due.daysLeft < 0) return `${text} ${past}`;
    return due.daysLeft === 0 ? 'due today' : `${text} left`;
  }
  return due.state === 'soon' ? 'at its next return' : 'no limit';
}

/** "100 h or 12 months", "24 months", "300 h". */
export function ruleText(rule: ServiceRule): string {
  const parts: string[] = [];
  if (rule.everyHours !== null) parts.push(`${rule.everyHours} h`);
  if (rule.everyMonths !== null) {
    parts.push(rule.everyMonths === 1 ? '1 month' : `${rule.everyMonths} months`);
  }
  if (rule.anchor != null) parts.push('at season’s end');
  return parts.length > 0 ? parts.join(' or ') : 'no limit';
}

/** "likely 3 June, between 28 May and 11 June"; where only part of it lies within a year, it says so. */
export function whenText({ early, likely, late }: DaySpread, formatDay: (day: string) => string): string {
  if (early === null) return 'more than a year ahead';
  if (likely === null) return `not before ${formatDay(early)}`;
  if (late === null) return `likely ${formatDay(likely)}, not before ${formatDay(early)}`;
  return early === late
    ? `on ${formatDay(likely)}`
    : `likely ${formatDay(likely)}, between ${formatDay(early)} and ${formatDay(late)}`;
}

/**
 * Why the task stands as it does, as sentences: the rule, the last time, both limits.
 * `formatDay` is the reader's way to write a day; `asked` says why it is wanted besides the programme.
 */
export function whyDue(
  due: Due,
  rule: ServiceRule,
  lifeHours: number | null,
  formatDay: (day: string) => string,
  asked: string | null = null,
): string[] {
  const noLimit = rule.everyHours === null && rule.everyMonths === null && rule.anchor == null;
  if (asked !== null && noLimit) {
    const by =
      due.by === 'hours'
        ? `${due.hoursLeft} h of ${due.limitHours} h are left.`
        : due.limitDay === null
          ? 'It is wanted when the boat next comes back.'
          : `It is wanted by ${formatDay(due.limitDay)}.`;
    return [`${TASKS[rule.task].word}: asked for besides the programme. ${asked}`, by];
  }
  const both = [rule.everyHours, rule.everyMonths, rule.anchor ?? null].filter((limit) => limit !== null).length > 1;
  const ladder =
    rule.counting === 'ladder' && rule.everyHours !== null ? `, in rungs of ${rule.everyHours} h from zero` : '';
  const lines = [
    noLimit
      ? `${TASKS[rule.task].word}: no limit; done when it looks worn.`
      : `${TASKS[rule.task].word}: every ${ruleText(rule)}${both ? ', whichever comes first' : ''}${ladder}.`,
  ];
  if (asked !== null) lines.push(`Asked for besides, and the programme’s limit comes first. ${asked}`);
  if (
    rule.firstHours != null &&
    due.last?.from === 'new' &&
    rule.everyHours !== null &&
    rule.firstHours < rule.everyHours
  )
    lines.push(`The first time at ${rule.firstHours} h, because the engine is new.`);
  if (due.last === null) {
    lines.push('Nobody has written down when this was last done, so it counts as unknown, not as fine.');
    return lines;
  }
  const at = due.last.hours === null ? 'hours not written down' : `${due.last.hours} h`;
  lines.push(
    due.last.from === 'new'
      ? `New on ${formatDay(due.last.day)} at ${at}; not done since.`
      : `Last done ${formatDay(due.last.day)} at ${at}.`,
  );
  if (rule.everyHours !== null) {
    if (due.hoursLeft !== null) {
      const left = due.hoursLeft < 0 ? `${-due.hoursLeft} h over` : `${due.hoursLeft} h left`;
      const when = due.hoursOn ? `, ${whenText(due.hoursOn, formatDay)}` : '';
      lines.push(
        due.estimated
          ? `By hours: ${lifeHours === null ? 'no meter; by its hires' : 'the hours of the last time are not written down; by readings and hires'} about ${Math.round(rule.everyHours - due.hoursLeft)} h since, so about ${left}${when}.`
          : `By hours: limit ${due.limitHours} h, now ${lifeHours} h, ${left}${when}.`,
      );
    } else if (lifeHours === null) {
      lines.push('By hours: no reading for this engine, so only the calendar is checked.');
    } else {
      lines.push('By hours: the hours of the last time are not known, so only the calendar is checked.');
    }
  }
  if (due.daysLeft !== null && due.limitDay !== null) {
    const left = due.daysLeft < 0 ? `${-due.daysLeft} days over` : `${due.daysLeft} days left`;
    lines.push(`By calendar: limit ${formatDay(due.limitDay)}, ${left}.`);
  }
  if (due.tolerated)
    lines.push(`The programme lets ${rule.latePercent} % of the interval pass before it counts as over.`);
  return lines;
}
