import { Button, TextField } from '@mui/material';
import type { Override } from '@diurna/contract/rules';
import { OVERRIDE_SCOPES, ruleText, TASKS, TASK_KINDS, type OverrideScope, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { rulesApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { BoatPick } from '../ui/BoatPick.tsx';
import { clockText } from '../ui/format.ts';
import { Choice, Empty, Heads, Leaves, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { RULES_LEAVES } from './leaves.ts';
import { EnginePick } from './SideBySide.tsx';
import { WhatItWould } from './WhatItWould.tsx';
import '../ui/rules.css';
import { Lines } from '../ui/Lines.tsx';
import { RowAct } from '../ui/RowAct.tsx';

/** Rules that one base, boat or engine has for itself, with the reason and who gave it. */
export function OwnRules() {
  const { data, error } = rulesApi.useListOverridesQuery();
  const maySteer = useMay('administrator', 'coordinator');
  const [ending, setEnding] = useState<Override | null>(null);
  const [end, ended] = rulesApi.useEndOverrideMutation();
  const dispatch = useAppDispatch();
  const endIt = async (o: Override) => {
    const done = await end({ id: o.id, version: o.version });
    if (!done.data) return;
    setEnding(null);
    dispatch(
      say({
        tone: 'done',
        text: `${o.scopeName} follows the fleet’s rule for ${TASKS[o.task].word.toLowerCase()} again.`,
      }),
    );
  };
  return (
    <>
      <PageHead title="Rules of their own">
        For a boat that works the sandbanks, an engine on probation, a base with hard water. The nearest to the engine
        holds.
      </PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Wrong error={error ?? ended.error} />
      {!data && !error && <Waiting />}
      {data?.length === 0 && (
        <Empty title="None: the whole fleet follows its programmes.">
          {maySteer ? 'Give one below; the reason stays in the book.' : ''}
        </Empty>
      )}
      {data && data.length > 0 && (
        <Lines>
          <Heads of={['For', 'Task', 'Every', 'Because', 'Given by', { unseen: 'Act' }]} />
          <tbody>
            {data.map((o) => (
              <tr key={o.id} className={ending?.id === o.id ? 'picked' : ''}>
                <td>
                  <b>{o.scopeName}</b> <span className="faint">{o.scope}</span>
                </td>
                <td>
                  <span className="task">
                    <TaskGlyph task={o.task} silent size={18} /> {TASKS[o.task].word}
                  </span>
                </td>
                <td>{ruleText(o)}</td>
                <td>{o.reason}</td>
                <td className="faint">
                  {o.by}, {clockText(o.at)}
                </td>
                <td className="num">
                  {maySteer && (
                    <RowAct
                      word="end it"
                      of={`end it: the rule of ${o.scopeName} for ${TASKS[o.task].word.toLowerCase()}`}
                      onPress={() => {
                        setEnding(o);
                      }}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {ending && (
        <section className="block above">
          <h2>Without the rule of {ending.scopeName}</h2>
          <WhatItWould change={{ endOverride: ending.id }}>
            <div className="side-acts">
              <Button variant="contained" color="primary" disabled={ended.isLoading} onClick={() => void endIt(ending)}>
                End it
              </Button>
              <Button
                onClick={() => {
                  setEnding(null);
                }}>
                Leave it
              </Button>
            </div>
          </WhatItWould>
        </section>
      )}
      {maySteer && <NewRule />}
    </>
  );
}

interface Chosen {
  id: number;
  name: string;
}

function NewRule() {
  const bases = useBases();
  const [scope, setScope] = useState<OverrideScope>('boat');
  const [place, setPlace] = useState<Chosen | null>(null);
  const [task, setTask] = useState<TaskKind>('impeller');
  const [hours, setHours] = useState('');
  const [months, setMonths] = useState('');
  const [reason, setReason] = useState('');
  const [looked, setLooked] = useState(false);
  const [add, adding] = rulesApi.useAddOverrideMutation();
  const dispatch = useAppDispatch();
  const number = (text: string) => (text === '' ? null : Number(text.replace(',', '.')));
  const body = place && {
    scope,
    scopeId: place.id,
    task,
    everyHours: number(hours),
    everyMonths: number(months),
    reason: reason.trim(),
  };
  const ready = body !== null && (hours !== '' || months !== '') && reason.trim().length >= 3;
  const change =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setLooked(false);
    };
  const save = async () => {
    if (!body) return;
    const done = await add(body);
    if (!done.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${place.name} has a rule of its own for ${TASKS[task].word.toLowerCase()}.`,
        link: { to: '/due', word: 'See what falls due' },
      }),
    );
    setPlace(null);
    setReason('');
    setHours('');
    setMonths('');
    setLooked(false);
  };
  return (
    <section className="block measure above-l">
      <h2>Give one</h2>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (ready) setLooked(true);
        }}>
        <div className="form-grid">
          <Choice
            label="For a"
            value={scope}
            onChange={(v) => {
              if (v) {
                setPlace(null);
                change(setScope)(v);
              }
            }}
            options={OVERRIDE_SCOPES.map((s): [OverrideScope, string] => [s, s])}
          />
          <div className="full">
            {scope === 'base' && (
              <BaseChoice
                value={place?.id ?? ''}
                onChange={(v) => {
                  const b = bases.find((x) => x.id === v);
                  change(setPlace)(b ? { id: b.id, name: b.name } : null);
                }}
                none="choose"
              />
            )}
            {scope === 'boat' && <BoatPick value={place} onChange={change(setPlace)} />}
            {scope === 'engine' && (
              <EnginePick
                value={place && { id: place.id, title: place.name, detail: '' }}
                onChange={(e) => {
                  change(setPlace)(e ? { id: e.id, name: e.title } : null);
                }}
              />
            )}
          </div>
          <Choice
            label="Task"
            value={task}
            onChange={(v) => {
              if (v) change(setTask)(v);
            }}
            options={TASK_KINDS.map((t): [TaskKind, string] => [t, TASKS[t].word])}
          />
          <TextField
            label="Every, hours"
            value={hours}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
            onChange={(e) => {
              change(setHours)(e.target.value.replaceAll(/[^\d.,]/g, ''));
            }}
          />
          <TextField
            label="Every, months"
            value={months}
            slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            onChange={(e) => {
              change(setMonths)(e.target.value.replaceAll(/\D/g, ''));
            }}
          />
          <div className="full">
            <TextField
              fullWidth
              label="Because"
              value={reason}
              helperText="A few words; they stay in the book and stand beside the due date."
              slotProps={{ htmlInput: { maxLength: 500 } }}
              onChange={(e) => {
                change(setReason)(e.target.value);
              }}
            />
          </div>
        </div>
        <p className="above-s">
          <Button type="submit" disabled={!ready}>
            Work it out
          </Button>
        </p>
      </form>
      <Wrong error={adding.error} />
      {looked && body && ready && (
        <WhatItWould change={{ override: body }}>
          <div className="side-acts">
            <Button variant="contained" color="primary" disabled={adding.isLoading} onClick={() => void save()}>
              Set it
            </Button>
          </div>
        </WhatItWould>
      )}
    </section>
  );
}
