import { dayFromNumber, type Day } from './day.ts';

const formats = new Map<string, Intl.DateTimeFormat>();

function formatFor(zone: string): Intl.DateTimeFormat {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-CA', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    formats.set(zone, format);
  }
  return format;
}

function partsIn(instant: Date, zone: string): Record<string, string> {
  return Object.fromEntries(
    formatFor(zone)
      .formatToParts(instant)
      .map((p) => [p.type, p.value]),
  );
}

/** True when the name is a time zone of the IANA data this machine carries. */
export function isTimeZone(zone: string): boolean {
  try {
    formatFor(zone);
    return true;
  } catch {
    return false;
  }
}

/** The calendar day it is at `zone` at that instant. */
export function dayInZone(instant: Date, zone: string): Day {
  return dayFromNumber(minuteInZone(instant.getTime(), zone).dayNo);
}

const DAY_MS = 86_400_000;

/** By zone and UTC day: the offset that holds from its beginning to its end, or null on a day on which it changes. */
const offsets = new Map<string, Map<number, number | null>>();

/** `offsetMs`, looked up: whole years of hires go through it. */
function knownOffsetMs(instantMs: number, zone: string): number {
  const utcDay = Math.floor(instantMs / DAY_MS);
  let days = offsets.get(zone);
  if (!days) offsets.set(zone, (days = new Map<number, number | null>()));
  let offset = days.get(utcDay);
  if (offset === undefined) {
    const atStart = offsetMs(utcDay * DAY_MS, zone);
    // No zone changes its clock twice in a day and ends where it was.
    offset = atStart === offsetMs((utcDay + 1) * DAY_MS, zone) ? atStart : null;
    if (days.size > 20_000) days.clear();
    days.set(utcDay, offset);
  }
  return offset ?? offsetMs(instantMs, zone);
}

/**
 * The day number and the minute after its midnight that the wall clock at `zone` shows at that instant (ms since 1970).
 */
export function minuteInZone(instantMs: number, zone: string): { dayNo: number; minute: number } {
  const wall = instantMs + knownOffsetMs(instantMs, zone);
  const dayNo = Math.floor(wall / DAY_MS);
  return { dayNo, minute: Math.floor((wall - dayNo * DAY_MS) / 60_000) };
}

/** The clock at `zone` at that instant, `HH:MM`. */
export function clockInZone(instant: Date, zone: string): string {
  const { minute } = minuteInZone(instant.getTime(), zone);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(minute / 60))}:${two(minute % 60)}`;
}

function offsetMs(instantMs: number, zone: string): number {
  const p = partsIn(new Date(instantMs), zone);
  const wall = Date.UTC(+p.year!, +p.month! - 1, +p.day!, +p.hour!, +p.minute!, +p.second!);
  return wall - Math.floor(instantMs / 1000) * 1000;
}

/**
 * The instant at which the wall clock at `zone` shows `minutes` after midnight of `day`.
 * An hour skipped by a clock change gives the instant just after the gap; an hour that comes
 * twice gives its first pass.
 */
export function instantInZone(day: Day, minutes: number, zone: string): Date {
  const wall = Date.parse(`${day}T00:00:00Z`) + minutes * 60_000;
  const before = knownOffsetMs(wall - DAY_MS, zone);
  const after = knownOffsetMs(wall + DAY_MS, zone);
  const candidates = [wall - before, wall - after].filter((ms) => ms + knownOffsetMs(ms, zone) === wall);
  return new Date(candidates.length > 0 ? Math.min(...candidates) : wall - before);
}
