import type { JobCard as Card } from '@diurna/contract/jobs';
import { useEffect, useMemo, useState } from 'react';
import { now } from '../app/clock.ts';
import { useAppSelector } from '../app/store.ts';
import { liveCard, type LiveCard } from './live-card.ts';
import { asCardEntries } from '../outbox/index.ts';

export function useCard(card: Card, me: { id: number; name: string }): LiveCard {
  const all = useAppSelector((s) => s.outbox.waiting);
  return useMemo(() => liveCard(card, asCardEntries(all.filter((w) => w.jobId === card.id)), me), [card, all, me]);
}

/** The present moment, told every second while something runs. */
export function useClock(runs: boolean): number {
  const [shown, setShown] = useState(now);
  useEffect(() => {
    if (!runs) return undefined;
    const tell = () => {
      setShown(now());
    };
    tell();
    const timer = setInterval(tell, 1000);
    // A phone that slept has not counted: it looks at the clock when it wakes.
    document.addEventListener('visibilitychange', tell);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', tell);
    };
  }, [runs]);
  return shown;
}
