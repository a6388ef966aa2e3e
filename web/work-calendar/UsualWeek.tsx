import type { workCalendarRoutes } from '@diurna/contract/work-calendar';
import { minuteOfField, timeFieldOf } from '@diurna/core/calendar';
import { useWatch, type Control, type FieldErrors, type UseFormSetValue } from 'react-hook-form';
import type { z } from 'zod';
import { useBases } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { Lines } from '../ui/Lines.tsx';
import { Entry } from '../ui/parts.tsx';
import { daysOfWeek } from '../ui/format.ts';
import { DAYS } from './words.ts';
import { Tick } from '../ui/Tick.tsx';

export type WorkEdit = z.input<typeof workCalendarRoutes.editPersonWork.body>;
type Shift = WorkEdit['shifts'][number];
/** A day that is ticked begins with these hours. */
const USUAL = { fromMinute: 480, toMinute: 960, baseId: null };

/** The week as it usually is: which days, from when to when, at which base. */
export function UsualWeek({
  control,
  errors,
  set,
}: {
  control: Control<WorkEdit>;
  errors: FieldErrors<WorkEdit>['shifts'];
  set: UseFormSetValue<WorkEdit>;
}) {
  const shifts = useWatch({ control, name: 'shifts' });
  const change = (weekday: number, part: Partial<Shift> | null) => {
    const others = shifts.filter((s) => s.weekday !== weekday);
    const old = shifts.find((s) => s.weekday === weekday) ?? { weekday, ...USUAL };
    set('shifts', part === null ? others : [...others, { ...old, ...part }].sort((a, b) => a.weekday - b.weekday), {
      shouldDirty: true,
    });
  };
  return (
    <fieldset className="full bare">
      <legend className="field-label">Usual week</legend>
      <Lines className="week">
        <tbody>
          {daysOfWeek().map((day) => (
            <Weekday
              key={day}
              word={DAYS[day - 1]!}
              shift={shifts.find((x) => x.weekday === day)}
              onChange={(part) => {
                change(day, part);
              }}
            />
          ))}
        </tbody>
      </Lines>
      {shifts.map((s, i) => {
        const wrong = errors?.[i]?.toMinute?.message ?? errors?.[i]?.fromMinute?.message;
        return (
          wrong && (
            <p key={s.weekday} className="minus small" role="alert">
              {DAYS[s.weekday - 1]} {wrong}
            </p>
          )
        );
      })}
      {shifts.length === 0 && <p className="faint small">No day ticked: the working days of the base count.</p>}
    </fieldset>
  );
}

function Weekday({
  word,
  shift: s,
  onChange,
}: {
  word: string;
  shift: Shift | undefined;
  onChange: (part: Partial<Shift> | null) => void;
}) {
  const bases = useBases();
  const time = (end: 'from' | 'to', minute: number) => (
    <Entry
      kind="time"
      hideLabel
      label={`${word} ${end}`}
      value={timeFieldOf(minute)}
      onType={(text) => {
        onChange({ [end === 'from' ? 'fromMinute' : 'toMinute']: minuteOfField(text) ?? 0 });
      }}
    />
  );
  return (
    <tr>
      <th scope="row">
        <label>
          <Tick
            on={s !== undefined}
            onTick={(on) => {
              onChange(on ? {} : null);
            }}
          />{' '}
          {word}
        </label>
      </th>
      <td>{s && time('from', s.fromMinute)}</td>
      <td>{s && time('to', s.toMinute)}</td>
      <td>
        {s && bases.length > 1 && (
          <BaseChoice
            label={`${word} at`}
            hideLabel
            value={s.baseId ?? ''}
            onChange={(v) => {
              onChange({ baseId: v === '' ? null : v });
            }}
            none="own base"
          />
        )}
      </td>
    </tr>
  );
}
