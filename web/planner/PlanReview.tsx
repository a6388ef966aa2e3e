import type { BoardReply } from '@diurna/contract/planner';
import { Button } from '@mui/material';
import { useEffect } from 'react';
import { problemOf } from '../app/api.ts';
import { ChangeLines } from '../changes/index.ts';
import { plural } from '../ui/format.ts';
import { Asked } from '../ui/parts.tsx';
import { plannerApi } from './api.ts';
import { moreText, wholeMoney } from './figures.ts';

export type AcceptBody = Parameters<ReturnType<typeof plannerApi.useAcceptPlanMutation>[0]>[0];

/** What accepting would do, before it is done: each card that changes, who is told, and what it costs. */
export function PlanReview({
  board,
  body,
  stood,
  busy,
  onAccept,
  onStale,
  onClose,
}: {
  board: BoardReply;
  body: AcceptBody;
  /** What the cards cost as they stand, in the same units. */
  stood: number;
  busy: boolean;
  onAccept: () => void;
  /** Somebody else was faster: what is on the table is put together with that first. */
  onStale: () => void;
  onClose: () => void;
}) {
  const { currentData: data, error } = plannerApi.useLookAtPlanQuery(body, { refetchOnMountOrArgChange: true });
  const isStale = problemOf(error)?.type === 'stale';
  useEffect(() => {
    if (isStale) onStale();
  }, [isStale, onStale]);
  return (
    <section className="plan-review" aria-label="What accepting does">
      <h2>What accepting does</h2>
      <Asked data={data} error={error} />
      {data && (
        <>
          <p>
            {data.changes.length === 0
              ? `Nothing changes: ${plural(data.kept, 'card')} stay as they are.`
              : `${plural(data.changes.filter((c) => c.kind !== 'hour').length, 'card')} change, ${data.kept} stay with the same person on the same day. `}
            The plan costs{' '}
            <b className="figure">
              {wholeMoney(data.cost.total)} {board.currency}
            </b>
            , as the cards stand now <span className="figure">{wholeMoney(stood)}</span> (
            <span className="figure">{moreText(data.cost.total - stood)}</span>).
          </p>
        </>
      )}
      <p className="acts">
        <Button variant="contained" color="primary" disabled={!data || busy} onClick={onAccept}>
          Accept the plan
        </Button>
        <Button onClick={onClose}>Not yet</Button>
        <span className="faint">It can be taken back from Day for as long as nobody has worked on it.</span>
      </p>
      {data && (
        <>
          <ChangeLines changes={data.changes} />
          {data.told.length > 0 && (
            <details>
              <summary>
                {data.told.map((t) => t.name).join(', ')} {data.told.length === 1 ? 'is' : 'are'} told, once each
              </summary>
              <ul>
                {data.told.map((t) => (
                  <li key={t.personId}>
                    <b>{t.name}</b>: {t.text}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </section>
  );
}
