import { fetchOutside, type Outside } from '../http/fetch-outside.ts';

const CALENDAR: Outside = {
  accept: 'text/calendar',
  mostBytes: 8_000_000,
  cannot: 'The calendar cannot be read at this address. Check it with whoever keeps the calendar.',
  tooLarge: 'The calendar is larger than 8 MB; ask for one of the coming year only.',
};

/**
 * The text of a calendar at a web address.
 * @param ends calls it off
 * @throws Unreachable
 */
export const fetchFeed = (address: string, allowed: string[], ends?: AbortSignal): Promise<string> =>
  fetchOutside(address, allowed, CALENDAR, ends);
