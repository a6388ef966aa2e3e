import { addDays, dayFromNumber, dayNumber, weekday, type Day } from '@diurna/core/calendar';
import { ICalEventRepeatingFreq, default as ical } from 'ical-generator';
import { seeded, type Random } from './random.ts';

/** One booking, in the wall time of its base. */
export interface DemoHire {
  boat: string;
  out: string;
  back: string;
  bookedOn: Day;
  reference: string;
}

interface DemoBoat {
  boat: string;
  /** Of its main engine; empty where it has no meter. */
  readings: { day: Day; hours: number }[];
}

/** Go out for a week at a time, from Saturday to Saturday. */
const CHARTER = new Set(['Gannet', 'Phalarope', 'Fulmar', 'Shearwater']);
/** Who goes out and comes back on the day of the story and on the next, whatever chance says. */
const ALWAYS_OUT = ['Sanderling', 'Lapwing'];
const CHARTERED = 'Phalarope';
/** An engine runs so much of the time a day-hire boat is out. */
const SHARE = 0.42;
/** Days of hire a week where no meter tells, in the season and out of it. */
const SMALL_BOAT_DAYS = [3.2, 0.2];
const SEASON_DAYS = 56;
const WINTER_DAYS = 182;
const LOOK_AHEAD = 75;
/** Bookings come about this many days ahead, on average. */
const LEAD = 26;

const time = (hour: number) => `${String(Math.floor(hour)).padStart(2, '0')}:${hour % 1 < 0.5 ? '00' : '30'}`;

/**
 * Hires that fit the hours the engines ran up to `today`, and what is booked of the weeks after it by the day
 * `asOf`: thinner the further ahead, and the same booking whenever it is asked.
 */
export function demoHires(boats: readonly DemoBoat[], today: Day, asOf: Day = today): DemoHire[] {
  const hires: DemoHire[] = [];
  const add: Add = (boat, outDay, outHour, backDay, backHour, random, least = 0) => {
    const lead = Math.max(least, Math.ceil(-LEAD * Math.log(1 - random.next())));
    const bookedOn = addDays(outDay, -lead);
    if (bookedOn > asOf) return;
    hires.push({
      boat,
      out: `${outDay} ${time(outHour)}`,
      back: `${backDay} ${time(backHour)}`,
      bookedOn,
      // By boat and day: nobody else's number moves when a booking comes in.
      reference: `LB-${boats.findIndex((b) => b.boat === boat) + 10}${dayNumber(outDay) % 100_000}`,
    });
  };
  for (const boat of boats) {
    if (CHARTER.has(boat.boat)) charters(boat, today, asOf, add);
    else dayHires(boat, today, asOf, add);
  }
  for (const [ahead, boat] of ALWAYS_OUT.entries()) {
    const day = addDays(today, ahead);
    if (!hires.some((h) => h.boat === boat && h.out.startsWith(day)))
      add(boat, day, 9, day, 16, chanceOf(boat, dayNumber(day)), 2);
  }
  return hires.sort((a, b) => (a.out < b.out ? -1 : a.out > b.out ? 1 : a.boat < b.boat ? -1 : 1));
}

/** @param least booked at least so many days before, however chance has it */
type Add = (
  boat: string,
  outDay: Day,
  outHour: number,
  backDay: Day,
  backHour: number,
  random: Random,
  least?: number,
) => void;

/** Chance of its own for each boat and day, so that what is drawn for one changes nothing for another. */
const chanceOf = (boat: string, day: number): Random =>
  seeded(Array.from(boat).reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) % 1_000_003, 7) * 40_009 + day);

