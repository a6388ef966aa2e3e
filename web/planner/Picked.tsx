import { Button } from '@mui/material';
import { addDays } from '@diurna/core/calendar';
import { planTaskOf, type CostChange, type PickedUp, type PlannedVisit, type VisitReasons } from '@diurna/core/planner';
import { namedServices, TASKS, worksOf, worksText } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import type { BoardReply } from '@diurna/contract/planner';
import type { Remote } from 'comlink';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { fleetApi } from '../fleet/api.ts';
import { shortDay, timeText } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import type { BoardApi } from './board.ts';
import { wholeMoney, workOf } from './figures.ts';
import { pinKey } from './plan-state.ts';
import { nameOn } from './useTable.ts';
import { Tick } from '../ui/Tick.tsx';

interface Props {
  board: BoardReply;
  thread: Remote<BoardApi> | null;
  visits: readonly PlannedVisit[];
  picked: PickedUp;
  pins: ReadonlySet<string>;
  mayMove: boolean;
  setPicked: (picked: PickedUp | null) => void;
  pin: (visit: PlannedVisit) => void;
  leaveOut: () => void;
}

/** What is picked up: why it stands where it does, its tasks to be taken apart, and what can be done. */
export function Picked({ board, thread, visits, picked, pins, mayMove, setPicked, pin, leaveOut }: Props) {
  const visit = picked.from ? visits.find((v) => v.boat === picked.boat && v.day === picked.from!.day) : undefined;
  const [found, setFound] = useState<{ of: readonly PlannedVisit[]; place: string; why: VisitReasons | null } | null>(
    null,
  );
  const day = visit?.day;
  useEffect(() => {
    if (!thread || day === undefined) return undefined;
    let current = true;
    void thread.why([...visits], picked.boat, day).then((w) => {
      if (current) setFound({ of: visits, place: `${day} ${picked.boat}`, why: w });
    });
    return () => {
      current = false;
    };
  }, [thread, visits, picked.boat, day]);
  const name = board.boats[picked.boat]?.name ?? '';
  // What was found for another place or plan says nothing of this one.
  const why = found && found.of === visits && found.place === `${day} ${picked.boat}` ? found.why : null;
  const tasks = visit ? visit.tasks : picked.tasks;
  const toggle = (id: string) => {
    const next = picked.tasks.includes(id) ? picked.tasks.filter((t) => t !== id) : [...picked.tasks, id];
    if (next.length > 0) setPicked({ ...picked, tasks: next });
  };
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const infos = tasks.flatMap((id) => {
    const info = board.tasks[id];
    return info ? [info, ...info.brings.map((task) => ({ ...info, task }))] : [];
  });
  const works = worksOf(infos, (engineId) =>
    namedServices(models.find((m) => m.id === infos.find((i) => i.engineId === engineId)?.modelId)?.rules ?? []),
  );
  return (
    <div className="plan-picked">
      <section>
        <h2>
          {visit
            ? `Why ${name} on ${shortDay(addDays(board.firstDay, visit.day))}, ${nameOn(board, visit.technician)}`
            : `${name}, in no visit yet`}
        </h2>
        {works.length > 0 && <p>{worksText(works)}</p>}
        {visit && (
          <p className="figure small">
            {timeText(visit.start)} to {timeText(visit.start + visit.elapsed)}, {minutesText(workOf(visit))}
            {visit.pause && ` and a break from ${timeText(visit.pause.from)}`}
          </p>
        )}
        {visit && !why && <p className="faint">Looking at every other place ...</p>}
        {why && (
          <>
            {why.otherDay && <p>{cap(choice(board, why.otherDay, 'The next best day'))}</p>}
            {why.otherPerson && <p>{cap(choice(board, why.otherPerson, 'With somebody else that day'))}</p>}
            {!why.otherDay && !why.otherPerson && (
              <p>There is no other place for it: no other gap at base within anybody’s hours takes it.</p>
            )}
            <p>
              {why.left.total >= 0 ? (
                <>
                  Leaving it out of this plan would cost <b className="figure">{wholeMoney(why.left.total)}</b>{' '}
                  {board.currency} more.
                </>
              ) : (
                <>
                  Leaving it out would save <b className="figure">{wholeMoney(-why.left.total)}</b> {board.currency}.
                </>
              )}
            </p>
          </>
        )}
        <Link to={`/fleet/boats/${picked.boat}`}>The boat’s page</Link>
      </section>
      <section>
        <h2>{visit && tasks.length > 1 ? 'Move it, or some of it' : 'Move it'}</h2>
        <ul className="plan-tasks">
          {tasks.map((id) => {
            const { task, engineId } = planTaskOf(id);
            const info = board.tasks[id];
            return (
              <li key={id}>
                <label>
                  <Tick
                    on={picked.tasks.includes(id)}
                    disabled={!visit || tasks.length < 2}
                    onTick={() => {
                      toggle(id);
                    }}
                  />{' '}
                  <TaskGlyph task={task} size={18} silent /> {TASKS[task].word}
                  {(info?.brings ?? []).map((t) => ` and ${TASKS[t].word.toLowerCase()}`).join('')}
                  {info && info.position !== 'single' ? ` ${info.position}` : ''}
                </label>
                <span className={info ? info.state : ''}>
                  {info?.text ?? ''}{' '}
                  <Link className="visually-hidden" to={`/fleet/engines/${engineId}`}>
                    engine
                  </Link>
                </span>
              </li>
            );
          })}
        </ul>
        <p className="faint">
          Figures on the grid are what each place would cost in all. Ticks choose what goes along: the rest stays.
          Dropped on another visit of the boat, both become one.
        </p>
        <div className="tools">
          {visit && mayMove && (
            <Button
              size="small"
              onClick={() => {
                pin(visit);
              }}>
              {pins.has(pinKey(visit)) ? 'Unpin' : 'Pin here'}
            </Button>
          )}
          {visit && mayMove && (
            <Button size="small" onClick={leaveOut}>
              Leave out of the plan
            </Button>
          )}
          <Button
            size="small"
            onClick={() => {
              setPicked(null);
            }}>
            Put back
          </Button>
        </div>
      </section>
    </div>
  );
}

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** "The next best day, Fri 16 with Ines, costs 12 more: 9 further past limits, 3 work." */
function choice(
  board: BoardReply,
  { day, technician, change }: { day: number; technician: string; change: CostChange },
  head: string,
): string {
  const where = `${head}, ${shortDay(addDays(board.firstDay, day))} with ${nameOn(board, technician)},`;
  const terms = termsOf(change);
  if (Math.abs(change.total) < 0.5) return `${where} would cost the same.`;
  return `${where} would ${change.total > 0 ? `cost ${wholeMoney(change.total)} more` : `save ${wholeMoney(-change.total)}`}${terms.length > 0 ? `: ${terms.join(', ')}` : ''}.`;
}

/** The two or three largest terms of a difference. */
function termsOf(c: CostChange): string[] {
  const words: [keyof CostChange, string, string][] = [
    ['day', 'more run past limits or life thrown away', 'less run past limits or life thrown away'],
    ['labour', 'more in working time', 'less in working time'],
    ['overtime', 'more overtime', 'less overtime'],
    ['idle', 'more hire income at risk', 'less hire income at risk'],
  ];
  return words
    .filter(([k]) => Math.abs(c[k]) >= 0.5)
    .sort((a, b) => Math.abs(c[b[0]]) - Math.abs(c[a[0]]))
    .slice(0, 3)
    .map(([k, more, less]) => `${wholeMoney(Math.abs(c[k]))} ${c[k] > 0 ? more : less}`);
}
