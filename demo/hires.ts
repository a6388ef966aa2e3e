import { addDays, dayNumber, weekday, type Day } from '@diurna/core/calendar';
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
const BACK_TODAY = 'Sanderling';
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

/** Hires that fit the hours the engines ran, and bookings for the weeks to come, thinner the further ahead. */
export function demoHires(boats: readonly DemoBoat[], today: Day): DemoHire[] {
  const random = seeded(77_031);
  const hires: DemoHire[] = [];
  let number = 2100;
  const add = (boat: string, outDay: Day, outHour: number, backDay: Day, backHour: number, known: boolean) => {
    const lead = Math.min(known ? 400 : 60, Math.ceil(-LEAD * Math.log(1 - random.next())));
    const bookedOn = addDays(outDay, -lead);
    hires.push({
      boat,
      out: `${outDay} ${time(outHour)}`,
      back: `${backDay} ${time(backHour)}`,
      bookedOn: bookedOn > today ? today : bookedOn,
      reference: `LB-${number++}`,
    });
  };
  for (const { boat, readings } of boats) {
    if (CHARTER.has(boat)) charters(random, boat, readings, today, add);
    else dayHires(random, boat, readings, today, add);
  }
  // One boat always comes back today, whatever chance says.
  if (!hires.some((h) => h.boat === BACK_TODAY && h.out.startsWith(today))) add(BACK_TODAY, today, 9, today, 16, true);
  return hires.sort((a, b) => (a.out < b.out ? -1 : a.out > b.out ? 1 : 0));
}

type Add = (boat: string, outDay: Day, outHour: number, backDay: Day, backHour: number, known: boolean) => void;

function dayHires(random: Random, boat: string, readings: DemoBoat['readings'], today: Day, add: Add): void {
  const one = (day: Day, hours: number) => {
    const out = hours > 6 ? 9 : random.pick([9, 10, 13.5]);
    add(boat, day, out, day, Math.min(20.5, out + hours), true);
  };
  for (let i = 1; i < readings.length; i++) {
    const days = dayNumber(readings[i]!.day) - dayNumber(readings[i - 1]!.day);
    const hours = (readings[i]!.hours - readings[i - 1]!.hours) / SHARE;
    if (hours < 1 || days < 1) continue;
    const n = Math.max(1, Math.min(days, Math.round(hours / 7.5)));
    const free = Array.from({ length: days }, (_, k) => addDays(readings[i - 1]!.day, k + 1));
    for (let k = 0; k < n; k++)
      one(
        free.splice(random.whole(0, free.length - 1), 1)[0]!,
        Math.max(2, Math.min(10.5, Math.round((hours / n) * 2) / 2)),
      );
  }
  const last = readings.at(-1);
  const recent = readings.findLast((r) => r.day <= addDays(last!.day, -35));
  const perWeek =
    last && recent
      ? (((last.hours - recent.hours) / SHARE / 7.5) * 7) / (dayNumber(last.day) - dayNumber(recent.day))
      : SMALL_BOAT_DAYS[0]!;
  const ahead = last ? dayNumber(addDays(last.day, 1)) : dayNumber(today) - 420;
  for (let n = ahead; n <= dayNumber(today) + LOOK_AHEAD; n++) {
    const ago = dayNumber(today) - n;
    const inSeason = ago < SEASON_DAYS || ago > SEASON_DAYS + WINTER_DAYS;
    const chance = ((last ? perWeek : SMALL_BOAT_DAYS[inSeason ? 0 : 1]!) / 7) * (ago >= 0 ? 1 : Math.exp(ago / LEAD));
    if (random.chance(Math.min(0.92, chance)))
      one(addDays(today, -ago), random.chance(0.3) ? 4 : random.between(7, 9.5));
  }
}

function charters(random: Random, boat: string, readings: DemoBoat['readings'], today: Day, add: Add): void {
  const hoursOn = (day: Day) => readings.findLast((r) => r.day <= day)?.hours ?? readings[0]!.hours;
  const first = addDays(readings[0]!.day, 6 - weekday(readings[0]!.day));
  for (let day = first; day < addDays(today, LOOK_AHEAD); day = addDays(day, 7)) {
    const past = addDays(day, 7) <= readings.at(-1)!.day;
    const ran = past
      ? hoursOn(addDays(day, 7)) - hoursOn(day) > 3
      : random.chance(day <= today ? 0.85 : 0.95 * Math.exp(-(dayNumber(day) - dayNumber(today)) / 45));
    if (ran) add(boat, day, 16, addDays(day, 7), 9.5, true);
  }
}

/** The bookings as the calendar of a booking desk prints them (RFC 5545), with one that comes every week. */
export function deskCalendar(hires: readonly DemoHire[], zone: string, today: Day): string {
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
  const tuesday = addDays(today, ((2 - weekday(today) + 7) % 7) + 7);
  calendar.createEvent({
    id: 'rowing-club@desk.example',
    summary: 'Puffin for the rowing club, every Tuesday',
    start: `${tuesday}T18:30:00`,
    end: `${tuesday}T20:30:00`,
    timezone: zone,
    created: `${addDays(today, -20)}T12:00:00`,
    stamp: `${addDays(today, -20)}T12:00:00`,
    repeating: { freq: ICalEventRepeatingFreq.WEEKLY, count: 10 },
  });
  return calendar.toString();
}
