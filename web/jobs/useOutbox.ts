import type { SentEntry } from '@diurna/contract/visit';
import type { CardAct } from '@diurna/core/visit';
import { useCallback, useEffect, useRef } from 'react';
import { api, problemOf } from '../app/api.ts';
import { store, useAppDispatch } from '../app/store.ts';
import { useMe } from '../app/useBook.ts';
import { allRefused, allWaiting, entryOf, put, putAway, sendAll, type Outcome } from './outbox.ts';
import { added, answered, awayPut, filled, heard } from './outbox-state.ts';

/** Without signal it is tried again so often. */
const AGAIN_MS = 5_000;

let sending: Promise<void> | null = null;
/** Somebody wrote while a run was under way. */
const again = { asked: false, yes: () => again.asked };

/** Sends what waits; calls at the same time share one run, and one more follows it. */
async function send(personId: number): Promise<void> {
  if (sending) {
    again.asked = true;
    return sending;
  }
  const { dispatch } = store;
  sending = (async () => {
    do {
      again.asked = false;
      const ok = await sendAll(personId, async (jobId, entries): Promise<Outcome> => {
        const answer = await dispatch(api.endpoints.keepEntries.initiate({ id: jobId, entries }, { track: false }));
        if (answer.data) return { is: 'answered', kept: answer.data.kept, refused: answer.data.refused };
        const status = (answer.error as { status?: unknown } | undefined)?.status;
        // Signed out, or the server is down for a while: it stays here.
        if (typeof status !== 'number' || status >= 500 || status === 401 || status === 429) return { is: 'no signal' };
        return { is: 'refused', because: problemOf(answer.error)?.detail ?? 'The book did not take it.' };
      }, (jobId, kept, refused) => {
        dispatch(api.util.updateQueryData('job', jobId, (card) => {
          for (const entry of kept) if (!card.entries.some((e) => e.id === entry.id)) card.entries.push(entry);
        }));
        dispatch(answered({ ids: [...kept.map((k) => k.id), ...refused.map((r) => r.id)], refused }));
      });
      dispatch(heard(ok));
      if (!ok) return;
    } while (again.yes());
  })().finally(() => { sending = null; });
  return sending;
}

/** Keeps the outbox of this person running: at the start, when signal returns, and every few seconds while something waits. */
export function useOutbox(): () => void {
  const me = useMe();
  const dispatch = useAppDispatch();
  const run = useCallback(() => { void send(me.id); }, [me.id]);
  const started = useRef(false);
  useEffect(() => {
    if (!started.current) {
      started.current = true;
      void Promise.all([allWaiting(), allRefused()]).then(([waiting, refused]) => {
        dispatch(filled({ waiting, refused }));
        run();
      }).catch(() => { dispatch(filled({ waiting: [], refused: [] })); });
    }
    const away = () => { dispatch(heard(false)); };
    addEventListener('online', run);
    addEventListener('offline', away);
    const timer = setInterval(() => { if (store.getState().outbox.waiting.some((w) => w.personId === me.id)) run(); }, AGAIN_MS);
    return () => {
      removeEventListener('online', run);
      removeEventListener('offline', away);
      clearInterval(timer);
    };
  }, [dispatch, me.id, run]);
  return run;
}

/** Writes on a card: kept on the device at once, sent as soon as there is signal. */
export function useWrite(jobId: number, lastSeq: number): (act: CardAct, photo?: SentEntry['photo']) => Promise<void> {
  const me = useMe();
  const dispatch = useAppDispatch();
  return useCallback(async (act, photo) => {
    dispatch(added(await put(jobId, me.id, entryOf(act, lastSeq, photo))));
    void send(me.id);
  }, [dispatch, jobId, lastSeq, me.id]);
}

export function usePutAway(): (id: string) => void {
  const dispatch = useAppDispatch();
  return (id) => {
    void putAway(id);
    dispatch(awayPut(id));
  };
}
