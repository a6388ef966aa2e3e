import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import { BREAK_IN_CAUTION } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { hiresApi } from '../hires/api.ts';
import { usageApi } from '../usage/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay, useMe, useToday } from '../app/useBook.ts';
import { SnagForm } from '../snags/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { BoatPick } from '../ui/BoatPick.tsx';
import { hoursText, plural } from '../ui/format.ts';
import { Asked, Empty, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { judge, readingsOf, type Sheet } from '../usage/index.ts';
import '../ui/dock.css';

interface Boat {
  id: number;
  name: string;
  out: string;
  back: string | null;
}

/** The dock: boats that come back today; a tap opens one, a figure for each engine, a tap writes it. */
export function Back() {
  const me = useMe();
  const today = useToday();
  const bases = useBases();
  const [baseId, setBaseId] = useState<number | ''>(me.baseId ?? '');
  const base = baseId === '' ? {} : { baseId };
  const { data, error } = hiresApi.useListHiresQuery({ from: today, days: 1, ...base });
  const hours = usageApi.useHoursSheetQuery({ size: 200, ...base });
  const [open, setOpen] = useState<number | null>(null);
  const [other, setOther] = useState<{ id: number; name: string } | null>(null);
  const boats: Boat[] = (data?.rows ?? [])
    .filter((h) => h.backDay === today)
    .sort((a, b) => (a.backTime < b.backTime ? -1 : 1))
    .map((h) => ({ id: h.boatId, name: h.boatName, out: h.outDay === today ? h.outTime : '', back: h.backTime }))
    .filter((b, i, all) => all.findIndex((x) => x.id === b.id) === i);
  if (other && !boats.some((b) => b.id === other.id)) boats.push({ ...other, out: '', back: null });
  const missing = (boatId: number) =>
    hours.data?.rows.filter((r) => r.boatId === boatId && (r.lastDay === null || r.lastDay < today)).length ?? null;
  const left = boats.filter((b) => (missing(b.id) ?? 0) > 0).length;
  return (
    <>
      <PageHead
        title="Boats back"
        acts={bases.length > 1 && <BaseChoice hideLabel value={baseId} onChange={setBaseId} none="All bases" />}>
        {data &&
          hours.data &&
          (left === 0
            ? `${plural(boats.length, 'boat')} today, all hours in`
            : `${plural(boats.length, 'boat')} today, hours wanted of ${left}`)}
      </PageHead>
      <Asked data={data} error={error} />
      {data && boats.length === 0 && (
        <Empty title="No boat comes back today.">
          Find another one below, or go to <Link to="/day/hours">the whole hours sheet</Link>.
        </Empty>
      )}
      {data && <GoingOut hires={data.rows.filter((h) => h.outDay === today && !h.cancelled)} />}
      {boats.length > 0 && <h2>Coming back</h2>}
      <ul className="back-list" aria-label="Coming back">
        {boats.map((b) => {
          const n = missing(b.id);
          return (
            <li key={b.id} className={open === b.id ? 'open' : ''}>
              <button
                type="button"
                className="back-boat"
                aria-expanded={open === b.id}
                onClick={() => {
                  setOpen(open === b.id ? null : b.id);
                }}>
                <span className="figure back-time">{b.back ?? '–'}</span>
                <b>{b.name}</b>
                <span className={n === null ? '' : n > 0 ? 'soon' : 'fine'}>
                  {n === null ? '' : n > 0 ? 'hours wanted' : '✓ hours in'}
                </span>
              </button>
              {open === b.id && (
                <BoatHours
                  boat={b}
                  today={today}
                  onDone={() => {
                    setOpen(null);
                  }}
                />
              )}
            </li>
          );
        })}
      </ul>
      <div className="back-other">
        <BoatPick
          value={other}
          onChange={(b) => {
            setOther(b);
            setOpen(b?.id ?? null);
          }}
        />
        <span className="faint">a boat that is not on the list</span>
      </div>
    </>
  );
}

/** Boats that go out today: one tap lets one go; a held one stays, with the reason. */
function GoingOut({ hires }: { hires: readonly Hire[] }) {
  const mayLet = useMay('administrator', 'coordinator', 'technician', 'dock');
  const [letGo, { isLoading, error }] = hiresApi.useLetGoMutation();
  const dispatch = useAppDispatch();
  if (hires.length === 0) return null;
  return (
    <>
      <h2>Going out</h2>
      <ul className="going-out" aria-label="Going out">
        {[...hires]
          .sort((a, b) => (a.outTime < b.outTime ? -1 : 1))
          .map((h) => (
            <li key={h.id}>
              <span className="figure back-time">{h.outTime}</span>
              <b>{h.boatName}</b>
              {h.letGo ? (
                <span className="fine">✓ out</span>
              ) : h.held.length > 0 ? (
                <b className="minus">held</b>
              ) : mayLet ? (
                <Button
                  disabled={isLoading}
                  aria-label={`It goes out: ${h.boatName}`}
                  onClick={() =>
                    void letGo({ id: h.id, version: h.version }).then((a) => {
                      if (a.data) dispatch(say({ tone: 'done', text: `${h.boatName} is out.` }));
                    })
                  }>
                  It goes out
                </Button>
              ) : (
                <span className="faint">ready</span>
              )}
              {h.runIn.map((text) => (
                <p key={text} className="held-why">
                  <b>Running in.</b> {text} {BREAK_IN_CAUTION}
                </p>
              ))}
              {!h.letGo &&
                h.held.map((why) => (
                  <p key={why} className="held-why">
                    {why} It stays until a coordinator lets it go.
                  </p>
                ))}
            </li>
          ))}
      </ul>
      <Wrong error={error} />
    </>
  );
}

function BoatHours({ boat, today, onDone }: { boat: Boat; today: string; onDone: () => void }) {
  const { data } = usageApi.useHoursSheetQuery({ boatId: boat.id, size: 20 });
  const [sheet, setSheet, clear] = useDraft<Sheet>(`back ${boat.id}`, {});
  const [typeHours, { isLoading, error }] = usageApi.useTypeHoursMutation();
  const [snag, setSnag] = useState(false);
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const dispatch = useAppDispatch();
  if (!data) return <Waiting />;
  const { readings, open } = readingsOf(data.rows, sheet, today);
  const word = (position: string) => (position === 'single' ? 'engine' : position);
  const write = async () => {
    const answer = await typeHours({ readings });
    if (!answer.data) return;
    clear();
    dispatch(say({ tone: 'done', text: `Hours of ${boat.name} are in the book.` }));
    onDone();
  };
  if (snag)
    return (
      <SnagForm
        boatId={boat.id}
        boatName={boat.name}
        engines={data.rows.map((r) => ({ id: r.engineId, word: word(r.position) }))}
        onDone={() => {
          setSnag(false);
        }}
      />
    );
  return (
    <form
      className="back-form"
      onSubmit={(e) => {
        e.preventDefault();
        void write();
      }}>
      {data.rows.length === 0 && <p className="faint">No engine of this boat has a meter.</p>}
      {data.rows.map((r, i) => {
        const typed = sheet[r.engineId];
        const verdict = judge(r, typed, today);
        return (
          <div key={r.engineId} className="back-engine">
            <label htmlFor={`back-${r.engineId}`}>
              {word(r.position)}{' '}
              <span className="faint">
                was <span className="figure">{r.lastCount === null ? 'new' : hoursText(r.lastCount)}</span>
              </span>
            </label>
            <input
              id={`back-${r.engineId}`}
              className="plain-input num figure"
              inputMode="decimal"
              autoComplete="off"
              autoFocus={i === 0}
              value={typed?.count ?? ''}
              placeholder="h"
              disabled={!mayType}
              aria-invalid={verdict.state === 'bad' || verdict.state === 'question'}
              aria-describedby={`back-${r.engineId}-says`}
              onChange={(e) => {
                setSheet((old) => ({ ...old, [r.engineId]: { count: e.target.value, reason: typed?.reason ?? '' } }));
              }}
            />
            <p id={`back-${r.engineId}-says`} className={verdict.state === 'good' ? 'fine small' : 'minus small'}>
              {verdict.text}
            </p>
            {verdict.state === 'question' && (
              <input
                className="plain-input"
                aria-label={`Why is it right, ${word(r.position)}`}
                placeholder="it is right, because"
                value={typed?.reason ?? ''}
                onChange={(e) => {
                  setSheet((old) => ({ ...old, [r.engineId]: { count: typed?.count ?? '', reason: e.target.value } }));
                }}
              />
            )}
          </div>
        );
      })}
      <Wrong error={error} />
      <div className="side-acts">
        {mayType && data.rows.length > 0 && (
          <Button
            type="submit"
            variant="contained"
            color="primary"
            disabled={readings.length === 0 || open > 0 || isLoading}>
            Write it down
          </Button>
        )}
        {mayType && (
          <Button
            onClick={() => {
              setSnag(true);
            }}>
            Something is wrong
          </Button>
        )}
      </div>
    </form>
  );
}
