import { seasonRoutes } from '@diurna/contract/season';
import { CLIMATES, lowsAt, USUAL_COSTS } from '@diurna/core/season';
import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { z } from 'zod';
import type { Reply } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay, useSession } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { plural } from '../ui/format.ts';
import { Choice, Wrong } from '../ui/parts.tsx';
import { seasonApi } from './api.ts';
import { StorageMap } from './StorageMap.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';
import { MONTHS } from './words.ts';

/** When the base closes and opens, how cold it gets, and where its boats stand. */
export function Year() {
  const season = useSeason();
  const { data } = season;
  const maySteer = useMay('administrator', 'coordinator');
  return (
    <>
      <SeasonHead of={season} />
      {data && <YearForm key={`${data.baseId} ${data.season.version}`} data={data} may={maySteer} />}
      {data && <Places data={data} may={maySteer} />}
    </>
  );
}

const schema = seasonRoutes.editBaseSeason.body;
const COSTS = [
  ['frostDay', 'A day in frost'],
  ['waitDay', 'A day with a finding'],
  ['oldOil', 'Last hire on old oil'],
  ['notAtAll', 'Not put away at all'],
] as const;

function YearForm({ data, may }: { data: Reply<'readSeason'>; may: boolean }) {
  const [edit, { error, isLoading }] = seasonApi.useEditBaseSeasonMutation();
  const dispatch = useAppDispatch();
  const currency = useSession()?.currency ?? 'EUR';
  const { control, handleSubmit, setValue } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: {
      closes: data.season.closes,
      opens: data.season.opens,
      lows: data.season.lows,
      doseMlPerTen: data.season.doseMlPerTen,
      frostDay: data.season.frostDay,
      waitDay: data.season.waitDay,
      oldOil: data.season.oldOil,
      notAtAll: data.season.notAtAll,
      version: data.season.version,
    },
  });
  const hemisphere = useBases().find((b) => b.id === data.baseId)?.hemisphere ?? 'north';
  const closes = useWatch({ control, name: 'closes' });
  const lows = useWatch({ control, name: 'lows' });
  const save = handleSubmit(async (values) => {
    const answer = await edit({ id: data.baseId, ...values });
    if (answer.data) dispatch(say({ tone: 'done', text: 'The year of the base is kept.' }));
  });
  return (
    <form
      noValidate
      className="block"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <h2>The year</h2>
      <div className="form-grid measure room-below">
        <label className="season-tick full">
          <input
            type="checkbox"
            className="tick"
            disabled={!may}
            checked={closes === null}
            onChange={(e) => {
              setValue('closes', e.target.checked ? null : '10-31');
              setValue('opens', e.target.checked ? null : '04-01');
            }}
          />{' '}
          It never closes: calendar work only
        </label>
        {closes !== null && (
          <>
            <Field control={control} name="closes" label="Last day of the season" help="month-day, like 10-31" />
            <Field control={control} name="opens" label="First day of the next" help="month-day, like 04-01" />
          </>
        )}
        <label className="season-tick full">
          <input
            type="checkbox"
            className="tick"
            disabled={!may}
            checked={lows !== null}
            onChange={(e) => {
              setValue('lows', e.target.checked ? MONTHS.map(() => 5) : null);
            }}
          />{' '}
          Its coldest nights are known; else frost is taken to come with the closing
        </label>
        {lows !== null && may && (
          <Choice
            label="Fill in those of"
            value=""
            onChange={(name) => {
              const climate = CLIMATES.find((c) => c.name === name);
              if (climate) setValue('lows', [...lowsAt(climate, hemisphere)], { shouldDirty: true });
            }}
            options={[['', 'choose an example'], ...CLIMATES.map((c): [string, string] => [c.name, c.name])]}
          />
        )}
        {lows !== null && (
          <div className="full month-lows">
            {MONTHS.map((month, i) => (
              <Field key={month} control={control} name={`lows.${i}`} label={`${month} °C`} kind="number" />
            ))}
          </div>
        )}
        <Field
          control={control}
          name="doseMlPerTen"
          label="Stabiliser, mL to 10 L"
          kind="number"
          help="as its bottle says; empty: the usual 30"
        />
        <h3 className="full">What being late costs, {currency}</h3>
        {COSTS.map(([name, label]) => (
          <Field
            key={name}
            control={control}
            name={name}
            label={label}
            kind="number"
            help={`empty: the usual estimate, ${USUAL_COSTS[name]}`}
          />
        ))}
      </div>
      <Wrong error={error} />
      {may && (
        <Button type="submit" disabled={isLoading}>
          Keep the year
        </Button>
      )}
    </form>
  );
}

type Place = Reply<'readSeason'>['places'][number];

function Places({ data, may }: { data: Reply<'readSeason'>; may: boolean }) {
  const [open, setOpen] = useState<Place | 'new' | null>(null);
  const room = data.places.reduce((sum, p) => sum + p.room, 0);
  const wanting = data.boats.filter((b) => !b.staysOut).length;
  return (
    <section className="block above-l" aria-label="Places">
      <h2>Where boats stand</h2>
      <p className={room < wanting ? 'minus' : 'faint'}>
        {data.places.length === 0
          ? 'No place is written down yet.'
          : `Room for ${plural(room, 'boat')}; ${wanting} want to stand somewhere.`}
      </p>
      {data.places.length > 0 && <StorageMap data={data} onEdit={may ? setOpen : null} />}
      {may && (
        <Button
          onClick={() => {
            setOpen('new');
          }}>
          Add a place
        </Button>
      )}
      {open !== null && (
        <PlaceForm
          baseId={data.baseId}
          place={open === 'new' ? null : open}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </section>
  );
}

const placeSchema = seasonRoutes.addStoragePlace.body;

function PlaceForm({ baseId, place, onClose }: { baseId: number; place: Place | null; onClose: () => void }) {
  const [add, adding] = seasonApi.useAddStoragePlaceMutation();
  const [edit, editing] = seasonApi.useEditStoragePlaceMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof placeSchema>>({
    resolver: zodResolver(placeSchema),
    defaultValues: place
      ? { baseId, name: place.name, kind: place.kind, room: place.room }
      : { baseId, name: '', kind: 'hall', room: 10 },
  });
  const save = handleSubmit(async (values) => {
    const { baseId: _, ...rest } = values;
    const answer = place ? await edit({ id: place.id, version: place.version, ...rest }) : await add(values);
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${values.name}: room for ${plural(values.room, 'boat')}.` }));
    onClose();
  });
  return (
    <FormSheet
      title={place ? `Edit ${place.name}` : 'A new place'}
      act={place ? 'Keep the changes' : 'Add the place'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Pick
        control={control}
        name="kind"
        label="Kind"
        options={[
          ['hall', 'hall'],
          ['yard', 'yard, under a cover'],
          ['afloat', 'afloat'],
        ]}
      />
      <Field control={control} name="room" label="Boats it takes" kind="number" />
    </FormSheet>
  );
}
