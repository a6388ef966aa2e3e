import { calendarFeedHandlers } from './calendar-feed.ts';
import { closedDayHandlers } from './closed-days.ts';
import { exceptionHandlers } from './exceptions.ts';
import { liftOutHandlers } from './lift-out.ts';
import { workingPeopleHandlers } from './working-people.ts';

/** Who works when and where: shifts, leave, holidays, the lift, and the address calendar programs follow. */
export const workCalendarHandlers = {
  ...workingPeopleHandlers,
  ...exceptionHandlers,
  ...closedDayHandlers,
  ...liftOutHandlers,
  ...calendarFeedHandlers,
};
