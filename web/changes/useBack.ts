import { useSearchParams } from 'react-router';
import { changesApi } from './api.ts';

/** The decision whose cards are to be put back in a plan, as the address names it, and a way to forget it. */
export function useBack() {
  const [params, setParams] = useSearchParams();
  const id = Number(params.get('back') ?? 0);
  const { data } = changesApi.useReadChangeQuery(id, { skip: !(id > 0), refetchOnMountOrArgChange: true });
  return {
    change: id > 0 ? data : undefined,
    forget: () => {
      setParams({}, { replace: true });
    },
  };
}
