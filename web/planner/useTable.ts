import { mergePlans, plainVisit, type PlanConflict, type PlannedVisit } from '@diurna/core/planner';
import { sharedFirstNames, shortName } from '@diurna/core/people';
import { wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { addDays } from '@diurna/core/calendar';
import type { BoardReply } from '@diurna/contract/planner';
import { shortDay } from '../ui/format.ts';
import type { BoardApi } from './board.ts';
import { became, opened, pinKey, type PlanState, type Snapshot } from './plan-state.ts';

let known: Remote<BoardApi> | null = null;
/** One thread for the whole visit to the book, made when the room is first opened: it sleeps while nobody asks. */
const boardThread = (): Remote<BoardApi> =>
  (known ??= wrap<BoardApi>(new Worker(new URL('./board.worker.ts', import.meta.url), { type: 'module' })));

/** The thread that prices moves. */
export function useBoardThread(board: BoardReply | undefined): { thread: Remote<BoardApi>; ready: object | null } {
  const thread = boardThread();
  const [ready, setReady] = useState<object | null>(null);
  useEffect(() => {
    if (!board) return;
    const words = {
      people: Object.fromEntries(Object.keys(board.people).map((id) => [id, nameOn(board, id)])),
      parts: Object.fromEntries(Object.entries(board.parts).map(([id, p]) => [id, p.name])),
      days: Array.from({ length: board.days }, (_, d) => shortDay(addDays(board.firstDay, d))),
    };
    void thread.set(board.problem, words).then(() => {
      setReady(board);
    });
  }, [thread, board]);
  return { thread, ready };
}

/** What a person of the board is called. */
export function nameOn(board: BoardReply, id: string, otherwise = ''): string {
  const person = board.people[id];
  return person ? shortName(person.name, sharedFirstNames(Object.values(board.people).map((p) => p.name))) : otherwise;
}

const standingOf = (board: BoardReply): Snapshot => ({
  visits: board.standing.map(plainVisit),
  pins: board.standing.filter((v) => v.pinned || v.started).map(pinKey),
  act: 'open',
});

interface Kept {
  standing: PlannedVisit[];
  visits: PlannedVisit[];
  pins: string[];
}

/**
 * The plan on the table: opened with the cards that stand, kept on this device until it is accepted, and put
 * together with what others accepted meanwhile.
 */
export function useTable(board: BoardReply | undefined, thread: Remote<BoardApi> | null, ready: object | null) {
  const [state, setState] = useState<PlanState | null>(null);
  const [conflicts, setConflicts] = useState<PlanConflict[]>([]);
  const key = board
    ? `diurna.draft.plan.${board.firstDay}.${board.days}.${board.problem.bases.length}.${board.problem.boats.length}`
    : null;
  const seen = useRef<BoardReply | null>(null);
  const latest = useRef<PlanState | null>(null);
  useEffect(() => {
    latest.current = state;
  }, [state]);

  useEffect(() => {
    if (!board || !thread || ready !== board || seen.current === board) return;
    const before = seen.current;
    seen.current = board;
    const standing = standingOf(board);
    const kept: Kept | null =
      before && latest.current && latest.current.now !== latest.current.standing
        ? { standing: latest.current.standing.visits, visits: latest.current.now.visits, pins: latest.current.now.pins }
        : key
          ? readKept(key)
          : null;
    void (async () => {
      const open = await thread.stand(standing.visits);
      const base: Snapshot = { ...standing, visits: open.visits };
      if (!kept) {
        setState(opened(base));
        setConflicts([]);
        return;
      }
      const merged = mergePlans(kept.standing, kept.visits, standing.visits);
      const mine = await thread.stand(merged.visits);
      setState(became(opened(base), mine.visits, [...new Set([...kept.pins, ...standing.pins])], 'taken up again'));
      setConflicts(merged.conflicts);
    })();
  }, [board, thread, ready, key]);

  useEffect(() => {
    if (!key || !state) return;
    if (state.now === state.standing) localStorage.removeItem(key);
    else
      localStorage.setItem(
        key,
        JSON.stringify({
          standing: state.standing.visits,
          visits: state.now.visits,
          pins: state.now.pins,
        } satisfies Kept),
      );
  }, [key, state]);

  const change = useCallback((how: (old: PlanState) => PlanState) => {
    setState((old) => (old ? how(old) : old));
  }, []);
  const accepted = useCallback(() => {
    if (key) localStorage.removeItem(key);
    // What stands now is what was accepted: the next board opens clean.
    setState((old) => (old ? opened({ ...old.now, act: 'accepted' }) : old));
    setConflicts([]);
  }, [key]);
  const settleConflict = useCallback((boat: string) => {
    setConflicts((all) => all.filter((c) => c.boat !== boat));
  }, []);
  return useMemo(
    () => ({ state, change, conflicts, settleConflict, accepted }),
    [state, change, conflicts, settleConflict, accepted],
  );
}

function readKept(key: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as Kept | null;
  } catch {
    return null;
  }
}
