import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { modelEdit, type Model as ModelRow } from '@diurna/contract/fleet';
import { makersLimitsPassed, MANUAL_FIRST, TASKS, usualProgramme, type TaskKind } from '@diurna/core/service';
import { usualTraits, type BuiltEngine } from '@diurna/core/fleet';
import { VOLUME_UNITS } from '@diurna/core/units';
import { useEffect, useState } from 'react';
import { useForm, useWatch, type UseFormReturn } from 'react-hook-form';
import { useNavigate, useParams } from 'react-router';
import type { z } from 'zod';
import { fleetApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Field, Pick as PickOne } from '../ui/form.tsx';
import { Asked, Empty, PageHead, Wrong } from '../ui/parts.tsx';
import type { Rule } from './FinePrint.tsx';
import { Programme } from './Programme.tsx';
import { StartFrom } from './StartFrom.tsx';
import { TraitFields } from './TraitFields.tsx';
import { Variants } from './Variants.tsx';
import { WhatItWould } from '../rules/index.ts';
import { Box } from '../ui/Box.tsx';

/** One model and its programme; `new` makes one. */
export function Model() {
  const { id } = useParams();
  const { data, error } = fleetApi.useListModelsQuery();
  if (!data) return <Asked data={data} error={error} />;
  if (id === 'new') return <ModelForm key="new" />;
  const model = data.find((m) => m.id === Number(id));
  return model ? (
    <ModelForm key={`${model.id} ${model.version}`} model={model} />
  ) : (
    <Empty title="There is no such model." />
  );
}

type Values = z.input<typeof modelEdit>;

const usualRules = (engine: BuiltEngine): Rule[] =>
  usualProgramme(engine).map(({ task, everyHours, everyMonths }) => ({
    task,
    everyHours,
    everyMonths,
    basis: 'usual' as const,
  }));

/** What the form begins with: the model as it stands, or one as usual. */
const valuesOf = (model: ModelRow | undefined): Values =>
  model
    ? {
        maker: model.maker,
        name: model.name,
        powerHp: model.powerHp,
        stroke: model.stroke,
        cylinders: model.cylinders,
        sump: model.sump,
        gearCase: model.gearCase,
        traits: model.traits ?? {},
        variants: model.variants ?? [],
        rules: model.rules,
      }
    : {
        maker: '',
        name: '',
        powerHp: '' as unknown as number,
        stroke: 4,
        cylinders: 4,
        sump: { value: '' as unknown as number, unit: 'L' },
        gearCase: { value: '' as unknown as number, unit: 'L' },
        traits: {},
        variants: [],
        rules: usualRules({ powerHp: 60, stroke: 4, cylinders: 4 }),
      };

/** What the engine holds, in the unit of its label; it may not be known yet. */
function Volumes({ control, setValue }: Pick<UseFormReturn<Values>, 'control' | 'setValue'>) {
  const stroke = useWatch({ control, name: 'stroke' });
  const sump = useWatch({ control, name: 'sump' });
  const gearCase = useWatch({ control, name: 'gearCase' });
  return (
    <section className="block">
      <h2>Volumes as printed on the label</h2>
      <div className="form-grid measure">
        {stroke === 4 &&
          (sump ? (
            <>
              <Field control={control} name="sump.value" label="Engine oil" kind="number" />
              <PickOne control={control} name="sump.unit" label="Unit" options={VOLUME_UNITS.map((u) => [u, u])} />
            </>
          ) : (
            <Button
              onClick={() => {
                setValue('sump', { value: '' as unknown as number, unit: 'L' });
              }}>
              Engine oil volume is not known yet: add it
            </Button>
          ))}
        {gearCase ? (
          <>
            <Field control={control} name="gearCase.value" label="Gear case" kind="number" />
            <PickOne control={control} name="gearCase.unit" label="Unit" options={VOLUME_UNITS.map((u) => [u, u])} />
          </>
        ) : (
          <Button
            onClick={() => {
              setValue('gearCase', { value: '' as unknown as number, unit: 'L' });
            }}>
            Gear-case volume is not known yet: add it
          </Button>
        )}
      </div>
      {(sump || gearCase) && (
        <p className="above-s">
          <Button
            size="small"
            onClick={() => {
              setValue('sump', null);
              setValue('gearCase', null);
            }}>
            Volumes are not known
          </Button>
        </p>
      )}
    </section>
  );
}

/** Past what the maker says somebody answers for it, with a reason. */
function PastMaker({
  tasks,
  reason,
  setReason,
}: {
  tasks: readonly TaskKind[];
  reason: string;
  setReason: (text: string) => void;
}) {
  return (
    <div className="caution measure">
      <p>
        This passes the maker’s limit for {tasks.map((t) => TASKS[t].word.toLowerCase()).join(', ')}. {MANUAL_FIRST}
      </p>
      <label className="choice wide-box">
        <span className="choice-label">Why</span>
        <Box
          maxLength={500}
          value={reason}
          onChange={(e) => {
            setReason(e.target.value);
          }}
        />
      </label>
    </div>
  );
}

