import { useSearchParams } from 'react-router';
import { useBases, useMe } from '../app/useBook.ts';
import { seasonApi } from './api.ts';

/** The season of the base the room is turned to: named in the address, else the person's own. */
export function useSeason() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const asked = Number(params.get('base'));
  const baseId = asked > 0 ? asked : (me.baseId ?? bases[0]?.id ?? null);
  const { data, error } = seasonApi.useReadSeasonQuery({ baseId: baseId ?? 0 }, { skip: baseId === null });
  return {
    baseId,
    // Of another base it would be somebody else's.
    data: data?.baseId === baseId ? data : undefined,
    error,
    setBase: (id: number | '') => {
      if (id !== '') setParams({ base: String(id) });
    },
  };
}
