import { Button } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { fleetApi } from './api.ts';
import { hiresApi } from '../hires/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useToday } from '../app/useBook.ts';
import { VisitPanel } from '../service/index.ts';
import { Snags } from '../snags/index.ts';
import { fullDay, hoursText, shortDay } from '../ui/format.ts';
import { Empty, Heads, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';

const BoatForm = lazy(() => import('./BoatForm.tsx').then((m) => ({ default: m.BoatForm })));
const NewEngine = lazy(() => import('./EngineForm.tsx').then((m) => ({ default: m.NewEngine })));

/** One boat: its engines, what is due on it, its jobs. */
export function Boat() {
  const id = Number(useParams().id);
  const { data: boat, error } = fleetApi.useReadBoatQuery(id);
  const jobs = jobsApi.useListJobsQuery({ boatId: id, size: 20 });
  const maySteer = useMay('administrator', 'coordinator');
  const [sheet, setSheet] = useState<'edit' | 'engine' | 'visit' | null>(null);
  const [retire, { error: notRetired }] = fleetApi.useRetireBoatMutation();
  const dispatch = useAppDispatch();
  const close = () => {
    setSheet(null);
  };
  if (error && !boat)
    return problemOf(error)?.status === 404 ? <Empty title="There is no such boat." /> : <Wrong error={error} />;
  if (!boat) return <Waiting />;
  const setRetired = async (retired: boolean) => {
    const answer = await retire({ id, version: boat.version, retired });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: retired
            ? `${boat.name} is retired; its history stays. You can take it back here.`
            : `${boat.name} is back in the fleet.`,
        }),
      );
  };
  return (
    <div className={sheet === 'visit' ? 'with-side' : ''}>
      <section>
        <PageHead
          title={boat.name}
          acts={
            maySteer && (
              <>
                {!boat.retired && (
                  <Button
                    variant="contained"
                    color="primary"
                    onClick={() => {
                      setSheet('visit');
                    }}>
                    Hand out work
                  </Button>
                )}
                <Button
                  onClick={() => {
                    setSheet('edit');
                  }}>
                  Edit
                </Button>
                {!boat.retired && (
                  <Button
                    onClick={() => {
                      setSheet('engine');
                    }}>
                    Add an engine
                  </Button>
                )}
                <Button onClick={() => void setRetired(!boat.retired)}>{boat.retired ? 'Take back' : 'Retire'}</Button>
              </>
            )
          }>
          {boat.baseName}
          {boat.berth ? `, berth ${boat.berth}` : ''}
          {boat.retired ? ', retired' : ''}
        </PageHead>
        <Wrong error={notRetired} />
        <section className="block">
          <h2>Engines</h2>
          {boat.engines.length === 0 && <p className="faint">None yet. Add the first one above.</p>}
          {boat.engines.length > 0 && (
            <Lines>
              <Heads of={['Position', 'Model', 'Serial', { num: 'Hours' }, 'Read']} />
              <tbody>
                {boat.engines.map((e) => (
                  <tr key={e.id}>
                    <td>
                      <Link to={`/fleet/engines/${e.id}`}>
                        <b>{e.position}</b>
                      </Link>
                    </td>
                    <td>{e.modelName}</td>
                    <td className="figure faint">{e.serial}</td>
                    <td className="num figure">{hoursText(e.lifeHours)}</td>
                    <td className="faint">{e.lastReadDay ? fullDay(e.lastReadDay) : 'no meter'}</td>
                  </tr>
                ))}
              </tbody>
            </Lines>
          )}
        </section>
        <Coming boatId={id} />
        <Snags boatId={id} />
        <section className="block">
          <h2>Jobs</h2>
          {jobs.data?.rows.length === 0 && <p className="faint">None yet.</p>}
          {jobs.data && jobs.data.rows.length > 0 && (
            <Lines>
              <tbody>
                {jobs.data.rows.map((j) => (
                  <tr key={j.id}>
                    <td>
                      <Link to={`/jobs/${j.id}`}>{shortDay(j.day)}</Link>
                    </td>
                    <td>{j.technician}</td>
                    <td>
                      <span className="glyphs">
                        {[...new Set(j.tasks.map((t) => t.task))].map((t) => (
                          <TaskGlyph key={t} task={t} />
                        ))}
                      </span>
                    </td>
                    <td className="faint">{j.status === 'cancelled' ? 'called off' : j.status}</td>
                  </tr>
                ))}
              </tbody>
            </Lines>
          )}
        </section>
      </section>
      {sheet === 'visit' && (
        <aside className="side">
          <VisitPanel boatId={id} onDone={close} />
        </aside>
      )}
      <Suspense>
        {sheet === 'edit' && <BoatForm boat={boat} onClose={close} />}
        {sheet === 'engine' && <NewEngine boat={boat} onClose={close} />}
      </Suspense>
    </div>
  );
}

/** Its hires of the next two weeks. */
function Coming({ boatId }: { boatId: number }) {
  const today = useToday();
  const { data } = hiresApi.useListHiresQuery({ boatId, from: today, days: 14 });
  if (!data) return null;
  return (
    <section className="block">
      <h2>Out in the next two weeks</h2>
      {data.rows.length === 0 && <p className="faint">Not booked.</p>}
      {data.rows.length > 0 && (
        <Lines>
          <tbody>
            {data.rows.slice(0, 8).map((h) => (
              <tr key={h.id}>
                <td>
                  {shortDay(h.outDay)} <span className="figure">{h.outTime}</span>
                </td>
                <td>
                  {h.backDay === h.outDay ? '' : `${shortDay(h.backDay)} `}
                  <span className="figure">{h.backTime}</span>
                </td>
                <td className="faint">{h.reference}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data.total > 8 && <p className="faint">and {data.total - 8} more</p>}
    </section>
  );
}
