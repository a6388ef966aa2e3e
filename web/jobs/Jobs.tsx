import type { JobOrder } from '@diurna/contract/jobs';
import { addDays } from '@diurna/core/calendar';
import { minutesText } from '@diurna/core/visit';
import { Button } from '@mui/material';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { jobsApi } from './api.ts';
import { useBases, useDay, useMay, useMe, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { longDay, plural, shortDay } from '../ui/format.ts';
import { Asked, Choice, Empty, Entry, PageHead, Pager } from '../ui/parts.tsx';
import { JobRowLine } from './JobRowLine.tsx';
import { ShiftCards } from './ShiftCards.tsx';
import { useClock } from './useCard.ts';
import { ownDay, PAGE_SIZE, useKeptCards } from './useKept.ts';
import { inOrder, useTimes } from './useTimes.ts';
import './jobs.css';

const SHOWS = ['day', 'open', 'waiting', 'history'] as const;
type Show = (typeof SHOWS)[number];
const ORDERS: [JobOrder, string][] = [
  ['day', 'By time'],
  ['boat', 'By boat'],
  ['person', 'By person'],
];
const NONE: Record<Show, string> = {
  day: 'Choose another day on the ribbon, or look at all open jobs. Work is handed out from Due and Plan.',
  open: 'Work is handed out from Due and Plan.',
  waiting: 'Nothing drains, is paused, lacks a part or is held.',
  history: 'Finished cards come here.',
};

/**
 * Job cards: of the day, all open ones, those that wait for something, and those of the past; how far each is, live.
 */
export function Jobs() {
  const me = useMe();
  const day = useDay();
  const today = useToday();
  const maySteer = useMay('administrator', 'coordinator');
  const [params, setParams] = useSearchParams();
  const show = SHOWS.find((s) => s === params.get('show')) ?? 'day';
  const mine = params.get('whose') === null ? me.role === 'technician' : params.get('whose') === 'mine';
  const page = Number(params.get('page') ?? 1);
  const base = params.get('base') ?? '';
  const q = (params.get('q') ?? '').trim();
  const order = ORDERS.find(([o]) => o === params.get('order'))?.[0] ?? 'day';
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(name, value);
    if (name !== 'page') next.delete('page');
    setParams(next, { replace: true });
  };
  const { data, error } = jobsApi.useListJobsQuery(
    show === 'day' && mine && page === 1 && base === '' && q === '' && order === 'day'
      ? ownDay(me.id, day)
      : {
          page,
          size: PAGE_SIZE,
          ...(show === 'day'
            ? { from: day, to: day }
            : show === 'open'
              ? { status: 'open' }
              : show === 'waiting'
                ? { view: 'waiting' }
                : { status: 'done', ...(order === 'day' && { order: 'newest' as const }) }),
          ...(order !== 'day' && { order }),
          ...(mine && { technicianId: me.id }),
          ...(base !== '' && { baseId: Number(base) }),
          ...(q !== '' && { q }),
        },
  );
  const times = useTimes(day, show === 'day');
  const listed = data?.rows.filter((j) => show !== 'day' || j.status !== 'cancelled') ?? [];
  const rows = order === 'day' ? inOrder(listed, times) : listed;
  const title =
    show === 'day'
      ? day === today
        ? 'Jobs today'
        : `Jobs, ${longDay(day)}`
      : show === 'open'
        ? 'Open jobs'
        : show === 'waiting'
          ? 'Waiting for something'
          : 'Finished jobs';
  const now = useClock(rows.some((r) => (r.progress?.waits.length ?? 0) > 0));
  useKeptCards(
    me.role === 'technician'
      ? rows.filter((r) => r.status === 'open' && r.technicianId === me.id).map((r) => r.id)
      : [],
  );
  return (
    <>
      <PageHead
        title={title}
        tools={
          <Filters
            show={show}
            mine={mine}
            base={base}
            order={order}
            q={params.get('q') ?? ''}
            dayWord={day === today ? 'Today' : shortDay(day)}
            set={set}
          />
        }
        acts={maySteer && <Shift from={day} />}>
        {data &&
          `${plural(data.total, 'card')}${mine ? ' of yours' : ''}${rows.length > 0 && show === 'day' ? `, ${minutesText(rows.reduce((sum, j) => sum + j.minutes, 0))} in all` : ''}`}
      </PageHead>
      <Asked data={data} error={error} />
      {mine && show === 'day' && times.elsewhere !== null && (
        <p className="jobs-elsewhere">You work at {times.elsewhere} that day.</p>
      )}
      {mine && show === 'day' && day === today && <Earlier now={now} />}
      {data && rows.length === 0 && (
        <Empty
          title={q !== '' ? 'No card of a boat of that name here.' : mine ? 'Nothing for you here.' : 'No job here.'}>
          {q === '' && NONE[show]}
        </Empty>
      )}
      <ul className="cards" aria-label="Job cards">
        {rows.map((job) => (
          <JobRowLine
            key={job.id}
            job={job}
            withDay={show !== 'day'}
            withWho={!mine}
            maySteer={maySteer}
            now={now}
            time={times.visits.get(job.id) ?? null}
            out={times.out.get(job.boatId) ?? null}
          />
        ))}
      </ul>
      {data && (
        <Pager
          page={page}
          size={PAGE_SIZE}
          total={data.total}
          turn={(p) => {
            set('page', String(p));
          }}
        />
      )}
    </>
  );
}

