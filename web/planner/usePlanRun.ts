import { pinsOf, type PlannedVisit } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { useEffect, useRef, useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { useSession } from '../app/useBook.ts';
import { became, pinKey, type PlanState } from './plan-state.ts';
import { ON_SERVER, PlanRun, secondsFor, ServerRun, SILENCE, type RunNews } from './run.ts';

interface Wish {
  board: BoardReply;
  baseId: number | null;
  state: PlanState | null;
  change: (how: (old: PlanState) => PlanState) => void;
}

/** Planning: in threads of this device, or on the server where the fleet is large; the plan comes onto the table. */
export function usePlanRun({ board, baseId, state, change }: Wish) {
  const dispatch = useAppDispatch();
  const csrfToken = useSession()?.csrfToken ?? '';
  const [running, setRunning] = useState<RunNews | null>(null);
  const [bound, setBound] = useState<{ of: PlannedVisit[]; bound: number } | null>(null);
  const run = useRef<PlanRun | ServerRun | null>(null);
  useEffect(() => () => run.current?.end(), []);

  const over = (news: RunNews, kept: string[]) => {
    run.current = null;
    if (news.faults) {
      const text = `Something that is pinned cannot stay: ${news.faults[0]}. Unpin it, or free what it needs.`;
      dispatch(say({ tone: 'wrong', text }));
      return;
    }
    if (news.broken) dispatch(say({ tone: 'wrong', text: news.broken }));
    // Stopped before there was a plan: what lies on the table stays.
    if (news.cost === Infinity) return;
    change((old) => became(old, news.visits, kept, 'plan'));
    if (news.bound !== null) setBound({ of: news.visits, bound: news.bound });
  };
  /** @param fresh moves cost nothing: the first plan of all */
  const plan = (fresh: boolean) => {
    if (!state) return;
    run.current?.end();
    // From the click on, not from the first word of the thread: nothing is accepted meanwhile.
    setRunning(SILENCE);
    const { visits, pins: kept } = state.now;
    const pins = pinsOf(visits.filter((v) => kept.includes(pinKey(v))));
    const seconds = secondsFor(board.problem.tasks.length);
    const hear = (news: RunNews) => {
      setRunning(news.over ? null : news);
      if (news.over) over(news, kept);
    };
    run.current =
      board.problem.tasks.length > ON_SERVER
        ? new ServerRun(
            { firstDay: board.firstDay, days: board.days, baseId, fresh, standing: visits, pins },
            csrfToken,
            seconds,
            hear,
          )
        : new PlanRun(
            {
              problem: board.problem,
              standing: visits,
              pins,
              moveCost: fresh ? 0 : board.moveCost,
              seconds,
              seed: state.past.length + 1,
            },
            hear,
          );
  };
  const stop = () => {
    run.current?.stop();
  };
  const known = running?.bound ?? (bound && bound.of === state?.now.visits ? bound.bound : null);
  return { running, known, plan, stop };
}
