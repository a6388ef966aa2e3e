import { addDays, weekday, type Day } from '@diurna/core/calendar';
import type { Outlook, OutlookRow } from '@diurna/contract/service';
import { TASKS } from '@diurna/core/service';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { StateShape, STATE_WORD } from '../ui/DueMark.tsx';
import { hoursText, plural, shortDay, weekStarts, weekText } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import type { Picked } from './picked.ts';
import { bunches, covers, glyphFor, GLYPH, tails, type Mark } from './marks.ts';
import './chart.css';

/** How high a line is (px); `chart.css` has the same. */
const ROW = 34;
const HIRE_TOP = 6;
const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });
const DAY_MONTH = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const asDate = (day: Day) => new Date(`${day}T12:00:00Z`);

interface Props {
  outlook: Outlook;
  today: Day;
  picked: Picked | null;
  pick: (picked: Picked) => void;
}

/** Where the keyboard stands: an engine, and one of the things on its line. */
interface Place {
  row: number;
  item: number;
}

/** Engines by days: hires as bars, tasks at their likely day with the spread around it, work handed out. */
export function DueChart({ outlook, today, picked, pick }: Props) {
  const { rows, from, days } = outlook;
  const list = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(700);
  const [top, setTop] = useState(0);
  const [place, setPlace] = useState<Place>({ row: 0, item: 0 });
  const wantsFocus = useRef(false);
  useLayoutEffect(() => {
    const watch = new ResizeObserver(() => {
      setWidth(head.current?.getBoundingClientRect().width ?? 700);
      setTop(list.current ? list.current.getBoundingClientRect().top + window.scrollY : 0);
    });
    if (head.current) watch.observe(head.current);
    watch.observe(document.body);
    return () => {
      watch.disconnect();
    };
  }, []);
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: () => ROW,
    overscan: 14,
    scrollMargin: top,
    scrollPaddingStart: 150,
    scrollPaddingEnd: 20,
  });
  const todayAt = Math.max(0, (Date.parse(today) - Date.parse(from)) / 86_400_000) + 0.4;
  const row = Math.min(place.row, rows.length - 1);

  useEffect(() => {
    if (!wantsFocus.current) return;
    wantsFocus.current = false;
    // A line far off is scrolled to and drawn first.
    const focus = (frames: number) => {
      const here = list.current?.querySelector<HTMLElement>(`[data-row="${place.row}"] [data-item="${place.item}"]`);
      if (here) here.focus({ preventScroll: true });
      else if (frames > 0)
        requestAnimationFrame(() => {
          focus(frames - 1);
        });
    };
    requestAnimationFrame(() => {
      focus(30);
    });
  }, [place]);

  const move = (e: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10 }[e.key];
    const aside = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    const end = { Home: 0, End: rows.length - 1 }[e.key];
    if (step === undefined && aside === undefined && end === undefined) return;
    e.preventDefault();
    const to = aside !== undefined ? row : Math.max(0, Math.min(rows.length - 1, end ?? row + step!));
    const items = e.currentTarget.querySelectorAll(`[data-row="${to}"] [data-item]`).length;
    const item =
      aside === undefined
        ? step === undefined
          ? 0
          : place.item
        : Math.max(0, Math.min(items - 1, place.item + aside));
    wantsFocus.current = true;
    setPlace({ row: to, item });
    virtual.scrollToIndex(to);
  };

  return (
    <div
      className="due-chart"
      role="grid"
      aria-label="Engines by days"
      aria-rowcount={rows.length + 1}
      tabIndex={-1}
      onKeyDown={move}>
      <div className="chart-head" role="row" aria-rowindex={1}>
        <span role="columnheader">boat, engine</span>
        <span role="columnheader" className="num">
          hours
        </span>
        <span role="columnheader" className="num">
          h/week
        </span>
        <span role="columnheader">nearest limit</span>
        <div role="columnheader" className="scale" ref={head}>
          <span className="visually-hidden">Days from {shortDay(from)}</span>
          <Ticks from={from} days={days} />
        </div>
      </div>
      <div className="chart-rows" ref={list} style={{ height: virtual.getTotalSize() }}>
        <div className="chart-ground" aria-hidden="true">
          <div className="ground-scale">
            <Ground from={from} days={days} />
          </div>
        </div>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const r = rows[index]!;
          const before = rows[index - 1];
          return (
            <Line
              key={r.engineId}
              row={r}
              index={index}
              y={start - virtual.options.scrollMargin}
              from={from}
              days={days}
              today={todayAt}
              width={width}
              sameBoat={before?.boatId === r.boatId}
              hires={outlook.hires[r.boatId] ?? []}
              item={index === row ? place.item : null}
              picked={picked?.engineId === r.engineId ? picked : null}
              pick={pick}
              enter={(item) => {
                setPlace({ row: index, item });
              }}
            />
          );
        })}
      </div>
    </div>
  );
}