/** Moves the cards of some days, the one that is shown first. */
function Shift({ from }: { from: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        onClick={() => {
          setOpen(true);
        }}>
        Move several days’ cards
      </Button>
      {open && (
        <ShiftCards
          from={from}
          onClose={() => {
            setOpen(false);
          }}
        />
      )}
    </>
  );
}

/** Cards of days gone by that are still open come first. */
function Earlier({ now }: { now: number }) {
  const me = useMe();
  const today = useToday();
  const { data } = jobsApi.useListJobsQuery({
    status: 'open',
    to: addDays(today, -1),
    technicianId: me.id,
    page: 1,
    size: PAGE_SIZE,
  });
  if (!data || data.rows.length === 0) return null;
  return (
    <section>
      <h2 className="jobs-earlier">From days before</h2>
      <ul className="cards" aria-label="Cards of days before">
        {data.rows.map((job) => (
          <JobRowLine
            key={job.id}
            job={job}
            withDay
            withWho={false}
            maySteer={false}
            now={now}
            time={null}
            out={null}
          />
        ))}
      </ul>
    </section>
  );
}

/** Which cards are shown. */
function Filters({
  show,
  mine,
  base,
  order,
  q,
  dayWord,
  set,
}: {
  show: Show;
  mine: boolean;
  base: string;
  order: JobOrder;
  q: string;
  dayWord: string;
  set: (name: string, value: string) => void;
}) {
  const bases = useBases();
  return (
    <div className="tools">
      <Entry
        hideLabel
        label="Boat"
        placeholder="Find a boat"
        value={q}
        maxLength={80}
        onType={(text) => {
          set('q', text);
        }}
      />
      <Choice
        label="Show"
        hideLabel
        value={show}
        onChange={(v) => {
          set('show', v || 'day');
        }}
        options={[
          ['day', dayWord],
          ['open', 'All open'],
          ['waiting', 'Waiting'],
          ['history', 'Finished'],
        ]}
      />
      <Choice
        label="Whose"
        hideLabel
        value={mine ? 'mine' : 'all'}
        onChange={(v) => {
          set('whose', v || 'all');
        }}
        options={[
          ['mine', 'Mine'],
          ['all', 'Everybody’s'],
        ]}
      />
      <Choice
        label="Order"
        hideLabel
        value={order}
        onChange={(v) => {
          set('order', v || 'day');
        }}
        options={ORDERS.filter(([o]) => o !== 'person' || !mine)}
      />
      {bases.length > 1 && !mine && (
        <BaseChoice
          hideLabel
          value={base === '' ? '' : Number(base)}
          onChange={(v) => {
            set('base', String(v));
          }}
          none="All bases"
        />
      )}
    </div>
  );
}
