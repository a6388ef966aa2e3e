import { DUE_STATES, TASKS, TASK_KINDS, type DueState, type TaskKind } from '@diurna/core/service';
import { Button, useMediaQuery } from '@mui/material';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { fleetApi } from '../fleet/api.ts';
import { serviceApi } from './api.ts';
import { ribbonStart, useDay, useMay, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { StateShape, STATE_WORD } from '../ui/DueMark.tsx';
import { plural } from '../ui/format.ts';
import { Choice, Empty, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { Segments } from '../ui/Segments.tsx';
import { DueChart } from './DueChart.tsx';
import { DueList } from './DueList.tsx';
import type { Picked } from './picked.ts';
import { SeveralBoats } from './SeveralBoats.tsx';
import { VisitPanel } from './VisitPanel.tsx';
import { Why } from './Why.tsx';

const VIEWS = { weeks: 'Six weeks', season: 'Season', list: 'List' } as const;
type View = keyof typeof VIEWS;
const DAYS: Record<Exclude<View, 'list'>, number> = { weeks: 42, season: 182 };
type Sort = 'worst' | 'boat' | 'model' | 'base';

/** What falls due and when: every engine over the weeks to come, or task by task as a list. */
export function Due() {
  const today = useToday();
  const day = useDay();
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const narrow = useMediaQuery('(max-width: 900px)');
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
  const q = params.get('q') ?? '';
  const view = (params.get('view') ?? (narrow ? 'list' : 'weeks')) as View;
  const sort = (params.get('sort') ?? 'worst') as Sort;
  const filters = {
    ...(baseId !== '' && { baseId }),
    ...(modelId !== '' && { modelId }),
    ...(task && { task }),
    ...(state && { state }),
    ...(q && { q }),
  };
  const from = ribbonStart(today, day);
  const chart = serviceApi.useOutlookQuery(
    { ...filters, from, days: view === 'list' ? 42 : DAYS[view], sort },
    { skip: view === 'list' },
  );
  const list = serviceApi.useDueListQuery(
    { ...filters, page: 1, size: 50, sort: sort === 'base' ? 'boat' : sort },
    { skip: view !== 'list' },
  );
  const maySteer = useMay('administrator', 'coordinator');
  const [several, setSeveral] = useState(false);
  const [picked, setPicked] = useState<Picked | null>(null);
  useEffect(() => {
    const close = (e: KeyboardEvent) => {
      if (e.key === 'Escape') setPicked(null);
    };
    window.addEventListener('keydown', close);
    return () => {
      window.removeEventListener('keydown', close);
    };
  }, []);
  const counts = view === 'list' ? list.data?.counts : chart.data?.counts;
  const engines = view === 'list' ? list.data?.engines : chart.data?.rows.length;
  const error = view === 'list' ? undefined : chart.error;
  const filtered = Object.keys(filters).length > 0;

  return (
    <div className={picked ? 'with-side' : ''}>
      <section>
        <PageHead
          title="What falls due"
          acts={
            <>
              {maySteer && (
                <Button
                  onClick={() => {
                    setSeveral(true);
                  }}>
                  Hand out several boats
                </Button>
              )}
              <Segments
                label="View"
                value={view}
                onChange={(v) => {
                  set('view', v === 'weeks' && !narrow ? null : v);
                }}
                of={(Object.keys(VIEWS) as View[]).map((v) => [v, VIEWS[v]] as const)}
              />
            </>
          }>
          {engines !== undefined && plural(engines, 'engine')}
          {view !== 'list' && <Legend />}
        </PageHead>
        <div className="tools due-tools">
          <div className="chips" role="group" aria-label="State">
            {DUE_STATES.map((s) => (
              <button
                type="button"
                key={s}
                className="chip"
                aria-pressed={state === s}
                onClick={() => {
                  set('state', state === s ? null : s);
                }}>
                <StateShape state={s} /> {STATE_WORD[s]} <span className="figure">{counts?.[s] ?? ''}</span>
              </button>
            ))}
          </div>
          <BaseChoice
            hideLabel
            value={baseId}
            onChange={(v) => {
              set('base', v);
            }}
            none="All bases"
          />
          <Choice
            label="Task"
            hideLabel
            value={task}
            onChange={(v) => {
              set('task', v);
            }}
            options={[['', 'All tasks'], ...TASK_KINDS.map((t): [TaskKind, string] => [t, TASKS[t].word])]}
          />
          <Choice
            label="Model"
            hideLabel
            value={modelId}
            onChange={(v) => {
              set('model', v);
            }}
            options={[['', 'All models'], ...models.map((m): [number, string] => [m.id, `${m.maker} ${m.name}`])]}
          />
          <Choice
            label="Order"
            hideLabel
            value={sort}
            onChange={(v) => {
              set('sort', v);
            }}
            options={[
              ['worst', 'Worst first'],
              ['boat', 'By boat'],
              ['base', 'By base'],
              ['model', 'By model'],
            ]}
          />
          {q && (
            <button
              type="button"
              className="chip"
              onClick={() => {
                set('q', null);
              }}>
              only “{q}” <span aria-hidden="true">×</span>
              <span className="visually-hidden">, show all</span>
            </button>
          )}
        </div>
        <Wrong error={error} />
        {view !== 'list' && !chart.data && !error && <Waiting />}
        {engines === 0 &&
          (filtered ? (
            <Empty title="Nothing stands like this.">Take a filter away to see more.</Empty>
          ) : (
            <Empty title="No engines yet.">
              Read a fleet file in under Fleet, Files, or add the first boat and engine there.
            </Empty>
          ))}
        {view === 'list' ? (
          <DueList
            filters={{ ...filters, sort: sort === 'base' ? 'boat' : sort }}
            page={Number(params.get('page') ?? 1)}
            turn={(p) => {
              set('page', p);
            }}
            picked={picked}
            pick={setPicked}
          />
        ) : (
          chart.data &&
          chart.data.rows.length > 0 && <DueChart outlook={chart.data} today={today} picked={picked} pick={setPicked} />
        )}
      </section>
      {several && (
        <SeveralBoats
          filters={{
            ...(baseId !== '' && { baseId }),
            ...(modelId !== '' && { modelId }),
            ...(task && { task }),
            ...(q && { q }),
          }}
          onClose={() => {
            setSeveral(false);
          }}
        />
      )}
      {picked && (
        <aside className="side" aria-label={picked.visit ? 'Hand out work' : 'Why'}>
          {picked.visit ? (
            <VisitPanel
              boatId={picked.boatId}
              onDone={() => {
                setPicked(null);
              }}
            />
          ) : (
            <Why
              {...picked}
              today={today}
              onClose={() => {
                setPicked(null);
              }}
              onVisit={() => {
                setPicked({ ...picked, visit: true });
              }}
            />
          )}
        </aside>
      )}
    </div>
  );
}

function Legend() {
  return (
    <span className="legend due-legend">
      <span>
        <svg width="44" height="16" aria-hidden="true" className="in-sea">
          <path className="spread" d="M2 3v10M2 8h40M42 3v10" />
          <circle cx="20" cy="8" r="6" fill="var(--sheet)" stroke="currentColor" strokeWidth="2" />
        </svg>
        likely due, 8 in 10 within
      </span>
      <span>
        <svg width="22" height="14" aria-hidden="true">
          <rect className="hire" width="22" height="14" rx="3" />
        </svg>
        on hire
      </span>
      <span>
        <svg width="14" height="16" aria-hidden="true">
          <rect width="14" height="16" rx="3" fill="var(--sea)" />
        </svg>
        handed out
      </span>
    </span>
  );
}
