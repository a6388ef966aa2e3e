import type { CardAct, CardEntry } from '@diurna/core/visit';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { api } from '../app/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { say, store, useAppDispatch, useAppSelector } from '../app/store.ts';
import { now } from '../app/clock.ts';
import { withTaken } from '../app/offline.ts';
import { useMe } from '../app/useBook.ts';
import {
  allPictures,
  allRefused,
  allWaiting,
  entryOf,
  idOf,
  put,
  putAway,
  putDock,
  putPicture,
  takeBack,
  throwPictureAway,
  tryAgain,
  tryPictureAgain,
  type DockAct,
  type Finishing,
  type Picture,
  type Refused,
  type Taken,
  type Waiting,
} from './outbox.ts';
import { post } from './post.ts';
import { sendAll } from './send.ts';
import { added, answered, awayPut, filled, heard, pictured, takenBack } from './outbox-state.ts';

/** Without signal it is tried again so often. */
const AGAIN_MS = 5_000;

let sending: Promise<void> | null = null;
/** Somebody wrote while a run was under way. */
const again = { asked: false, yes: () => again.asked };

/** Sends what waits; calls at the same time share one run, and one more follows it. */
function send(personId: number): Promise<void> {
  again.asked = true;
  sending ??= run(personId);
  return sending;
}

async function run(personId: number): Promise<void> {
  const { dispatch } = store;
  try {
    do {
      again.asked = false;
      const ok = await sendAll(personId, post, {
        told,
        docked,
        pictured: (id, jobId, picture) => {
          dispatch(pictured({ id, picture }));
          if (!picture) dispatch(api.util.invalidateTags([{ type: 'Card', id: jobId }]));
        },
      });
      await look();
      dispatch(heard(ok));
      if (!ok) return;
    } while (again.yes());
  } finally {
    sending = null;
  }
}

/** Shows what became of a lot. */
function told(jobId: number, sent: readonly Waiting[], kept: CardEntry[], refused: Refused[]): void {
  const { dispatch } = store;
  dispatch(
    jobsApi.util.updateQueryData('readJob', jobId, (card) => {
      card.entries = withTaken(card, kept).entries;
    }),
  );
  dispatch(answered({ ids: sent.map(idOf), refused }));
  const finished = sent.find((w) => w.finish && !refused.some((r) => r.id === w.finish!.id))?.finish;
  if (finished)
    dispatch(
      say({
        tone: 'done',
        text: `${finished.boatName} is done and in the book.`,
        link: { to: '/jobs', word: 'Next card' },
      }),
    );
}

/** Shows what became of something of the dock; what it went against is said until somebody puts it away. */
function docked(sent: Waiting, refused: Refused | null, clash: string | null): void {
  store.dispatch(answered({ ids: [idOf(sent)], refused: refused ? [refused] : [] }));
  if (clash !== null) store.dispatch(say({ tone: 'wrong', text: clash }));
}

/** Changes of what is shown that were made beside the device's store. */
let shown = 0;
const show = (change: ReturnType<typeof added | typeof pictured | typeof awayPut | typeof takenBack>) => {
  shown += 1;
  store.dispatch(change);
};

/** Shows what this device holds, as it stands in its store, so that nothing is said to wait that does not. */
async function look(): Promise<void> {
  for (;;) {
    const before = shown;
    const [waiting, refused, pictures] = await Promise.all([allWaiting(), allRefused(), allPictures()]);
    // Something was written while it was read.
    if (shown !== before) continue;
    store.dispatch(filled({ waiting, refused, pictures }));
    return;
  }
}

/**
 * Keeps the outbox of this person running: at the start, when signal returns, and every few seconds while something
 * waits.
 */
export function useOutbox(): () => void {
  const me = useMe();
  const dispatch = useAppDispatch();
  const sendMine = useCallback(() => {
    void send(me.id);
  }, [me.id]);
  const started = useRef(false);
  useEffect(() => {
    if (!started.current) {
      started.current = true;
      void look()
        .then(sendMine)
        .catch(() => {
          dispatch(filled({ waiting: [], refused: [] }));
        });
    }
    const away = () => {
      dispatch(heard(false));
    };
    addEventListener('online', sendMine);
    addEventListener('offline', away);
    const timer = setInterval(() => {
      const { waiting, pictures, signal } = store.getState().outbox;
      const goes = [...waiting, ...pictures.filter((p) => p.because === undefined)].some((w) => w.personId === me.id);
      // The word that signal is back does not always come.
      if (goes || (!signal && navigator.onLine)) sendMine();
    }, AGAIN_MS);
    return () => {
      removeEventListener('online', sendMine);
      removeEventListener('offline', away);
      clearInterval(timer);
    };
  }, [dispatch, me.id, sendMine]);
  return sendMine;
}

