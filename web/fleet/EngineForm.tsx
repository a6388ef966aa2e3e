import { zodResolver } from '@hookform/resolvers/zod';
import { engineEdit, fleetRoutes, METER_KINDS, type Boat, type Engine } from '@diurna/contract/fleet';
import { POSITIONS, TRANSOMS, transomText, type Transom } from '@diurna/core/fleet';
import { useForm, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import type { z } from 'zod';
import { fleetApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useToday } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { Choice } from '../ui/parts.tsx';

const METER_WORD: Record<(typeof METER_KINDS)[number], string> = {
  computer: 'engine computer',
  dash: 'dash meter',
  logger: 'logger',
};
const METER_OPTIONS = METER_KINDS.map((k): [(typeof METER_KINDS)[number], string] => [k, METER_WORD[k]]);
const TRANSOM_OPTIONS: [Transom | null, string][] = [
  [null, 'nobody looked'],
  ...TRANSOMS.map((t): [Transom, string] => [t, transomText(t)]),
];
type Values = z.input<typeof fleetRoutes.addEngine.body>;

/** A new engine for a boat, with its meter. */
export function NewEngine({ boat, onClose }: { boat: Boat; onClose: () => void }) {
  const { data: models = [], isSuccess } = fleetApi.useListModelsQuery();
  const [add, { error, isLoading }] = fleetApi.useAddEngineMutation();
  const dispatch = useAppDispatch();
  const taken = new Set(boat.engines.map((e) => e.position));
  const { control, handleSubmit, setValue } = useForm<Values>({
    resolver: zodResolver(fleetRoutes.addEngine.body),
    values: {
      serial: '',
      modelId: models[0]?.id ?? 0,
      boatId: boat.id,
      position: POSITIONS.find((p) => !taken.has(p)) ?? 'kicker',
      transom: null,
      inServiceOn: null,
      boughtNew: false,
      meter: { kind: 'computer', offset: 0 },
    },
    resetOptions: { keepDirtyValues: true },
  });
  const save = handleSubmit(async (values) => {
    const answer = await add(values);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${values.serial} hangs on ${boat.name}.`,
        link: { to: `/fleet/engines/${answer.data.id}`, word: 'Open it' },
      }),
    );
    onClose();
  });
  const meter = useWatch({ control, name: 'meter' });
  return (
    <FormSheet
      title={`An engine for ${boat.name}`}
      act="Add the engine"
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading || models.length === 0}>
      {isSuccess && models.length === 0 && (
        <p className="full" role="status">
          An engine is of a model, and the book has none yet. <Link to="/fleet/models">Add its model first</Link>: it
          carries the volumes and the programme.
        </p>
      )}
      <Pick
        control={control}
        name="modelId"
        label="Model"
        options={models.map((m) => [m.id, `${m.maker} ${m.name}`])}
      />
      <Pick
        control={control}
        name="position"
        label="Position"
        options={POSITIONS.filter((p) => !taken.has(p)).map((p) => [p, p])}
      />
      <Field control={control} name="serial" label="Serial" autoFocus />
      <Pick control={control} name="transom" label="Made for a transom" options={TRANSOM_OPTIONS} />
      <Field control={control} name="inServiceOn" label="In service since" kind="date" />
      <Pick
        control={control}
        name="boughtNew"
        label="History"
        options={[
          [false, 'unknown until written down'],
          [true, 'new on that day'],
        ]}
      />
      <Choice<(typeof METER_KINDS)[number]>
        label="Meter"
        value={meter?.kind ?? ''}
        options={[['', 'no meter, hours by its hires'], ...METER_OPTIONS]}
        onChange={(kind) => {
          setValue('meter', kind === '' ? null : { kind, offset: meter?.offset ?? 0 }, { shouldDirty: true });
        }}
      />
      {meter !== null && (
        <Field
          control={control}
          name="meter.offset"
          label="Hours before this meter"
          kind="number"
          help="0 when the meter counted from the start"
        />
      )}
    </FormSheet>
  );
}

export function EditEngine({ engine, onClose }: { engine: Engine; onClose: () => void }) {
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const { data: boats } = fleetApi.useListBoatsQuery({ size: 200 });
  const [edit, { error, isLoading }] = fleetApi.useEditEngineMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof engineEdit>>({
    resolver: zodResolver(engineEdit),
    defaultValues: {
      serial: engine.serial,
      modelId: engine.modelId,
      boatId: engine.boatId,
      position: engine.position,
      transom: engine.transom ?? null,
      inServiceOn: engine.inServiceOn,
      boughtNew: engine.boughtNew,
    },
  });
  const save = handleSubmit(async (values) => {
    const answer = await edit({ id: engine.id, version: engine.version, ...values });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${values.serial} is changed.` }));
    onClose();
  });
  const here: [number, string][] =
    engine.boatId !== null && !boats?.rows.some((b) => b.id === engine.boatId)
      ? [[engine.boatId, engine.boatName ?? '']]
      : [];
  return (
    <FormSheet
      title={`Edit ${engine.serial}`}
      act="Keep the changes"
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading}>
      <Pick
        control={control}
        name="boatId"
        label="Boat"
        options={[[null, 'on the shelf'], ...here, ...(boats?.rows ?? []).map((b): [number, string] => [b.id, b.name])]}
      />
      <Pick control={control} name="position" label="Position" options={POSITIONS.map((p) => [p, p])} />
      <Pick
        control={control}
        name="modelId"
        label="Model"
        options={models.map((m) => [m.id, `${m.maker} ${m.name}`])}
      />
      <Field control={control} name="serial" label="Serial" />
      <Pick control={control} name="transom" label="Made for a transom" options={TRANSOM_OPTIONS} />
      <Field control={control} name="inServiceOn" label="In service since" kind="date" />
      <Pick
        control={control}
        name="boughtNew"
        label="History"
        options={[
          [false, 'unknown until written down'],
          [true, 'new on that day'],
        ]}
      />
    </FormSheet>
  );
}

/** The old meter comes off, a new one goes on; life hours go on. */
export function ChangeMeter({ engine, onClose }: { engine: Engine; onClose: () => void }) {
  const today = useToday();
  const [change, { error, isLoading }] = fleetApi.useChangeMeterMutation();
  const dispatch = useAppDispatch();
  const old = engine.meters.find((m) => m.removedOn === null);
  const schema = fleetRoutes.changeMeter.body;
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: { kind: old?.kind ?? 'computer', day: today, oldCount: null, newCount: 0, reason: '' },
  });
  const save = handleSubmit(async (values) => {
    const answer = await change({ id: engine.id, ...values });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: 'The new meter counts from here; life hours go on without a step.' }));
    onClose();
  });
  return (
    <FormSheet
      title={old ? 'Change the meter' : 'Fit a meter'}
      act={old ? 'Change it' : 'Fit it'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading}>
      <Pick control={control} name="kind" label="New meter" options={METER_OPTIONS} />
      <Field control={control} name="day" label="Day" kind="date" />
      {old && (
        <Field
          control={control}
          name="oldCount"
          label="Old meter showed"
          kind="number"
          help="empty when it is dead: the last reading counts"
        />
      )}
      <Field control={control} name="newCount" label="New meter shows" kind="number" />
      <div className="full">
        <Field control={control} name="reason" label="Why" />
      </div>
    </FormSheet>
  );
}
