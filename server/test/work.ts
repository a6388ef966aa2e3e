import type { BoardReply } from '@diurna/contract/planner';
import type { WorkingPerson } from '@diurna/contract/work-calendar';
import { FLEET_CSV, openYard, PARTS_CSV } from './yard.ts';

/** A Monday, six in the morning at the base. */
export const MONDAY = '2026-06-15';
/** Somebody's work as it is where nothing was said of it. */
export const usual = { skills: [], pace: 1, rateMinor: null, overtimeMinutes: 0, overtimePercent: 150, shifts: [] };

export interface WorkPage {
  people: WorkingPerson[];
  closed: { id: number; baseId: number; day: string; name: string }[];
  liftOut: { id: number; firstDay: string; lastDay: string; slots: number; reason: string }[];
  settings: {
    lateWeightPercent: number;
    moveCostMinor: number;
    rateMinor: number;
    hireDayMinor: number;
    version: number;
  };
}

/** A yard of two bases on a Monday, its technician's week and what plans make of it. */
export async function openWork() {
  const yard = await openYard(() => new Date('2026-06-15T09:00:00Z'));
  const administrator = await yard.as('administrator');
  const coordinator = await yard.as('coordinator');
  await administrator.post('/exchange/fleet', FLEET_CSV);
  await administrator.post('/exchange/parts', PARTS_CSV);
  const { id: south } = await administrator.post<{ id: number }>('/fleet/bases', {
    name: 'South Quay',
    timeZone: 'America/Halifax',
    hemisphere: 'north',
    dayMinutes: 480,
    workdays: [1, 2, 3, 4, 5],
    liftSlots: 1,
  });
  const { technician } = yard.people;
  const page = (from = MONDAY) => coordinator.get<WorkPage>(`/people/work?from=${from}`);
  const person = async (id = technician) => (await page()).people.find((p) => p.id === id)!;
  const setWork = async (more: object) =>
    coordinator.put(`/people/${technician}/work`, { ...usual, version: (await person()).version, ...more });
  return {
    yard,
    coordinator,
    south,
    technician,
    page,
    person,
    setWork,
    board: (query = '') => coordinator.get<BoardReply>(`/plan?days=14${query}`),
    on: (b: BoardReply) => b.problem.technicians.find((t) => t.id === String(technician))!,
    clear: async () => {
      for (const p of (await page()).people)
        for (const x of p.exceptions) await coordinator.raw('delete', `/people/exceptions/${x.id}`);
      const { closed, liftOut } = await page();
      for (const c of closed) await coordinator.raw('delete', `/fleet/closed-days/${c.id}`);
      for (const l of liftOut) await coordinator.raw('delete', `/fleet/lift-out/${l.id}`);
      await setWork(usual);
    },
  };
}
