import type { HoursRow } from '@diurna/contract/usage';
import type { Day } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { useRef } from 'react';
import { hoursText, shortDay } from '../ui/format.ts';
import { judge, type Sheet, type Typed } from './judge.ts';
import './hours.css';
import { Box } from '../ui/Box.tsx';

interface Props {
  rows: HoursRow[];
  sheet: Sheet;
  day: Day;
  onType: (engineId: number, typed: Typed) => void;
  /** The narrow form, beside other things. */
  narrow?: boolean;
}

/** Hours typed down a column: Enter or arrow down goes on, arrow up goes back. */
export function HoursSheet({ rows, sheet, day, onType, narrow = false }: Props) {
  const body = useRef<HTMLTableSectionElement>(null);
  const step = (from: HTMLInputElement, by: number) => {
    const inputs = [...(body.current?.querySelectorAll<HTMLInputElement>('input[data-count]') ?? [])];
    const next = inputs[inputs.indexOf(from) + by];
    next?.focus();
    next?.select();
  };
  return (
    <table className={narrow ? 'lines hours narrow' : 'lines hours'}>
      <caption className="visually-hidden">Hours wanted</caption>
      <thead className={narrow ? 'visually-hidden' : ''}>
        <tr>
          <th scope="col">Boat, engine</th>
          {!narrow && <th scope="col">Model</th>}
          {!narrow && <th scope="col">Read</th>}
          <th scope="col" className="num">
            Was
          </th>
          <th scope="col">Now shows</th>
          <th scope="col">{narrow ? '' : 'What it means'}</th>
        </tr>
      </thead>
      <tbody ref={body}>
        {rows.map((row) => {
          const typed = sheet[row.engineId];
          const verdict = judge(row, typed, day);
          const name = engineName(row.boatName, row.position);
          return (
            <tr key={row.engineId} className={`typed-${verdict.state}`}>
              <th scope="row">
                <b>{row.boatName}</b> {row.position === 'single' ? '' : row.position}
              </th>
              {!narrow && <td className="faint model">{row.modelName}</td>}
              {!narrow && (
                <td className="faint read">
                  {row.lastDay
                    ? `${shortDay(row.lastDay)}${row.daysSince !== null && row.daysSince > 7 ? `, ${row.daysSince} days ago` : ''}`
                    : 'never'}
                </td>
              )}
              <td className="num was" id={`was-${row.engineId}`}>
                {row.lastCount === null ? 'new' : hoursText(row.lastCount)}
              </td>
              <td className="now">
                <Box
                  data-count
                  autoComplete="off"
                  figure
                  aria-label={`Hours of ${name}`}
                  aria-invalid={verdict.state === 'bad' || verdict.state === 'question'}
                  aria-describedby={`was-${row.engineId} verdict-${row.engineId}`}
                  value={typed?.count ?? ''}
                  placeholder="h"
                  onChange={(e) => {
                    onType(row.engineId, { count: e.target.value, reason: typed?.reason ?? '' });
                  }}
                  onKeyDown={(e) => {
                    if (e.key === 'Enter' || e.key === 'ArrowDown') {
                      e.preventDefault();
                      step(e.currentTarget, 1);
                    }
                    if (e.key === 'ArrowUp') {
                      e.preventDefault();
                      step(e.currentTarget, -1);
                    }
                  }}
                />
              </td>
              <td className="verdict" id={`verdict-${row.engineId}`}>
                <span role={verdict.state === 'question' ? 'status' : undefined}>{verdict.text}</span>
                {verdict.state === 'question' && (
                  <Box
                    aria-label={`Why the hours of ${name} are right`}
                    placeholder="If it is right, why?"
                    value={typed?.reason ?? ''}
                    onChange={(e) => {
                      onType(row.engineId, { count: typed?.count ?? '', reason: e.target.value });
                    }}
                  />
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
