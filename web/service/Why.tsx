import { Button } from '@mui/material';
import { engineName } from '@diurna/core/fleet';
import { atBase } from '@diurna/core/hires';
import { addDays, daysBetween, minuteInZone } from '@diurna/core/calendar';
import { dueDays, TASKS, whyDue, type TaskKind } from '@diurna/core/service';
import type { Base } from '@diurna/contract/fleet';
import type { DueRow } from '@diurna/contract/service';
import { Link } from 'react-router';
import { hiresApi } from '../hires/api.ts';
import { serviceApi } from './api.ts';
import { now } from '../app/clock.ts';
import { useBases, useMay } from '../app/useBook.ts';
import { DueMark } from '../ui/DueMark.tsx';
import { fullDay, hoursText, shortDay, timeText } from '../ui/format.ts';
import { Asked } from '../ui/parts.tsx';
import { PutOff } from './PutOff.tsx';

/** Gaps with fewer hours in which the base is open are no use for a visit. */
const SHORTEST_GAP_HOURS = 3;
const GAPS_SHOWN = 4;

interface Props {
  boatId: number;
  engineId: number;
  task: TaskKind;
  today: string;
  onClose: () => void;
  onVisit: () => void;
}

/** Why a task stands as it does: rule, last time, both limits with their days, the gaps left before, and the twin. */
export function Why({ boatId, engineId, task, today, onClose, onVisit }: Props) {
  const maySteer = useMay('administrator', 'coordinator');
  const { data, error } = serviceApi.useDueListQuery({ boatId, size: 200, sort: 'boat' });
  const row = data?.rows.find((r) => r.engineId === engineId && r.due.task === task);
  const base = useBases().find((b) => b.id === row?.baseId);
  if (!data) return <Asked data={data} error={error} />;
  if (!row) return <p>This task is not in the programme any more.</p>;
  const twins = data.rows.filter((r) => r.due.task === task && r.engineId !== engineId && r.modelId === row.modelId);
  return (
    <>
      <h2>
        {engineName(row.boatName, row.position)}: {TASKS[task].word.toLowerCase()}
      </h2>
      <p>
        <DueMark due={row.due} />
      </p>
      {whyDue(row.due, row.rule, row.lifeHours, fullDay, row.asked).map((line) => (
        <p key={line}>{line}</p>
      ))}
      {row.lastReadDay && (
        <p className="faint">
          Hours read {fullDay(row.lastReadDay)}
          {row.hoursPerWeek === null ? '' : `, ${hoursText(row.hoursPerWeek)} h a week over the last eight weeks`}.
        </p>
      )}
      {row.due.hoursOn?.likely && row.due.hoursOn.likely < today && (
        <p className="soon">Its hours are not read since: by now it is likely past the limit. Read the meter.</p>
      )}
      {twins.map((t) => (
        <p key={t.engineId}>
          Its twin {t.position}: <DueMark due={t.due} />
        </p>
      ))}
      {row.job ? (
        <p>
          <Link to={`/jobs/${row.job.id}`}>
            With {row.job.technician}, {shortDay(row.job.day)}
          </Link>
        </p>
      ) : (
        base && <Gaps row={row} base={base} />
      )}
      <PutOff row={row} today={today} maySteer={maySteer} />
      <p className="faint">{row.because}</p>
      <div className="acts side-acts">
        {maySteer && row.job === null && (
          <Button variant="contained" color="primary" onClick={onVisit}>
            Hand out
          </Button>
        )}
        <Button component={Link} to={`/fleet/engines/${engineId}`}>
          Engine page
        </Button>
        <Button onClick={onClose}>Close</Button>
      </div>
    </>
  );
}

/** When the boat can be worked on at its base before the task is likely due. */
function Gaps({ row, base }: { row: DueRow; base: Base }) {
  const { today } = base;
  const until =
    row.due.state === 'over' || row.due.state === 'due' ? addDays(today, 7) : (dueDays(row.due)?.likely ?? null);
  const days = until === null ? 0 : Math.max(2, Math.min(60, daysBetween(today, until) + 1));
  const { data } = hiresApi.useListHiresQuery(
    { boatId: row.boatId, from: today, days: Math.max(1, days) },
    { skip: days === 0 },
  );
  if (days === 0 || !data) return null;
  const at = (day: string, time: string) =>
    daysBetween(today, day) + (Number(time.slice(0, 2)) * 60 + Number(time.slice(3))) / 1440;
  const from = minuteInZone(now(), base.timeZone).minute / 1440;
  const gaps = atBase(
    data.rows.map((h): [number, number] => [at(h.outDay, h.outTime), at(h.backDay, h.backTime)]),
    { now: from, days, base, shortest: SHORTEST_GAP_HOURS },
  );
  const text = (n: number) => `${shortDay(addDays(today, Math.floor(n)))} ${timeText(Math.round((n % 1) * 1440))}`;
  if (data.total === 0) return <p>No hire is booked before then: any day will do.</p>;
  return (
    <>
      <h3>At its base {row.due.state === 'over' || row.due.state === 'due' ? 'this week' : 'before then'}</h3>
      {gaps.length === 0 && <p>Booked without a gap. A shorter hire, or another boat in its place, would make room.</p>}
      <ul className="gaps">
        {gaps.slice(0, GAPS_SHOWN).map((gap) => (
          <li key={gap.from}>
            <span>
              {gap.from === from ? 'now' : text(gap.from)}{' '}
              {gap.to === days ? `to ${shortDay(addDays(today, days - 1))} and on` : `to ${text(gap.to)}`}
            </span>{' '}
            <span>{Math.round(gap.openHours)} h open</span>
          </li>
        ))}
      </ul>
      {gaps.length > GAPS_SHOWN && <p className="faint">and {gaps.length - GAPS_SHOWN} more</p>}
    </>
  );
}
