import type { JobSummary } from '@diurna/contract/jobs';
import { TASKS } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { Link, useSearchParams } from 'react-router';
import { api } from '../app/api.ts';
import { useDay, useMe, useToday } from '../app/useBook.ts';
import { longDay, plural, shortDay } from '../ui/format.ts';
import { Choice, Empty, PageHead, Pager, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import './jobs.css';

type Show = 'day' | 'open' | 'history';
const SIZE = 50;

/** Job cards: of the day, all open ones, or those of the past. */
export function Jobs() {
  const me = useMe();
  const day = useDay();
  const today = useToday();
  const [params, setParams] = useSearchParams();
  const show = (params.get('show') ?? 'day') as Show;
  const mine = params.get('whose') === null ? me.role === 'technician' : params.get('whose') === 'mine';
  const page = Number(params.get('page') ?? 1);
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(name, value);
    if (name !== 'page') next.delete('page');
    setParams(next, { replace: true });
  };
  const { data, error } = api.useJobsQuery({
    page, size: SIZE,
    ...(show === 'day' ? { from: day, to: day } : show === 'open' ? { status: 'open' } : { status: 'done' }),
    ...(mine && { technicianId: me.id }),
  });
  const rows = data?.rows.filter((j) => show !== 'day' || j.status !== 'cancelled') ?? [];
  const title = show === 'day' ? (day === today ? 'Jobs today' : `Jobs, ${longDay(day)}`) : show === 'open' ? 'Open jobs' : 'Finished jobs';

  return (
    <>
      <PageHead title={title}>{data && `${plural(rows.length, 'card')}${mine ? ' of yours' : ''}${rows.length > 0 && show === 'day' ? `, ${minutesText(rows.reduce((sum, j) => sum + j.minutes, 0))} in all` : ''}`}</PageHead>
      <div className="tools">
        <Choice label="Show" hideLabel value={show} onChange={(v) => { set('show', v || 'day'); }} options={[['day', day === today ? 'Today' : shortDay(day)], ['open', 'All open'], ['history', 'Finished']]} />
        <Choice label="Whose" hideLabel value={mine ? 'mine' : 'all'} onChange={(v) => { set('whose', v || 'all'); }} options={[['mine', 'Mine'], ['all', 'Everybody’s']]} />
      </div>
      <Wrong error={error} />
      {!data && !error && <Waiting />}
      {data && rows.length === 0 && (
        <Empty title={mine ? 'Nothing for you here.' : 'No job here.'}>
          {show === 'day' ? 'Choose another day on the ribbon, or look at all open jobs. Work is handed out from Due.' : 'Finished cards come here.'}
        </Empty>
      )}
      <ul className="cards">
        {rows.map((job) => <Row key={job.id} job={job} withDay={show !== 'day'} withWho={!mine} />)}
      </ul>
      {data && <Pager page={page} size={SIZE} total={data.total} turn={(p) => { set('page', String(p)); }} />}
    </>
  );
}

function Row({ job, withDay, withWho }: { job: JobSummary; withDay: boolean; withWho: boolean }) {
  const done = job.tasks.filter((t) => t.state === 'done').length;
  const positions = [...new Set(job.tasks.map((t) => t.position))].filter((p) => p !== 'single');
  return (
    <li>
      <Link to={`/jobs/${job.id}`} className={`card-row ${job.status}`}>
        <span className="card-boat"><b>{job.boatName}</b> {positions.join(' + ')}</span>
        <span className="card-place">{job.baseName}{job.berth ? `, berth ${job.berth}` : ''}</span>
        <span className="glyphs">{[...new Set(job.tasks.map((t) => t.task))].map((task) => <TaskGlyph key={task} task={task} />)}</span>
        <span className="card-words">{[...new Set(job.tasks.map((t) => TASKS[t.task].word.toLowerCase()))].join(', ')}</span>
        <span className="card-state figure">{job.status === 'done' ? '✓ done' : done > 0 ? `${done} of ${job.tasks.length}` : minutesText(job.minutes)}</span>
        {(withDay || withWho) && <span className="card-who">{[withDay && shortDay(job.day), withWho && job.technician.split(' ')[0]].filter(Boolean).join(', ')}</span>}
      </Link>
    </li>
  );
}
