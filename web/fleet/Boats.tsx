import { Button } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { fleetApi } from './api.ts';
import { useBases, useMay } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, hoursText, plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Entry, Leaves, PageHead, Pager } from '../ui/parts.tsx';
import { StateShape, STATE_WORD } from '../ui/DueMark.tsx';
import { SortHeads, type Sorting } from '../ui/SortHeads.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { TASKS } from '@diurna/core/service';
import type { BoatOrder } from '@diurna/contract/fleet';
import { Lines } from '../ui/Lines.tsx';
import { FLEET_LEAVES } from './leaves.ts';

const BoatForm = lazy(() => import('./BoatForm.tsx').then((m) => ({ default: m.BoatForm })));
const SIZE = 50;

/** The boats with their engines. */
export function Boats() {
  const bases = useBases();
  const [baseId, setBaseId] = useState<number | ''>('');
  const [q, setQ] = useState('');
  const [retired, setRetired] = useState<'no' | 'yes'>('no');
  const [page, setPage] = useState(1);
  const [sorting, setSorting] = useState<Sorting<BoatOrder>>({ by: 'boat', down: false });
  const [adding, setAdding] = useState(false);
  const maySteer = useMay('administrator', 'coordinator');
  const { data, error } = fleetApi.useListBoatsQuery({
    page,
    size: SIZE,
    retired,
    ...(sorting.by !== 'boat' && { order: sorting.by }),
    ...(sorting.down && { down: 'yes' as const }),
    ...(baseId !== '' && { baseId }),
    ...(q.trim() && { q: q.trim() }),
  });
  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <Entry
              label="Anything in the line"
              hideLabel
              placeholder="Anything in a row"
              maxLength={80}
              value={q}
              onType={(text) => {
                setQ(text);
                setPage(1);
              }}
            />
            <BaseChoice
              hideLabel
              value={baseId}
              onChange={(v) => {
                setBaseId(v);
                setPage(1);
              }}
              none="All bases"
            />
            <Choice
              label="Show"
              hideLabel
              value={retired}
              onChange={(v) => {
                setRetired(v || 'no');
                setPage(1);
              }}
              options={[
                ['no', 'In use'],
                ['yes', 'Retired'],
              ]}
            />
          </div>
        }

        title="Fleet"
        acts={
          maySteer &&
          bases.length > 0 && (
            <Button
              onClick={() => {
                setAdding(true);
              }}>
              Add a boat
            </Button>
          )
        }>
        {data && plural(data.total, retired === 'yes' ? 'retired boat' : 'boat')}
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Asked data={data} error={error} />
      {data?.rows.length === 0 && (
        <Empty title="No boat here.">
          {q || baseId !== '' ? (
            'Take a filter away to see more.'
          ) : (
            <>
              Read a <Link to="/fleet/files">fleet file</Link> in, or add the first boat above.
            </>
          )}
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <SortHeads
            of={[
              { word: 'Boat', key: 'boat' },
              { word: 'Base, berth', key: 'base' },
              { word: 'Engine' },
              { word: 'Model', key: 'model' },
              { word: 'Serial' },
              { word: 'Hours', key: 'hours', num: true },
              { word: 'Read', key: 'read' },
              { word: 'Next due', key: 'due' },
            ]}
            sorting={sorting}
            onSort={(next) => {
              setSorting(next);
              setPage(1);
            }}
          />
          <tbody>
            {data.rows.flatMap((b) =>
              (b.engines.length === 0 ? [null] : b.engines).map((e, i) => (
                <tr key={`${b.id} ${e?.id ?? 0}`}>
                  <td>
                    {i === 0 && (
                      <Link to={`/fleet/boats/${b.id}`}>
                        <b>{b.name}</b>
                      </Link>
                    )}
                  </td>
                  <td className="faint">{i === 0 && `${b.baseName}${b.berth ? `, ${b.berth}` : ''}`}</td>
                  {e ? (
                    <>
                      <td>
                        <Link to={`/fleet/engines/${e.id}`}>{e.position}</Link>
                      </td>
                      <td>{e.modelName}</td>
                      <td className="faint figure">{e.serial}</td>
                      <td className="num figure">
                        {e.lifeHours === null ? <span className="faint">no meter</span> : hoursText(e.lifeHours)}
                      </td>
                      <td className="faint">{e.lastReadDay ? fullDay(e.lastReadDay) : ''}</td>
                      <td>
                        {e.nearest && (
                          <span className={`due-mark ${e.nearest.state}`} title={TASKS[e.nearest.task].word}>
                            <StateShape state={e.nearest.state} />
                            <span className="visually-hidden">
                              {STATE_WORD[e.nearest.state]}, {TASKS[e.nearest.task].word.toLowerCase()}:{' '}
                            </span>
                            {e.nearest.text} <TaskGlyph task={e.nearest.task} size={16} silent />
                          </span>
                        )}
                      </td>
                    </>
                  ) : (
                    <td colSpan={6} className="faint">
                      no engine yet
                    </td>
                  )}
                </tr>
              )),
            )}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
      {adding && (
        <Suspense>
          <BoatForm
            onClose={() => {
              setAdding(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
