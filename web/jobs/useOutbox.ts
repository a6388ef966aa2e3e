import type { JobCard as Card } from '@diurna/contract/jobs';
import type { CardAct, CardEntry } from '@diurna/core/visit';
import { useCallback, useEffect, useRef } from 'react';
import { api, problemOf } from '../app/api.ts';
import { jobsApi } from './api.ts';
import { visitApi } from '../visit/api.ts';
import { say, store, useAppDispatch } from '../app/store.ts';
import { now } from '../app/clock.ts';
import { changeKept, withTaken } from '../app/offline.ts';
import { useMe } from '../app/useBook.ts';
import {
  allPictures,
  allRefused,
  allWaiting,
  entryOf,
  idOf,
  put,
  putAway,
  putPicture,
  sendAll,
  takeBack,
  throwPictureAway,
  tryAgain,
  tryPictureAgain,
  type Finishing,
  type Outcome,
  type Picture,
  type Post,
  type Refused,
  type Taken,
  type Waiting,
} from './outbox.ts';
import { added, answered, awayPut, filled, heard, pictured, takenBack } from './outbox-state.ts';

/** Without signal it is tried again so often. */
const AGAIN_MS = 5_000;

let sending: Promise<void> | null = null;
/** Somebody wrote while a run was under way. */
const again = { asked: false, yes: () => again.asked };

/** Statuses that a proxy or a book that is being started again answers with. */
const AWAY = new Set([401, 429, 502, 503, 504]);

function notTaken(error: unknown): Exclude<Outcome, { is: 'answered' }> {
  const status = (error as { status?: unknown } | undefined)?.status;
  // Signed out, or the server is down for a while: it stays here.
  if (typeof status !== 'number' || AWAY.has(status)) return { is: 'no signal' };
  if (status === 413) return { is: 'too large' };
  const problem = problemOf(error);
  // The server's fault: what is behind it goes on, and it can be tried again.
  if (status >= 500) return { is: 'refused', because: 'The book failed at it. It stays on this phone.', type: 'fault' };
  return {
    is: 'refused',
    because: problem?.detail ?? 'The book did not take it.',
    ...(problem?.type && { type: problem.type }),
  };
}

/**
 * Sends something the book keeps once however often it comes. A server that died between keeping it and answering says
 * that it was done already: asked anew, it answers as it stands.
 */
async function sent<T extends { error?: unknown }>(send: () => PromiseLike<T>): Promise<T> {
  const answer = await send();
  return problemOf(answer.error)?.type === 'already' ? send() : answer;
}

const post: Post = {
  async entries(jobId, entries) {
    const answer = await sent(() =>
      store.dispatch(visitApi.endpoints.keepEntries.initiate({ id: jobId, entries }, { track: false })),
    );
    if (!answer.data) return notTaken(answer.error);
    const { kept, refused } = answer.data;
    // On this phone, too, before it leaves the outbox: signal may go before the card is read anew.
    await changeKept<Card>(`/api/jobs/${jobId}`, (card) => withTaken(card, kept)).catch(() => undefined);
    return { is: 'answered', kept, refused };
  },
  async finish(jobId, { at, body }) {
    const answer = await store.dispatch(
      jobsApi.endpoints.finishJob.initiate({ id: jobId, ...body, at }, { track: false }),
    );
    if (answer.data) return { is: 'answered', kept: [], refused: [] };
    const outcome = notTaken(answer.error);
    if (outcome.is !== 'refused') return outcome;
    // The answer to an earlier try may have been lost on the way: the book has it already.
    const card = await store.dispatch(
      jobsApi.endpoints.readJob.initiate(jobId, { forceRefetch: true, subscribe: false }),
    );
    return card.data?.status === 'done' ? { is: 'answered', kept: [], refused: [] } : outcome;
  },
  async picture({ id, size, type }, from, bytes) {
    const answer = await sent(() =>
      store.dispatch(visitApi.endpoints.sendPicture.initiate({ entry: id, from, size, type, bytes }, { track: false })),
    );
    return answer.data ? { is: 'answered', ...answer.data } : notTaken(answer.error);
  },
};

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
      const ok = await sendAll(personId, post, told, (id, jobId, picture) => {
        dispatch(pictured({ id, picture }));
        if (!picture) dispatch(api.util.invalidateTags([{ type: 'Card', id: jobId }]));
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
