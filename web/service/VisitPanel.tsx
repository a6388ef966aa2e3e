import { Button, Checkbox } from '@mui/material';
import type { DueRow } from '@diurna/contract/service';
import { addDays } from '@diurna/core/calendar';
import { MANUAL_FIRST, namedServices, onlyWith, serviceOf, TASKS, type TaskKind } from '@diurna/core/service';
import { SEASON_VISITS, tasksAt, type SeasonVisit } from '@diurna/core/season';
import { minutesText } from '@diurna/core/visit';
import { useMemo, useState } from 'react';
import type { Reply } from '../app/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { Against, useAgainst } from '../jobs/index.ts';
import { fleetApi } from '../fleet/api.ts';
import { peopleApi } from '../people/api.ts';
import { rulesApi } from '../rules/api.ts';
import { serviceApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useDay, useToday, useShort } from '../app/useBook.ts';
import { DueMark } from '../ui/DueMark.tsx';
import { quantityText, shortDay } from '../ui/format.ts';
import { Asked, Choice, Entry, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import './visit.css';

const key = (r: { engineId: number; task: TaskKind }) => `${r.engineId} ${r.task}`;
const URGENT = new Set(['over', 'due', 'soon']);

/** Hands tasks of one boat to a technician on a day: minutes, parts and shelf worked out as they are ticked. */
export function VisitPanel({ boatId, onDone }: { boatId: number; onDone: () => void }) {
  const { data, error } = serviceApi.useDueListQuery({ boatId, size: 200, sort: 'boat' });
  if (!data) return <Asked data={data} error={error} />;
  if (data.rows.length === 0) return <p>This boat has no engine with a programme.</p>;
  return <Choose key={boatId} rows={data.rows} onDone={onDone} />;
}

/** The lists of work that an engine's programme makes; the first one only while the engine is new. */
const servicesOf = (rows: readonly DueRow[]) =>
  namedServices(
    rows.map((r) => ({
      ...r.rule,
      task: r.due.task,
      firstHours: r.due.last?.from === 'new' ? (r.rule.firstHours ?? null) : null,
    })),
  );

const SEASON_WORDS: Record<SeasonVisit, string> = {
  before: 'before the last outing',
  after: 'lay-up',
  spring: 'recommission',
};
/** A visit of the season as a service by name. */
interface SeasonService {
  key: string;
  word: string;
  tasks: readonly TaskKind[];
}

/** The engine's services by name: one click takes the list of one. */
function ServiceButtons({
  rows,
  ticked,
  pick,
  season,
}: {
  rows: readonly DueRow[];
  ticked: ReadonlySet<string>;
  pick: (rows: readonly DueRow[], tasks: readonly TaskKind[]) => void;
  /** Its lists of the season; empty while they are not known. */
  season: readonly SeasonService[];
}) {
  const services = servicesOf(rows);
  const chosen = rows.filter((r) => ticked.has(key({ engineId: r.engineId, task: r.due.task }))).map((r) => r.due.task);
  const whole = serviceOf(chosen, services);
  const { engineId } = rows[0]!;
  const pressed = (s: { key: string; tasks: readonly TaskKind[] }) =>
    season.some((x) => x.key === s.key)
      ? s.tasks.every((task) => ticked.has(key({ engineId, task })))
      : whole?.key === s.key;
  const lists = [...services, ...season.filter((x) => x.tasks.length > 0)];
  if (lists.length === 0) return null;
  return (
    <p className="chips" role="group" aria-label={`Services, ${rows[0]!.position}`}>
      {lists.map((s) => (
        <button
          key={s.key}
          type="button"
          className="chip"
          aria-pressed={pressed(s)}
          title={s.tasks.map((t) => TASKS[t].word).join(', ')}
          onClick={() => {
            pick(rows, s.tasks);
          }}>
          {s.word} <span className="figure">{s.tasks.length}</span>
        </button>
      ))}
    </p>
  );
}

/** What the shelf lacks for a service that is taken whole, in one sentence. */
function Lacking({
  tasks,
  rows,
  preview,
}: {
  tasks: readonly { engineId: number; task: TaskKind }[];
  rows: readonly DueRow[];
  preview: Reply<'previewJob'>;
}) {
  const lines = [...new Set(tasks.map((t) => t.engineId))].flatMap((engineId) => {
    const own = tasks.filter((t) => t.engineId === engineId).map((t) => t.task);
    const service = serviceOf(own, servicesOf(rows.filter((r) => r.engineId === engineId)));
    if (service === null) return [];
    const of = (t: { engineId: number; task: TaskKind }) => t.engineId === engineId && service.tasks.includes(t.task);
    const short = preview.parts.filter((p) => p.onHand < p.quantity && p.tasks.some(of)).map((p) => p.name);
    const unknown = preview.partsUnknown.filter(of).map((t) => `a part for ${TASKS[t.task].word.toLowerCase()}`);
    const position = rows.find((r) => r.engineId === engineId)!.position;
    const lacks = [...new Set([...short, ...unknown])];
    const name = `${service.word.replace(/^./, (c) => c.toUpperCase())}${position === 'single' ? '' : ` ${position}`}`;
    return [
      {
        short: lacks.length > 0,
        text: `${name}: ${lacks.length === 0 ? 'all of it is on the shelf.' : `the shelf lacks ${lacks.join(', ')}.`}`,
      },
    ];
  });
  return (
    <>
      {lines.map(({ short, text }) => (
        <p key={text} className={short ? 'minus' : 'faint'}>
          {text}
        </p>
      ))}
    </>
  );
}

function Choose({ rows, onDone }: { rows: DueRow[]; onDone: () => void }) {
  const short = useShort();
  const today = useToday();
  const turned = useDay();
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [ticked, setTicked] = useState<Set<string>>(
    () =>
      new Set(
        rows
          .filter((r) => URGENT.has(r.due.state) && r.job === null)
          .map((r) => key({ engineId: r.engineId, task: r.due.task })),
      ),
  );
  const [day, setDay] = useState(turned < today ? today : turned);
  const boat = rows[0]!;
  const hands = useMemo(
    () =>
      people
        .filter((p) => p.active && p.role === 'technician')
        .sort(
          (a, b) => Number(b.baseId === boat.baseId) - Number(a.baseId === boat.baseId) || a.name.localeCompare(b.name),
        ),
    [people, boat.baseId],
  );
  const [chosen, setChosen] = useState<number | ''>('');
  const technicianId = chosen === '' ? hands[0]?.id : chosen;
  const [addJob, { isLoading, error }] = jobsApi.useAddJobMutation();
  const dispatch = useAppDispatch();
  /** Work of the season that is in no programme, by engine. */
  const [season, setSeason] = useState<readonly { engineId: number; task: TaskKind }[]>([]);
  const tasks = [...rows.map((r) => ({ engineId: r.engineId, task: r.due.task })), ...season].filter((t) =>
    ticked.has(key(t)),
  );
  const against = useAgainst({ boatId: boat.boatId, tasks, technicianId, day }, false, error);
  const { preview } = against;
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const { data: answers } = rulesApi.useListSchoolsQuery();
  const seasonOf = (r: DueRow): SeasonService[] => {
    const model = models.find((m) => m.id === r.modelId);
    if (!model || !answers) return [];
    const built = { ...model, traits: model.traits ?? null };
    const choices = Object.fromEntries(answers.map((a) => [a.school, a.answer]));
    return SEASON_VISITS.map((visit) => ({
      key: `season ${visit}`,
      word: SEASON_WORDS[visit],
      tasks: tasksAt(visit, built, choices),
    }));
  };
  const flip = (k: string) => {
    setTicked((old) => {
      const next = new Set(old);
      const off = next.delete(k);
      if (!off) next.add(k);
      // A filter brings its oil, and goes with it.
      for (const r of rows) {
        const other = onlyWith(r.due.task);
        if (other === null) continue;
        const [filter, oil] = [
          key({ engineId: r.engineId, task: r.due.task }),
          key({ engineId: r.engineId, task: other }),
        ];
        const free = rows.some((x) => x.engineId === r.engineId && x.due.task === other && x.job === null);
        if (!off && k === filter && free) next.add(oil);
        if (off && k === oil) next.delete(filter);
      }
      return next;
    });
  };

  /** The named service alone, as far as its work is free. */
  const pickOnly = (own: readonly DueRow[], tasks: readonly TaskKind[]) => {
    const { engineId } = own[0]!;
    const free = tasks.filter((task) => own.find((r) => r.due.task === task)?.job == null);
    const more = free.filter((task) => !own.some((r) => r.due.task === task)).map((task) => ({ engineId, task }));
    setSeason((was) => [...was.filter((t) => t.engineId !== engineId), ...more]);
    setTicked((old) => {
      const others = [...old].filter((k) => !k.startsWith(`${engineId} `));
      return new Set([...others, ...free.map((task) => key({ engineId, task }))]);
    });
  };
  const handOut = async () => {
    if (technicianId === undefined) return;
    const answer = await addJob({ boatId: boat.boatId, technicianId, day, tasks, ...against.said });
    if (!answer.data) return;
    const who = short(hands.find((h) => h.id === technicianId)?.name ?? '');
    dispatch(
      say({
        tone: 'done',
        text: `${boat.boatName} goes to ${who} on ${shortDay(day)}.`,
        link: { to: `/jobs/${answer.data.id}`, word: 'Open the card' },
        changeId: answer.data.changeId,
      }),
    );
    onDone();
  };

  return (
    <form
      className="visit-panel"
      onSubmit={(e) => {
        e.preventDefault();
        void handOut();
      }}>
      <fieldset>
        <legend>Work on {boat.boatName}</legend>
        {rows.map((r, i) => {
          const k = key({ engineId: r.engineId, task: r.due.task });
          const newEngine = i === 0 || rows[i - 1]!.engineId !== r.engineId;
          return (
            <div key={k}>
              {newEngine && r.position !== 'single' && (
                <p className="engine-line">
                  {r.position} <span className="faint">{r.modelName}</span>
                </p>
              )}
              {newEngine && (
                <ServiceButtons
                  rows={rows.filter((x) => x.engineId === r.engineId)}
                  ticked={ticked}
                  pick={pickOnly}
                  season={seasonOf(r)}
                />
              )}
              <label className={r.job ? 'task-line taken' : 'task-line'}>
                <Checkbox
                  checked={ticked.has(k)}
                  disabled={r.job !== null}
                  onChange={() => {
                    flip(k);
                  }}
                  slotProps={{
                    input: { 'aria-label': `${TASKS[r.due.task].word} ${r.position === 'single' ? '' : r.position}` },
                  }}
                />
                <TaskGlyph task={r.due.task} silent />
                <span>{TASKS[r.due.task].word}</span>
                {r.job ? (
                  <span className="faint">
                    with {short(r.job.technician)}, {shortDay(r.job.day)}
                  </span>
                ) : (
                  <DueMark due={r.due} />
                )}
              </label>
            </div>
          );
        })}
        {season.map((t) => {
          const { position } = rows.find((r) => r.engineId === t.engineId)!;
          const at = position === 'single' ? '' : ` ${position}`;
          return (
            <label key={key(t)} className="task-line">
              <Checkbox
                checked={ticked.has(key(t))}
                onChange={() => {
                  flip(key(t));
                }}
                slotProps={{ input: { 'aria-label': `${TASKS[t.task].word}${at}` } }}
              />
              <TaskGlyph task={t.task} silent />
              <span>
                {TASKS[t.task].word}
                {at}
              </span>
              <span className="faint">of the season</span>
            </label>
          );
        })}
      </fieldset>
      <div className="who-when">
        <Choice
          label="Technician"
          value={technicianId ?? ''}
          onChange={setChosen}
          options={hands.length === 0 ? [['', 'nobody yet']] : hands.map((h): [number, string] => [h.id, h.name])}
        />
        <Entry kind="date" label="Day" value={day} min={today} max={addDays(today, 730)} required onType={setDay} />
      </div>
      {tasks.length > 0 && preview.data && (
        <div className="worked-out" aria-live="polite">
          <p>
            <b className="figure">{minutesText(preview.data.minutes)}</b>
            {preview.data.savedMinutes > 0 && (
              <>
                , <b className="figure">{minutesText(preview.data.savedMinutes)}</b> saved by doing it in one visit
              </>
            )}
          </p>
          <ul>
            {preview.data.parts.map((p) => (
              <li key={p.partId} className={p.onHand < p.quantity ? 'short' : ''}>
                <span>
                  {p.name} <span className="faint">{p.number}</span>
                </span>
                <span className="figure">
                  {quantityText(p.quantity, p.unit)} of {quantityText(p.onHand, p.unit)}
                  {p.onHand < p.quantity ? ' short' : ''}
                </span>
              </li>
            ))}
          </ul>
          <Lacking tasks={tasks} rows={rows} preview={preview.data} />
          {preview.data.partsUnknown.length > 0 && (
            <p className="minus">
              No part is known to fit:{' '}
              {[...new Set(preview.data.partsUnknown.map((t) => TASKS[t.task].word.toLowerCase()))].join(', ')}. Say in
              Stores what fits.
            </p>
          )}
        </div>
      )}
      <Against reasons={against.reasons} insist={against.insist} onInsist={against.setInsist} />
      <Wrong error={error} />
      <p className="faint small">{MANUAL_FIRST}</p>
      <div className="acts">
        <Button
          type="submit"
          variant="contained"
          color="primary"
          disabled={tasks.length === 0 || technicianId === undefined || isLoading || !against.ready}>
          Hand out {tasks.length === 1 ? '1 task' : `${tasks.length} tasks`}
        </Button>
        <Button onClick={onDone}>Close</Button>
      </div>
    </form>
  );
}
