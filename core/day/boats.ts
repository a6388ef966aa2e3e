import { hiresSince, type BoatFacts, type EngineDue } from '../ahead/index.ts';
import { dayNumber, minuteInZone, timeOfDay, type ClockFace, type Day } from '../calendar/index.ts';
import { nearestLimit, TASKS } from '../service/index.ts';
import type { DayBoat, DayPerson } from './types.ts';
import { shortNames } from '../people/index.ts';
import { endOf } from './visits.ts';

const MINUTES = 1440;
const DAY_MS = 86_400_000;
/** Boats that go out until noon of the next day are told: what they need has to be done before. */
const UNTIL = MINUTES + 12 * 60;
/** A meter unread for longer is wanted when the boat comes back. */
const UNREAD_DAYS = 3;

/**
 * Boats that come back on the day or go out on it or the next morning, each with whether it may; and how many are out
 * at some time of the day.
 *
 * @param minute minutes after midnight, where the day is today
 * @param clock how the yard writes its hours
 */
export function boatsOf(
  boats: readonly BoatFacts[],
  dues: readonly EngineDue[],
  day: Day,
  baseId: number | null,
  people: readonly DayPerson[],
  minute: number | null,
  clock: ClockFace = '24',
): { list: DayBoat[]; out: number } {
  const first = dayNumber(day);
  const near = (h: { out: number; back: number }) => h.back >= (first - 2) * DAY_MS && h.out <= (first + 3) * DAY_MS;
  const duesOf = new Map<number, EngineDue[]>();
  const hiresOf = (boat: BoatFacts) => hiresSince(boat, (first - 2) * DAY_MS);
  for (const boat of boats) if (hiresOf(boat).some(near)) duesOf.set(boat.id, []);
  for (const d of dues) duesOf.get(d.facts.boatId)?.push(d);
  const called = shortNames(people.map((p) => [p.id, p.name] as const));
  const visits = new Map(
    people.flatMap((p) => p.visits.map((v) => [v.boatId, { v, name: called.get(p.id)! }] as const)),
  );
  const list: DayBoat[] = [];
  let out = 0;
  for (const boat of boats) {
    const facts = boat.engines[0];
    if (!facts || (baseId !== null && facts.baseId !== baseId)) continue;
    const at = (instant: number) => {
      const { dayNo, minute } = minuteInZone(instant, facts.timeZone);
      return (dayNo - first) * MINUTES + minute;
    };
    let touched = false;
    for (const h of hiresOf(boat)) {
      if (!near(h)) continue;
      const [leaves, comes] = [at(h.out), at(h.back)];
      touched ||= leaves < MINUTES && comes > 0;
      const common = { boatId: boat.id, boatName: facts.boatName, baseId: facts.baseId, berth: null };
      const own = duesOf.get(boat.id) ?? [];
      const held = boat.engines.flatMap((e) =>
        e.held.map((why) => (e.position === 'single' ? why : `${e.position}: ${why}`)),
      );
      if (comes >= 0 && comes < MINUTES) {
        const state = backState(own, first);
        const here = h.came === undefined ? '' : `back since ${hourOf(at(h.came), clock)}; `;
        list.push({ ...common, way: 'back', at: comes, ...state, text: `${here}${state.text}` });
      }
      if (leaves >= 0 && leaves < UNTIL)
        list.push({
          ...common,
          way: 'out',
          at: leaves,
          ...(h.went !== undefined
            ? { state: 'gone' as const, text: `out since ${hourOf(at(h.went), clock)}` }
            : held.length > 0
              ? { state: 'held' as const, text: `held. ${held.join(' ')}` }
              : outState(own, visits.get(boat.id), boat.notReady, leaves, minute, clock)),
        });
    }
    if (touched) out++;
  }
  return { list: list.sort((a, b) => a.at - b.at), out };
}

/** An hour of the day, or which day beside it. @param minute after midnight of the day */
const hourOf = (minute: number, clock: ClockFace) =>
  minute < 0 ? 'the day before' : minute >= MINUTES ? 'the day after' : timeOfDay(minute, clock);

function outState(
  dues: readonly EngineDue[],
  visit: { v: DayPerson['visits'][number]; name: string } | undefined,
  notReady: string | null,
  leaves: number,
  now: number | null,
  clock: ClockFace,
): Pick<DayBoat, 'state' | 'text'> {
  const over = dues.filter(({ due }) => due.state === 'over');
  // Work after it is back again is nothing to this outing.
  if (visit?.v.status === 'open' && (visit.v.start === null || visit.v.start < leaves)) {
    const { v, name } = visit;
    if (v.start === null) return { state: 'work first', text: `${name} has work on it` };
    const end = Math.round(endOf(v));
    if (end > leaves) return { state: 'over', text: `${name} is not done before ${timeOfDay(end, clock)}` };
    // The hour the plan gave is past: who waits for the boat has to ask.
    if (now !== null && end < now)
      return {
        state: 'work first',
        text: `${name} should have been done at ${timeOfDay(end, clock)}; the card is still open`,
      };
    return { state: 'work first', text: `ready when ${name} is done, ${timeOfDay(end, clock)}` };
  }
  if (notReady !== null) return { state: 'over', text: notReady };
  if (over.length > 0) {
    const [{ facts, due }] = over as [EngineDue];
    return {
      state: 'over',
      text: `${TASKS[due.task].word.toLowerCase()}${facts.position === 'single' ? '' : `, ${facts.position}`}: ${nearestLimit(due)}`,
    };
  }
  const next =
    dues.find(({ due }) => due.state !== 'unknown' && due.state !== 'fine') ??
    dues.find(({ due }) => due.state !== 'unknown');
  return {
    state: 'ready',
    text: next ? `ready; next ${TASKS[next.due.task].word.toLowerCase()}, ${nearestLimit(next.due)}` : 'ready',
  };
}

function backState(dues: readonly EngineDue[], first: number): Pick<DayBoat, 'state' | 'text'> {
  const unread = [...new Set(dues.map((d) => d.facts))].filter(
    (f) => f.meterId !== null && (f.lastReadDay === null || first - dayNumber(f.lastReadDay) >= UNREAD_DAYS),
  );
  if (unread.length > 0)
    return {
      state: 'hours wanted',
      text: `hours wanted: ${unread.map((f) => (f.position === 'single' ? 'engine' : f.position)).join(', ')}`,
    };
  const next = dues.find(({ due }) => ['over', 'due', 'soon'].includes(due.state));
  if (next)
    return {
      state: next.due.state === 'over' ? 'over' : 'work first',
      text: `${TASKS[next.due.task].word.toLowerCase()}${next.facts.position === 'single' ? '' : `, ${next.facts.position}`}: ${nearestLimit(next.due)}`,
    };
  return { state: 'fine', text: 'nothing due' };
}

const PRESSING: readonly DayBoat['state'][] = ['held', 'over', 'work first', 'hours wanted', 'ready', 'fine', 'gone'];

/** Boats that want somebody first, then by time; the most pressing `most` of them, and how many were left out. */
export function pressing(boats: readonly DayBoat[], most: number): { list: DayBoat[]; more: number } {
  const list = [...boats].sort((a, b) => PRESSING.indexOf(a.state) - PRESSING.indexOf(b.state) || a.at - b.at);
  return { list: list.slice(0, most), more: Math.max(0, list.length - most) };
}
