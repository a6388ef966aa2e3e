import { engineName } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { type Body } from '../app/api.ts';
import { rulesApi } from './api.ts';
import { useSession } from '../app/useBook.ts';
import { StateShape } from '../ui/DueMark.tsx';
import { moneyText, plural, shortDay } from '../ui/format.ts';
import { Heads, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import '../ui/rules.css';
import { Lines } from '../ui/Lines.tsx';

const SHOWN = 12;

/** What a change of the rules would do to the whole fleet, before it is kept. */
export function WhatItWould({ change, children }: { change: Body<'previewRules'>; children: ReactNode }) {
  const { data, error, isFetching } = rulesApi.usePreviewRulesQuery(change);
  const currency = useSession()?.currency ?? 'EUR';
  if (error) return <Wrong error={error} />;
  if (!data || isFetching)
    return (
      <div className="waiting">
        <p role="status">Working it out on the whole fleet ...</p>
        <progress aria-label="Working it out on the whole fleet" />
      </div>
    );
  if (data.engines === 0)
    return (
      <div className="would">
        <p role="status">No due date moves, and no engine takes other parts.</p>
        {children}
      </div>
    );
  const { lastYear, comingYear } = data;
  const rows: [string, typeof lastYear][] = [
    ['A year like the one behind', lastYear],
    ['A year ahead', comingYear],
  ];
  return (
    <div className="would">
      <p role="status">
        {plural(data.engines, 'engine')} touched.{' '}
        {data.moved === 0 ? (
          'No due date moves.'
        ) : (
          <>
            <b>{plural(data.moved, 'due date')}</b> {data.moved === 1 ? 'moves' : 'move'}: {data.earlier} earlier,{' '}
            {data.later} later.
          </>
        )}
        {data.otherParts > 0 && <> {plural(data.otherParts, 'task')} would take other parts.</>}
        {data.newlyOver > 0 && <b className="minus"> {plural(data.newlyOver, 'task')} would be over at once.</b>}
        {data.noLongerOver > 0 && <b className="fine"> {plural(data.noLongerOver, 'task')} would be over no more.</b>}
      </p>
      <Lines className="would-years">
        <Heads of={['Of the tasks it touches', { num: 'Services' }, { num: 'Hands-on' }, { num: 'Parts' }]} />
        <tbody>
          {rows.map(([word, { before, after }]) => (
            <tr key={word}>
              <th scope="row">{word}</th>
              <td className="num figure">
                {countText(before.services)} <Arrow /> <b>{countText(after.services)}</b>
              </td>
              <td className="num figure">
                {minutesText(before.minutes)} <Arrow /> <b>{minutesText(after.minutes)}</b>
              </td>
              <td className="num figure">
                {moneyText(before.partsMinor, currency)} <Arrow /> <b>{moneyText(after.partsMinor, currency)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      <p className="faint small">
        Each on average of four years, so that what comes round every other year counts half: the one behind on the
        hours really run, the one ahead on the hours expected. Every service counted by itself, access included.
        {data.unpriced > 0 ? ` ${plural(data.unpriced, 'task')} without parts, because no part or price is known.` : ''}
        {data.issued > 0
          ? ` ${plural(data.issued, 'card')} with such work ${data.issued === 1 ? 'is' : 'are'} issued and ${data.issued === 1 ? 'stays as it is' : 'stay as they are'}.`
          : ''}
      </p>
      {data.examples.length > 0 && (
        <Lines>
          <Heads of={['Moves furthest', 'Task', 'Is', 'Would be']} />
          <tbody>
            {data.examples.slice(0, SHOWN).map((e) => (
              <tr key={`${e.engineId} ${e.task}`}>
                <td>
                  <Link to={`/fleet/engines/${e.engineId}`}>{engineName(e.boatName, e.position)}</Link>
                </td>
                <td>
                  <span className="task">
                    <TaskGlyph task={e.task} silent size={18} /> {TASKS[e.task].word}
                  </span>
                </td>
                {[e.before, e.after].map((s, i) => (
                  <td key={i}>
                    <span className={`due-mark ${s.state}`}>
                      <StateShape state={s.state} />
                      {s.text}
                    </span>
                    {s.state !== 'over' && s.likely && <span className="faint"> {shortDay(s.likely)}</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data.moved > SHOWN && (
        <p className="faint small">and {data.moved - Math.min(SHOWN, data.examples.length)} more</p>
      )}
      {children}
    </div>
  );
}

/** "22", "5.5" */
const countText = (n: number) => (Number.isInteger(n) ? String(n) : n.toFixed(1));

const Arrow = () => (
  <span className="faint" aria-label="becomes">
    →
  </span>
);
