import type { JobCard as Card } from '@diurna/contract/jobs';
import { api, problemOf, type Query } from '../app/api.ts';
import { changeKept, withTaken } from '../app/offline.ts';
import { store } from '../app/store.ts';
import { hiresApi } from '../hires/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { seasonApi } from '../season/api.ts';
import { snagsApi } from '../snags/api.ts';
import { usageApi } from '../usage/api.ts';
import { visitApi } from '../visit/api.ts';
import type { DockAct } from './outbox.ts';
import type { Outcome, Post } from './send.ts';

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

/** How things get from this device to the book. */
export const post: Post = {
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
  async dock(act) {
    const answer = await dockSent(act);
    if (answer.data) {
      showDone(act);
      return { is: 'answered', kept: [], refused: [], clash: answer.data.clash };
    }
    // Kept before the server that was to answer died.
    return problemOf(answer.error)?.type === 'already'
      ? { is: 'answered', kept: [], refused: [] }
      : notTaken(answer.error);
  },
};

/**
 * Each act goes by the route a page with signal would take, under its own key: however often it is sent, it is done
 * once.
 */
async function dockSent(act: DockAct): Promise<{ data?: { clash: string | null } | undefined; error?: unknown }> {
  const { dispatch } = store;
  const track = { track: false } as const;
  const [key, at] = [act.id, new Date(act.at).toISOString()];
  switch (act.kind) {
    case 'out':
      return dispatch(
        hiresApi.endpoints.letGo.initiate({ id: act.hireId, boatId: act.boatId, out: act.out, at, key }, track),
      );
    case 'back':
      return dispatch(
        hiresApi.endpoints.comeBack.initiate({ id: act.hireId, boatId: act.boatId, back: act.back, at, key }, track),
      );
    case 'hours': {
      const answer = await dispatch(
        usageApi.endpoints.typeHours.initiate({ day: act.day, readings: act.readings, key }, track),
      );
      return answer.data ? { data: { clash: null } } : { error: answer.error };
    }
    case 'battery': {
      const look = { id: act.boatId, ...act.look, at, key };
      const answer = await dispatch(seasonApi.endpoints.addBatteryLook.initiate(look, track));
      return answer.data ? { data: { clash: null } } : { error: answer.error };
    }
    case 'snag': {
      const answer = await dispatch(snagsApi.endpoints.addSnag.initiate({ ...act.snag, at, key }, track));
      return answer.data ? { data: { clash: null } } : { error: answer.error };
    }
  }
}

/** On the lists at once: asked anew they answer a moment later, and a boat would seem to be here again. */
function showDone(act: DockAct): void {
  const { dispatch } = store;
  const seen = { at: new Date(act.at).toISOString(), by: null };
  const shown = api.util.selectInvalidatedBy(store.getState(), ['Hires', 'Hours']);
  for (const { endpointName, originalArgs } of shown) {
    if (endpointName === 'listHires' && (act.kind === 'out' || act.kind === 'back'))
      dispatch(
        hiresApi.util.updateQueryData('listHires', originalArgs as Query<'listHires'>, ({ rows }) => {
          const hire = rows.find((h) => h.id === act.hireId);
          if (hire && act.kind === 'out') hire.letGo = act.out ? seen : null;
          if (hire && act.kind === 'back') hire.cameBack = act.back ? seen : null;
        }),
      );
    if (endpointName === 'hoursSheet' && act.kind === 'hours')
      dispatch(
        usageApi.util.updateQueryData('hoursSheet', originalArgs as Query<'hoursSheet'>, ({ rows }) => {
          for (const { engineId, count } of act.readings) {
            const row = rows.find((r) => r.engineId === engineId);
            if (row && (row.lastDay === null || row.lastDay <= act.day))
              Object.assign(row, { lastCount: count, lastDay: act.day, daysSince: 0 });
          }
        }),
      );
  }
}
