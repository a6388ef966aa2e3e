import { minutesText } from '@diurna/core/visit';
import { Button } from '@mui/material';
import type { Snag } from '@diurna/contract/snags';
import { TASKS, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { findingsApi } from '../findings/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { Against, useAgainst } from '../jobs/index.ts';
import { peopleApi } from '../people/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useToday } from '../app/useBook.ts';
import { Asked, Choice, Wrong } from '../ui/parts.tsx';

/** Likely causes of a trouble, with what this engine's own record says, and the visit that would settle it. */
export function Causes({ snag }: { snag: Snag }) {
  const { data, error } = findingsApi.useSnagCausesQuery(snag.id);
  if (!data) return <Asked data={data} error={error} />;
  if (data.length === 0) return <p className="faint">No usual trouble was named: look, and say what it is.</p>;
  return (
    <div className="causes">
      {data.map((e) => (
        <section key={e.engineId} aria-label={`Likely causes, ${e.position}`}>
          {data.length > 1 && <h3>{e.position}</h3>}
          <ol className="cause-list">
            {e.causes.map((c) => (
              <li key={c.key}>
                <span className="cause-share figure">{Math.round(c.weight * 100)} %</span>
                <div>
                  <b>{c.text}</b>
                  {c.evidence.length > 0 && <span className="faint">: {c.evidence.join('; ')}</span>}
                </div>
              </li>
            ))}
          </ol>
          <Visit snag={snag} engineId={e.engineId} tasks={e.visit} />
        </section>
      ))}
      <p className="faint small">
        Shares of what it usually is, weighed by this engine’s record. A weak or missing stream, an alarm or a leak
        keeps the engine in. Follow the engine maker’s manual, your local codes and licensed practice.
      </p>
    </div>
  );
}

/** A card that would settle it, handed out from here. */
function Visit({ snag, engineId, tasks }: { snag: Snag; engineId: number; tasks: TaskKind[] }) {
  const maySteer = useMay('administrator', 'coordinator');
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const today = useToday();
  const [to, setTo] = useState<number | ''>('');
  const [add, { isLoading, error }] = jobsApi.useAddJobMutation();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const against = useAgainst(
    { boatId: snag.boatId, tasks: tasks.map((task) => ({ engineId, task })), technicianId: to, day: today },
    false,
    error,
  );
  const { preview } = against;
  if (tasks.length === 0) return null;
  const hands = people.filter((p) => p.active && p.role === 'technician');
  return (
    <div className="cause-visit">
      <p>
        A visit with <b>{tasks.map((t) => TASKS[t].word.toLowerCase()).join(', ')}</b> settles it three times in four
        {preview.data ? `, about ${minutesText(preview.data.minutes)}` : ''}
        {preview.data?.parts.some((p) => p.onHand < p.quantity) ? '; a part is missing on the shelf' : ''}.
      </p>
      {maySteer && (
        <div className="tools">
          <Choice
            label="Hand it to"
            hideLabel
            value={to}
            onChange={setTo}
            options={[['', 'hand it to'], ...hands.map((h): [number, string] => [h.id, h.name])]}
          />
          <Button
            disabled={to === '' || isLoading || !against.ready}
            onClick={() =>
              void add({
                boatId: snag.boatId,
                technicianId: to as number,
                day: today,
                tasks: tasks.map((task) => ({ engineId, task })),
                ...against.said,
              }).then((a) => {
                if (a.data) {
                  dispatch(
                    say({ tone: 'done', text: `${snag.boatName} is on a card for today.`, changeId: a.data.changeId }),
                  );
                  void navigate(`/jobs/${a.data.id}`);
                }
              })
            }>
            Make the card for today
          </Button>
        </div>
      )}
      <Against reasons={against.reasons} insist={against.insist} onInsist={against.setInsist} />
      <Wrong error={error} />
    </div>
  );
}
