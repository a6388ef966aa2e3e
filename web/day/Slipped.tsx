import { useShort } from '../app/useBook.ts';
import { Button } from '@mui/material';
import type { DayReply } from '@diurna/contract/day';
import type { BoardReply } from '@diurna/contract/planner';
import { planTaskOf, pricePlan, slipped, type PlannedVisit, type PlanProblem, type Slip } from '@diurna/core/planner';
import { engineName } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { addDays, minuteOfField } from '@diurna/core/calendar';
import { useState } from 'react';
import { problemOf } from '../app/api.ts';
import { plannerApi } from '../planner/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { ChangeLines } from '../changes/index.ts';
import { planOnce } from '../planner/index.ts';
import { plural, shortDay, timeText } from '../ui/format.ts';
import { Asked, Choice, Entry, Wrong } from '../ui/parts.tsx';

const DAYS = 14;
const SECONDS = 2;
type Kind = Slip['kind'];
const WORDS: Record<Kind, string> = {
  'person away': 'somebody is ill or away',
  'job late': 'a job takes longer',
  'boat late': 'a boat comes back late',
  'part missing': 'a part is missing',
};

interface Found {
  visits: PlannedVisit[];
  left: string[];
  change: number;
}

/**
 * What leaving and running past cost, told apart from the hours: those of a day that slipped are no longer comparable.
 */
const costOf = (problem: PlanProblem, visits: readonly PlannedVisit[]) => {
  const { day, skip, idle } = pricePlan(problem, { visits }).cost;
  return day + skip + idle;
};

