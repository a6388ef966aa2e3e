import { Button } from '@mui/material';
import { engineName } from '@diurna/core/fleet';
import { TASKS, whyDue } from '@diurna/core/service';
import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { fleetApi } from './api.ts';
import { serviceApi } from '../service/api.ts';
import { usageApi } from '../usage/api.ts';
import { TypeHours } from '../usage/index.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { DueMark } from '../ui/DueMark.tsx';
import { fullDay, hoursText } from '../ui/format.ts';
import { Asked, AskReason, Empty, PageHead, Pager, Waiting, Wrong } from '../ui/parts.tsx';
import { BreakIn } from '../service/index.ts';
import { Condition } from '../findings/index.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';

const EditEngine = lazy(() => import('./EngineForm.tsx').then((m) => ({ default: m.EditEngine })));
const ChangeMeter = lazy(() => import('./EngineForm.tsx').then((m) => ({ default: m.ChangeMeter })));
const AddEntry = lazy(() => import('../service/AddEntry.tsx').then((m) => ({ default: m.AddEntry })));
const EngineParts = lazy(() => import('../stores/EngineParts.tsx').then((m) => ({ default: m.EngineParts })));
const EngineCurve = lazy(() => import('../usage/EngineCurve.tsx').then((m) => ({ default: m.EngineCurve })));
const METER_WORD = { computer: 'engine computer', dash: 'dash meter', logger: 'logger' };

/** One engine: what is due and why, its readings, its history. */
export function Engine() {
  const id = Number(useParams().id);
  const { data: engine, error } = fleetApi.useReadEngineQuery(id);
  const maySteer = useMay('administrator', 'coordinator');
  const mayWork = useMay('administrator', 'coordinator', 'technician');
  const [sheet, setSheet] = useState<'edit' | 'meter' | 'entry' | null>(null);
  const [retire, { error: notRetired }] = fleetApi.useRetireEngineMutation();
  const dispatch = useAppDispatch();
  const close = () => {
    setSheet(null);
  };
  if (error && !engine)
    return problemOf(error)?.status === 404 ? <Empty title="There is no such engine." /> : <Wrong error={error} />;
  if (!engine) return <Waiting />;
  const title = engine.boatName ? engineName(engine.boatName, engine.position) : engine.serial;
  const meter = engine.meters.find((m) => m.removedOn === null);
  const setRetired = async () => {
    const answer = await retire({ id, version: engine.version, retired: !engine.retired });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: engine.retired ? 'Back in the fleet.' : 'Retired; its history stays. You can take it back here.',
        }),
      );
  };
  return (
    <>
      <PageHead
        title={title}
        acts={
          <>
            {maySteer && (
              <Button
                onClick={() => {
                  setSheet('entry');
                }}>
                Write down earlier work
              </Button>
            )}
            {mayWork && (
              <Button
                onClick={() => {
                  setSheet('meter');
                }}>
                {meter ? 'Change the meter' : 'Fit a meter'}
              </Button>
            )}
            {maySteer && (
              <Button
                onClick={() => {
                  setSheet('edit');
                }}>
                Edit
              </Button>
            )}
            {maySteer && <Button onClick={() => void setRetired()}>{engine.retired ? 'Take back' : 'Retire'}</Button>}
          </>
        }>
        {engine.maker} {engine.modelName}, serial {engine.serial}
        {engine.retired ? ', retired' : ''}
      </PageHead>
      <Wrong error={notRetired} />
      <div className="two">
        <section className="block">
          <dl className="facts">
            <dt>Hours</dt>
            <dd>
              <b className="figure">{engine.lifeHours === null ? 'no reading' : `${hoursText(engine.lifeHours)} h`}</b>
              {engine.lastReadDay && <span className="faint"> read {fullDay(engine.lastReadDay)}</span>}
            </dd>
            <dt>Pace</dt>
            <dd>
              {engine.hoursPerWeek === null ? (
                'too few readings in eight weeks'
              ) : (
                <span className="figure">{hoursText(engine.hoursPerWeek)} h a week</span>
              )}
            </dd>
            <dt>Meter</dt>
            <dd>
              {meter
                ? `${METER_WORD[meter.kind]} since ${fullDay(meter.fittedOn)}${meter.offset === 0 ? '' : `, counts ${meter.offset > 0 ? '+' : ''}${hoursText(meter.offset)} h`}`
                : 'none: hours are worked out from its hires'}
            </dd>
            <dt>In service</dt>
            <dd>
              {engine.inServiceOn ? fullDay(engine.inServiceOn) : 'unknown'}
              {engine.boughtNew ? ', new' : ''}
            </dd>
            <dt>Boat</dt>
            <dd>
              {engine.boatId ? (
                <>
                  <Link to={`/fleet/boats/${engine.boatId}`}>{engine.boatName}</Link>, {engine.baseName}
                </>
              ) : (
                'on the shelf'
              )}
            </dd>
            {engine.twins.length > 0 && (
              <>
                <dt>Twin</dt>
                <dd>
                  {engine.twins.map((t) => (
                    <Link key={t.id} to={`/fleet/engines/${t.id}`}>
                      {t.position}
                      {t.lifeHours === null ? '' : `, ${hoursText(t.lifeHours)} h`}
                    </Link>
                  ))}
                </dd>
              </>
            )}
            <dt>Model</dt>
            <dd>
              <Link to={`/fleet/models/${engine.modelId}`}>
                {engine.maker} {engine.modelName}
              </Link>
            </dd>
          </dl>
          {engine.meters.length > 1 && (
            <p className="faint">{engine.meters.length} meters in its life; hours go on across them.</p>
          )}
        </section>
        <DueHere id={id} lifeHours={engine.lifeHours} />
      </div>
      <BreakIn id={id} />
      <Condition id={id} />
      <Suspense>
        <EngineParts engineId={id} />
      </Suspense>
      <Suspense>
        <EngineCurve id={id} />
      </Suspense>
      <div className="two">
        <History id={id} />
        <Readings id={id} boatId={engine.boatId} />
      </div>
      <Suspense>
        {sheet === 'edit' && <EditEngine engine={engine} onClose={close} />}
        {sheet === 'meter' && <ChangeMeter engine={engine} onClose={close} />}
        {sheet === 'entry' && <AddEntry engine={engine} onClose={close} />}
      </Suspense>
    </>
  );
}

