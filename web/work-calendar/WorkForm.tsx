import { zodResolver } from '@hookform/resolvers/zod';
import { workCalendarRoutes, type WorkingPerson } from '@diurna/contract/work-calendar';
import { SKILLS, type Skill } from '@diurna/core/service';
import { Controller, useForm } from 'react-hook-form';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useSession } from '../app/useBook.ts';
import { fullDay } from '../ui/format.ts';
import { Field, FormSheet, MoneyField } from '../ui/form.tsx';
import { AddException } from './AddException.tsx';
import { workCalendarApi } from './api.ts';
import { UsualWeek, type WorkEdit } from './UsualWeek.tsx';
import { exceptionText } from './words.ts';

/** Skills, pace, pay and hours of one person, and the days that differ. */
export function WorkForm({ person, onClose }: { person: WorkingPerson; onClose: () => void }) {
  const bases = useBases();
  const dispatch = useAppDispatch();
  const [edit, editing] = workCalendarApi.useEditPersonWorkMutation();
  const [remove] = workCalendarApi.useRemoveExceptionMutation();
  const currency = useSession()?.currency ?? 'EUR';
  const {
    control,
    handleSubmit,
    setValue,
    formState: { errors },
  } = useForm<WorkEdit>({
    resolver: zodResolver(workCalendarRoutes.editPersonWork.body),
    defaultValues: {
      skills: person.skills,
      pace: person.pace ?? 1,
      rateMinor: person.rateMinor,
      overtimeMinutes: person.overtimeMinutes,
      overtimePercent: person.overtimePercent ?? 100,
      shifts: person.shifts,
      version: person.version,
    },
  });
  const base = (id: number | null) => bases.find((b) => b.id === id)?.name ?? '';
  const save = handleSubmit(async (values) => {
    const answer = await edit({ id: person.id, ...values, version: person.version });
    if (!answer.data) return;
    dispatch(
      say({ tone: 'done', text: `The working hours of ${person.name} are kept. Plans count on them from now on.` }),
    );
    onClose();
  });
  return (
    <FormSheet
      wide
      title={`Working hours of ${person.name}`}
      act="Keep them"
      onClose={onClose}
      onSubmit={() => void save()}
      error={editing.error}
      busy={editing.isLoading}>
      <Controller
        control={control}
        name="skills"
        render={({ field }) => <Skills of={field.value} onChange={field.onChange} />}
      />
      <Field control={control} name="pace" label="Pace" kind="number" help="1 = estimates hold, 1.2 = a fifth slower" />
      <MoneyField
        control={control}
        name="rateMinor"
        label={`An hour costs (${currency})`}
        help="empty: the book’s usual"
      />
      <Field control={control} name="overtimeMinutes" label="Overtime a day (minutes)" kind="number" />
      <Field
        control={control}
        name="overtimePercent"
        label="Overtime is paid (%)"
        kind="number"
        help="150 = half as much again"
      />
      <UsualWeek control={control} errors={errors.shifts} set={setValue} />
      <div className="full">
        <p className="field-label">Away, elsewhere, or at other hours</p>
        {person.exceptions.map((x) => (
          <p key={x.id} className="kept-line">
            {exceptionText(x, fullDay, base)}{' '}
            <button type="button" className="link-button" onClick={() => void remove(x.id)}>
              take back
            </button>
          </p>
        ))}
        <AddException personId={person.id} />
      </div>
    </FormSheet>
  );
}

function Skills({ of, onChange }: { of: readonly string[]; onChange: (skills: string[]) => void }) {
  return (
    <fieldset className="full bare">
      <legend className="field-label">Can do besides everyday work</legend>
      <div className="chips">
        {SKILLS.map((s: Skill) => {
          const on = of.includes(s);
          return (
            <button
              key={s}
              type="button"
              className="chip"
              aria-pressed={on}
              onClick={() => {
                onChange(on ? of.filter((x) => x !== s) : [...of, s]);
              }}>
              {s}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}