/** What is usual for an engine so built; a new model's programme follows it until somebody changes it. */
function useUsual(
  control: UseFormReturn<Values>['control'],
  setValue: UseFormReturn<Values>['setValue'],
  known: boolean,
) {
  const [powerHp, stroke, cylinders, traits] = useWatch({
    control,
    name: ['powerHp', 'stroke', 'cylinders', 'traits'],
  });
  const size = { powerHp: powerHp || 60, stroke, cylinders: cylinders || 4 };
  const usual = usualRules({ ...size, traits: traits ?? null });
  const [touched, setTouched] = useState(known);
  const wanted = JSON.stringify(usual);
  useEffect(() => {
    if (!touched) setValue('rules', JSON.parse(wanted) as Rule[]);
  }, [touched, wanted, setValue]);
  return { size, usual, setTouched };
}

function ModelForm({ model }: { model?: ModelRow }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [add, adding] = fleetApi.useAddModelMutation();
  const [edit, editing] = fleetApi.useEditModelMutation();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { control, handleSubmit, setValue, formState } = useForm<Values>({
    resolver: zodResolver(modelEdit),
    defaultValues: valuesOf(model),
  });
  const stroke = useWatch({ control, name: 'stroke' });
  const rules = useWatch({ control, name: 'rules' });
  const { size, usual, setTouched } = useUsual(control, setValue, model !== undefined);
  const [reason, setReason] = useState('');
  const [looked, setLooked] = useState<Rule[] | null>(null);
  const passed = makersLimitsPassed(
    (model?.rules ?? []).map((r) => ({ ...r, basis: r.basis ?? 'own' })),
    rules,
  );
  const save = handleSubmit(async (values) => {
    const answer = model
      ? await edit({ id: model.id, version: model.version, ...values, ...(passed.length > 0 && { reason }) })
      : await add(values);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${values.maker} ${values.name} is in the book. Due dates follow the programme from now on.`,
        link: { to: '/due', word: 'See what is due' },
      }),
    );
    if (!model) void navigate('/fleet/models');
  });
  const setRule = (task: TaskKind, part: Partial<Rule> | null) => {
    const rest = rules.filter((r) => r.task !== task);
    setLooked(null);
    setTouched(true);
    const old = rules.find((r) => r.task === task) ?? { task, everyHours: null, everyMonths: null };
    setValue('rules', part === null ? rest : [...rest, { ...old, ...part }], { shouldDirty: true });
  };

  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <PageHead title={model ? `${model.maker} ${model.name}` : 'A new engine model'}>
        {model && `${model.engines} in the fleet`}
      </PageHead>
      <fieldset disabled={!maySteer} className="bare">
        {!model && <StartFrom setValue={setValue} />}
        <section className="block form-grid measure">
          <Field control={control} name="maker" label="Maker" />
          <Field control={control} name="name" label="Model" />
          <Field control={control} name="powerHp" label="Power, hp" kind="number" />
          <PickOne
            control={control}
            name="stroke"
            label="Stroke"
            options={[
              [4, 'four-stroke'],
              [2, 'two-stroke'],
            ]}
          />
          <Field control={control} name="cylinders" label="Cylinders" kind="number" />
        </section>
        <Volumes control={control} setValue={setValue} />
        <TraitFields control={control} usual={usualTraits(size)} />
        <Variants control={control} setValue={setValue} usual={usualTraits(size)} />
        <Programme
          rules={rules}
          stroke={stroke}
          before={model?.rules ?? []}
          faulty={formState.errors.rules !== undefined}
          maySteer={maySteer}
          setRule={setRule}
          usual={usual}
          fillUp={(more) => {
            setLooked(null);
            setTouched(true);
            setValue('rules', [...rules, ...more], { shouldDirty: true });
          }}
        />
      </fieldset>
      {model &&
        formState.isDirty &&
        (looked ? (
          <WhatItWould change={{ programme: { modelId: model.id, rules: looked } }}>
            <span />
          </WhatItWould>
        ) : (
          <p>
            <Button
              onClick={() => {
                setLooked(rules);
              }}>
              Work out what this does to the fleet
            </Button>
          </p>
        ))}
      {passed.length > 0 && <PastMaker tasks={passed} reason={reason} setReason={setReason} />}
      <Wrong error={adding.error ?? editing.error} />
      {maySteer && (
        <Button
          type="submit"
          variant="contained"
          color="primary"
          disabled={adding.isLoading || editing.isLoading || (passed.length > 0 && reason.trim().length < 3)}>
          {model ? 'Keep the changes' : 'Add the model'}
        </Button>
      )}
    </form>
  );
}