const KEEPS_NOTHING = 'This window keeps nothing and the book does not answer: it is not written down. Try again.';

/** What is done at the dock: kept on this device at once, sent as soon as there is signal. */
export function useDock(): {
  /** @returns false when it is neither kept here nor in the book: what was typed stays */
  write: (act: WithoutMark<DockAct>) => Promise<boolean>;
  /** Takes back what was not sent yet. */
  forgo: (act: DockAct) => Promise<void>;
} {
  const me = useMe();
  return {
    write: async (given) => {
      const act = { ...given, id: crypto.randomUUID(), at: now() };
      const waiting = await putDock(me.id, act).catch(() => null);
      if (waiting !== null) {
        show(added(waiting));
        void send(me.id);
        return true;
      }
      // A private window keeps nothing: it goes at once, or is not written down.
      const outcome = await post.dock(act);
      if (outcome.is === 'answered') {
        if (outcome.clash != null) store.dispatch(say({ tone: 'wrong', text: outcome.clash }));
        return true;
      }
      store.dispatch(say({ tone: 'wrong', text: outcome.is === 'refused' ? outcome.because : KEEPS_NOTHING }));
      return false;
    },
    forgo: async (act) => {
      const order = store.getState().outbox.waiting.find((w) => w.dock?.id === act.id)?.order;
      if (order === undefined) return;
      await takeBack(order);
      show(takenBack(act.id));
    },
  };
}
/** What this person did at the dock and the book does not have: what waits, and what it did not take. */
export function useDockActs(): { waiting: DockAct[]; refused: Refused[] } {
  const me = useMe();
  const { waiting, refused } = useAppSelector((s) => s.outbox);
  return useMemo(
    () => ({
      waiting: waiting.flatMap((w) => (w.dock && w.personId === me.id ? [w.dock] : [])),
      refused: refused.filter((r) => r.dock && r.personId === me.id),
    }),
    [me.id, refused, waiting],
  );
}
/** An act as the page gives it: when, and its number, are put to it here. */
type WithoutMark<A> = A extends unknown ? Omit<A, 'id' | 'at'> : never;

/** Writes on a card: kept on the device at once, sent as soon as there is signal. */
export function useWrite(jobId: number, lastSeq: number): (act: CardAct, picture?: Taken) => Promise<void> {
  const me = useMe();
  return useCallback(
    async (act, taken) => {
      const entry = entryOf(act, lastSeq);
      if (taken) {
        const { waiting, picture } = await putPicture(jobId, me.id, entry, taken);
        show(added(waiting));
        show(pictured({ id: picture.id, picture }));
      } else show(added(await put(jobId, me.id, entry)));
      void send(me.id);
    },
    [jobId, lastSeq, me.id],
  );
}

/** Finishes a card on this device: it is sent after all that was written on it, as soon as there is signal. */
export function useFinish(jobId: number): {
  finish: (finishing: Omit<Finishing, 'id' | 'at'>) => Promise<void>;
  notYet: (waiting: { order?: number; finish?: Finishing }) => Promise<void>;
} {
  const me = useMe();
  return {
    finish: async (finishing) => {
      for (const r of store.getState().outbox.refused.filter((x) => x.jobId === jobId && x.finish)) {
        await putAway(r.id);
        show(awayPut(r.id));
      }
      show(added(await put(jobId, me.id, { finish: { ...finishing, id: crypto.randomUUID(), at: now() } })));
      await send(me.id);
    },
    notYet: async ({ order, finish }) => {
      if (order === undefined || !finish) return;
      await takeBack(order);
      show(takenBack(finish.id));
    },
  };
}

/** What a person does with what the book did not take. */
export function useNotTaken() {
  const me = useMe();
  return {
    throwAway: async (r: Refused) => {
      await putAway(r.id);
      show(awayPut(r.id));
    },
    tryAgain: async (r: Refused) => {
      show(added(await tryAgain(r)));
      show(awayPut(r.id));
      await send(me.id);
    },
    throwPictureAway: async (p: Picture) => {
      await throwPictureAway(p.id);
      show(pictured({ id: p.id, picture: null }));
    },
    tryPictureAgain: async ({ because: _, ...p }: Picture) => {
      await tryPictureAgain(p.id);
      show(pictured({ id: p.id, picture: { ...p, sent: 0 } }));
      await send(me.id);
    },
  };
}
