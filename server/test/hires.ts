import type { CalendarResult, Hire } from '@diurna/contract/hires';
import { FLEET_CSV, openYard } from './yard.ts';

/** When the book of these tests stands, unless a test moves it. */
export const THEN = '2026-04-15T10:00:00Z';

/** An iCalendar file (RFC 5545) of these lines, and an event of one. */
export const calendar = (...lines: string[]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Test//EN', ...lines, 'END:VCALENDAR'].join('\r\n');
export const event = (...lines: string[]) =>
  ['BEGIN:VEVENT', 'DTSTAMP:20260401T000000Z', ...lines, 'END:VEVENT'].join('\r\n');

/** A yard whose fleet goes on hire, with a coordinator signed in and a clock that can be set. */
export async function openHires() {
  let now = new Date(THEN);
  const yard = await openYard(() => now, { privateFeeds: ['127.0.0.1'] });
  const ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  const { rows } = await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats');
  return {
    yard,
    ilse,
    boats: Object.fromEntries(rows.map((b) => [b.name, b.id])),
    setNow: (to: string) => {
      now = new Date(to);
    },
    /** As at the beginning: no hires, no feeds, the clock where it stood. */
    clear: async () => {
      now = new Date(THEN);
      await yard.pool.query('delete from hire; delete from hire_feed');
    },
    hires: async (from = '2026-04-01', days = 200, more = '') =>
      (await ilse.get<{ rows: Hire[] }>(`/hires?from=${from}&days=${days}${more}`)).rows,
    read: (text: string) => ilse.post<CalendarResult>(`/hires/calendar?baseId=${yard.baseId}`, text),
  };
}