function dayHires({ boat, readings }: DemoBoat, today: Day, asOf: Day, add: Add): void {
  const one = (day: Day, hours: number, random: Random) => {
    const out = hours > 6 ? 9 : random.pick([9, 10, 13.5]);
    add(boat, day, out, day, Math.min(20.5, out + hours), random);
  };
  for (let i = 1; i < readings.length; i++) {
    const days = dayNumber(readings[i]!.day) - dayNumber(readings[i - 1]!.day);
    const hours = (readings[i]!.hours - readings[i - 1]!.hours) / SHARE;
    if (hours < 1 || days < 1) continue;
    const random = chanceOf(boat, dayNumber(readings[i]!.day));
    const n = Math.max(1, Math.min(days, Math.round(hours / 7.5)));
    const free = Array.from({ length: days }, (_, k) => addDays(readings[i - 1]!.day, k + 1));
    for (let k = 0; k < n; k++)
      one(
        free.splice(random.whole(0, free.length - 1), 1)[0]!,
        Math.max(2, Math.min(10.5, Math.round((hours / n) * 2) / 2)),
        random,
      );
  }
  const last = readings.at(-1);
  const recent = readings.findLast((r) => r.day <= addDays(last!.day, -35));
  const perWeek =
    last && recent
      ? (((last.hours - recent.hours) / SHARE / 7.5) * 7) / (dayNumber(last.day) - dayNumber(recent.day))
      : SMALL_BOAT_DAYS[0]!;
  const from = last ? dayNumber(last.day) + 1 : dayNumber(today) - 420;
  for (let n = from; n <= dayNumber(asOf) + LOOK_AHEAD; n++) {
    const random = chanceOf(boat, n);
    const ago = dayNumber(today) - n;
    const inSeason = ago < SEASON_DAYS || ago > SEASON_DAYS + WINTER_DAYS;
    const wanted = random.chance(Math.min(0.92, (last ? perWeek : SMALL_BOAT_DAYS[inSeason ? 0 : 1]!) / 7));
    const day = dayFromNumber(n);
    if (wanted) one(day, random.chance(0.3) ? 4 : random.between(7, 9.5), random);
  }
}

/** From Saturday to Saturday; the boat of the story is booked for every week. */
function charters({ boat, readings }: DemoBoat, today: Day, asOf: Day, add: Add): void {
  const hoursOn = (day: Day) => readings.findLast((r) => r.day <= day)?.hours ?? readings[0]!.hours;
  const first = addDays(readings[0]!.day, 6 - weekday(readings[0]!.day));
  for (let day = first; day < addDays(asOf, LOOK_AHEAD); day = addDays(day, 7)) {
    const random = chanceOf(boat, dayNumber(day));
    const past = addDays(day, 7) <= readings.at(-1)!.day;
    const ran = past ? hoursOn(addDays(day, 7)) - hoursOn(day) > 3 : random.chance(0.85);
    const near = boat === CHARTERED && Math.abs(dayNumber(day) - dayNumber(today)) <= 7;
    if (ran || near) add(boat, day, 16, addDays(day, 7), 9.5, random, near ? 20 : 0);
  }
}

/** The bookings as the calendar of a booking desk prints them (RFC 5545), with one that comes every week. */
export function deskCalendar(hires: readonly DemoHire[], zone: string, filledOn: Day): string {
  const calendar = ical({
    name: 'Larkspur booking desk',
    timezone: zone,
    prodId: { company: 'Diurna', product: 'Booking desk of the demo', language: 'EN' },
  });
  const local = (text: string) => `${text.replace(' ', 'T')}:00`;
  for (const h of hires) {
    calendar.createEvent({
      id: `${h.reference}@desk.example`,
      summary: `${h.boat} ${h.reference}`,
      location: 'Larkspur Slip',
      start: local(h.out),
      end: local(h.back),
      created: `${h.bookedOn}T12:00:00`,
      stamp: `${h.bookedOn}T12:00:00`,
      timezone: zone,
    });
  }
  const tuesday = addDays(filledOn, ((2 - weekday(filledOn) + 7) % 7) + 7);
  calendar.createEvent({
    id: 'rowing-club@desk.example',
    summary: 'Puffin for the rowing club, every Tuesday',
    start: `${tuesday}T18:30:00`,
    end: `${tuesday}T20:30:00`,
    timezone: zone,
    created: `${addDays(filledOn, -20)}T12:00:00`,
    stamp: `${addDays(filledOn, -20)}T12:00:00`,
    repeating: { freq: ICalEventRepeatingFreq.WEEKLY, count: 10 },
  });
  return calendar.toString();
}
