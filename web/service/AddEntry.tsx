import { zodResolver } from '@hookform/resolvers/zod';
import type { Engine } from '@diurna/contract/fleet';
import { serviceRoutes } from '@diurna/contract/service';
import { TASKS, TASK_KINDS, taskApplies } from '@diurna/core/service';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { serviceApi } from './api.ts';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useToday } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';

const schema = serviceRoutes.addEntry.body;

/** Work done before the book, or outside of it. */
export function AddEntry({ engine, onClose }: { engine: Engine; onClose: () => void }) {
  const today = useToday();
  const [add, { error, isLoading }] = serviceApi.useAddEntryMutation();
  const dispatch = useAppDispatch();
  // Asked about once, the hours may be right all the same.
  const questioned = problemOf(error)?.type === 'questioned';
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: { engineId: engine.id, task: 'gear-lube', doneOn: today, hours: null, doneBy: null, remark: null },
  });
  const save = handleSubmit(async (values) => {
    const { confirm, ...entry } = values;
    const answer = await add({
      ...entry,
      doneBy: values.doneBy || null,
      remark: values.remark || null,
      ...(questioned && confirm && { confirm }),
    });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${TASKS[values.task].word} is in the log.` }));
    onClose();
  });
  return (
    <FormSheet
      title="Write down earlier work"
      act="Write it down"
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading}>
      <Pick
        control={control}
        name="task"
        label="Task"
        options={TASK_KINDS.filter((t) => taskApplies(t, engine.stroke)).map((t) => [t, TASKS[t].word])}
      />
      <Field control={control} name="doneOn" label="Done on" kind="date" />
      <Field control={control} name="hours" label="Life hours then" kind="number" help="empty when nobody knows" />
      <Field control={control} name="doneBy" label="Done by" help="empty: you" />
      {questioned && (
        <div className="full">
          <Field control={control} name="confirm" label="Why the hours are right" help="or correct them" />
        </div>
      )}
      <div className="full">
        <Field control={control} name="remark" label="Remark" />
      </div>
    </FormSheet>
  );
}
