import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import type { Model } from '@diurna/contract/fleet';
import { partEdit, type PartPage } from '@diurna/contract/stores';
import { TRANSOMS, type Transom } from '@diurna/core/fleet';
import { PART_KINDS } from '@diurna/core/stores';
import { TASKS, TASK_KINDS } from '@diurna/core/service';
import { useFieldArray, useForm, type Control } from 'react-hook-form';
import { fleetApi } from '../fleet/api.ts';
import { storesApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useSession } from '../app/useBook.ts';
import { Field, FormSheet, MoneyField, Pick } from '../ui/form.tsx';
import { ContainerRows, ContentRows, LinkRows, type PartValues } from './PartStands.tsx';
import './stores.css';

/** A part and what it fits. Prices are typed in the currency and kept in minor units. */
export function PartForm({ part, onClose }: { part?: PartPage; onClose: () => void }) {
  const [add, adding] = storesApi.useAddPartMutation();
  const [edit, editing] = storesApi.useEditPartMutation();
  const dispatch = useAppDispatch();
  const currency = useSession()?.currency ?? 'EUR';
  const { control, handleSubmit } = useForm<PartValues>({
    resolver: zodResolver(partEdit),
    defaultValues: part
      ? {
          number: part.number,
          name: part.name,
          kind: part.kind,
          unit: part.unit,
          make: part.make ?? null,
          priceMinor: part.priceMinor,
          fitments: part.fitments,
          containers: part.containers,
          shelfLifeMonths: part.shelfLifeMonths,
          contents: part.contents,
          links: part.links,
        }
      : {
          number: '',
          name: '',
          kind: 'oil filter',
          unit: 'each',
          make: null,
          priceMinor: null,
          fitments: [],
          containers: [],
          shelfLifeMonths: null,
          contents: [],
          links: [],
        },
  });
  const save = handleSubmit(async (values) => {
    const clean = {
      ...values,
      fitments: values.fitments.map((f) => ({ ...f, from: f.from || null, to: f.to || null })),
    };
    const answer = part ? await edit({ id: part.id, version: part.version, ...clean }) : await add(clean);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${values.number} is on the shelf list.`,
        link: { to: `/stores/parts/${answer.data.id}`, word: 'Open it' },
      }),
    );
    onClose();
  });
  return (
    <FormSheet
      wide
      title={part ? `Edit ${part.number}` : 'A new part'}
      act={part ? 'Keep the changes' : 'Add the part'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="number" label="Part number" autoFocus />
      <Field control={control} name="name" label="What it is" />
      <Pick control={control} name="kind" label="Kind" options={PART_KINDS.map((k) => [k, k])} />
      <Pick
        control={control}
        name="unit"
        label="Counted in"
        options={[
          ['each', 'pieces'],
          ['mL', 'mL (fluids)'],
        ]}
      />
      <Pick
        control={control}
        name="make"
        label="Whose part"
        options={[
          [null, 'nobody said'],
          ['maker', 'the engine maker’s'],
          ['approved', 'an approved equivalent'],
        ]}
      />
      <MoneyField
        control={control}
        name="priceMinor"
        label={`Price (${currency})`}
        help="of one piece, or of one litre"
      />
      <Field
        control={control}
        name="shelfLifeMonths"
        label="May lie for (months)"
        kind="number"
        help="empty: it keeps"
      />
      <ContainerRows control={control} />
      <FitRows control={control} />
      <LinkRows control={control} part={part} />
      <ContentRows control={control} part={part} />
    </FormSheet>
  );
}

/** Models the part fits. */
function FitRows({ control }: { control: Control<PartValues> }) {
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const fits = useFieldArray({ control, name: 'fitments' });
  return (
    <div className="full">
      <h3>Fits</h3>
      {fits.fields.map((f, i) => (
        <FitRow
          key={f.id}
          control={control}
          at={i}
          models={models}
          onRemove={() => {
            fits.remove(i);
          }}
        />
      ))}
      <Button
        disabled={models.length === 0}
        onClick={() => {
          fits.append({ modelId: models[0]!.id, task: 'oil-filter', quantity: 1, from: null, to: null, transom: null });
        }}>
        Add a model it fits
      </Button>
      <p className="faint small">“How many” empty: as much as the label’s volume, for oil and gear lube.</p>
    </div>
  );
}

/** A model the part fits: for which task, how many, and which of its engines. */
function FitRow({
  control,
  at,
  models,
  onRemove,
}: {
  control: Control<PartValues>;
  at: number;
  models: readonly Model[];
  onRemove: () => void;
}) {
  return (
    <div className="fit-row">
      <Pick
        control={control}
        name={`fitments.${at}.modelId`}
        label="Model"
        options={models.map((m) => [m.id, `${m.maker} ${m.name}`])}
      />
      <Pick
        control={control}
        name={`fitments.${at}.task`}
        label="Task"
        options={TASK_KINDS.map((t) => [t, TASKS[t].word])}
      />
      <Field control={control} name={`fitments.${at}.quantity`} label="How many" kind="number" />
      <Field control={control} name={`fitments.${at}.from`} label="From serial" />
      <Field control={control} name={`fitments.${at}.to`} label="To serial" />
      <Pick
        control={control}
        name={`fitments.${at}.transom`}
        label="Transom"
        options={[[null, 'any'], ...TRANSOMS.map((t): [Transom, string] => [t, t])]}
      />
      <Button onClick={onRemove}>Take out</Button>
    </div>
  );
}