/** Weeks by the day the yard begins them on, or months where many weeks are shown. */
function Ticks({ from, days }: { from: Day; days: number }) {
  const ticks = useMemo(() => {
    const found: { at: number; word: string }[] = [];
    for (let i = 0; i < days; i++) {
      const day = addDays(from, i);
      if (days > 70 ? day.endsWith('-01') || i === 0 : weekday(day) === weekStarts())
        found.push({
          at: i,
          word:
            days > 70
              ? `${MONTH.format(asDate(day))}${day.slice(5, 7) === '01' ? ` ${day.slice(0, 4)}` : ''}`
              : DAY_MONTH.format(asDate(day)),
        });
    }
    // Two words on one place are one too many.
    return found.filter((t, i) => i === 0 || t.at - found[i - 1]!.at > days / 24);
  }, [from, days]);
  return ticks.map((t) => (
    <span
      key={t.at}
      className="chart-tick"
      style={{ left: `${(t.at / days) * 100}%` }}
      title={days > 70 ? undefined : weekText(addDays(from, t.at))}>
      {t.word}
    </span>
  ));
}

/** Weekends as bands; months where many weeks are shown. */
function Ground({ from, days }: { from: Day; days: number }) {
  return useMemo(
    () =>
      Array.from({ length: days }, (_, i) => {
        const day = addDays(from, i);
        const band = days > 70 ? Number(day.slice(5, 7)) % 2 === 0 : weekday(day) > 5;
        return band ? (
          <span key={i} className="band" style={{ left: `${(i / days) * 100}%`, width: `${100 / days + 0.02}%` }} />
        ) : null;
      }),
    [from, days],
  );
}

/** Days a hire touches but does not fill: booked all the same, for who looks at weeks. */
function bookedDays(hires: readonly [number, number][], days: number): number[] {
  const found = new Set<number>();
  for (const [out, back] of hires) {
    if (back - out >= 1) continue;
    for (let d = Math.max(0, Math.floor(out)); d < Math.min(days, back); d++) found.add(d);
  }
  return [...found];
}

interface LineProps {
  row: OutlookRow;
  index: number;
  y: number;
  from: Day;
  days: number;
  today: number;
  width: number;
  sameBoat: boolean;
  hires: [number, number][];
  /** The thing the keyboard stands on, when it is on this line. */
  item: number | null;
  picked: Picked | null;
  pick: (picked: Picked) => void;
  enter: (item: number) => void;
}

