import { apart, threadFile, TookTooLong } from '../apart.ts';
import { HttpProblem } from '../http/problem.ts';
import type { CalendarEvent } from './calendar-file.ts';

/** The thread's work; into `at` it writes which repeating event it is about, in UTF-8, filled up with zeros. */
export interface CalendarTask {
  text: string;
  zone: string;
  from: Date;
  to: Date;
  at: SharedArrayBuffer;
}
export type CalendarRead = { events: CalendarEvent[] } | { refused: string };

/** A calendar of 20,000 bookings is read in two seconds; one that takes longer does not come to an end. */
const MOST_SECONDS = 10;
const THREAD = threadFile('calendar-thread', import.meta.url);
const TITLE_BYTES = 240;

/**
 * `readCalendar` in a thread of its own, bounded by time and memory.
 *
 * @param zone the base's time zone, for times that carry none
 * @throws 422 with a sentence when the text is no calendar, or holds an event that repeats without end
 */
export async function readCalendarApart(
  text: string,
  zone: string,
  from: Date,
  to: Date,
  seconds = MOST_SECONDS,
): Promise<CalendarEvent[]> {
  const at = new SharedArrayBuffer(TITLE_BYTES);
  let read: CalendarRead;
  try {
    read = await apart<CalendarRead>(THREAD, { text, zone, from, to, at } satisfies CalendarTask, {
      milliseconds: seconds * 1000,
    });
  } catch (error) {
    if (error instanceof TookTooLong) throw new HttpProblem(422, endless(at, seconds));
    if ((error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY') throw new HttpProblem(422, TOO_LARGE);
    throw error;
  }
  if ('refused' in read) throw new HttpProblem(422, read.refused);
  return read.events;
}

const TOO_LARGE = 'The calendar holds more than the book can take apart. Nothing was read. Split it by boat or base.';

function endless(at: SharedArrayBuffer, seconds: number): string {
  // Copied: a decoder takes no shared memory. A title cut in the middle of a letter loses that letter.
  const title = new TextDecoder().decode(Uint8Array.from(new Uint8Array(at))).replace(/[\0\uFFFD]+$/u, '');
  return title === ''
    ? `The calendar was not taken apart within ${seconds} seconds. Nothing was read. Ask for one that holds the coming year only.`
    : `“${title}” repeats in a way that comes to no end within ${seconds} seconds. Nothing was read. Mend that event in the calendar it comes from, or take it out.`;
}
