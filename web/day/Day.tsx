import { Button } from '@mui/material';
import { TASKS } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { dayApi } from './api.ts';
import { serviceApi } from '../service/api.ts';
import { usageApi } from '../usage/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useDay, useMay, useMe, useToday } from '../app/useBook.ts';
import { FirstDay } from '../first-day/index.ts';
import { Lately } from '../changes/index.ts';
import { VisitPanel } from '../service/index.ts';
import { Snags } from '../snags/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { DueMark } from '../ui/DueMark.tsx';
import { longDay, plural } from '../ui/format.ts';
import { Asked, Empty, PageHead, Wrong } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { DayLines } from './DayLines.tsx';
import { DaySheet } from './DaySheet.tsx';
import { GoingBack } from './GoingBack.tsx';
import { HoursSheet, readingsOf, type Sheet } from '../usage/index.ts';
import { Kits } from './Kits.tsx';
import { Slipped } from './Slipped.tsx';
import { ToDecide } from './ToDecide.tsx';
import './day.css';

/** The day by the hour: who works on what, what has to be decided, what goes out and comes back, kits and hours. */
export function Day() {
  const me = useMe();
  const day = useDay();
  const today = useToday();
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  const [baseId, setBaseId] = useState<number | ''>('');
  const [slipping, setSlipping] = useState(false);
  const { data, currentData, error } = dayApi.useReadDayQuery(
    { day, ...(baseId !== '' && { baseId }) },
    { refetchOnMountOrArgChange: true, pollingInterval: 120_000 },
  );

  return (
    <>
      <PageHead
        title={longDay(day)}
        acts={
          <>
            {bases.length > 1 && <BaseChoice hideLabel value={baseId} onChange={setBaseId} none="All bases" />}
            {maySteer && day >= today && (
              <Button
                aria-expanded={slipping}
                onClick={() => {
                  setSlipping(!slipping);
                }}>
                Something slipped
              </Button>
            )}
            <Button
              onClick={() => {
                print();
              }}>
              Print day sheet
            </Button>
          </>
        }>
        {data &&
          `${plural(data.boatsOut, 'boat')} out, ${data.boatsBack} back by noon, ${data.boatsGoing} going out tomorrow morning`}
      </PageHead>
      <div className="with-side day-room no-print">
        <section>
          <Asked data={data} error={error} />
          <FirstDay />
          {data && data.people.length === 0 && (
            <Empty title="Nobody works here yet.">
              Add technicians under your name at the lower left, then plan their work in Plan.
            </Empty>
          )}
          {slipping && data && (
            <Slipped
              day={data}
              baseId={baseId === '' ? null : baseId}
              onClose={() => {
                setSlipping(false);
              }}
            />
          )}
          {data && data.people.length > 0 && <DayLines day={data} />}
          {data && <GoingBack day={data} />}
          {data && <Kits day={data} />}
        </section>
        <aside className="side">
          {data?.matters && <ToDecide key={data.day} matters={data.matters} day={data.day} currency={data.currency} />}
          <Lately />
          {data && !data.matters && <NotHandedOut baseId={baseId} />}
          <Snags baseId={baseId} />
          {me.role !== 'stores' && <HoursWanted baseId={baseId === '' ? (me.baseId ?? '') : baseId} today={today} />}
          {data?.matters && <NotHandedOut baseId={baseId} />}
        </aside>
      </div>
      {/* The paper is of what is asked for, never of what was shown before it came. */}
      {currentData && (
        <DaySheet
          key={currentData.day}
          day={currentData}
          title={longDay(currentData.day)}
          place={bases.find((b) => b.id === baseId)?.name ?? ''}
        />
      )}
    </>
  );
}

/** The worst work nobody has yet. */
function NotHandedOut({ baseId }: { baseId: number | '' }) {
  const { data } = serviceApi.useDueListQuery({ size: 60, ...(baseId !== '' && { baseId }) });
  const maySteer = useMay('administrator', 'coordinator');
  const [boatId, setBoatId] = useState<number | null>(null);
  const open = data?.rows.filter((r) => r.job === null && (r.due.state === 'over' || r.due.state === 'due')) ?? [];
  // The list is worst first: the first of a boat is its worst.
  const boats = open.filter((r, i) => open.findIndex((o) => o.boatId === r.boatId) === i).slice(0, 5);
  if (!data) return null;
  return (
    <section className="block">
      <h2>Due and not handed out</h2>
      {boats.length === 0 && <p className="faint">Everything that is over or due is on somebody’s card.</p>}
      {boats.map((r) => (
        <div key={r.boatId} className="open-work">
          <div>
            <Link to={`/fleet/boats/${r.boatId}`}>
              <b>{r.boatName}</b>
            </Link>{' '}
            <span className="faint">
              {open
                .filter((o) => o.boatId === r.boatId)
                .map((o) => TASKS[o.due.task].word.toLowerCase())
                .filter((w, i, all) => all.indexOf(w) === i)
                .join(', ')}
            </span>
            <div>
              <DueMark due={r.due} />
            </div>
          </div>
          {maySteer && (
            <Button
              size="small"
              onClick={() => {
                setBoatId(boatId === r.boatId ? null : r.boatId);
              }}
              aria-expanded={boatId === r.boatId}>
              Hand out
            </Button>
          )}
          {boatId === r.boatId && (
            <VisitPanel
              boatId={r.boatId}
              onDone={() => {
                setBoatId(null);
              }}
            />
          )}
        </div>
      ))}
      <Link to="/due">All that is due</Link>
    </section>
  );
}

/** Hours typed in place for the engines whose meters were not read for a week. */
function HoursWanted({ baseId, today }: { baseId: number | ''; today: string }) {
  const { data } = usageApi.useHoursSheetQuery({ wanted: 'yes', size: 6, ...(baseId !== '' && { baseId }) });
  const [sheet, setSheet, clear] = useDraft<Sheet>('hours-day', {});
  const [typeHours, { isLoading, error }] = usageApi.useTypeHoursMutation();
  const dispatch = useAppDispatch();
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  if (!data || !mayType) return null;
  const { readings, open } = readingsOf(data.rows, sheet, today);
  const save = async () => {
    const answer = await typeHours({ readings });
    if (!answer.data) return;
    clear();
    dispatch(say({ tone: 'done', text: `${plural(answer.data.saved, 'figure')} in the book.` }));
  };
  return (
    <section className="block">
      <h2>Hours wanted {data.total > data.rows.length && <span className="faint">{data.total} engines</span>}</h2>
      {data.rows.length === 0 ? (
        <p className="faint">No meter waits for a reading.</p>
      ) : (
        <>
          <HoursSheet
            narrow
            rows={data.rows}
            sheet={sheet}
            day={today}
            onType={(id, typed) => {
              setSheet((old) => ({ ...old, [id]: typed }));
            }}
          />
          <Wrong error={error} />
          {(readings.length > 0 || open > 0) && (
            <p className="above-s">
              <Button
                variant="contained"
                color="primary"
                disabled={open > 0 || readings.length === 0 || isLoading}
                onClick={() => void save()}>
                Write {plural(readings.length, 'figure')} in
              </Button>
            </p>
          )}
        </>
      )}
      <p className="above-s">
        <Link to="/day/hours">The whole hours sheet</Link>, or <Link to="/day/back">boats back today</Link>
      </p>
    </section>
  );
}
