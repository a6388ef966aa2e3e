import { instantInZone, isTimeZone } from '@diurna/core/calendar';
import ICAL from 'ical.js';
import { HttpProblem } from '../http/problem.ts';

/** One booking of a calendar, repeating events already told apart. */
export interface CalendarEvent {
  uid: string;
  /** The start of one of a repeating event, as the file writes it; empty for a single one. */
  recurrence: string;
  title: string;
  location: string;
  resources: string[];
  out: Date | null;
  back: Date | null;
  madeAt: Date | null;
  cancelled: boolean;
  fault: string | null;
}

/** Events that name days only are hires of the working day. */
const DAY_FROM = 8 * 60;
const DAY_TO = 18 * 60;
const MOST_EVENTS = 20_000;
/** Steps a repeating event may take through the days before and those wanted. */
const MOST_STEPS = 50_000;
const TOO_OFTEN = `repeats more than ${MOST_STEPS.toLocaleString('en')} times until the days wanted; let it begin later`;

/**
 * Reads an iCalendar text (RFC 5545) into single bookings between two instants; repeating events, their
 * exceptions and time zones by ical.js.
 *
 * How long it takes is up to who wrote the calendar, and may be without end: the server reads it in a thread, by
 * `readCalendarApart`.
 *
 * @param zone the base's time zone, for times that carry none
 * @param repeating hears the title of each repeating event before its times are worked out
 * @throws 422 with a sentence when the text is no calendar
 */
export function readCalendar(
  text: string,
  zone: string,
  from: Date,
  to: Date,
  repeating: (title: string) => void = () => undefined,
): CalendarEvent[] {
  const refuse = (sentence: string) => new HttpProblem(422, `${sentence} Nothing was read.`);
  if (text.includes('\uFFFD') || text.includes('\u0000'))
    throw refuse('The file is not UTF-8 text, so it is no iCalendar file.');
  const { frame, blocks } = blocksOf(text.replace(/^\uFEFF/, '').trim());
  let calendar: ICAL.Component;
  try {
    calendar = new ICAL.Component(ICAL.parse(frame) as unknown[]);
  } catch {
    throw refuse('This is no iCalendar file: it has to begin with BEGIN:VCALENDAR and be whole to END:VCALENDAR.');
  }
  if (calendar.name !== 'vcalendar') throw refuse('This is no iCalendar file: it has to begin with BEGIN:VCALENDAR.');
  const { masters, singles, broken, exceptions } = sorted(blocks, calendar);
  const events: CalendarEvent[] = [];
  const add = (event: CalendarEvent) => {
    if (events.length >= MOST_EVENTS)
      throw refuse(`The calendar holds more than ${MOST_EVENTS} bookings in two years. Split it by boat or base.`);
    if (event.fault !== null || (event.out !== null && event.out < to && event.back !== null && event.back > from))
      events.push(event);
  };
  for (const event of broken) add(event);
  /** What an event holds may be wrong in ways that only show when its times are worked out. */
  const guarded = (component: ICAL.Component, work: () => void) => {
    try {
      work();
    } catch (error) {
      if (error instanceof HttpProblem) throw error;
      add(brokenEvent(component.toString()));
    }
  };
  const addOne = (component: ICAL.Component, recurrence: () => string) => {
    guarded(component, () => {
      add(bookingOf(component, recurrence(), timesOf(component, zone)));
    });
  };
  for (const component of singles) addOne(component, () => '');
  for (const [uid, components] of exceptions)
    if (!masters.has(uid)) for (const c of components) addOne(c, () => textOf(c, 'recurrence-id'));
  for (const [uid, component] of masters) {
    repeating(textOf(component, 'summary') || uid);
    guarded(component, () => {
      repeat(component, exceptions.get(uid) ?? [], zone, from, to, add);
    });
  }
  return events;
}

/** Events by what they are: repeating ones, single ones, exceptions to a repeating one, and those nobody can read. */
function sorted(blocks: readonly string[], calendar: ICAL.Component) {
  const masters = new Map<string, ICAL.Component>();
  const singles: ICAL.Component[] = [];
  const broken: CalendarEvent[] = [];
  const exceptions = new Map<string, ICAL.Component[]>();
  for (const block of blocks) {
    const event = eventOf(block, calendar);
    if (event === null) {
      broken.push(brokenEvent(block));
      continue;
    }
    const uid = textOf(event, 'uid');
    if (event.hasProperty('recurrence-id')) exceptions.set(uid, [...(exceptions.get(uid) ?? []), event]);
    else if (uid !== '' && (event.hasProperty('rrule') || event.hasProperty('rdate'))) masters.set(uid, event);
    else singles.push(event);
  }
  return { masters, singles, broken, exceptions };
}

/** The calendar without its events, and the lines of each event: what is wrong in one spoils no other. */
function blocksOf(text: string): { frame: string; blocks: string[] } {
  const frame: string[] = [];
  const blocks: string[] = [];
  let block: string[] | null = null;
  for (const line of text.split(/\r?\n/)) {
    if (block === null && /^BEGIN:VEVENT$/i.test(line)) block = [line];
    else if (block === null) frame.push(line);
    else {
      block.push(line);
      if (/^END:VEVENT$/i.test(line)) {
        blocks.push(block.join('\r\n'));
        block = null;
      }
    }
  }
  // An event that never ends: the file was cut, and is refused as a whole.
  if (block !== null) frame.push(...block);
  return { frame: frame.join('\r\n'), blocks };
}

