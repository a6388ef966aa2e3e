import type { SeasonBoat } from '@diurna/contract/season';
import { seasonRoutes } from '@diurna/contract/season';
import { zodResolver } from '@hookform/resolvers/zod';
import { VISIT_WORDS } from '@diurna/core/season';
import { MANUAL_FIRST, TASKS, type TaskKind } from '@diurna/core/service';
import { useState, type ReactNode } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import { Link } from 'react-router';
import type { z } from 'zod';
import type { Reply } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { fullDay, shortDay } from '../ui/format.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { RowAct } from '../ui/RowAct.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { seasonApi } from './api.ts';
import { Doses } from './Doses.tsx';

import './season.css';

const schema = seasonRoutes.editBoatSeason.body;
interface Changing {
  engineId: number;
  task: TaskKind;
  word: string;
}

/** One boat's season: each visit's work with its reason, what is left out and why, where it stands, its fuel. */
export function BoatSheet({
  boat,
  season,
  onClose,
}: {
  boat: SeasonBoat;
  season: Reply<'readSeason'>;
  onClose: () => void;
}) {
  const maySteer = useMay('administrator', 'coordinator');
  const [edit, { error, isLoading }] = seasonApi.useEditBoatSeasonMutation();
  const dispatch = useAppDispatch();
  const [changing, setChanging] = useState<Changing | null>(null);
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: {
      staysOut: boat.staysOut,
      placeId: boat.placeId,
      tankLitres: boat.tankLitres,
      version: boat.version,
    },
  });
  const tank = useWatch({ control, name: 'tankLitres' });
  const save = handleSubmit(async (values) => {
    const answer = await edit({ id: boat.boatId, ...values });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${boat.boatName}: kept for its season.` }));
    onClose();
  });
  return (
    <>
      <FormSheet
        wide
        title={`${boat.boatName}, ${season.off!.name}`}
        act="Keep the changes"
        onClose={onClose}
        onSubmit={() => void save()}
        error={error}
        busy={isLoading}>
        {boat.note && <p className="full soon no-margin">{boat.note}</p>}
        <Pick
          control={control}
          name="staysOut"
          label="While the base is closed"
          options={[
            [false, 'it is laid up'],
            [true, 'it stays out'],
          ]}
        />
        <Controller
          control={control}
          name="placeId"
          render={({ field }) => (
            <Choice
              label="Stands in"
              value={field.value ?? ''}
              onChange={(id) => {
                field.onChange(id === '' ? null : id);
              }}
              options={[
                ['', 'nobody said'],
                ...season.places.map((p): [number, string] => [p.id, `${p.name}, ${p.boats} of ${p.room}`]),
              ]}
            />
          )}
        />
        <Field control={control} name="tankLitres" label="Tank holds (litres)" kind="number" />
        {typeof tank === 'number' && tank > 0 && (
          <Doses tank={tank} dose={season.season.doseMlPerTen} opens={season.off!.opens} today={season.today} />
        )}
        <Lists boat={boat} onChange={maySteer ? setChanging : null} />
        <p className="full faint small no-margin">
          {boat.lastBack ? `Last hire back ${fullDay(boat.lastBack)}. ` : ''}
          {MANUAL_FIRST}
        </p>
      </FormSheet>
      {changing && (
        <ChangeTask
          of={changing}
          season={boat.season}
          onClose={() => {
            setChanging(null);
          }}
        />
      )}
    </>
  );
}

/** The work of a boat, visit by visit, and what is left out of it. */
function Lists({ boat, onChange }: { boat: SeasonBoat; onChange: ((of: Changing) => void) | null }) {
  return (
    <>
      {boat.visits.map((v) => (
        <section key={v.visit} className="full season-visit" aria-label={VISIT_WORDS[v.visit]}>
          <h3>
            {VISIT_WORDS[v.visit]}{' '}
            <span className="faint">
              {v.open === 0 ? 'done' : `${v.open} open${v.done > 0 ? `, ${v.done} done` : ''}`}
            </span>
          </h3>
          <ul>
            {v.tasks.map((t) => (
              <Line key={`${t.engineId} ${t.task}`} of={t} onChange={t.doneOn === null && !t.job ? onChange : null}>
                {t.doneOn ? `✓ ${shortDay(t.doneOn)}` : t.because}
                {!t.doneOn && <Decided boat={boat} of={t} />}
                {t.job && (
                  <>
                    {' '}
                    <Link to={`/jobs/${t.job.id}`}>
                      {t.job.technician}, {shortDay(t.job.day)}
                    </Link>
                  </>
                )}
              </Line>
            ))}
          </ul>
        </section>
      ))}
      {boat.leftOut.length > 0 && (
        <section className="full season-visit" aria-label="Left out">
          <h3>Left out</h3>
          <ul>
            {boat.leftOut.map((l) => (
              <Line key={`${l.engineId} ${l.task}`} of={l} onChange={onChange}>
                {l.because}
                <Decided boat={boat} of={l} />
              </Line>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** Who took a piece of work off the list, or put it elsewhere, and when. */
function Decided({ boat, of }: { boat: SeasonBoat; of: { engineId: number; task: TaskKind } }) {
  const change = boat.changes.find((c) => c.engineId === of.engineId && c.task === of.task);
  return change ? `; ${change.by ?? 'somebody'}, ${shortDay(change.on)}` : null;
}

function Line({
  of: { engineId, position, task },
  onChange,
  children,
}: {
  of: { engineId: number; position: string; task: TaskKind };
  onChange: ((of: Changing) => void) | null;
  children: ReactNode;
}) {
  const word = `${TASKS[task].word}${position === 'single' ? '' : ` ${position}`}`;
  return (
    <li>
      <TaskGlyph task={task} silent size={20} />
      <span>
        {word} <span className="faint">{children}</span>
      </span>
      {onChange && (
        <RowAct
          word="change"
          of={`Change ${word}`}
          onPress={() => {
            onChange({ engineId, task, word });
          }}
        />
      )}
    </li>
  );
}

const PUTS = [
  ['left out', 'is left out this time'],
  ['before', 'before the last hire'],
  ['after', 'at lay-up'],
  ['spring', 'in spring, at recommission'],
  ['as usual', 'as usual again'],
] as const;

/** Puts a piece of work of one engine elsewhere, or leaves it out, with a reason. */
function ChangeTask({
  of: { engineId, task, word },
  season,
  onClose,
}: {
  of: Changing;
  season: string;
  onClose: () => void;
}) {
  const [put, setPut] = useState<(typeof PUTS)[number][0]>('left out');
  const [reason, setReason] = useState('');
  const [change, { error, isLoading }] = seasonApi.useChangeSeasonMutation();
  const dispatch = useAppDispatch();
  const save = async () => {
    const answer = await change({ id: engineId, task, put, reason, season });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${word}: ${PUTS.find(([key]) => key === put)![1]}.` }));
    onClose();
  };
  return (
    <FormSheet title={word} act="Keep it so" onClose={onClose} onSubmit={() => void save()} busy={isLoading}>
      <Choice
        label="This season it"
        value={put}
        onChange={(next) => {
          if (next !== '') setPut(next);
        }}
        options={PUTS.map(([key, text]): [typeof key, string] => [key, text])}
      />
      <Entry label="Why" full value={reason} onType={setReason} />
      <Wrong error={error} />
    </FormSheet>
  );
}
