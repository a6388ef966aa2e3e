import type { JobCard as Card } from '@diurna/contract/jobs';
import { engineName } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { inBothUnits, VOLUME_UNITS, type PrintedVolume, type VolumeUnit } from '@diurna/core/units';
import { labelVolume, minutesText, readVolume, taskKey, volumeText, type CardDraft } from '@diurna/core/visit';
import { hoursText, shortDay } from '../ui/format.ts';
import { Choice } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { judgeHours } from './judge-hours.ts';
import type { Typed } from './useTyped.ts';
import { Box } from '../ui/Box.tsx';

interface StepProps {
  card: Card;
  engine: Card['engines'][number];
  draft: CardDraft;
  typed: Typed;
  editable: boolean;
}

/** The hours read off the meter, judged as they are typed. */
export function HoursStep({ card, engine, draft, typed: fields, editable, today }: StepProps & { today: string }) {
  if (!engine.meter || !editable) return null;
  const typed = draft.hours[engine.id];
  const verdict = judgeHours(engine, typed, today);
  const name = engineName(card.boatName, engine.position);
  return (
    <div className="step">
      <span aria-hidden="true" className="figure hour-sign">
        h
      </span>
      <div>
        <p className="step-title">Hours on the meter</p>
        <div className="field">
          <Box
            figure
            aria-label={`Hours of ${name}`}
            value={typed?.count ?? ''}
            onChange={(e) => {
              fields.type({ what: 'hours', engineId: engine.id }, e.target.value);
            }}
            onBlur={() => void fields.keep()}
          />
          <span className="faint">
            was{' '}
            {engine.meter.lastCount === null
              ? 'never read'
              : `${hoursText(engine.meter.lastCount)}${engine.meter.lastDay ? `, ${shortDay(engine.meter.lastDay)}` : ''}`}
          </span>
        </div>
        {verdict.bad && (
          <p className="trap" role="status">
            Figures only, one decimal: 418.9
          </p>
        )}
        {verdict.question && (
          <>
            <p className="trap" role="status">
              {verdict.question.text}
            </p>
            <Box
              wide
              placeholder="If it is right, why?"
              aria-label={`Why the hours of ${name} are right`}
              value={typed?.reason ?? ''}
              maxLength={500}
              onChange={(e) => {
                fields.type({ what: 'why', engineId: engine.id }, e.target.value);
              }}
              onBlur={() => void fields.keep()}
            />
          </>
        )}
      </div>
    </div>
  );
}

/** One task as a whole: its tick, what goes in, what it takes, what was really put in. */
export function TaskStep({
  card,
  engine,
  task,
  draft,
  typed: fields,
  editable,
  read: measured,
  onFlip,
}: StepProps & { task: Card['tasks'][number]; read: PrintedVolume | null; onFlip: () => void }) {
  const info = TASKS[task.task];
  const label = labelVolume(engine, task.task);
  const key = taskKey(task);
  const parts = card.parts.filter((p) => p.tasks.some((t) => taskKey(t) === key));
  const unknown = card.partsUnknown.some((t) => taskKey(t) === key);
  const typed = draft.volumes[key];
  const read = label ? readVolume(draft, key, label) : null;
  const setVolume = (value: string, unit: VolumeUnit) => {
    fields.type({ what: 'volume', engineId: engine.id, task: task.task }, volumeText(value, unit));
  };
  const name = `${info.word}${engine.position === 'single' ? '' : `, ${engine.position}`}`;
  const basis = card.basis.find((b) => taskKey(b) === key);
  return (
    <div className={task.state === 'done' ? 'step ticked' : 'step'}>
      <button
        type="button"
        role="checkbox"
        className="card-tick"
        aria-checked={task.state === 'done'}
        aria-label={name}
        disabled={!editable}
        onClick={onFlip}>
        {task.state === 'done' ? '✓' : ''}
      </button>
      <div>
        <p className="step-title">
          <TaskGlyph task={task.task} silent /> {info.word}
          {task.state === 'left' && <span className="faint"> left undone</span>}
        </p>
        {label && (
          <p>
            {task.task === 'engine-oil' ? 'Label' : 'Case holds'} <b className="figure">{inBothUnits(label)}</b>
            {task.task === 'engine-oil'
              ? ': most of it first, the rest after the run, by the dipstick.'
              : ', until it shows at the vent.'}
          </p>
        )}
        {parts.length > 0 && (
          <p>{parts.map((p) => `${p.name} (${p.number}${p.place ? `, at ${p.place}` : ''})`).join(', ')}</p>
        )}
        {unknown && (
          <p className="trap">No part is known to fit this serial. Find the right one on the label, and tell Stores.</p>
        )}
        <p className="why-careful">{info.caution}</p>
        {basis?.text.includes(';') && editable && task.state !== 'done' && (
          <p className="faint small">
            About {minutesText(basis.minutes)}: {basis.text}.
          </p>
        )}
        {label && editable && task.state === 'done' && (
          <div className="field">
            <Box
              figure
              aria-label={`Volume put in, ${name}`}
              placeholder={String(measured?.value ?? label.value)}
              value={typed?.value ?? ''}
              onChange={(e) => {
                setVolume(e.target.value, typed?.unit ?? label.unit);
              }}
              onBlur={() => void fields.keep()}
            />
            <Choice
              label="Unit"
              hideLabel
              value={typed?.unit ?? label.unit}
              onChange={(v) => {
                if (v) setVolume(typed?.value ?? '', v);
              }}
              options={VOLUME_UNITS.map((u): [VolumeUnit, string] => [u, u])}
            />
            <span className="faint">
              put in; empty ={' '}
              {measured ? `as read at the steps, ${measured.value} ${measured.unit}` : 'as the label says'}
            </span>
          </div>
        )}
        {read?.bad && (
          <p className="trap" role="status">
            Figures only: {label!.value}
          </p>
        )}
        {read?.trap && (
          <p className="trap" role="status">
            {read.volume!.value} looks like {read.trap}, not {read.volume!.unit}: the label says {inBothUnits(label!)}.
          </p>
        )}
      </div>
    </div>
  );
}
