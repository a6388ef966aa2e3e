import { Button } from '@mui/material';
import type { DueRow } from '@diurna/contract/service';
import { DUE_STATES, TASKS, TASK_KINDS, whyDue, type DueState, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api } from '../app/api.ts';
import { useBases, useMay } from '../app/useBook.ts';
import { DueMark, StateShape, STATE_WORD } from '../ui/DueMark.tsx';
import { fullDay, hoursText, plural, shortDay } from '../ui/format.ts';
import { Choice, Empty, PageHead, Pager, Waiting, WIDE, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { VisitPanel } from './VisitPanel.tsx';

const SIZE = 50;
type Sort = 'worst' | 'boat' | 'model';

/** What falls due, worst first, with its reasons. */
export function Due() {
  const bases = useBases();
  const { data: models = [] } = api.useModelsQuery();
  const [params, setParams] = useSearchParams();
  const set = (name: string, value: string | number | null) => {
    const next = new URLSearchParams(params);
    if (value === null || value === '') next.delete(name);
    else next.set(name, String(value));
    if (name !== 'page') next.delete('page');
    setParams(next, { replace: true });
  };
  const number = (name: string) => (params.has(name) ? Number(params.get(name)) : '');
  const baseId = number('base');
  const modelId = number('model');
  const task = (params.get('task') ?? '') as TaskKind | '';
  const state = (params.get('state') ?? '') as DueState | '';
  const sort = (params.get('sort') ?? 'worst') as Sort;
  const page = Number(params.get('page') ?? 1);
  const { data, error } = api.useDueQuery({
    page, size: SIZE, sort,
    ...(baseId !== '' && { baseId }), ...(modelId !== '' && { modelId }), ...(task && { task }), ...(state && { state }), ...(params.get('q') && { q: params.get('q')! }),
  });
  const [open, setOpen] = useState<{ row: DueRow; visit: boolean } | null>(null);
  const maySteer = useMay('administrator', 'coordinator');
  const counts = data?.counts;

  return (
    <div className={open ? 'with-side' : ''}>
      <section>
        <PageHead title="What falls due">{data && `${plural(data.engines, 'engine')}, ${data.counts.over} over, ${data.counts.due} due, ${data.counts.soon} soon`}</PageHead>
        <div className="tools">
          <div className="chips" role="group" aria-label="State">
            {DUE_STATES.map((s) => (
              <button type="button" key={s} className="chip" aria-pressed={state === s} onClick={() => { set('state', state === s ? null : s); }}>
                <StateShape state={s} /> {STATE_WORD[s]} <span className="figure">{counts?.[s] ?? ''}</span>
              </button>
            ))}
          </div>
        </div>
        <div className="tools">
          <Choice label="Base" value={baseId} onChange={(v) => { set('base', v); }} options={[['', 'All bases'], ...bases.map((b): [number, string] => [b.id, b.name])]} />
          <Choice label="Task" value={task} onChange={(v) => { set('task', v); }} options={[['', 'All tasks'], ...TASK_KINDS.map((t): [TaskKind, string] => [t, TASKS[t].word])]} />
          <Choice label="Model" value={modelId} onChange={(v) => { set('model', v); }} options={[['', 'All models'], ...models.map((m): [number, string] => [m.id, `${m.maker} ${m.name}`])]} />
          <Choice label="Order" value={sort} onChange={(v) => { set('sort', v); }} options={[['worst', 'Worst first'], ['boat', 'By boat'], ['model', 'By model']]} />
        </div>
        <Wrong error={error} />
        {!data && !error && <Waiting />}
        {data?.rows.length === 0 && (
          data.engines === 0 && !state ? <Empty title="No engines yet.">Read a fleet file in under Fleet, Files, or add the first boat and engine there.</Empty>
            : <Empty title="Nothing stands like this.">Take a filter away to see more.</Empty>
        )}
        {data && data.rows.length > 0 && (
          <div {...WIDE}>
            <table className="lines due-list">
              <caption className="visually-hidden">Tasks by urgency</caption>
              <thead><tr>
                <th scope="col">Boat, engine</th><th scope="col">Task</th><th scope="col">Nearest limit</th>
                <th scope="col" className="num">Hours</th><th scope="col" className="num">h/week</th><th scope="col">Last done</th><th scope="col">With</th><th scope="col"><span className="visually-hidden">Act</span></th>
              </tr></thead>
              <tbody>
                {data.rows.map((r) => {
                  const picked = open?.row.engineId === r.engineId && open.row.due.task === r.due.task;
                  return (
                    <tr key={`${r.engineId} ${r.due.task}`} className={picked ? 'pick picked' : 'pick'} onClick={() => { setOpen(picked && !open.visit ? null : { row: r, visit: false }); }}>
                      <td><Link to={`/fleet/engines/${r.engineId}`} onClick={(e) => { e.stopPropagation(); }}><b>{r.boatName}</b></Link> {r.position === 'single' ? '' : r.position}</td>
                      <td><span className="task"><TaskGlyph task={r.due.task} silent /> {TASKS[r.due.task].word}</span></td>
                      <td><button type="button" className="link-button plain" aria-expanded={picked} onClick={(e) => { e.stopPropagation(); setOpen({ row: r, visit: false }); }}><span className="visually-hidden">Why: {r.boatName} {r.position}, {TASKS[r.due.task].word}, </span><DueMark due={r.due} /></button></td>
                      <td className="num figure">{hoursText(r.lifeHours)}</td>
                      <td className="num figure faint">{r.hoursPerWeek === null ? '' : hoursText(r.hoursPerWeek)}</td>
                      <td className="faint">{r.due.last ? `${fullDay(r.due.last.day)}${r.due.last.hours === null ? '' : `, ${hoursText(r.due.last.hours)} h`}` : 'no history'}</td>
                      <td>{r.job ? <Link to={`/jobs/${r.job.id}`} onClick={(e) => { e.stopPropagation(); }}>{r.job.technician.split(' ')[0]}, {shortDay(r.job.day)}</Link> : ''}</td>
                      <td className="num">{maySteer && !r.job && <Button size="small" onClick={(e) => { e.stopPropagation(); setOpen({ row: r, visit: true }); }} aria-label={`Hand out work on ${r.boatName}`}>Hand out</Button>}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        )}
        {data && <Pager page={page} size={SIZE} total={data.total} turn={(p) => { set('page', p); }} />}
      </section>
      {open && (
        <aside className="side" aria-label={open.visit ? 'Hand out work' : 'Why'}>
          {open.visit ? <VisitPanel boatId={open.row.boatId} onDone={() => { setOpen(null); }} /> : <Why row={open.row} onClose={() => { setOpen(null); }} onVisit={() => { setOpen({ ...open, visit: true }); }} />}
        </aside>
      )}
    </div>
  );
}

function Why({ row, onClose, onVisit }: { row: DueRow; onClose: () => void; onVisit: () => void }) {
  const maySteer = useMay('administrator', 'coordinator');
  return (
    <>
      <h2>{row.boatName} {row.position === 'single' ? '' : row.position}: {TASKS[row.due.task].word.toLowerCase()}</h2>
      <p><DueMark due={row.due} /></p>
      {whyDue(row.due, row.rule, row.lifeHours, fullDay).map((line) => <p key={line}>{line}</p>)}
      {row.lastReadDay && <p className="faint">Hours read {fullDay(row.lastReadDay)}{row.hoursPerWeek === null ? '' : `, ${hoursText(row.hoursPerWeek)} h a week over the last eight weeks`}.</p>}
      <p className="faint">The interval comes from the programme of the {row.modelName}. The engine maker’s manual outranks it.</p>
      <div className="acts" style={{ display: 'flex', gap: 8 }}>
        {maySteer && <Button variant="contained" color="primary" onClick={onVisit}>Hand out</Button>}
        <Button onClick={onClose}>Close</Button>
      </div>
    </>
  );
}
