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
    editPlanSettings: writes(b, 'editPlanSettings', [...SHIFTED, 'People']),
    listArrivals: reads(b, 'listArrivals', ['Stores']),
    addArrival: writes(b, 'addArrival', ['Stores', 'Plan', 'Records']),
    closeArrival: writes(b, 'closeArrival', ['Stores', 'Plan', 'Records']),
    giveCalendarKey: writes(b, 'giveCalendarKey', ['Work']),
  }),
});
