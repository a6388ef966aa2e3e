import { daysBetween, type Day } from '../../calendar/index.ts';
import { round } from '../../units/index.ts';
import { type PastReading } from '../finding.ts';
import { MONTH_DAYS, SOON_DAYS, type Look } from './look.ts';

/** Percent left. Common practice, no source. */
const ANODE_SPENT = 50;
const ANODE_FAST = 33;
/** One that lasted longer than this wore as it should, however little is left. Common practice, no source. */
const LONG_MONTHS = 18;
/** The next look is a year off at the latest. */
const LOOK_DAYS = 365;
const percentOf = (r: PastReading): number | null => ('value' in r.value ? r.value.value : null);

/**
 * How old the anode is, from its readings: new when the one before was found spent and swapped, or when it first read
 * whole; months, null = the record does not say.
 */
export function anodeMonths(past: readonly PastReading[], day: Day): number | null {
  for (let i = past.length - 1; i >= 0; i--) {
    const left = percentOf(past[i]!);
    if (left === null) continue;
    const whole = left >= 95;
    // More than the one before: it was swapped in between, on the day that found it low at the latest.
    if (left < ANODE_SPENT || whole) return daysBetween(past[i]!.day, day) / MONTH_DAYS;
  }
  return null;
}

/** How much of the anode is left, judged by percent and by age. */
export function anodeLeft({ engine, at, before, key, add }: Look): void {
  const anode = at('anode left');
  if (!anode || !('value' in anode)) return;
  const left = anode.value;
  const past = before('anode left');
  const months = anodeMonths(past, engine.day);
  const age = months === null ? '' : ` after ${round(months, 0)} months`;
  if (left < ANODE_SPENT) {
    const fast = left < ANODE_FAST && (months === null || months <= LONG_MONTHS);
    add(
      'anode',
      [key('anode left')],
      fast ? 'act' : 'watch',
      `${round(left, 0)} % of the anode is left${age}.`,
      fast ? 'It goes faster than it should: bonding, or current in the water.' : 'It is spent.',
      fast ? 'A new one, bonding looked at, and this boat’s anodes sooner.' : 'A new one goes on.',
      [
        { kind: 'order', task: 'anodes' },
        ...(fast
          ? [
              ...(engine.worked.has('bonding')
                ? []
                : [{ kind: 'follow-up' as const, task: 'bonding' as const, when: SOON_DAYS }]),
              { kind: 'shorten' as const, task: 'anodes' as const, percent: 50 },
            ]
          : []),
      ],
    );
    return;
  }
  // At the pace so far, when will half be gone?
  const last = past.at(-1);
  const days =
    months !== null ? months * MONTH_DAYS : last && percentOf(last)! >= left ? daysBetween(last.day, engine.day) : null;
  const gone = months !== null ? 100 - left : last ? percentOf(last)! - left : 0;
  if (days === null || days < SOON_DAYS || gone <= 0) return;
  const toHalf = Math.floor(((left - ANODE_SPENT) / gone) * days);
  if (toHalf < LOOK_DAYS)
    add(
      'anode pace',
      [key('anode left')],
      'watch',
      `${round(left, 0)} % of the anode is left, and ${round(gone, 0)} % went in ${round(days / MONTH_DAYS, 0)} months.`,
      `At this pace half is gone in ${Math.max(1, Math.round(toHalf / MONTH_DAYS))} months, before the next yearly look.`,
      'Look at it again by then.',
      [{ kind: 'follow-up', task: 'anodes', when: Math.max(SOON_DAYS, toHalf) }],
    );
}