/** The event of a block as one of the calendar, whose time zones hold for it; null when it cannot be read. */
function eventOf(block: string, calendar: ICAL.Component): ICAL.Component | null {
  try {
    const [event] = new ICAL.Component(
      ICAL.parse(`BEGIN:VCALENDAR\r\n${block}\r\nEND:VCALENDAR`) as unknown[],
    ).getAllSubcomponents('vevent');
    if (!event) return null;
    // Values are read when they are asked for: what is wrong with one is found out here.
    for (const property of event.getAllProperties()) property.getValues();
    const recurrence: unknown = event.getFirstPropertyValue('recurrence-id');
    if (recurrence !== null && !(recurrence instanceof ICAL.Time && Number.isFinite(recurrence.toUnixTime())))
      return null;
    // Anew: a value once read keeps the zone it was read in.
    const fresh = new ICAL.Component(event.jCal);
    calendar.addSubcomponent(fresh);
    return fresh;
  } catch {
    return null;
  }
}

/** What can be told of an event that cannot be read. */
function brokenEvent(block: string): CalendarEvent {
  const line = (name: string) => new RegExp(`^${name}(?:;[^:]*)?:(.*)$`, 'im').exec(block)?.[1]?.trim() ?? '';
  return {
    uid: line('UID'),
    recurrence: '',
    title: line('SUMMARY'),
    location: line('LOCATION'),
    resources: [],
    out: null,
    back: null,
    madeAt: null,
    cancelled: false,
    fault: 'holds a date or a rule that this book cannot read',
  };
}

const textOf = (component: ICAL.Component, property: string): string => {
  const value: unknown = component.getFirstPropertyValue(property);
  return typeof value === 'string' ? value.trim() : value instanceof ICAL.Time ? value.toString() : '';
};

interface Times {
  out: Date | null;
  back: Date | null;
  fault: string | null;
}

const NO_START = 'has no start this book can read';
const NO_END = 'has no end after its start';

function timesOf(component: ICAL.Component, zone: string): Times {
  const start = component.getFirstProperty('dtstart');
  const first: unknown = start?.getFirstValue();
  if (!start || !(first instanceof ICAL.Time)) return { out: null, back: null, fault: NO_START };
  const event = new ICAL.Event(component);
  try {
    return between(first, event.endDate, zone, zoneName(component));
  } catch {
    return { out: null, back: null, fault: NO_END };
  }
}

/** The name of the zone the event is written in, where it is one everybody knows. */
function zoneName(component: ICAL.Component): string | null {
  const name = component.getFirstProperty('dtstart')?.getFirstParameter('tzid');
  return name && isTimeZone(name) ? name : null;
}

function between(start: ICAL.Time, end: ICAL.Time, zone: string, named: string | null): Times {
  const out = instantOf(start, zone, named, DAY_FROM);
  // A last day is not part of the event (RFC 5545, 3.6.1), so the boat is back on the evening before it.
  const back = end.isDate
    ? instantOf(end.compare(start) > 0 ? dayBefore(end) : end, zone, named, DAY_TO)
    : instantOf(end, zone, named, DAY_TO);
  return back > out ? { out, back, fault: null } : { out, back: null, fault: NO_END };
}

function dayBefore(time: ICAL.Time): ICAL.Time {
  const day = time.clone();
  day.adjust(-1, 0, 0, 0);
  return day;
}

/** The wall clock of a known zone, of a zone the file describes, or of the base. */
function instantOf(time: ICAL.Time, zone: string, named: string | null, wholeDay: number): Date {
  const day = `${String(time.year).padStart(4, '0')}-${String(time.month).padStart(2, '0')}-${String(time.day).padStart(2, '0')}`;
  if (time.isDate) return instantInZone(day, wholeDay, zone);
  const described = time.zone as ICAL.Timezone | null;
  if (described === ICAL.Timezone.utcTimezone) return time.toJSDate();
  if (named !== null) return instantInZone(day, time.hour * 60 + time.minute, named);
  if (described && described !== ICAL.Timezone.localTimezone && described.tzid !== 'floating') return time.toJSDate();
  return instantInZone(day, time.hour * 60 + time.minute, zone);
}

function bookingOf(component: ICAL.Component, recurrence: string, { out, back, fault }: Times): CalendarEvent {
  const created: unknown = component.getFirstPropertyValue('created');
  const uid = textOf(component, 'uid');
  return {
    uid,
    recurrence,
    title: textOf(component, 'summary'),
    location: textOf(component, 'location'),
    resources: component
      .getAllProperties('resources')
      .flatMap((p) => p.getValues().map(String))
      .map((r) => r.trim()),
    out,
    back,
    madeAt: created instanceof ICAL.Time ? created.toJSDate() : null,
    cancelled: textOf(component, 'status').toUpperCase() === 'CANCELLED',
    fault: fault ?? (uid === '' ? 'has no UID, so it would be doubled when read again' : null),
  };
}

function repeat(
  component: ICAL.Component,
  exceptions: ICAL.Component[],
  zone: string,
  from: Date,
  to: Date,
  add: (event: CalendarEvent) => void,
): void {
  const plain = timesOf(component, zone);
  if (plain.fault !== null) {
    add(bookingOf(component, '', plain));
    return;
  }
  const event = new ICAL.Event(component, { exceptions: [] });
  for (const exception of exceptions) event.relateException(exception);
  const iterator = event.iterator();
  for (let step = 0; step < MOST_STEPS; step++) {
    const next = iterator.next() as ICAL.Time | undefined;
    if (!next) return;
    const { item, startDate, endDate, recurrenceId } = event.getOccurrenceDetails(next);
    const times = between(startDate, endDate, zone, zoneName(item.component));
    if (times.out !== null && times.out > to) return;
    if (times.back !== null && times.back > from) add(bookingOf(item.component, recurrenceId.toString(), times));
  }
  add(bookingOf(component, '', { out: null, back: null, fault: TOO_OFTEN }));
}
