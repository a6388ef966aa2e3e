import { zodResolver } from '@hookform/resolvers/zod';
import { hireEdit, type Hire } from '@diurna/contract/hires';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { hiresApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { Field, FormSheet } from '../ui/form.tsx';
import { shortDay } from '../ui/format.ts';
import { Choice, Entry } from '../ui/parts.tsx';
import { BoatPick } from '../ui/BoatPick.tsx';

/** Books a boat out, or changes a booking, in the time of the boat's base. */
export function HireForm({ hire, day, onClose }: { hire?: Hire; day: string; onClose: () => void }) {
  const [add, adding] = hiresApi.useAddHireMutation();
  const [edit, editing] = hiresApi.useEditHireMutation();
  const [boat, setBoat] = useState(hire ? { id: hire.boatId, name: hire.boatName } : null);
  const [every, setEvery] = useState<number>(0);
  const [times, setTimes] = useState('4');
  const dispatch = useAppDispatch();
  const { control, handleSubmit, setValue, formState } = useForm<z.input<typeof hireEdit>>({
    resolver: zodResolver(hireEdit),
    defaultValues: hire
      ? {
          boatId: hire.boatId,
          outDay: hire.outDay,
          outTime: hire.outTime,
          backDay: hire.backDay,
          backTime: hire.backTime,
          reference: hire.reference,
        }
      : { boatId: 0, outDay: day, outTime: '09:00', backDay: day, backTime: '17:00', reference: null },
  });
  const save = handleSubmit(async (values) => {
    const clean = { ...values, reference: values.reference || null };
    const repeat = every === 0 ? {} : { repeat: { everyDays: every, times: Math.max(2, Number(times) || 2) } };
    const answer = hire
      ? await edit({ id: hire.id, version: hire.version, ...clean })
      : await add({ ...clean, ...repeat });
    if (!answer.data) return;
    const { overlaps } = answer.data;
    dispatch(
      say(
        overlaps.length > 0
          ? { tone: 'wrong', text: `Kept, but ${boat?.name} is also out ${overlaps.join(' and ')}.` }
          : {
              tone: 'done',
              text: `${boat?.name} is booked out from ${shortDay(values.outDay)} ${values.outTime}${every === 0 ? '' : `, ${times} times`}.`,
            },
      ),
    );
    onClose();
  });
  return (
    <FormSheet
      title={hire ? `Change a hire of ${hire.boatName}` : 'A new hire'}
      act={hire ? 'Keep the changes' : 'Book it out'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <div className="full">
        <BoatPick
          value={boat}
          fault={formState.errors.boatId ? 'Choose a boat' : undefined}
          onChange={(b) => {
            setBoat(b);
            setValue('boatId', b?.id ?? 0, { shouldValidate: formState.isSubmitted });
          }}
        />
      </div>
      <Field control={control} name="outDay" label="Goes out" kind="date" />
      <Field control={control} name="outTime" label="Time out" kind="time" />
      <Field control={control} name="backDay" label="Comes back" kind="date" />
      <Field control={control} name="backTime" label="Time back" kind="time" />
      {!hire && (
        <Choice
          label="Again"
          value={every}
          onChange={(v) => {
            setEvery(v === '' ? 0 : v);
          }}
          options={[
            [0, 'once only'],
            [1, 'every day'],
            [7, 'every week'],
            [14, 'every other week'],
          ]}
        />
      )}
      {!hire && every > 0 && <Entry kind="figure" short label="Times in all" value={times} onType={setTimes} />}
      <div className="full">
        <Field control={control} name="reference" label="Reference" help="the booking’s number; no names of people" />
      </div>
    </FormSheet>
  );
}
