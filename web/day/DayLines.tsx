import { useShort } from '../app/useBook.ts';
import type { DayReply, DayVisit } from '@diurna/contract/day';
import { endOf, secondText } from '@diurna/core/day';
import { TASK_KINDS, TASKS, worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import type { CSSProperties } from 'react';
import { Link } from 'react-router';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { columnHour, timeText } from '../ui/format.ts';

const positionsOf = (v: DayVisit) =>
  [...new Set(v.tasks.map((t) => t.position))].filter((p) => p !== 'single').join(' + ');

/** People by hours: visits where they begin, drains hatched, lifts marked, breaks, and what found no time. */
export function DayLines({ day }: { day: DayReply }) {
  const short = useShort();
  const timed = day.people.flatMap((p) => p.visits.filter((v) => v.start !== null));
  const from = Math.min(
    7 * 60,
    ...day.people.flatMap((p) => (p.shift ? [Math.floor(p.shift.from / 60) * 60] : [])),
    ...timed.map((v) => Math.floor(v.start! / 60) * 60),
  );
  const to = Math.max(
    18 * 60,
    ...day.people.flatMap((p) => (p.shift ? [Math.ceil(p.shift.to / 60) * 60] : [])),
    ...timed.map((v) => Math.ceil(endOf(v) / 60) * 60),
  );
  const x = (minute: number) => `${((minute - from) / (to - from)) * 100}%`;
  const hours = Array.from({ length: Math.floor((to - from) / 60) + 1 }, (_, i) => from + i * 60);
  const work = day.people.flatMap((p) => p.visits).reduce((sum, v) => sum + v.minutes, 0);
  const there = day.people.reduce((sum, p) => sum + (p.shift ? p.shift.to - p.shift.from : 0), 0);
  return (
    <>
      <p className="bench-sum">
        <span className="figure">{(work / 60).toFixed(1)}</span> of{' '}
        <span className="figure">{(there / 60).toFixed(1)} h</span> planned
        {day.lifts.length > 0 && '; lift turns left: '}
        {day.lifts
          .map((l) => `${day.lifts.length > 1 ? `${l.baseName} ` : ''}${Math.max(0, l.slots - l.used)} of ${l.slots}`)
          .join(', ')}
      </p>
      <div className="bench-frame" tabIndex={0} role="group" aria-label="The day by the hour, scrolls sideways">
        <div className="bench">
          <div className="hours-row" aria-hidden="true">
            <span />
            <div className="day-hours">
              {hours.map((h, i) => (
                <span key={h} style={{ left: x(h) }}>
                  {columnHour(h, i === 0)}
                </span>
              ))}
            </div>
          </div>
          {day.people.map((p) => (
            <div className="person" key={p.id}>
              <div className="person-name">
                <b>{short(p.name)}</b>
                <span>
                  {p.shift ? p.baseName : 'off today'}
                  {p.skills.length > 0 && `, ${p.skills.join(', ')}`}
                </span>
              </div>
              <div className="line">
                {hours.map((h) => (
                  <span key={h} className="hour-rule" style={{ left: x(h) }} />
                ))}
                {p.shift && <span className="off" style={{ left: 0, width: x(p.shift.from) }} />}
                {p.shift && <span className="off" style={{ left: x(p.shift.to), right: 0 }} />}
                {!p.shift && <span className="off" style={{ left: 0, right: 0 }} />}
                {p.pause && (
                  <span
                    className="pause"
                    style={{ left: x(p.pause.from), width: `calc(${x(p.pause.to)} - ${x(p.pause.from)})` }}
                    title={`break, ${timeText(p.pause.from)} to ${timeText(p.pause.to)}`}>
                    <span className="visually-hidden">
                      break {timeText(p.pause.from)} to {timeText(p.pause.to)}
                    </span>
                  </span>
                )}
                {p.visits
                  .filter((v) => v.start !== null)
                  .map((v) => (
                    <Block
                      key={v.jobId}
                      visit={v}
                      room={roomOf(v, p.visits, to)}
                      left={x(v.start!)}
                      width={`calc(${x(endOf(v))} - ${x(v.start!)})`}
                    />
                  ))}
                {p.visits.length === 0 && <span className="nothing">{p.shift ? 'nothing handed out' : ''}</span>}
                {day.now !== null && day.now >= from && day.now <= to && (
                  <span className="now-line" style={{ left: x(day.now) }}>
                    <span className="visually-hidden">now {timeText(day.now)}</span>
                  </span>
                )}
              </div>
              {p.visits.some((v) => v.start === null) && (
                <p className="untimed">
                  No time for{' '}
                  {p.visits
                    .filter((v) => v.start === null)
                    .map((v, i) => (
                      <span key={v.jobId}>
                        {i > 0 && ', '}
                        <Link to={`/jobs/${v.jobId}`}>{v.boatName}</Link>
                      </span>
                    ))}
                </p>
              )}
            </div>
          ))}
        </div>
      </div>
      <p className="legend">
        <span>
          <svg width="18" height="14" aria-hidden="true">
            <rect width="18" height="14" rx="2" className="hatch-key" />
          </svg>{' '}
          draining, hands free
        </span>
        <span>
          <svg width="14" height="14" aria-hidden="true">
            <path d="M0 0H14V14Z" fill="currentColor" />
          </svg>{' '}
          needs the lift
        </span>
        {TASK_KINDS.filter((task) =>
          day.people.some((p) => p.visits.some((v) => v.tasks.some((t) => t.task === task))),
        ).map((task) => (
          <span className="task" key={task}>
            <TaskGlyph task={task} silent size={17} /> {TASKS[task].word.toLowerCase()}
          </span>
        ))}
      </p>
    </>
  );
}

/** Minutes until the next visit of the line begins: words longer than their visit may reach into them. */
const roomOf = (v: DayVisit, all: readonly DayVisit[], to: number) =>
  Math.min(
    to,
    ...all.filter((o) => o.jobId !== v.jobId && o.start !== null && o.start >= v.start!).map((o) => o.start!),
  ) - v.start!;
const NARROW = 60;

function Block({ visit: v, room, left, width }: { visit: DayVisit; room: number; left: string; width: string }) {
  const done = v.tasks.filter((t) => t.state === 'done').length;
  const from = v.start!;
  const second = secondText(v);
  const span = endOf(v) - from;
  const share = (m: number) => `${(m / span) * 100}%`;
  const state = v.status === 'done' ? '✓ done' : done > 0 ? `${done} of ${v.tasks.length} ticked` : '';
  const kinds = [...new Set(v.tasks.map((t) => t.task))];
  return (
    <Link
      to={`/jobs/${v.jobId}`}
      className={['slip', v.status, v.needsLift && 'lift', v.trouble && 'in-trouble', room < NARROW && 'narrow']
        .filter(Boolean)
        .join(' ')}
      style={{ left, width, '--room': room / span } as CSSProperties}
      title={`${v.boatName}, ${timeText(from)} to ${timeText(endOf(v))}, ${minutesText(v.minutes)}${v.pause ? ` and a break from ${timeText(v.pause.from)}` : ''}: ${worksText(v.works)}${second === null ? '' : `, ${second}`}${v.trouble ? `. ${v.trouble}` : ''}`}>
      <b>{v.boatName}</b>
      <span className="slip-engines">
        {timeText(from)}
        {positionsOf(v) && ` ${positionsOf(v)}`}
        {v.trouble ? ' · cannot' : state ? ` · ${state}` : ''}
        <span className="visually-hidden">
          {v.trouble} {v.needsLift ? 'needs the lift' : ''} {secondText(v)}
        </span>
      </span>
      <span className="glyphs">
        {kinds.map((task) => (
          <TaskGlyph key={task} task={task} size={17} />
        ))}
      </span>
      {v.drain && (
        <span className="drain" style={{ left: share(v.drain.from), width: share(v.drain.to - v.drain.from) }} />
      )}
    </Link>
  );
}
