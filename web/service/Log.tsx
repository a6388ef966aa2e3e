import { TASKS, TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { serviceApi } from './api.ts';
import { fullDay, hoursText, plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Entry, Heads, Leaves, PageHead, Pager } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import { useRecordLeaves } from '../records/index.ts';

const SIZE = 50;

/** The service log of the whole fleet. */
export function Log() {
  const [q, setQ] = useState('');
  const [task, setTask] = useState<TaskKind | ''>('');
  const [page, setPage] = useState(1);
  const { data, error } = serviceApi.useListEntriesQuery({
    page,
    size: SIZE,
    ...(q.trim() && { q: q.trim() }),
    ...(task && { task }),
  });
  return (
    <>
      <PageHead title="Service log">
        {data &&
          `${plural(data.total, 'entry', 'entries')}. Nothing here is ever changed or erased; a wrong one is corrected by a further one.`}
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <div className="tools">
        <Entry
          label="Boat or serial"
          value={q}
          onType={(text) => {
            setQ(text);
            setPage(1);
          }}
        />
        <Choice
          label="Task"
          value={task}
          onChange={(v) => {
            setTask(v);
            setPage(1);
          }}
          options={[['', 'All tasks'], ...TASK_KINDS.map((t): [TaskKind, string] => [t, TASKS[t].word])]}
        />
      </div>
      <Asked data={data} error={error} />
      {data?.rows.length === 0 && (
        <Empty title="Nothing is written down here yet.">
          Finished job cards come here, and service history files read in under Fleet.
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <Heads of={['Done', 'Engine', 'Task', { num: 'Hours' }, { num: 'Put in' }, 'Who', 'Remark', 'Card']} />
          <tbody>
            {data.rows.map((e) => (
              <tr key={e.id} className={e.cancelled ? 'struck' : ''}>
                <td>{fullDay(e.doneOn)}</td>
                <td>
                  <Link to={`/fleet/engines/${e.engineId}`}>
                    <b>{e.engineName}</b>
                  </Link>{' '}
                  <span className="faint figure small">{e.serial}</span>
                </td>
                <td>
                  <span className="task">
                    <TaskGlyph task={e.task} silent size={19} /> {TASKS[e.task].word}
                  </span>
                </td>
                <td className="num figure">{hoursText(e.hours)}</td>
                <td className="num figure">{e.volume ? `${e.volume.value} ${e.volume.unit}` : ''}</td>
                <td>{e.by}</td>
                <td className={e.cancelled ? 'keep' : 'faint'}>
                  {e.cancelled ? `Cancelled by ${e.cancelled.by ?? 'unknown'}: ${e.cancelled.reason}` : e.remark}
                </td>
                <td>{e.jobId && <Link to={`/jobs/${e.jobId}`}>card</Link>}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
    </>
  );
}
