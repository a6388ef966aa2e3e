import type { JobRow } from '@diurna/contract/jobs';
import { worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { useState } from 'react';
import { Link } from 'react-router';
import { AllTheSame } from './Against.tsx';
import { peopleApi } from '../people/api.ts';
import { visitApi } from '../visit/api.ts';
import { say, useAppDispatch, useAppSelector } from '../app/store.ts';
import { useShort } from '../app/useBook.ts';
import { plural, shortDay, timeText, hourText } from '../ui/format.ts';
import { Choice, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { countdown } from './live-card.ts';

/** A line says more in words than in a row of pictures. */
const MOST_GLYPHS = 5;

/** A card in a list: the boat, when and what, how far it is. */
export function JobRowLine({
  job,
  withDay,
  withWho,
  maySteer,
  now,
  time,
  out,
}: {
  job: JobRow;
  withDay: boolean;
  withWho: boolean;
  maySteer: boolean;
  now: number;
  /** When it is worked that day, in minutes after midnight; null = nobody said. */
  time: { from: number; to: number } | null;
  /** When the boat goes out after it. */
  out: number | null;
}) {
  const short = useShort();
  const done = job.tasks.filter((t) => t.state === 'done').length;
  const positions = [...new Set(job.tasks.map((t) => t.position))].filter((p) => p !== 'single');
  const p = job.progress;
  const here = useAppSelector((s) => s.outbox.waiting.some((w) => w.jobId === job.id && w.finish));
  const begun = p !== null && p.done > 0;
  const kinds = [...new Set(job.tasks.map((t) => t.task))];
  const shown = kinds.length > MOST_GLYPHS ? MOST_GLYPHS - 1 : kinds.length;
  return (
    <li className={`card-line ${job.status}`}>
      <Link to={`/jobs/${job.id}`} className={`card-row ${job.status}`}>
        <span className="card-boat">
          <b>{job.boatName}</b> {positions.join(' + ')}
        </span>
        <span className="card-place">
          {time && (
            <b className="figure">
              {timeText(time.from)} to {timeText(time.to)}
              {', '}
            </b>
          )}
          {job.baseName}
          {job.berth ? `, berth ${job.berth}` : ''}
          {out !== null && job.status === 'open' && <b className="card-out"> goes out {timeText(out)}</b>}
        </span>
        <span className="glyphs">
          {kinds.slice(0, shown).map((task) => (
            <TaskGlyph key={task} task={task} />
          ))}
          {kinds.length > shown && <span className="faint figure">+{kinds.length - shown}</span>}
        </span>
        <span className="card-words">{begun && p.now ? p.now : worksText(job.works)}</span>
        <span className="card-state figure">
          {job.status === 'done'
            ? '✓ done'
            : begun
              ? `${p.done} of ${p.total}`
              : done > 0
                ? `${done} of ${job.tasks.length}`
                : minutesText(job.minutes)}
        </span>
        <span className="card-who">
          {[withDay && shortDay(job.day), withWho && !maySteer && short(job.technician)].filter(Boolean).join(', ')}
        </span>
        {begun && (
          <span className="card-bar" role="img" aria-label={`${p.done} of ${plural(p.total, 'step')}`}>
            <span style={{ width: `${(100 * p.done) / Math.max(1, p.total)}%` }} />
          </span>
        )}
        <span className="card-marks">
          {here && <span className="fine">✓ finished on this phone, not yet in the book</span>}
          {p?.paused && <span className="soon">paused{p.paused.why ? `: ${p.paused.why}` : ''}</span>}
          {p?.waits
            .filter((w) => w.until > now)
            .map((w) => (
              <span key={w.step} className="card-drain">
                <b className="figure">{countdown(w.until - now)}</b> {w.text}
              </span>
            ))}
          {job.short && <span className="minus">a part is missing</span>}
          {(p?.unsettled ?? 0) > 0 && <span className="minus">two entries contradict each other</span>}
          {begun && p.lastAt && <span className="faint">last {hourText(p.lastAt)}</span>}
        </span>
      </Link>
      {withWho && maySteer && <Reassign job={job} />}
    </li>
  );
}

/** The coordinator gives an open card to somebody else without opening it. */
function Reassign({ job }: { job: JobRow }) {
  const short = useShort();
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [handOver, { isLoading, error }] = visitApi.useHandOverMutation();
  const [asked, setAsked] = useState<number | null>(null);
  const dispatch = useAppDispatch();
  if (job.status !== 'open') return <span className="card-hand faint">{short(job.technician)}</span>;
  const hands = people.filter((p) => p.active && (p.role === 'technician' || p.id === job.technicianId));
  const give = (to: number, insist?: string) => {
    setAsked(to);
    void handOver({
      id: job.id,
      version: job.version,
      technicianId: to,
      note: null,
      ...(insist !== undefined && { insist }),
    }).then((a) => {
      if (a.data)
        dispatch(
          say({
            tone: 'done',
            text: `${job.boatName} is now with ${short(hands.find((h) => h.id === to)?.name ?? 'them')}.`,
            changeId: a.data.changeId,
          }),
        );
    });
  };
  return (
    <span className="card-hand">
      <Choice
        label={`Who works on ${job.boatName}`}
        hideLabel
        disabled={isLoading}
        value={job.technicianId}
        options={hands.map((h): [number, string] => [h.id, short(h.name)])}
        onChange={(to) => {
          if (to !== '' && to !== job.technicianId) give(to);
        }}
      />
      <Wrong error={error} />
      <AllTheSame
        error={error}
        onGive={(reason) => {
          if (asked !== null) give(asked, reason);
        }}
      />
    </span>
  );
}
