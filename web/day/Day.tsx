import { Button } from '@mui/material';
import type { JobSummary } from '@diurna/contract/jobs';
import { minutesText } from '@diurna/core/visit';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useDay, useMay, useMe, useToday } from '../app/useBook.ts';
import { VisitPanel } from '../due/VisitPanel.tsx';
import { DueMark } from '../ui/DueMark.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { longDay, plural } from '../ui/format.ts';
import { Choice, Empty, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { TASKS } from '@diurna/core/service';
import { Snags } from '../snags/Snags.tsx';
import { HoursSheet } from './HoursSheet.tsx';
import { readingsOf, type Sheet } from './judge.ts';
import './day.css';

/** Who works on what today, what is over and not handed out, and the hours still wanted. */
export function Day() {
  const me = useMe();
  const day = useDay();
  const today = useToday();
  const bases = useBases();
  const [baseId, setBaseId] = useState<number | ''>('');
  const base = baseId === '' ? {} : { baseId };
  const jobs = api.useJobsQuery({ from: day, to: day, size: 200, ...base });
  const { data: people = [] } = api.usePeopleQuery();
  const ribbon = api.useRibbonQuery({ from: day, days: 1, ...base }).data?.[0];

  const here = people.filter((p) => p.active && p.role === 'technician' && (baseId === '' || p.baseId === baseId));
  const rows = jobs.data?.rows.filter((j) => j.status !== 'cancelled') ?? [];
  const hands = [...here.map((p) => ({ id: p.id, name: p.name, baseId: p.baseId })), ...rows.filter((j) => !here.some((p) => p.id === j.technicianId)).map((j) => ({ id: j.technicianId, name: j.technician, baseId: j.baseId }))]
    .filter((p, i, all) => all.findIndex((q) => q.id === p.id) === i);
  const rest = ribbon?.capacityMinutes === 0;

  return (
    <div className="with-side">
      <section>
        <PageHead title={longDay(day)} acts={bases.length > 1 && <Choice label="Base" hideLabel value={baseId} onChange={setBaseId} options={[['', 'All bases'], ...bases.map((b): [number, string] => [b.id, b.name])]} />}>
          {ribbon && `${plural(ribbon.jobs, 'job')}, ${minutesText(ribbon.loadMinutes)} of ${minutesText(ribbon.capacityMinutes)} planned${rest ? ', a day of rest' : ''}`}
        </PageHead>
        <Wrong error={jobs.error} />
        {!jobs.data && !jobs.error && <Waiting />}
        {jobs.data && hands.length === 0 && <Empty title="Nobody works here yet.">Add technicians under your name at the lower left, then hand out work from Due.</Empty>}
        {jobs.data && hands.length > 0 && (
          <div className="bench">
            {hands.map((p) => {
              const own = rows.filter((j) => j.technicianId === p.id);
              return (
                <div className="person" key={p.id}>
                  <div className="person-name"><b>{p.name.split(' ')[0]}</b><span>{bases.find((b) => b.id === p.baseId)?.name}</span></div>
                  <div className="slips">
                    {own.map((job) => <Slip key={job.id} job={job} />)}
                    {own.length === 0 && <span className="nothing">nothing handed out</span>}
                  </div>
                  <div className="figure sum">{own.length > 0 ? minutesText(own.reduce((sum, j) => sum + j.minutes, 0)) : ''}</div>
                </div>
              );
            })}
          </div>
        )}
        <p className="legend">
          {(Object.keys(TASKS) as (keyof typeof TASKS)[]).map((task) => <span className="task" key={task}><TaskGlyph task={task} silent size={19} /> {TASKS[task].word.toLowerCase()}</span>)}
        </p>
      </section>
      <aside className="side">
        <NotHandedOut baseId={baseId} />
        <Snags baseId={baseId} />
        {me.role !== 'stores' && <HoursWanted baseId={baseId === '' ? me.baseId ?? '' : baseId} today={today} />}
      </aside>
    </div>
  );
}

function Slip({ job }: { job: JobSummary }) {
  const positions = [...new Set(job.tasks.map((t) => t.position))].filter((p) => p !== 'single');
  const done = job.tasks.filter((t) => t.state === 'done').length;
  return (
    <Link to={`/jobs/${job.id}`} className={`slip ${job.status}`}>
      <b>{job.boatName}</b>
      {positions.length > 0 && <span className="slip-engines">{positions.join(' + ')}</span>}
      <span className="glyphs">{[...new Set(job.tasks.map((t) => t.task))].map((task) => <TaskGlyph key={task} task={task} size={19} />)}</span>
      <span className="slip-state">{job.status === 'done' ? '✓ done' : done > 0 ? `${done} of ${job.tasks.length} ticked` : minutesText(job.minutes)}</span>
    </Link>
  );
}

/** The worst work nobody has yet. */
function NotHandedOut({ baseId }: { baseId: number | '' }) {
  const { data } = api.useDueQuery({ size: 60, ...(baseId !== '' && { baseId }) });
  const maySteer = useMay('administrator', 'coordinator');
  const [boatId, setBoatId] = useState<number | null>(null);
  const open = data?.rows.filter((r) => r.job === null && (r.due.state === 'over' || r.due.state === 'due')) ?? [];
  // The list is worst first: the first of a boat is its worst.
  const boats = open.filter((r, i) => open.findIndex((o) => o.boatId === r.boatId) === i).slice(0, 5);
  if (!data) return null;
  return (
    <section className="block">
      <h2>Due and not handed out</h2>
      {boats.length === 0 && <p className="faint">Everything that is over or due is on somebody’s card.</p>}
      {boats.map((r) => (
        <div key={r.boatId} className="open-work">
          <div>
            <Link to={`/fleet/boats/${r.boatId}`}><b>{r.boatName}</b></Link>{' '}
            <span className="faint">{open.filter((o) => o.boatId === r.boatId).map((o) => TASKS[o.due.task].word.toLowerCase()).filter((w, i, all) => all.indexOf(w) === i).join(', ')}</span>
            <div><DueMark due={r.due} /></div>
          </div>
          {maySteer && <Button size="small" onClick={() => { setBoatId(boatId === r.boatId ? null : r.boatId); }} aria-expanded={boatId === r.boatId}>Hand out</Button>}
          {boatId === r.boatId && <VisitPanel boatId={r.boatId} onDone={() => { setBoatId(null); }} />}
        </div>
      ))}
      <Link to="/due">All that is due</Link>
    </section>
  );
}

/** Hours typed in place for the engines whose meters were not read for a week. */
function HoursWanted({ baseId, today }: { baseId: number | ''; today: string }) {
  const { data } = api.useHoursSheetQuery({ wanted: 'yes', size: 6, ...(baseId !== '' && { baseId }) });
  const [sheet, setSheet, clear] = useDraft<Sheet>('hours-day', {});
  const [typeHours, { isLoading, error }] = api.useTypeHoursMutation();
  const dispatch = useAppDispatch();
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  if (!data || !mayType) return null;
  const { readings, open } = readingsOf(data.rows, sheet, today);
  const save = async () => {
    const answer = await typeHours({ readings });
    if (!answer.data) return;
    clear();
    dispatch(say({ tone: 'done', text: `${plural(answer.data.saved, 'figure')} in the book.` }));
  };
  return (
    <section className="block">
      <h2>Hours wanted {data.total > data.rows.length && <span className="faint">{data.total} engines</span>}</h2>
      {data.rows.length === 0 ? <p className="faint">Every meter was read within the week.</p> : (
        <>
          <HoursSheet narrow rows={data.rows} sheet={sheet} day={today} onType={(id, typed) => { setSheet((old) => ({ ...old, [id]: typed })); }} />
          <Wrong error={error} />
          {(readings.length > 0 || open > 0) && (
            <p style={{ marginTop: 10 }}><Button variant="contained" color="primary" disabled={open > 0 || readings.length === 0 || isLoading} onClick={() => void save()}>Write {plural(readings.length, 'figure')} in</Button></p>
          )}
        </>
      )}
      <p style={{ marginTop: 8 }}><Link to="/day/hours">The whole hours sheet</Link>, or <Link to="/day/back">boats back today</Link></p>
    </section>
  );
}
