import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { hiresApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useDay, useMay } from '../app/useBook.ts';
import { FLEET_LEAVES } from '../fleet/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural, shortDay } from '../ui/format.ts';
import { Choice, Empty, Entry, Heads, Leaves, PageHead, Pager, Waiting, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';

const HireForm = lazy(() => import('./HireForm.tsx').then((m) => ({ default: m.HireForm })));

const SIZE = 50;

/** When boats go out and come back. */
export function Hires() {
  const day = useDay();
  const [baseId, setBaseId] = useState<number | ''>('');
  const [days, setDays] = useState<number>(14);
  const [cancelled, setCancelled] = useState<'no' | 'yes'>('no');
  const [page, setPage] = useState(1);
  const [q, setQ] = useState('');
  const maySteer = useMay('administrator', 'coordinator');
  const [open, setOpen] = useState<Hire | 'new' | null>(null);
  const { data, error } = hiresApi.useListHiresQuery({
    from: day,
    days,
    page,
    size: SIZE,
    cancelled,
    ...(q.trim() !== '' && { q: q.trim() }),
    ...(baseId !== '' && { baseId }),
  });
  const [cancel, cancelling] = hiresApi.useCancelHireMutation();
  const [give, giving] = hiresApi.useGiveHireMutation();
  const dispatch = useAppDispatch();
  const callOff = async (h: Hire, off: boolean) => {
    const answer = await cancel({ id: h.id, version: h.version, cancelled: off });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: off
            ? `The hire of ${h.boatName} on ${shortDay(h.outDay)} is called off. It can be taken back under “called off too”.`
            : `The hire of ${h.boatName} stands again.`,
        }),
      );
  };
  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <Entry
              hideLabel
              label="Boat or reference"
              placeholder="Boat or reference"
              value={q}
              maxLength={80}
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
              hideLabel
              label="From the day of the ribbon"
              value={days}
              onChange={(v) => {
                setDays(v || 14);
                setPage(1);
              }}
              options={[
                [7, 'one week'],
                [14, 'two weeks'],
                [42, 'six weeks'],
                [182, 'half a year'],
              ]}
            />
            <Choice
              hideLabel
              label="Show"
              value={cancelled}
              onChange={(v) => {
                setCancelled(v || 'no');
                setPage(1);
              }}
              options={[
                ['no', 'those that stand'],
                ['yes', 'called off too'],
              ]}
            />
          </div>
        }

        title="Hires"
        acts={
          <>
            <Button component={Link} to="/fleet/hires/calendars">
              Calendars and files
            </Button>
            {maySteer && (
              <Button
                variant="contained"
                color="primary"
                onClick={() => {
                  setOpen('new');
                }}>
                Book a boat out
              </Button>
            )}
          </>
        }>
        {data && `${plural(data.total, 'hire')} from ${shortDay(day)}`}
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Wrong error={error ?? cancelling.error ?? giving.error} />
      {!data && !error && <Waiting />}
      {data?.rows.length === 0 && (
        <Empty title={q.trim() === '' ? 'No hire in these days.' : 'No hire of that name in these days.'}>
          Turn the ribbon to other days, book a boat out, or read a calendar in: what falls due is forecast from hires.
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <Heads of={['Boat', 'Out', 'Back', { num: 'Hours' }, 'Reference', 'From', { unseen: 'Act' }]} />
          <tbody>
            {data.rows.map((h) => (
              <tr key={h.id} className={h.cancelled ? 'struck' : ''}>
                <td>
                  <Link to={`/fleet/boats/${h.boatId}`}>
                    <b>{h.boatName}</b>
                  </Link>
                  {h.givenFrom && (
                    <span className="faint">
                      {' '}
                      for {h.givenFrom.boatName}{' '}
                      {maySteer && h.letGo === null && (
                        <button
                          type="button"
                          className="link-button"
                          onClick={() => void give({ id: h.id, version: h.version, boatId: h.givenFrom!.boatId })}
                          aria-label={`Give it back: ${h.givenFrom.boatName} goes out on ${shortDay(h.outDay)} after all`}>
                          give it back
                        </button>
                      )}
                    </span>
                  )}
                </td>
                <td>
                  {shortDay(h.outDay)} <span className="figure">{h.outTime}</span>
                </td>
                <td>
                  {h.backDay === h.outDay ? '' : `${shortDay(h.backDay)} `}
                  <span className="figure">{h.backTime}</span>
                </td>
                <td className="num figure">{((Date.parse(h.back) - Date.parse(h.out)) / 3_600_000).toFixed(1)}</td>
                <td className="faint">{h.reference}</td>
                <td className="faint">{h.source ?? ''}</td>
                <td className="num keep">
                  {maySteer && !h.fromFeed && (
                    <span className="row-acts">
                      {!h.cancelled && (
                        <button
                          type="button"
                          className="link-button"
                          onClick={() => {
                            setOpen(h);
                          }}
                          aria-label={`Change the hire of ${h.boatName} on ${shortDay(h.outDay)}`}>
                          change
                        </button>
                      )}
                      <button
                        type="button"
                        className="link-button"
                        onClick={() => void callOff(h, !h.cancelled)}
                        aria-label={`${h.cancelled ? 'Take back' : 'Call off'} the hire of ${h.boatName} on ${shortDay(h.outDay)}`}>
                        {h.cancelled ? 'take back' : 'call off'}
                      </button>
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={data.size} total={data.total} turn={setPage} />}
      {open && (
        <Suspense>
          <HireForm
            day={day}
            {...(open !== 'new' && { hire: open })}
            onClose={() => {
              setOpen(null);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
