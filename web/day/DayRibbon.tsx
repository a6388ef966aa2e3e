import { addDays } from '@diurna/core/calendar';
import { minutesText } from '@diurna/core/visit';
import { useEffect, useRef, type CSSProperties } from 'react';
import { dayLetter, longDay, plural } from '../ui/format.ts';
import { dayApi } from './api.ts';
import { turnTo, useAppDispatch } from '../app/store.ts';
import { ribbonStart, useDay, useToday } from '../app/useBook.ts';
import { useStored } from '../ui/useDraft.ts';
import './ribbon.css';

const DAYS = 28;

/** Four weeks over every room: work planned against hands, boats out below, and calendar limits that run out. */
export function DayRibbon() {
  const today = useToday();
  const day = useDay();
  const dispatch = useAppDispatch();
  const from = ribbonStart(today, day);
  const { data } = dayApi.useRibbonQuery({ from, days: DAYS });
  const open = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    open.current?.scrollIntoView({ block: 'nearest', inline: 'center' });
  }, [day]);

  const [tall, setTall] = useStored('ribbon.tall', false);
  const move = (by: number) => {
    dispatch(turnTo(addDays(day, by)));
  };
  return (
    <nav
      className={tall ? 'ribbon tall' : 'ribbon'}
      aria-label="Days"
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        move(by);
        requestAnimationFrame(() => open.current?.focus());
      }}>
      {Array.from({ length: DAYS }, (_, i) => {
        const d = addDays(from, i);
        const figures = data?.[i];
        const rest = (figures?.capacityMinutes ?? 0) === 0;
        const share =
          figures && figures.capacityMinutes > 0
            ? figures.loadMinutes / figures.capacityMinutes
            : figures && figures.loadMinutes > 0
              ? 1.2
              : 0;
        const words = figures
          ? `${longDay(d)}: ${plural(figures.jobs, 'job')}, ${plural(figures.boatsOut, 'boat')} out, ${minutesText(figures.loadMinutes)} of ${minutesText(figures.capacityMinutes)} planned${figures.limits > 0 ? `, ${plural(figures.limits, 'calendar limit')} run out` : ''}`
          : longDay(d);
        return (
          <button
            key={d}
            type="button"
            ref={d === day ? open : null}
            title={words}
            aria-pressed={d === day}
            tabIndex={d === day ? 0 : -1}
            className={['ribbon-day', d === day && 'open', d < today && 'past', d === today && 'today', rest && 'rest']
              .filter(Boolean)
              .join(' ')}
            onClick={() => {
              dispatch(turnTo(d === today ? null : d));
            }}>
            <span className="visually-hidden">{words}</span>
            <span className="letter" aria-hidden="true">
              {dayLetter(d)}
            </span>
            <span className="number" aria-hidden="true">
              {Number(d.slice(8))}
            </span>
            <span className="bar" aria-hidden="true">
              <span
                className={share > 1 ? 'load full' : 'load'}
                style={{ '--share': Math.min(1, share) } as CSSProperties}
              />
            </span>
            <span className="count" aria-hidden="true">
              {figures && figures.boatsOut > 0 ? figures.boatsOut : ''}
              {figures && figures.limits > 0 && <i className="limit-tick" />}
            </span>
          </button>
        );
      })}
      <button
        type="button"
        className="ribbon-more"
        aria-expanded={tall}
        aria-label="Tall days"
        title={tall ? 'Days in one line' : 'Days with their bars upright'}
        onClick={() => {
          setTall(!tall);
        }}>
        <span aria-hidden="true">{tall ? '▴' : '▾'}</span>
      </button>
    </nav>
  );
}
