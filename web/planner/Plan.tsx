import type { BoardReply } from '@diurna/contract/planner';
import { visitsBack } from '@diurna/core/changes';
import type { Offer, PickedUp, PlanConflict, PlannedVisit } from '@diurna/core/planner';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useDay, useMay, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { longDay, plural } from '../ui/format.ts';
import { Choice, Empty, Entry, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { Segments } from '../ui/Segments.tsx';
import { useStored } from '../ui/useDraft.ts';
import { plannerApi } from './api.ts';
import { useBack } from '../changes/index.ts';
import { Compare } from './Compare.tsx';
import { costOf } from './figures.ts';
import { became, movedByHand, pinKey, pinned, redone, undone, type PlanState } from './plan-state.ts';
import { PlanActs } from './PlanActs.tsx';
import { PlanConflicts } from './PlanConflicts.tsx';
import { PlanGrid } from './PlanGrid.tsx';
import { PlanReview, type AcceptBody } from './PlanReview.tsx';
import { PlanSum } from './PlanSum.tsx';
import { usePlanRun } from './usePlanRun.ts';
import { useBoardThread, useTable } from './useTable.ts';
import './plan.css';
import { PlanAside } from './PlanAside.tsx';

const HORIZONS: [number, string][] = [
  [14, 'Two weeks'],
  [28, 'Four weeks'],
  [42, 'Six weeks'],
];

/** People by days: the plan computed, what any move would cost, why, and what is not placed. */
export function Plan() {
  const today = useToday();
  const day = useDay();
  const bases = useBases();
  const [days, setDays] = useStored('plan.days', 14);
  const [baseId, setBaseId] = useStored<number | ''>('plan.base', '');
  const [by, setBy] = useStored<'people' | 'boats'>('plan.by', 'people');
  const [find, setFind] = useState('');
  // A plan is made for what lies ahead.
  const from = day > today ? day : undefined;
  const {
    data: board,
    error,
    refetch,
  } = plannerApi.useReadBoardQuery(
    { days, ...(from !== undefined && { from }), ...(baseId !== '' && { baseId }) },
    { refetchOnMountOrArgChange: true },
  );
  const title = board ? `${HORIZONS.find(([n]) => n === days)?.[1] ?? 'Plan'} from ${longDay(board.firstDay)}` : 'Plan';
  return (
    <>
      {!board && <PageHead title={title} />}
      <Wrong error={error} />
      {!board && !error && <Waiting />}
      {board && (
        <Table
          key={`${board.firstDay} ${days} ${baseId}`}
          board={board}
          baseId={baseId === '' ? null : baseId}
          title={title}
          refetch={refetch}
          by={by}
          find={find}
          choices={
            <>
              <Choice
                label="How far ahead"
                hideLabel
                value={days}
                onChange={(d) => {
                  if (d !== '') setDays(d);
                }}
                options={HORIZONS}
              />
              {bases.length > 1 && <BaseChoice hideLabel value={baseId} onChange={setBaseId} none="All bases" />}
              <Entry
                hideLabel
                label="Boat or person"
                placeholder="Find a boat or person"
                value={find}
                maxLength={80}
                onType={setFind}
              />
              <Segments
                label="Lines"
                value={by}
                onChange={setBy}
                of={[
                  ['people', 'By people'],
                  ['boats', 'By boats'],
                ]}
              />
            </>
          }
        />
      )}
    </>
  );
}

function Table({
  board,
  baseId,
  title,
  refetch,
  by,
  find,
  choices,
}: {
  board: BoardReply;
  baseId: number | null;
  title: string;
  refetch: () => unknown;
  by: 'people' | 'boats';
  find: string;
  choices: React.ReactNode;
}) {
  const dispatch = useAppDispatch();
  const maySteer = useMay('administrator', 'coordinator');
  const { thread, ready } = useBoardThread(board);
  const { state, change, conflicts, settleConflict, accepted } = useTable(board, thread, ready);
  const run = usePlanRun({ board, baseId, state, change });
  const { running } = run;
  const [picked, setPicked] = useState<PickedUp | null>(null);
  const [priced, setPriced] = useState<{ picked: PickedUp; of: PlannedVisit[]; offers: Offer[] } | null>(null);
  const [comparing, setComparing] = useState(false);
  const [reviewing, setReviewing] = useState(false);
  const [accept, accepting] = plannerApi.useAcceptPlanMutation();
  const begun = useRef(false);

  const shown = useMemo(
    () => (running && running.visits.length > 0 ? running.visits : (state?.now.visits ?? [])),
    [running, state],
  );
  const offers = priced && priced.picked === picked && priced.of === state?.now.visits ? priced.offers : null;
  const pins = useMemo(() => new Set(state?.now.pins ?? []), [state]);
  const cost = useMemo(() => costOf(board.problem, shown), [board, shown]);

  // What cannot be taken back as it was is put back as far as it can, as a plan to be looked at.
  const { change: toBack, forget } = useBack();
  useEffect(() => {
    if (!toBack || !state || ready !== board) return;
    forget();
    void thread.stand(visitsBack(board.standing, toBack.cards, board)).then((next) => {
      change((old) => became(old, next.visits, old.now.pins, 'put back'));
    });
  }, [toBack, state, ready, board, thread, change, forget]);

  // With nothing handed out yet, the first plan comes by itself.
  useEffect(() => {
    if (begun.current || !state || !maySteer) return;
    begun.current = true;
    if (state.now.visits.length === 0 && board.problem.tasks.length > 0)
      void Promise.resolve().then(() => {
        run.plan(true);
      });
  });

  // What every place would cost for what is picked up.
  useEffect(() => {
    if (!picked || !state) return undefined;
    let current = true;
    const of = state.now.visits;
    void thread.offers(of, picked).then((offers) => {
      if (current) setPriced({ picked, of, offers });
    });
    return () => {
      current = false;
    };
  }, [picked, thread, state]);

  const drop = async (day: number, technician: string) => {
    if (!picked || !state) return;
    const from = picked.from
      ? state.now.visits.find((v) => v.boat === picked.boat && v.day === picked.from!.day)
      : undefined;
    if (from?.day === day && from.technician === technician) {
      setPicked(null);
      return;
    }
    const visits = await thread.move(state.now.visits, picked, day, technician);
    if (!visits) return;
    change((old) => movedByHand(old, visits, from ? pinKey(from) : null, `${day} ${picked.boat}`));
    setPicked(null);
  };
  const leaveOut = async () => {
    if (!picked || !state) return;
    const visits = await thread.leave(state.now.visits, picked);
    if (!visits) return;
    change((old) => became(old, visits, old.now.pins, 'leave out'));
    setPicked(null);
  };
  const pin = (v: { boat: string; day: number }) => {
    change((old) => pinned(old, pinKey(v)));
  };
  const turn = useCallback(
    (to: (old: PlanState) => PlanState) => {
      setPicked(null);
      change(to);
    },
    [change],
  );
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'z') return;
      if (e.target instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(e.target.tagName)) return;
      e.preventDefault();
      turn(e.shiftKey ? redone : undone);
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, [turn]);

  const takeMine = async ({ boat, mine }: PlanConflict) => {
    if (!state) return;
    const next = await thread.stand([...state.now.visits.filter((v) => v.boat !== boat), ...mine]);
    change((old) => became(old, next.visits, old.now.pins, 'take mine'));
    settleConflict(boat);
  };
  const acceptBody = useMemo((): AcceptBody | null => {
    if (!state) return null;
    return {
      firstDay: board.firstDay,
      days: board.days,
      baseId,
      basedOn: board.accepted?.id ?? null,
      jobs: board.standing.map((j) => ({ id: j.jobId, version: j.version })),
      visits: state.now.visits.map((v) => ({ ...v, pinned: pins.has(pinKey(v)) })),
    };
  }, [state, board, baseId, pins]);
  const startAgain = useCallback(() => {
    setReviewing(false);
    refetch();
  }, [refetch]);
  const takePlan = async () => {
    if (!acceptBody) return;
    const answer = await accept(acceptBody);
    setReviewing(false);
    if (answer.data) {
      const { added, moved, calledOff, changeId } = answer.data;
      accepted();
      dispatch(
        say({
          tone: 'done',
          text: `The plan holds: ${plural(added, 'new card')}, ${moved} moved, ${calledOff} called off. Everybody it touches is told.`,
          link: { to: '/day', word: 'See the day' },
          changeId,
        }),
      );
    } else if (problemOf(answer.error)?.type === 'stale') startAgain();
  };

  if (!state)
    return (
      <>
        <PageHead title={title} />
        <Waiting />
      </>
    );
  const edited = state.now !== state.standing;
  const placed = new Set(shown.flatMap((v) => v.tasks));
  const wanted = Object.entries(board.tasks).filter(([id, t]) => !placed.has(id) && isWanted(t, board));
  return (
    <>
      <PageHead
        title={title}
        acts={
          <PlanActs
            state={state}
            running={running !== null}
            blocked={accepting.isLoading || conflicts.length > 0}
            empty={shown.length === 0}
            comparing={comparing}
            onCompare={setComparing}
            onTurn={turn}
            onPlan={() => {
              setPicked(null);
              run.plan(false);
            }}
            onStop={run.stop}
            onAccept={() => {
              setReviewing(!reviewing);
            }}
            reviewing={reviewing}
          />
        }
      />
      <div className="with-side plan">
        <section>
          <div className="plan-choices">{choices}</div>
          {reviewing && acceptBody && edited && !running && (
            <PlanReview
              board={board}
              body={acceptBody}
              stood={costOf(board.problem, state.standing.visits).total}
              busy={accepting.isLoading}
              onAccept={() => void takePlan()}
              onStale={startAgain}
              onClose={() => {
                setReviewing(false);
              }}
            />
          )}
          <PlanSum
            board={board}
            visits={shown}
            cost={cost.total}
            running={running}
            known={run.known}
            wanted={wanted.length}
          />
          {running && <progress className="plan-progress" value={running.share} aria-label="Planning" />}
          <Wrong error={problemOf(accepting.error)?.type === 'stale' ? undefined : accepting.error} />
          <PlanConflicts
            board={board}
            conflicts={conflicts}
            settle={settleConflict}
            takeMine={(c) => void takeMine(c)}
          />
          {comparing && <Compare board={board} thread={thread} visits={state.now.visits} cost={cost} />}
          {board.problem.technicians.length === 0 ? (
            <Empty title="Nobody to plan for yet.">
              Add technicians under your name at the lower left, with what they can do and when they work.
            </Empty>
          ) : (
            <PlanGrid
              board={board}
              by={by}
              find={find}
              visits={shown}
              pins={pins}
              picked={picked}
              offers={offers}
              busy={running !== null}
              mayMove={maySteer}
              pick={setPicked}
              drop={(d, t) => void drop(d, t)}
              pin={pin}
              leaveOut={() => void leaveOut()}
            />
          )}
        </section>
        <PlanAside
          board={board}
          thread={thread}
          ready={ready}
          settled={running === null}
          visits={state.now.visits}
          shown={shown}
          wanted={wanted.map(([id]) => id)}
          picked={picked}
          pins={pins}
          mayMove={maySteer}
          setPicked={setPicked}
          pin={pin}
          leaveOut={() => void leaveOut()}
        />
      </div>
    </>
  );
}

/** Due within the plan's days, over or unknown: what is left of it is not just early. */
const isWanted = (t: BoardReply['tasks'][string], board: BoardReply) =>
  t.state === 'over' ||
  t.state === 'due' ||
  t.state === 'unknown' ||
  (t.likely !== null && t.likely < lastDayOf(board));
const lastDayOf = (board: BoardReply) =>
  new Date(Date.parse(`${board.firstDay}T00:00:00Z`) + board.days * 86_400_000).toISOString().slice(0, 10);
