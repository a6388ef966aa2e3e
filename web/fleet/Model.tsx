import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { modelEdit, type Model as ModelRow } from '@diurna/contract/fleet';
import {
  makersLimitsPassed,
  MANUAL_FIRST,
  TASKS,
  TASK_KINDS,
  taskApplies,
  usualLimits,
  usualProgramme,
  EARLY_PERCENT,
  SAND_PERCENT,
  type RuleBasis,
  type TaskKind,
} from '@diurna/core/service';
import { usualTraits } from '@diurna/core/fleet';
import { VOLUME_UNITS } from '@diurna/core/units';
import { Fragment, useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { Link, useNavigate, useParams } from 'react-router';
import type { z } from 'zod';
import { fleetApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Field, Pick } from '../ui/form.tsx';
import { Choice, Empty, Heads, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { TraitFields } from './TraitFields.tsx';
import { WhatItWould } from '../rules/index.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';

/** One model and its programme; `new` makes one. */
export function Model() {
  const { id } = useParams();
  const { data, error } = fleetApi.useListModelsQuery();
  if (error) return <Wrong error={error} />;
  if (!data) return <Waiting />;
  if (id === 'new') return <ModelForm key="new" />;
  const model = data.find((m) => m.id === Number(id));
  return model ? (
    <ModelForm key={`${model.id} ${model.version}`} model={model} />
  ) : (
    <Empty title="There is no such model." />
  );
}

type Values = z.input<typeof modelEdit>;
const BASIS: [RuleBasis, string][] = [
  ['usual', 'as usual'],
  ['own', 'the yard’s own'],
  ['maker', 'the maker’s'],
];

function ModelForm({ model }: { model?: ModelRow }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [add, adding] = fleetApi.useAddModelMutation();
  const [edit, editing] = fleetApi.useEditModelMutation();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { control, handleSubmit, setValue, formState } = useForm<Values>({
    resolver: zodResolver(modelEdit),
    defaultValues: model
      ? {
          maker: model.maker,
          name: model.name,
          powerHp: model.powerHp,
          stroke: model.stroke,
          cylinders: model.cylinders,
          sump: model.sump,
          gearCase: model.gearCase,
          traits: model.traits ?? {},
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
          rules: usualProgramme(4).map((r) => ({ ...r, basis: 'usual' as const })),
        },
  });
  const stroke = useWatch({ control, name: 'stroke' });
  const powerHp = useWatch({ control, name: 'powerHp' });
  const cylinders = useWatch({ control, name: 'cylinders' });
  const sump = useWatch({ control, name: 'sump' });
  const gearCase = useWatch({ control, name: 'gearCase' });
  const rules = useWatch({ control, name: 'rules' });
  const [reason, setReason] = useState('');
  const [fine, setFine] = useState<TaskKind | null>(null);
  const [looked, setLooked] = useState<Values['rules'] | null>(null);
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
  const setRule = (task: TaskKind, part: Partial<Values['rules'][number]> | null) => {
    const rest = rules.filter((r) => r.task !== task);
    setLooked(null);
    const old = rules.find((r) => r.task === task) ?? { task, everyHours: null, everyMonths: null };
    setValue('rules', part === null ? rest : [...rest, { ...old, ...part }], { shouldDirty: true });
  };
  const ruleFault = formState.errors.rules;
  /** Usual figures that are changed become the yard’s own; the server sees to it, the page says so at once. */
  const basisOf = (rule: Values['rules'][number]): RuleBasis => {
    const before = model?.rules.find((r) => r.task === rule.task);
    const changed =
      before !== undefined && (before.everyHours !== rule.everyHours || before.everyMonths !== rule.everyMonths);
    return rule.basis === undefined || (rule.basis === 'usual' && changed) ? 'own' : rule.basis;
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
      <fieldset disabled={!maySteer} style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
        <section className="block form-grid" style={{ maxWidth: 900 }}>
          <Field control={control} name="maker" label="Maker" />
          <Field control={control} name="name" label="Model" />
          <Field control={control} name="powerHp" label="Power, hp" kind="number" />
          <Pick
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
        <section className="block">
          <h2>Volumes as printed on the label</h2>
          <div className="form-grid" style={{ maxWidth: 900 }}>
            {stroke === 4 &&
              (sump ? (
                <>
                  <Field control={control} name="sump.value" label="Engine oil" kind="number" />
                  <Pick control={control} name="sump.unit" label="Unit" options={VOLUME_UNITS.map((u) => [u, u])} />
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
                <Pick control={control} name="gearCase.unit" label="Unit" options={VOLUME_UNITS.map((u) => [u, u])} />
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
            <p style={{ marginTop: 8 }}>
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
        <TraitFields
          control={control}
          usual={usualTraits({ powerHp: powerHp || 60, stroke, cylinders: cylinders || 4 })}
        />
        <section className="block" style={{ maxWidth: 900 }}>
          <h2>Programme</h2>
          <p className="faint">
            Hours or months, whichever comes first; leave one empty when it does not count. Season’s end is 31 October
            in the north, 30 April in the south. Usual figures follow the <Link to="/rules">rules</Link>; the yard’s own
            and the maker’s stand as they are. The engine maker’s manual outranks them.
          </p>
          <table className="lines">
            <Heads
              of={['Task', 'Every, hours', 'Every, months', 'Season’s end too', 'Whose figures', { unseen: 'Act' }]}
            />
            <tbody>
              {TASK_KINDS.filter(
                (t) => taskApplies(t, stroke) && (TASKS[t].group === 'service' || rules.some((r) => r.task === t)),
              ).map((task) => {
                const rule = rules.find((r) => r.task === task);
                return (
                  <Fragment key={task}>
                    <tr>
                      <th scope="row" style={{ color: 'var(--ink)', fontSize: 'inherit' }}>
                        <span className="task">
                          <TaskGlyph task={task} silent /> {TASKS[task].word}
                        </span>
                      </th>
                      {rule ? (
                        <>
                          <td>
                            <Limit
                              label={`${TASKS[task].word}, hours`}
                              value={rule.everyHours}
                              onChange={(everyHours) => {
                                setRule(task, { everyHours });
                              }}
                            />
                          </td>
                          <td>
                            <Limit
                              label={`${TASKS[task].word}, months`}
                              value={rule.everyMonths}
                              onChange={(everyMonths) => {
                                setRule(task, { everyMonths });
                              }}
                              whole
                            />
                          </td>
                          <td>
                            <input
                              type="checkbox"
                              className="tick"
                              aria-label={`${TASKS[task].word}, at season’s end too`}
                              checked={rule.seasonEnd ?? false}
                              onChange={(e) => {
                                setRule(task, { seasonEnd: e.target.checked });
                              }}
                            />
                          </td>
                          <td>
                            <Choice
                              label={`${TASKS[task].word}, whose figures`}
                              hideLabel
                              value={basisOf(rule)}
                              onChange={(v) => {
                                if (v) setRule(task, { basis: v });
                              }}
                              options={BASIS}
                            />
                          </td>
                          <td>
                            <button
                              type="button"
                              className="link-button"
                              aria-expanded={fine === task}
                              onClick={() => {
                                setFine(fine === task ? null : task);
                              }}>
                              {finePrintOf(rule) || 'tolerances'}
                            </button>
                            {maySteer && (
                              <>
                                <br />
                                <button
                                  type="button"
                                  className="link-button"
                                  onClick={() => {
                                    setRule(task, null);
                                  }}>
                                  not on this model
                                </button>
                              </>
                            )}
                          </td>
                        </>
                      ) : (
                        <>
                          <td colSpan={4} className="faint">
                            not in the programme
                          </td>
                          <td>
                            {maySteer && (
                              <button
                                type="button"
                                className="link-button"
                                onClick={() => {
                                  setRule(task, { ...usualLimits(task), basis: 'own' });
                                }}>
                                add it
                              </button>
                            )}
                          </td>
                        </>
                      )}
                    </tr>
                    {rule && fine === task && (
                      <tr>
                        <td />
                        <td colSpan={5}>
                          <FinePrint
                            task={task}
                            rule={rule}
                            onChange={(part) => {
                              setRule(task, part);
                            }}
                          />
                        </td>
                      </tr>
                    )}
                  </Fragment>
                );
              })}
            </tbody>
          </table>
          <Controller
            control={control}
            name="rules"
            render={() => (
              <>
                {ruleFault && (
                  <p className="minus" role="alert">
                    A task in the programme needs hours, months or both, above 0. Early is at most 50 %, late at most 25
                    %, sand and salt 10 to 100 %.
                  </p>
                )}
              </>
            )}
          />
        </section>
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
      {passed.length > 0 && (
        <div className="caution" style={{ maxWidth: 900 }}>
          <p>
            This passes the maker’s limit for {passed.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.{' '}
            {MANUAL_FIRST}
          </p>
          <label className="choice" style={{ width: '100%' }}>
            <span className="choice-label">Why</span>
            <input
              className="plain-input"
              maxLength={500}
              value={reason}
              onChange={(e) => {
                setReason(e.target.value);
              }}
            />
          </label>
        </div>
      )}
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

type Rule = Values['rules'][number];

/** What of the rule's fine print is not as usual, in a few words. */
function finePrintOf({ earlyPercent, latePercent, sandPercent, saltPercent }: Rule): string {
  return [
    earlyPercent != null && `rung from ${earlyPercent} % early`,
    latePercent != null && latePercent > 0 && `${latePercent} % late`,
    sandPercent != null && `sand ${sandPercent} %`,
    saltPercent != null && saltPercent < 100 && `salt ${saltPercent} %`,
  ]
    .filter(Boolean)
    .join(', ');
}

function FinePrint({ task, rule, onChange }: { task: TaskKind; rule: Rule; onChange: (part: Partial<Rule>) => void }) {
  const row = (
    key: 'earlyPercent' | 'latePercent' | 'sandPercent' | 'saltPercent',
    usual: number,
    words: [string, string],
  ) => (
    <label className="fine-print">
      <span>{words[0]}</span>
      <Limit
        whole
        label={`${TASKS[task].word}: ${words[0]}`}
        value={rule[key] ?? null}
        placeholder={String(usual)}
        onChange={(value) => {
          onChange({ [key]: value });
        }}
      />
      <span className="faint">{words[1]}</span>
    </label>
  );
  return (
    <div>
      {row('earlyPercent', EARLY_PERCENT, [
        'Early',
        '% of the interval: so early a job still serves the rung ahead, when counted on a ladder',
      ])}
      {row('latePercent', 0, ['Late', '% of the interval: so far past the limit it is due, not over'])}
      {row('sandPercent', SAND_PERCENT[task] ?? 100, ['In sand and shallows', '% of its hours'])}
      {row('saltPercent', 100, ['In salt water', '% of its months'])}
    </div>
  );
}

function Limit({
  label,
  value,
  onChange,
  whole = false,
  placeholder,
}: {
  label: string;
  value: number | null;
  onChange: (value: number | null) => void;
  whole?: boolean;
  placeholder?: string;
}) {
  return (
    <input
      className="plain-input num figure short"
      inputMode={whole ? 'numeric' : 'decimal'}
      aria-label={label}
      value={value ?? ''}
      placeholder={placeholder}
      onChange={(e) => {
        const text = e.target.value.replace(whole ? /\D/g : /[^\d.]/g, '');
        onChange(text === '' ? null : Number(text));
      }}
    />
  );
}
