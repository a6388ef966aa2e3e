import type { JobRow } from '@diurna/contract/jobs';
import { worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { Link, useSearchParams } from 'react-router';
import { jobsApi } from './api.ts';
import { peopleApi } from '../people/api.ts';
import { visitApi } from '../visit/api.ts';
import { say, useAppDispatch, useAppSelector } from '../app/store.ts';
import { useBases, useDay, useMay, useMe, useToday } from '../app/useBook.ts';
import { longDay, plural, shortDay } from '../ui/format.ts';
import { Asked, Choice, Empty, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { clockOfMs, countdown } from './live-card.ts';
import { useClock } from './useCard.ts';
import { ownDay, PAGE_SIZE, useKeptCards } from './useKept.ts';
import './jobs.css';

const SHOWS = ['day', 'open', 'waiting', 'history'] as const;
type Show = (typeof SHOWS)[number];
const NONE: Record<Show, string> = {
  day: 'Choose another day on the ribbon, or look at all open jobs. Work is handed out from Due and Plan.',
  open: 'Work is handed out from Due and Plan.',
  waiting: 'Nothing drains, is paused, lacks a part or is held.',
  history: 'Finished cards come here.',
};

/**
 * Job cards: of the day, all open ones, those that wait for something, and those of the past; how far each is, live.
 */
export function Jobs() {
  const me = useMe();
  const day = useDay();
  const today = useToday();
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  const [params, setParams] = useSearchParams();
  const show = SHOWS.find((s) => s === params.get('show')) ?? 'day';
  const mine = params.get('whose') === null ? me.role === 'technician' : params.get('whose') === 'mine';
  const page = Number(params.get('page') ?? 1);
  const base = params.get('base') ?? '';
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(name, value);
    if (name !== 'page') next.delete('page');
    setParams(next, { replace: true });
  };
  const { data, error } = jobsApi.useListJobsQuery(
    show === 'day' && mine && page === 1 && base === ''
      ? ownDay(me.id, day)
      : {
          page,
          size: PAGE_SIZE,
          ...(show === 'day'
            ? { from: day, to: day }
            : show === 'open'
              ? { status: 'open' }
              : show === 'waiting'
                ? { view: 'waiting' }
                : { status: 'done', order: 'newest' }),
          ...(mine && { technicianId: me.id }),
          ...(base !== '' && { baseId: Number(base) }),
        },
  );
  const rows = data?.rows.filter((j) => show !== 'day' || j.status !== 'cancelled') ?? [];
  const title =
    show === 'day'
      ? day === today
        ? 'Jobs today'
        : `Jobs, ${longDay(day)}`
      : show === 'open'
        ? 'Open jobs'
        : show === 'waiting'
          ? 'Waiting for something'
          : 'Finished jobs';
  const now = useClock(rows.some((r) => (r.progress?.waits.length ?? 0) > 0));
  useKeptCards(
    me.role === 'technician'
      ? rows.filter((r) => r.status === 'open' && r.technicianId === me.id).map((r) => r.id)
      : [],
  );
  return (
    <>
      <PageHead title={title}>
        {data &&
          `${plural(data.total, 'card')}${mine ? ' of yours' : ''}${rows.length > 0 && show === 'day' ? `, ${minutesText(rows.reduce((sum, j) => sum + j.minutes, 0))} in all` : ''}`}
      </PageHead>
      <div className="tools">
        <Choice
          label="Show"
          hideLabel
          value={show}
          onChange={(v) => {
            set('show', v || 'day');
          }}
          options={[
            ['day', day === today ? 'Today' : shortDay(day)],
            ['open', 'All open'],
            ['waiting', 'Waiting'],
            ['history', 'Finished'],
          ]}
        />
        <Choice
          label="Whose"
          hideLabel
          value={mine ? 'mine' : 'all'}
          onChange={(v) => {
            set('whose', v || 'all');
          }}
          options={[
            ['mine', 'Mine'],
            ['all', 'Everybody’s'],
          ]}
        />
        {bases.length > 1 && !mine && (
          <Choice
            label="Base"
            hideLabel
            value={base}
            onChange={(v) => {
              set('base', v);
            }}
            options={[['', 'All bases'], ...bases.map((b): [string, string] => [String(b.id), b.name])]}
          />
        )}
      </div>
      <Asked data={data} error={error} />
      {data && rows.length === 0 && <Empty title={mine ? 'Nothing for you here.' : 'No job here.'}>{NONE[show]}</Empty>}
      <ul className="cards" aria-label="Job cards">
        {rows.map((job) => (
          <Row key={job.id} job={job} withDay={show !== 'day'} withWho={!mine} maySteer={maySteer} now={now} />
        ))}
      </ul>
      {data && (
        <Pager
          page={page}
          size={PAGE_SIZE}
          total={data.total}
          turn={(p) => {
            set('page', String(p));
          }}
        />
      )}
    </>
  );
}

/** A line says more in words than in a row of pictures. */
const MOST_GLYPHS = 5;

function Row({
  job,
  withDay,
  withWho,
  maySteer,
  now,
}: {
  job: JobRow;
  withDay: boolean;
  withWho: boolean;
  maySteer: boolean;
  now: number;
}) {
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
          {job.baseName}
          {job.berth ? `, berth ${job.berth}` : ''}
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
          {[withDay && shortDay(job.day), withWho && !maySteer && job.technician.split(' ')[0]]
            .filter(Boolean)
            .join(', ')}
        </span>
        {begun && (
          <span className="card-bar" role="img" aria-label={`${p.done} of ${p.total} steps`}>
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
          {begun && p.lastAt && <span className="faint">last {clockOfMs(p.lastAt)}</span>}
        </span>
      </Link>
      {withWho && maySteer && <Reassign job={job} />}
    </li>
  );
}

/** The coordinator gives an open card to somebody else without opening it. */
function Reassign({ job }: { job: JobRow }) {
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [handOver, { isLoading, error }] = visitApi.useHandOverMutation();
  const dispatch = useAppDispatch();
  if (job.status !== 'open') return <span className="card-hand faint">{job.technician.split(' ')[0]}</span>;
  const hands = people.filter((p) => p.active && (p.role === 'technician' || p.id === job.technicianId));
  return (
    <span className="card-hand">
      <Choice
        label={`Who works on ${job.boatName}`}
        hideLabel
        disabled={isLoading}
        value={job.technicianId}
        options={hands.map((h): [number, string] => [h.id, h.name.split(' ')[0]!])}
        onChange={(to) => {
          if (to !== '' && to !== job.technicianId)
            void handOver({ id: job.id, version: job.version, technicianId: to, note: null }).then((a) => {
              if (a.data)
                dispatch(
                  say({
                    tone: 'done',
                    text: `${job.boatName} is now with ${hands.find((h) => h.id === to)?.name.split(' ')[0] ?? 'them'}.`,
                  }),
                );
            });
        }}
      />
      <Wrong error={error} />
    </span>
  );
}
