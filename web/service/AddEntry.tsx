import { zodResolver } from '@hookform/resolvers/zod';
import { Button, Checkbox } from '@mui/material';
import type { Engine } from '@diurna/contract/fleet';
import { serviceRoutes } from '@diurna/contract/service';
import { isLookedAt, TASKS, TASK_KINDS, taskApplies, type TaskKind } from '@diurna/core/service';
import { useController, useForm, useWatch, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { serviceApi } from './api.ts';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useToday } from '../app/useBook.ts';
import { fleetApi } from '../fleet/api.ts';
import { plural } from '../ui/format.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import './log.css';

const schema = serviceRoutes.addEntries.body;
type Values = z.input<typeof schema>;

/** Work done before the book, or outside of it: all that was done that day. */
export function AddEntry({ engine, onClose }: { engine: Engine; onClose: () => void }) {
  const today = useToday();
  const [add, { error, isLoading }] = serviceApi.useAddEntriesMutation();
  const dispatch = useAppDispatch();
  // Asked about once, the hours may be right all the same.
  const questioned = problemOf(error)?.type === 'questioned';
  const { control, handleSubmit } = useForm<Values>({
    resolver: zodResolver(schema),
    defaultValues: {
      engineId: engine.id,
      tasks: [],
      doneOn: today,
      hours: null,
      doneBy: null,
      remark: null,
      oldPart: null,
    },
  });
  const tasks = useWatch({ control, name: 'tasks' });
  const save = handleSubmit(async (values) => {
    const { confirm, oldPart, ...entry } = values;
    const answer = await add({
      ...entry,
      doneBy: values.doneBy || null,
      remark: values.remark || null,
      // Of work that renews nothing that is looked at it is left out again.
      oldPart: values.tasks.some(isLookedAt) ? (oldPart ?? null) : null,
      ...(questioned && confirm && { confirm }),
    });
    if (!answer.data) return;
    const [one, ...more] = values.tasks;
    dispatch(
      say({
        tone: 'done',
        text: more.length === 0 ? `${TASKS[one!].word} is in the log.` : `${values.tasks.length} tasks are in the log.`,
      }),
    );
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
      <Field control={control} name="doneOn" label="Done on" kind="date" />
      <Field control={control} name="hours" label="Life hours then" kind="number" help="empty when nobody knows" />
      <Field control={control} name="doneBy" label="Done by" help="empty: you" />
      <WhatWasDone control={control} engine={engine} />
      <div className="full">
        <Field control={control} name="remark" label="Remark" />
      </div>
      {tasks.some(isLookedAt) && (
        <Pick
          control={control}
          name="oldPart"
          label="The old part was"
          options={[
            [null, 'nobody looked'],
            ['sound', 'sound'],
            ['spent', 'worn out or broken'],
          ]}
        />
      )}
      {questioned && (
        <div className="full">
          <Field control={control} name="confirm" label="Why the hours are right" help="or correct them" />
        </div>
      )}
    </FormSheet>
  );
}

/** The tasks of the model's programme first, what else can be done on such an engine below. */
function WhatWasDone({ control, engine }: { control: Control<Values>; engine: Engine }) {
  const { data: models } = fleetApi.useListModelsQuery();
  const { field, fieldState } = useController({ control, name: 'tasks' });
  const programme = new Set(models?.find((m) => m.id === engine.modelId)?.rules.map((r) => r.task));
  const all = TASK_KINDS.filter((t) => taskApplies(t, engine.stroke));
  const usual = all.filter((t) => programme.has(t));
  const whole = usual.every((t) => field.value.includes(t));
  const flip = (task: TaskKind) => {
    field.onChange(field.value.includes(task) ? field.value.filter((t) => t !== task) : [...field.value, task]);
  };
  const box = (task: TaskKind) => (
    <label key={task}>
      <Checkbox
        size="small"
        checked={field.value.includes(task)}
        onChange={() => {
          flip(task);
        }}
      />
      <TaskGlyph task={task} size={18} silent /> {TASKS[task].word}
    </label>
  );
  return (
    <fieldset className="bare full">
      <legend>
        What was done{field.value.length > 0 && <span className="faint"> {plural(field.value.length, 'task')}</span>}
      </legend>
      {usual.length > 0 && (
        <p>
          <Button
            size="small"
            onClick={() => {
              field.onChange(whole ? [] : [...new Set([...field.value, ...usual])]);
            }}>
            {whole ? 'None' : 'The whole programme'}
          </Button>
        </p>
      )}
      <div className="tasks-done">{(usual.length > 0 ? usual : all).map(box)}</div>
      {usual.length > 0 && usual.length < all.length && (
        <details>
          <summary>Not in its programme</summary>
          <div className="tasks-done">{all.filter((t) => !programme.has(t)).map(box)}</div>
        </details>
      )}
      {fieldState.error && (
        <p className="minus small" role="alert">
          Tick what was done.
        </p>
      )}
    </fieldset>
  );
}
