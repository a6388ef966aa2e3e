import { dayFromNumber, dayNumber, weekday, type Day } from '../calendar/index.ts';
import type { DueState, TaskKind } from '../service/index.ts';
import { bookedBetween, hoursAfter, hoursOn, spreadOf } from '../usage/index.ts';
import type { BoatFacts, EngineDue, EngineFacts } from './facts.ts';

/**
 * One engine's hours: as read, as they will likely go on with the range of eight cases in ten, and the limits ahead.
 */
export interface UsageCurve {
  /** True where there is no meter: hours are worked out from hires. */
  estimated: boolean;
  today: Day;
  read: { day: Day; hours: number }[];
  ahead: { day: Day; low: number; likely: number; high: number }[];
  limits: { task: TaskKind; hours: number; state: DueState }[];
  /** Hours run by week, and hours on hire; null = hires were not kept then. */
  weeks: { monday: Day; hours: number; hired: number | null }[];
  /** Of an hour on hire its engine runs so much; null = hires do not tell. */
  share: number | null;
}

const AHEAD_DAYS = 182;
const STEP_DAYS = 7;
const WEEKS = 26;
const tenth = (hours: number) => Math.round(hours * 10) / 10;

/** The curve of one engine from the memory of the fleet. */
export function curveOf(facts: EngineFacts, boat: BoatFacts, dues: readonly EngineDue[], today: Day): UsageCurve {
  const now = dayNumber(today);
  const { days, hours } = facts.readings;
  const forecast = boat.forecast!;
  const index = boat.engines.indexOf(facts);
  const hiresFrom = boat.use.hires?.from ?? null;
  const metered = days.length > 0;
  // Without readings the hours so far are not known: the curve begins at nothing today.
  const from = metered ? days[days.length - 1]! : now - 1;
  const start = metered ? hours[hours.length - 1]! : 0;
  const ahead: UsageCurve['ahead'] = [];
  for (let day = from; day <= now + AHEAD_DAYS; day += STEP_DAYS) {
    const { low, middle, high } = spreadOf(hoursAfter(forecast, index, from, day + 1));
    ahead.push({
      day: dayFromNumber(day),
      low: tenth(start + low),
      likely: tenth(start + middle),
      high: tenth(start + high),
    });
  }
  const monday = now - (weekday(today) - 1);
  const weeks: UsageCurve['weeks'] = [];
  for (let w = WEEKS - 1; w >= 0; w--) {
    const first = monday - 7 * w;
    // Hours at the end of the Sunday before and of the last day of the week that is read.
    const before = hoursOn(facts.readings, first - 1);
    const after = hoursOn(facts.readings, Math.min(first + 6, days[days.length - 1] ?? 0));
    const hired =
      hiresFrom === null || first < hiresFrom ? null : tenth(bookedBetween(forecast.outlook, first, first + 7));
    weeks.push({
      monday: dayFromNumber(first),
      hours: before === null || after === null ? 0 : tenth(Math.max(0, after - before)),
      hired,
    });
  }
  return {
    estimated: !metered,
    today,
    read: Array.from(days, (d, i) => ({ day: dayFromNumber(d), hours: tenth(hours[i]!) })),
    ahead: hiresFrom === null && !metered ? [] : ahead,
    limits: dues.flatMap(({ due }) => {
      const at = metered ? due.limitHours : due.estimated ? due.hoursLeft : null;
      return at === null ? [] : [{ task: due.task, hours: at, state: due.state }];
    }),
    weeks,
    share: boat.use.hires === null ? null : Math.round(forecast.rates[index]!.share.mean * 100) / 100,
  };
}