/** When the day turns out otherwise: the rest of it is arranged anew, and what moves is shown before it is taken. */
export function Slipped({ day, baseId, onClose }: { day: DayReply; baseId: number | null; onClose: () => void }) {
  const short = useShort();
  const { data: board, error } = plannerApi.useReadBoardQuery(
    { days: DAYS, ...(day.day > day.today && { from: day.day }), ...(baseId !== null && { baseId }) },
    { refetchOnMountOrArgChange: true },
  );
  const [kind, setKind] = useState<Kind>('person away');
  const [of, setOf] = useState('');
  const [time, setTime] = useState('');
  const [slips, setSlips] = useState<Slip[]>([]);
  const [busy, setBusy] = useState(false);
  const [found, setFound] = useState<Found | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  if (!board)
    return (
      <div className="slipped">
        <Wrong error={error} />
        {!error && <p className="waiting">Looking at the next two weeks ...</p>}
      </div>
    );
  const name = (technician: string) => short(board.people[technician]?.name ?? '');
  const todays = board.standing.filter((v) => v.day === 0);
  const options: [string, string][] =
    kind === 'person away'
      ? day.people.filter((p) => p.shift).map((p) => [String(p.id), p.name])
      : kind === 'job late'
        ? todays.map((v) => [v.boat, `${board.boats[v.boat]?.name}, ${name(v.technician)}`])
        : kind === 'boat late'
          ? Object.entries(board.boats)
              .filter(([id]) => (board.problem.boats.find((b) => b.id === id)?.free[0]?.length ?? 0) > 0)
              .map(([id, b]): [string, string] => [id, b.name])
              .sort((a, b) => a[1].localeCompare(b[1]))
          : [
              ...new Set(
                todays.flatMap((v) =>
                  v.tasks.flatMap((t) => Object.keys(board.problem.tasks.find((x) => x.id === t)?.parts ?? {})),
                ),
              ),
            ].map((p) => [p, `${board.parts[p]?.name} at ${board.bases[p.split(' at ')[1] ?? '']?.name}`]);
  const chosen = options.some(([v]) => v === of) ? of : (options[0]?.[0] ?? '');
  const timed = kind === 'job late' || kind === 'boat late';
  const minute = minuteOfField(time);
  const add = () => {
    if (chosen === '' || (timed && minute === null)) return;
    const slip: Slip =
      kind === 'person away'
        ? { kind, technician: chosen }
        : kind === 'job late'
          ? { kind, boat: chosen, until: minute! }
          : kind === 'boat late'
            ? { kind, boat: chosen, back: minute! }
            : { kind, part: chosen, untilDay: 3 };
    setSlips([...slips.filter((s) => JSON.stringify(s) !== JSON.stringify(slip)), slip]);
    setFound(null);
  };
  /** Which day it is about is always said. */
  const when = day.day === day.today ? 'today' : `on ${shortDay(day.day)}`;
  const slipText = (s: Slip) =>
    s.kind === 'person away'
      ? `${name(s.technician)} is away ${when}`
      : s.kind === 'job late'
        ? `${board.boats[s.boat]?.name} takes until ${timeText(s.until)}`
        : s.kind === 'boat late'
          ? `${board.boats[s.boat]?.name} is back at ${timeText(s.back)}`
          : `no ${board.parts[s.part]?.name} before ${shortDay(addDays(board.firstDay, s.untilDay))}`;
  const arrange = async () => {
    setBusy(true);
    setRefused(null);
    setFound(null);
    const { standing } = board;
    const now = slipped(board.problem, standing, slips);
    const news = await planOnce({
      problem: now.problem,
      standing: now.standing,
      pins: now.problem.pinned,
      moveCost: board.moveCost,
      seconds: SECONDS,
      prove: false,
    });
    setBusy(false);
    if (news.faults || news.broken) {
      // Nothing that could be taken: the cards stay as they are.
      setRefused(news.broken ?? `It cannot be arranged: ${news.faults?.[0]}.`);
      return;
    }
    const planned = new Set(standing.flatMap((v) => v.tasks));
    const { visits } = news;
    const all = [...visits, ...now.underWay];
    const placed = new Set(all.flatMap((v) => v.tasks));
    setFound({
      visits: all,
      left: [...planned].filter((t) => !placed.has(t)),
      change: costOf(board.problem, all) - costOf(board.problem, standing),
    });
  };
  return (
    <section className="slipped" aria-label="Something slipped">
      <h2>Something slipped {when}</h2>
      <div className="tools">
        <Choice
          label="What slipped"
          value={kind}
          onChange={(k) => {
            if (k !== '') {
              setKind(k);
              setOf('');
            }
          }}
          options={(Object.keys(WORDS) as Kind[]).map((k): [Kind, string] => [k, WORDS[k]])}
        />
        <Choice
          label="Which"
          value={chosen}
          onChange={(v) => {
            setOf(v);
          }}
          options={options}
          disabled={options.length === 0}
        />
        {timed && (
          <Entry kind="time" short label={kind === 'job late' ? 'Done at' : 'Back at'} value={time} onType={setTime} />
        )}
        <Button onClick={add} disabled={options.length === 0 || (timed && minute === null)}>
          Note it
        </Button>
      </div>
      {slips.length > 0 && (
        <ul className="slip-notes">
          {slips.map((s) => (
            <li key={JSON.stringify(s)}>
              {slipText(s)}{' '}
              <button
                type="button"
                className="link-button"
                onClick={() => {
                  setSlips(slips.filter((x) => x !== s));
                  setFound(null);
                }}>
                take back
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="tools">
        <Button
          variant="contained"
          color="primary"
          disabled={slips.length === 0 || busy}
          onClick={() => void arrange()}>
          {busy
            ? 'Arranging ...'
            : day.day === day.today
              ? 'Rearrange the rest of the day'
              : `Rearrange ${shortDay(day.day)}`}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
      {refused !== null && (
        <p className="minus" role="alert">
          {refused} The cards stay as they are.
        </p>
      )}
      {found && <Rearranged board={board} found={found} day={day} baseId={baseId} onClose={onClose} />}
    </section>
  );
}

/** The rest of the day as it was found: what moves, who is told and what it costs; taken only once that is shown. */
function Rearranged({
  board,
  found,
  day,
  baseId,
  onClose,
}: {
  board: BoardReply;
  found: Found;
  day: DayReply;
  baseId: number | null;
  onClose: () => void;
}) {
  const dispatch = useAppDispatch();
  const [accept, accepting] = plannerApi.useAcceptPlanMutation();
  const body = {
    firstDay: board.firstDay,
    days: board.days,
    baseId,
    kind: 'slip' as const,
    basedOn: board.accepted?.id ?? null,
    jobs: board.standing.map((j) => ({ id: j.jobId, version: j.version })),
    visits: found.visits.map((v) => ({
      ...v,
      pinned: board.standing.some((s) => s.pinned && s.boat === v.boat && s.day === v.day),
    })),
  };
  const look = plannerApi.useLookAtPlanQuery(body, { refetchOnMountOrArgChange: true });
  const would = look.currentData;
  const take = async () => {
    const answer = await accept(body);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${day.day === day.today ? 'The day' : shortDay(day.day)} is arranged anew: ${plural(answer.data.moved, 'card')} moved, ${answer.data.calledOff} called off. Everybody it touches is told.`,
        changeId: answer.data.changeId,
      }),
    );
    onClose();
  };
  return (
    <div role="status">
      <Asked data={would} error={look.error} />
      {would?.changes.length === 0 && <p>Nothing has to move.</p>}
      {would && <ChangeLines changes={would.changes} />}
      {would && would.told.length > 0 && (
        <p className="faint">Told once each: {would.told.map((t) => t.name).join(', ')}.</p>
      )}
      {found.left.length > 0 && (
        <div className="minus">
          <p>
            {plural(found.left.length, 'task')} {found.left.length === 1 ? 'finds' : 'find'} no place within {DAYS} days
            and {found.left.length === 1 ? 'is' : 'are'} due again:
          </p>
          <ul>
            {found.left.map((id) => (
              <li key={id}>{taskName(board, id)}</li>
            ))}
          </ul>
        </div>
      )}
      <p>
        In later work, work left out and hires this costs{' '}
        <b className="figure">
          {Math.round(found.change)} {board.currency}
        </b>{' '}
        more than the plan as it stood.
      </p>
      <Button variant="contained" color="primary" disabled={!would || accepting.isLoading} onClick={() => void take()}>
        Take it
      </Button>
      <Wrong error={accepting.error} />
      {problemOf(accepting.error)?.type === 'stale' && (
        <p>Close this and open it again to start from what stands now.</p>
      )}
    </div>
  );
}

/** A task of the plan in words: "Turnstone port, engine oil". */
function taskName(board: BoardReply, id: string): string {
  const { task, engineId } = planTaskOf(id);
  const boat = board.problem.engines.find((e) => e.id === String(engineId))?.boat ?? '';
  const position = board.tasks[id]?.position ?? 'single';
  return `${engineName(board.boats[boat]?.name ?? '', position)}, ${TASKS[task].word.toLowerCase()}`;
}
