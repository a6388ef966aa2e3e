import { Link } from 'react-router';
import { plannerApi } from '../planner/api.ts';
import './told.css';

const SHOWN = 4;

/** What the person was told and has not put away: cards handed out, moved, called off. */
export function Told() {
  const { data } = plannerApi.useListNoticesQuery(undefined, { pollingInterval: 60_000 });
  const [read] = plannerApi.useReadNoticesMutation();
  if (!data || data.length === 0) return null;
  return (
    <section className="told no-print" aria-label="Told to you">
      <ul>
        {data.slice(0, SHOWN).map((n) => (
          <li key={n.id}>{n.jobId ? <Link to={`/jobs/${n.jobId}`}>{n.text}</Link> : n.text}</li>
        ))}
      </ul>
      {data.length > SHOWN && <p>and {data.length - SHOWN} more</p>}
      <button type="button" onClick={() => void read({ upTo: data.at(-1)!.id })}>
        Seen
      </button>
    </section>
  );
}
