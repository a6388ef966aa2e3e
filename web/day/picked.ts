import type { Day } from '@diurna/core/calendar';
import { useState } from 'react';

/** Lists older than this are of no day anybody picks for. */
const MOST_KEPT = 12;
const PREFIX = 'picked ';

function read(key: string): number[] {
  try {
    const ids: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
    return Array.isArray(ids) ? ids.filter((id): id is number => typeof id === 'number') : [];
  } catch {
    return [];
  }
}

/**
 * What somebody has picked of a day's list, kept on this device: a walk along the shelves is one person's, and goes on
 * after a reload.
 */
export function usePicked(
  day: Day,
  baseId: number,
): [ids: readonly number[], put: (partId: number, on: boolean) => void] {
  const key = `${PREFIX}${baseId} ${day}`;
  const [held, setHeld] = useState({ key, ids: read(key) });
  const ids = held.key === key ? held.ids : read(key);
  return [
    ids,
    (partId, on) => {
      const next = on ? [...ids.filter((id) => id !== partId), partId] : ids.filter((id) => id !== partId);
      setHeld({ key, ids: next });
      try {
        const older = Object.keys(localStorage)
          .filter((k) => k.startsWith(PREFIX) && k !== key)
          .sort((a, b) => a.slice(-10).localeCompare(b.slice(-10)));
        for (const k of older.slice(0, Math.max(0, older.length - MOST_KEPT))) localStorage.removeItem(k);
        localStorage.setItem(key, JSON.stringify(next));
      } catch {
        // A device that keeps nothing still shows the list.
      }
    },
  ];
}