function DueHere({ id, lifeHours }: { id: number; lifeHours: number | null }) {
  const { data, error } = serviceApi.useDueListQuery({ engineId: id, size: 20 });
  const [open, setOpen] = useState<string | null>(null);
  if (!data) return <Asked data={data} error={error} />;
  return (
    <section className="block">
      <h2>Next due</h2>
      {data.rows.length === 0 && <p className="faint">Its model has no programme yet.</p>}
      <Lines>
        <tbody>
          {data.rows.map((r) => (
            <tr key={r.due.task}>
              <td>
                <span className="task">
                  <TaskGlyph task={r.due.task} silent /> {TASKS[r.due.task].word}
                </span>
                {open === r.due.task &&
                  whyDue(r.due, r.rule, lifeHours, fullDay, r.asked).map((line) => (
                    <p key={line} className="faint wraps">
                      {line}
                    </p>
                  ))}
              </td>
              <td className="at-top">
                <button
                  type="button"
                  className="link-button plain"
                  aria-expanded={open === r.due.task}
                  onClick={() => {
                    setOpen(open === r.due.task ? null : r.due.task);
                  }}>
                  <span className="visually-hidden">Why {TASKS[r.due.task].word}: </span>
                  <DueMark due={r.due} />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

function History({ id }: { id: number }) {
  const [page, setPage] = useState(1);
  const { data, error: unread } = serviceApi.useListEntriesQuery({ engineId: id, page, size: 15 });
  const maySteer = useMay('administrator', 'coordinator', 'technician');
  const [wrong, setWrong] = useState<number | null>(null);
  const [cancel, { error }] = serviceApi.useCancelEntryMutation();
  if (!data) return <Asked data={data} error={unread} />;
  return (
    <section className="block">
      <h2>Service history</h2>
      {data.rows.length === 0 && <p className="faint">Unknown: nothing is written down for this engine.</p>}
      <Lines>
        <tbody>
          {data.rows.map((e) => (
            <tr key={e.id} className={e.cancelled ? 'struck' : ''}>
              <td className="faint">{fullDay(e.doneOn)}</td>
              <td>
                <span className="task">
                  <TaskGlyph task={e.task} silent size={19} /> {TASKS[e.task].word}
                </span>
                {e.remark && <div className="small">{e.remark}</div>}
                {e.cancelled && (
                  <div className="small keep">
                    Cancelled by {e.cancelled.by ?? 'unknown'}: {e.cancelled.reason}
                  </div>
                )}
              </td>
              <td className="num figure">{e.hours === null ? '' : `${hoursText(e.hours)} h`}</td>
              <td>{e.by}</td>
              <td className="keep">
                {e.jobId ? (
                  <Link to={`/jobs/${e.jobId}`}>card</Link>
                ) : (
                  maySteer &&
                  !e.cancelled && (
                    <button
                      type="button"
                      className="link-button"
                      onClick={() => {
                        setWrong(e.id);
                      }}>
                      wrong?
                    </button>
                  )
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      <Pager page={page} size={15} total={data.total} turn={setPage} />
      {wrong !== null && (
        <AskReason
          open
          title="Correct this entry"
          act="Cancel the entry"
          error={error}
          onClose={() => {
            setWrong(null);
          }}
          sentence="The entry stays in the log, struck out, with a further entry that says why. Next due dates are worked out without it."
          onGive={(reason) => {
            void cancel({ id: wrong, reason }).then((a) => {
              if (a.data) setWrong(null);
            });
          }}
        />
      )}
    </section>
  );
}

function Readings({ id, boatId }: { id: number; boatId: number | null }) {
  const [page, setPage] = useState(1);
  const { data, error: unread } = usageApi.useListReadingsQuery({ id, page, size: 15 });
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const [wrong, setWrong] = useState<number | null>(null);
  const [withdraw, { error }] = usageApi.useWithdrawReadingMutation();
  if (!data) return <Asked data={data} error={unread} />;
  return (
    <section className="block">
      <h2>Readings</h2>
      {boatId !== null && <TypeHours boatId={boatId} engineId={id} />}
      {data.rows.length === 0 && <p className="faint">None yet.</p>}
      <Lines>
        <tbody>
          {data.rows.map((r) => (
            <tr key={r.id} className={r.withdrawn ? 'struck' : ''}>
              <td className="faint">{fullDay(r.day)}</td>
              <td className="num figure">
                {hoursText(r.count)} h
                {r.lifeHours !== r.count && <span className="faint"> life {hoursText(r.lifeHours)}</span>}
              </td>
              <td>
                {r.doubt && <span className="soon">questioned: {r.reason}</span>}
                {r.withdrawn && <span className="small keep">taken back: {r.withdrawn}</span>}
              </td>
              <td className="faint">
                {r.by ?? ''} {r.source === 'typed' ? '' : r.source}
              </td>
              <td className="keep">
                {mayType && !r.withdrawn && r.source !== 'meter change' && (
                  <button
                    type="button"
                    className="link-button"
                    onClick={() => {
                      setWrong(r.id);
                    }}>
                    wrong?
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      <Pager page={page} size={15} total={data.total} turn={setPage} />
      {wrong !== null && (
        <AskReason
          open
          title="Take this reading back"
          act="Take it back"
          error={error}
          onClose={() => {
            setWrong(null);
          }}
          sentence="The reading stays in the book, struck out, and no longer counts. Type the right figure on the hours sheet."
          onGive={(reason) => {
            void withdraw({ id: wrong, reason }).then((a) => {
              if (a.data) setWrong(null);
            });
          }}
        />
      )}
    </section>
  );
}
