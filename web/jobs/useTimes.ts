import type { JobRow } from '@diurna/contract/jobs';
import { endOf } from '@diurna/core/day';
import { useMemo } from 'react';
import { useBases, useMe } from '../app/useBook.ts';
import { dayApi } from '../day/api.ts';

/** When the cards of a day are worked and their boats go out, as far as the day knows; without signal nobody does. */
export function useTimes(day: string, asked: boolean) {
  const me = useMe();
  const home = useBases().find((b) => b.id === me.baseId)?.name;
  const { data } = dayApi.useReadDayQuery({ day }, { skip: !asked });
  return useMemo(() => {
    const visits = (data?.people ?? []).flatMap((p) => p.visits);
    const mine = data?.people.find((p) => p.id === me.id);
    return {
      visits: new Map(
        visits.flatMap((v) =>
          v.start === null ? [] : [[v.jobId, { from: v.start, to: Math.round(endOf(v)) }] as const],
        ),
      ),
      out: new Map(
        (data?.boats ?? []).flatMap((b) => (b.way === 'out' && b.at < 1440 ? [[b.boatId, b.at] as const] : [])),
      ),
      elsewhere: mine?.shift && home !== undefined && mine.baseName !== home ? mine.baseName : null,
    };
  }, [data, me.id, home]);
}

/** In the order they are worked; what has no hour comes last. */
export const inOrder = (rows: readonly JobRow[], { visits }: ReturnType<typeof useTimes>) =>
  visits.size === 0
    ? rows
    : [...rows].sort((a, b) => (visits.get(a.id)?.from ?? Infinity) - (visits.get(b.id)?.from ?? Infinity));
