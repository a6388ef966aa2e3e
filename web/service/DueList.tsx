import { Button } from '@mui/material';
import { TASKS } from '@diurna/core/service';
import type { DueRow } from '@diurna/contract/service';
import { Link } from 'react-router';
import { type Query } from '../app/api.ts';
import { serviceApi } from './api.ts';
import { useMay, useShort } from '../app/useBook.ts';
import { DueMark } from '../ui/DueMark.tsx';
import { fullDay, hoursText, shortDay } from '../ui/format.ts';
import { Asked, Heads, Pager } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import type { Picked } from './picked.ts';

const SIZE = 50;

interface Props {
  filters: Omit<Query<'dueList'>, 'page' | 'size'>;
  page: number;
  turn: (page: number) => void;
  picked: Picked | null;
  pick: (picked: Picked | null) => void;
}

/** A line for each task, worst first: for phones, for printing, and for handing out one after the other. */
export function DueList({ filters, page, turn, picked, pick }: Props) {
  const short = useShort();
  const { data, error } = serviceApi.useDueListQuery({ ...filters, page, size: SIZE });
  const maySteer = useMay('administrator', 'coordinator');
  const pickOf = (r: DueRow, visit: boolean): Picked => ({
    engineId: r.engineId,
    boatId: r.boatId,
    task: r.due.task,
    visit,
  });
  if (!data) return <Asked data={data} error={error} />;
  if (data.rows.length === 0) return null;
  return (
    <>
      <Lines className="due-list">
        <caption className="visually-hidden">Tasks by urgency</caption>
        <Heads
          of={[
            'Boat, engine',
            'Task',
            'Nearest limit',
            { num: 'Hours' },
            { num: 'h/week' },
            'Last done',
            'With',
            { unseen: 'Act' },
          ]}
        />
        <tbody>
          {data.rows.map((r) => {
            const open = picked?.engineId === r.engineId && picked.task === r.due.task;
            return (
              <tr
                key={`${r.engineId} ${r.due.task}`}
                className={open ? 'pick picked' : 'pick'}
                onClick={() => {
                  pick(open && !picked.visit ? null : pickOf(r, false));
                }}>
                <td>
                  <Link
                    to={`/fleet/engines/${r.engineId}`}
                    onClick={(e) => {
                      e.stopPropagation();
                    }}>
                    <b>{r.boatName}</b>
                  </Link>{' '}
                  {r.position === 'single' ? '' : r.position}
                </td>
                <td>
                  <span className="task">
                    <TaskGlyph task={r.due.task} silent /> {TASKS[r.due.task].word}
                  </span>
                </td>
                <td>
                  <button
                    type="button"
                    className="link-button plain"
                    aria-expanded={open}
                    onClick={(e) => {
                      e.stopPropagation();
                      pick(pickOf(r, false));
                    }}>
                    <span className="visually-hidden">
                      Why: {r.boatName} {r.position}, {TASKS[r.due.task].word},{' '}
                    </span>
                    <DueMark due={r.due} />
                  </button>
                  {r.deferral && <span className="faint"> put off{r.deferral.spring ? ' to spring' : ''}</span>}
                </td>
                <td className="num figure">{hoursText(r.lifeHours)}</td>
                <td className="num figure faint">{r.hoursPerWeek === null ? '' : hoursText(r.hoursPerWeek)}</td>
                <td className="faint">
                  {r.due.last
                    ? `${fullDay(r.due.last.day)}${r.due.last.hours === null ? '' : `, ${hoursText(r.due.last.hours)} h`}`
                    : 'no history'}
                </td>
                <td>
                  {r.job ? (
                    <Link
                      to={`/jobs/${r.job.id}`}
                      onClick={(e) => {
                        e.stopPropagation();
                      }}>
                      {short(r.job.technician)}, {shortDay(r.job.day)}
                    </Link>
                  ) : (
                    ''
                  )}
                </td>
                <td className="num">
                  {maySteer && !r.job && (
                    <Button
                      size="small"
                      onClick={(e) => {
                        e.stopPropagation();
                        pick(pickOf(r, true));
                      }}
                      aria-label={`Hand out work on ${r.boatName}`}>
                      Hand out
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Lines>
      <Pager page={page} size={SIZE} total={data.total} turn={turn} />
    </>
  );
}