function Line({ row, index, y, from, days, today, width, sameBoat, hires, item, picked, pick, enter }: LineProps) {
  const glyph = glyphFor(row.tasks.length, width);
  const scale = { days, pixelsPerDay: width / days, today, glyph };
  const jobs = row.jobs.filter((j) => j.day >= 0 && j.day < days);
  const shown = bunches(
    row.tasks,
    scale,
    jobs.map((j) => j.day + 0.5),
  );
  const x = (day: number) => (Math.max(0, Math.min(days, day)) / days) * 100;
  const dayText = (n: number | null) => (n === null ? 'later than a year' : shortDay(addDays(from, n)));
  const words = (m: Mark) =>
    `${TASKS[m.task].word}: ${m.text}${m.likely === null ? '' : m.early === m.late ? `, on ${dayText(m.likely)}` : `, likely ${dayText(m.likely)}, between ${dayText(m.early)} and ${dayText(m.late)}`}`;
  let items = 0;
  const here = () => {
    const own = items++;
    return {
      'data-item': own,
      'data-at': item === own ? 'here' : undefined,
      tabIndex: item === own ? 0 : -1,
      onFocus: () => {
        if (item !== own) enter(own);
      },
    };
  };
  const task = (m: Mark | NonNullable<OutlookRow['nearest']>) => () => {
    pick({ engineId: row.engineId, boatId: row.boatId, task: m.task, visit: false });
  };
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      data-row={index}
      className={['chart-line', sameBoat && 'same', picked && 'picked'].filter(Boolean).join(' ')}
      style={{ transform: `translateY(${y}px)` }}>
      <span role="rowheader" className="name">
        <Link to={`/fleet/engines/${row.engineId}`} tabIndex={-1} title={row.modelName}>
          {sameBoat && row.position !== 'single' ? (
            <span className="visually-hidden">{row.boatName}</span>
          ) : (
            <b>{row.boatName}</b>
          )}{' '}
          {row.position === 'single' ? '' : row.position}
        </Link>
      </span>
      <span role="gridcell" className="num figure">
        {hoursText(row.lifeHours)}
      </span>
      <span role="gridcell" className="num figure faint">
        {row.hoursPerWeek === null ? '' : hoursText(row.hoursPerWeek)}
      </span>
      <span role="gridcell">
        {row.nearest && (
          <button type="button" className={`limit ${row.nearest.state}`} {...here()} onClick={task(row.nearest)}>
            <StateShape state={row.nearest.state} />
            <span className="visually-hidden">
              {STATE_WORD[row.nearest.state]}, {TASKS[row.nearest.task].word}:{' '}
            </span>
            {row.nearest.text}
            <TaskGlyph task={row.nearest.task} size={16} silent />
          </button>
        )}
        {row.service !== null && <span className="service-name">{row.service}</span>}
      </span>
      <div role="gridcell" className="lane">
        <svg className="lane-drawing" width={width} height={ROW} aria-hidden="true">
          {bookedDays(hires, days).map((day) => (
            <rect
              key={`day ${day}`}
              className="hire-day"
              x={day * scale.pixelsPerDay + 0.5}
              y={HIRE_TOP}
              width={scale.pixelsPerDay - 1}
              height={ROW - 2 * HIRE_TOP}
              rx={Math.min(3, scale.pixelsPerDay / 5)}
            />
          ))}
          {hires.map(([out, back]) => {
            const a = Math.max(0, out) * scale.pixelsPerDay;
            return (
              <rect
                key={out}
                className="hire"
                x={a}
                y={HIRE_TOP}
                width={Math.max(1.5, Math.min(days, back) * scale.pixelsPerDay - a)}
                height={ROW - 2 * HIRE_TOP}
                rx={Math.min(3, scale.pixelsPerDay / 5)}
              />
            );
          })}
          <path className="due-today" d={`M${today * scale.pixelsPerDay} 0v${ROW}`} />
          {tails(row.tasks, scale).map((start) => (
            <path
              key={start}
              className="spread later"
              d={`M${start * scale.pixelsPerDay} ${ROW / 2 - 5}v10M${start * scale.pixelsPerDay} ${ROW / 2}H${width}`}
            />
          ))}
          {shown
            .filter((b) => b.to > b.from)
            .map((b) => {
              const a = b.from * scale.pixelsPerDay;
              const c = b.to * scale.pixelsPerDay;
              return (
                <path
                  key={b.x}
                  className={`spread ${b.marks[0]!.state}`}
                  d={`M${a} ${ROW / 2 - 5}v10M${a} ${ROW / 2}H${c}${b.open ? '' : `M${c} ${ROW / 2 - 5}v10`}`}
                />
              );
            })}
        </svg>
        <span className="visually-hidden">{hires.length === 0 ? 'no hires' : plural(hires.length, 'hire')}</span>
        {jobs.map((j) => (
          <Link
            key={j.id}
            to={`/jobs/${j.id}`}
            className={shown.some((b) => covers(b, j.day + 0.5, scale)) ? 'handed below' : 'handed'}
            style={{ left: `${x(j.day + 0.5)}%` }}
            {...here()}
            title={`${j.technician}, ${dayText(j.day)}: ${j.tasks.map((t) => TASKS[t].word.toLowerCase()).join(', ')}`}>
            <span className="visually-hidden">{`With ${j.technician}, ${dayText(j.day)}: ${j.tasks.map((t) => TASKS[t].word).join(', ')}`}</span>
            <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
              <path d="M2 6.500 5 9.500 10.500 3" fill="none" stroke="currentColor" strokeWidth="2" />
            </svg>
          </Link>
        ))}
        {shown.map((b) => (
          <span
            key={b.x}
            className={jobs.some((j) => covers(b, j.day + 0.5, scale)) ? 'bunch raised' : 'bunch'}
            style={{ left: `${x(b.x)}%`, ...(glyph < GLYPH && { '--mark-wide': `${glyph}px` }) }}>
            {b.marks.map((m) => (
              <button
                type="button"
                key={m.task}
                className={['task-mark', m.state, picked?.task === m.task && 'open'].filter(Boolean).join(' ')}
                {...here()}
                onClick={task(m)}
                title={words(m)}
                aria-label={`${row.boatName} ${row.position === 'single' ? '' : row.position} ${words(m)}`}>
                <TaskGlyph task={m.task} size={16} silent />
              </button>
            ))}
          </span>
        ))}
      </div>
    </div>
  );
}
