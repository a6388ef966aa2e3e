import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import type { HoursRow } from '@diurna/contract/usage';
import type { Day } from '@diurna/core/calendar';
import { useState } from 'react';
import { Link } from 'react-router';
import { now } from '../app/clock.ts';
import { useBases, useMay, useMe, useToday } from '../app/useBook.ts';
import { hiresApi } from '../hires/api.ts';
import { DockNotTaken, useDock, useDockActs } from '../outbox/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { BoatPick } from '../ui/BoatPick.tsx';
import { plural } from '../ui/format.ts';
import { Asked, Empty, PageHead } from '../ui/parts.tsx';
import { usageApi } from '../usage/api.ts';
import { atDock, keptHours } from './at-dock.ts';
import { BoatBack } from './BoatBack.tsx';
import { GoingOut, useClockOf } from './GoingOut.tsx';
import '../ui/dock.css';

interface Boat {
  id: number;
  name: string;
  /** The hire it comes back from; null = it is looked at by itself. */
  hire: Hire | null;
}

/**
 * Boats whose meters are asked for at once, and their meters: three engines each at most. Others are asked when opened.
 */
const MOST_ASKED = 66;
const MOST_METERS = 200;

/** Boats that come back on a day, in the order they do, each once. */
function comingBack(hires: readonly Hire[], today: Day): Boat[] {
  return hires
    .filter((h) => h.backDay === today && !h.cancelled)
    .sort((a, b) => (a.backTime < b.backTime ? -1 : 1))
    .map((h) => ({ id: h.boatId, name: h.boatName, hire: h }))
    .filter((b, i, all) => all.findIndex((x) => x.id === b.id) === i);
}

/**
 * The dock: boats that go out and come back today; what is tapped and typed is kept here and sent when there is signal.
 */
export function Back() {
  const me = useMe();
  const today = useToday();
  const bases = useBases();
  const [baseId, setBaseId] = useState<number | ''>(me.baseId ?? '');
  const base = baseId === '' ? {} : { baseId };
  const { data, error } = hiresApi.useListHiresQuery({ from: today, days: 1, ...base });
  const [open, setOpen] = useState<number | null>(null);
  const [other, setOther] = useState<{ id: number; name: string } | null>(null);
  const expected = comingBack(data?.rows ?? [], today);
  // One question for all of them: what was answered is there without signal.
  const asked = expected.slice(0, MOST_ASKED).map((b) => b.id);
  const hours = usageApi.useHoursSheetQuery(
    { size: MOST_METERS, boats: asked.join(',') },
    { skip: expected.length === 0 },
  );
  const { waiting } = useDockActs();
  const kept = keptHours(waiting);
  const boats: Boat[] =
    other && !expected.some((b) => b.id === other.id) ? [...expected, { ...other, hire: null }] : expected;
  const rowsOf = (boatId: number) =>
    hours.data && asked.includes(boatId) ? hours.data.rows.filter((r) => r.boatId === boatId) : null;
  const wanted = (boatId: number) => rowsOf(boatId)?.some((r) => isWanted(r, today) && !kept.has(r.engineId)) ?? null;
  const left = boats.filter((b) => wanted(b.id)).length;
  const going = (data?.rows ?? []).filter((h) => h.outDay === today && !h.cancelled);
  return (
    <>
      <PageHead
        title="Boats back"
        acts={bases.length > 1 && <BaseChoice hideLabel value={baseId} onChange={setBaseId} none="All bases" />}>
        {data &&
          (hours.data || expected.length === 0) &&
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
      <GoingOut hires={going} />
      <DockNotTaken not={[...going.map((h) => h.boatId), ...boats.map((b) => b.id)]} />
      {boats.length > 0 && <h2>Coming back</h2>}
      <ul className="back-list" aria-label="Coming back">
        {boats.map((b) => (
          <li key={b.id} className={open === b.id ? 'open' : ''}>
            <button
              type="button"
              className="back-boat"
              aria-expanded={open === b.id}
              onClick={() => {
                setOpen(open === b.id ? null : b.id);
              }}>
              <span className="figure back-time">{b.hire?.backTime ?? '–'}</span>
              <b>{b.name}</b>
              <HowItIs boat={b} wanted={wanted(b.id)} kept={(rowsOf(b.id) ?? []).some((r) => kept.has(r.engineId))} />
            </button>
            <DockNotTaken boatId={b.id} kinds={['back', 'hours', 'snag']} />
            {open === b.id && (
              <>
                <BackAfterAll boat={b} />
                <BoatBack
                  boat={b}
                  hire={b.hire}
                  rows={rowsOf(b.id)}
                  today={today}
                  onDone={() => {
                    setOpen(null);
                  }}
                />
              </>
            )}
          </li>
        ))}
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

const isWanted = (r: HoursRow, today: Day) => r.lastDay === null || r.lastDay < today;

/** What is known of a boat that comes back: whether it is here, and its hours. */
function HowItIs({ boat: { hire }, wanted, kept }: { boat: Boat; wanted: boolean | null; kept: boolean }) {
  const clockOf = useClockOf();
  const { waiting } = useDockActs();
  const stand = hire && atDock(hire, waiting);
  const late = hire !== null && stand?.back === null && Date.parse(hire.back) < now();
  const here = stand?.back && hire ? `back ${clockOf(stand.back, hire.baseId)}, ` : late ? 'not back yet, ' : '';
  if (wanted === null) return <span className={late ? 'soon' : 'fine'}>{here.replace(/, $/, '')}</span>;
  return (
    <span className={wanted ? 'soon' : 'fine'}>
      {here}
      {wanted ? 'hours wanted' : kept ? '✓ hours kept on this phone' : '✓ hours in'}
    </span>
  );
}

/** Seen wrongly: the boat is not back after all. */
function BackAfterAll({ boat: { hire, ...boat } }: { boat: Boat }) {
  const may = useMay('administrator', 'coordinator', 'technician', 'dock');
  const { waiting } = useDockActs();
  const { write, forgo } = useDock();
  if (!hire || !may) return null;
  const { back, keptBack } = atDock(hire, waiting);
  if (back === null) return null;
  return (
    <Button
      onClick={() =>
        void (keptBack
          ? forgo(keptBack)
          : write({ boatId: boat.id, boatName: boat.name, kind: 'back', hireId: hire.id, back: false }))
      }>
      It is not back yet
    </Button>
  );
}
