import { api, reads, writes, SHIFTED } from '../app/api.ts';

/** What the rooms read and write of work calendar: every route by its name in the contract. */
export const workCalendarApi = api.injectEndpoints({
  endpoints: (b) => ({
    readWorkCalendar: reads(b, 'readWorkCalendar', ['Work']),
    editPersonWork: writes(b, 'editPersonWork', SHIFTED),
    setPace: writes(b, 'setPace', SHIFTED),
    addException: writes(b, 'addException', SHIFTED),
    removeException: writes(b, 'removeException', SHIFTED),
    addClosedDay: writes(b, 'addClosedDay', SHIFTED),
    removeClosedDay: writes(b, 'removeClosedDay', SHIFTED),
    importClosedDays: writes(b, 'importClosedDays', SHIFTED),
    addLiftOut: writes(b, 'addLiftOut', SHIFTED),
    removeLiftOut: writes(b, 'removeLiftOut', SHIFTED),
    giveCalendarKey: writes(b, 'giveCalendarKey', ['Work']),
  }),
});
