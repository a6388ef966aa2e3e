import type { Day } from '@diurna/core/calendar';
import { useEffect } from 'react';
import { jobsApi } from './api.ts';
import { useMe, useToday } from '../app/useBook.ts';

export const PAGE_SIZE = 50;
/** What the list of one person's day asks for; the same words every time, or it is not found again without signal. */
export const ownDay = (technicianId: number, day: Day) => ({
  page: 1,
  size: PAGE_SIZE,
  from: day,
  to: day,
  technicianId,
});

/** Cards kept on this device before they are opened. */
export function useKeptCards(ids: readonly number[]): void {
  const prefetch = jobsApi.usePrefetch('readJob');
  const key = ids.join();
  useEffect(() => {
    for (const id of key === '' ? [] : key.split(',')) prefetch(Number(id), { ifOlderThan: 60 });
  }, [key, prefetch]);
}

/** A technician's list of today kept on this device, also where the card was opened by its address. */
export function useKeptDay(): void {
  const me = useMe();
  const today = useToday();
  const prefetch = jobsApi.usePrefetch('listJobs');
  useEffect(() => {
    if (me.role === 'technician') prefetch(ownDay(me.id, today), { ifOlderThan: 60 });
  }, [me.id, me.role, prefetch, today]);
}
