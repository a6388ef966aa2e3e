import { useSearchParams } from 'react-router';
import { useBases, useMe } from '../app/useBook.ts';
import { seasonApi } from './api.ts';

/** The base the room is turned to: named in the address, else the person's own. */
function useSeasonBase() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const asked = Number(params.get('base'));
  return {
    baseId: asked > 0 ? asked : (me.baseId ?? bases[0]?.id ?? null),
    setBase: (id: number | '') => {
      if (id !== '') setParams({ base: String(id) });
    },
  };
}

/** Of another base it would be somebody else's. */
const ofBase = <T extends { baseId: number }>(data: T | undefined, baseId: number | null) =>
  data?.baseId === baseId ? data : undefined;

/** The season of the base the room is turned to. */
export function useSeason() {
  const { baseId, setBase } = useSeasonBase();
  const { data, error } = seasonApi.useReadSeasonQuery({ baseId: baseId ?? 0 }, { skip: baseId === null });
  return { baseId, data: ofBase(data, baseId), error, setBase };
}

/** The batteries in store at the base the room is turned to; kept on a phone for when there is no signal. */
export function useBatteryRound() {
  const { baseId, setBase } = useSeasonBase();
  const { data, error } = seasonApi.useBatteryRoundQuery({ baseId: baseId ?? 0 }, { skip: baseId === null });
  return { baseId, data: ofBase(data, baseId), error, setBase };
}
