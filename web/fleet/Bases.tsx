import { timeFieldOf, minuteOfField } from '@diurna/core/calendar';
import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { baseEdit, type Base } from '@diurna/contract/fleet';
import { useState } from 'react';
import { Controller, useForm, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { fleetApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { daysOfWeek, fullDay } from '../ui/format.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { Asked, Entry, Heads, Leaves, PageHead } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { minutesText } from '@diurna/core/visit';
import { FLEET_LEAVES } from './leaves.ts';
import { RowAct } from '../ui/RowAct.tsx';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export function Bases() {
  const { data, error } = fleetApi.useListBasesQuery();
  const maySteer = useMay('administrator', 'coordinator');
  const [open, setOpen] = useState<Base | 'new' | null>(null);
  return (
    <>
      <PageHead
        title="Bases"
        acts={
          maySteer && (
            <Button
              onClick={() => {
                setOpen('new');
              }}>
              Add a base
            </Button>
          )
        }>
        Docks and yards the fleet works from. Days are counted in each base’s own time zone.
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Asked data={data} error={error} />
      {data && (
        <Lines>
          <Heads
            of={[
              'Base',
              'Time zone',
              'It is there',
              'Hemisphere',
              'Working days',
              { num: 'Hours a day' },
              { unseen: 'Act' },
            ]}
          />
          <tbody>
            {data.map((b) => (
              <tr key={b.id}>
                <td>
                  <b>{b.name}</b>
                </td>
                <td>{b.timeZone}</td>
                <td>{fullDay(b.today)}</td>
                <td>{b.hemisphere}</td>
                <td>{b.workdays.map((d) => DAYS[d - 1]).join(' ')}</td>
                <td className="num figure">{minutesText(b.dayMinutes)}</td>
                <td>
                  {maySteer && (
                    <RowAct
                      of={`Edit ${b.name}`}
                      onPress={() => {
                        setOpen(b);
                      }}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {open && (
        <BaseForm
          {...(open !== 'new' && { base: open })}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </>
  );
}

/** A time of the day, kept as minutes after midnight. */
function Clock({
  control,
  name,
  label,
}: {
  control: Control<z.input<typeof baseEdit>>;
  name: 'opensAt' | 'closesAt' | 'breakFrom' | 'breakTo';
  label: string;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field }) => (
        <Entry
          kind="time"
          label={label}
          value={timeFieldOf(field.value ?? 0)}
          onType={(text) => {
            field.onChange(minuteOfField(text) ?? 0);
          }}
        />
      )}
    />
  );
}

function BaseForm({ base, onClose }: { base?: Base; onClose: () => void }) {
  const [add, adding] = fleetApi.useAddBaseMutation();
  const [edit, editing] = fleetApi.useEditBaseMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof baseEdit>>({
    resolver: zodResolver(baseEdit),
    defaultValues: base
      ? {
          name: base.name,
          timeZone: base.timeZone,
          hemisphere: base.hemisphere,
          dayMinutes: base.dayMinutes,
          workdays: base.workdays,
          liftSlots: base.liftSlots,
          opensAt: base.opensAt,
          closesAt: base.closesAt,
          breakMinutes: base.breakMinutes,
          breakFrom: base.breakFrom,
          breakTo: base.breakTo,
        }
      : {
          name: '',
          timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
          hemisphere: 'north',
          dayMinutes: 480,
          workdays: [1, 2, 3, 4, 5],
          liftSlots: 2,
          opensAt: 420,
          closesAt: 1140,
          breakMinutes: 30,
          breakFrom: 690,
          breakTo: 840,
        },
  });
  const save = handleSubmit(async (values) => {
    const answer = base ? await edit({ id: base.id, version: base.version, ...values }) : await add(values);
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${values.name} is in the book.` }));
    onClose();
  });
  return (
    <FormSheet
      title={base ? `Edit ${base.name}` : 'A new base'}
      act={base ? 'Keep the changes' : 'Add the base'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Field control={control} name="timeZone" label="Time zone" help="like Atlantic/Azores" />
      <Pick
        control={control}
        name="hemisphere"
        label="Hemisphere"
        options={[
          ['north', 'north'],
          ['south', 'south'],
        ]}
      />
      <Field control={control} name="dayMinutes" label="Minutes a person works a day" kind="number" />
      <Field control={control} name="liftSlots" label="Visits on the lift a day" kind="number" />
      <Clock control={control} name="opensAt" label="Boats can be worked on from" />
      <Clock control={control} name="closesAt" label="until" />
      <Field control={control} name="breakMinutes" label="Minutes of break a day" kind="number" help="0: none" />
      <Clock control={control} name="breakFrom" label="Break not before" />
      <Clock control={control} name="breakTo" label="over by" />
      <Controller
        control={control}
        name="workdays"
        render={({ field }) => (
          <fieldset className="full bare">
            <legend className="field-label">Working days</legend>
            <div className="chips">
              {daysOfWeek().map((day) => {
                const on = field.value.includes(day);
                return (
                  <button
                    key={day}
                    type="button"
                    className="chip"
                    aria-pressed={on}
                    onClick={() => {
                      field.onChange(
                        on ? field.value.filter((d) => d !== day) : [...field.value, day].sort((a, b) => a - b),
                      );
                    }}>
                    {DAYS[day - 1]}
                  </button>
                );
              })}
            </div>
          </fieldset>
        )}
      />
    </FormSheet>
  );
}
