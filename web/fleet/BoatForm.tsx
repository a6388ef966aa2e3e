import { zodResolver } from '@hookform/resolvers/zod';
import { boatEdit, type Boat } from '@diurna/contract/fleet';
import { useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import type { z } from 'zod';
import { fleetApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe, useSession } from '../app/useBook.ts';
import { Field, FormSheet, MoneyField, Pick } from '../ui/form.tsx';

export function BoatForm({ boat, onClose }: { boat?: Boat; onClose: () => void }) {
  const me = useMe();
  const bases = useBases();
  const currency = useSession()?.currency ?? 'EUR';
  const [add, adding] = fleetApi.useAddBoatMutation();
  const [edit, editing] = fleetApi.useEditBoatMutation();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { control, handleSubmit } = useForm<z.input<typeof boatEdit>>({
    resolver: zodResolver(boatEdit),
    defaultValues: boat
      ? {
          name: boat.name,
          baseId: boat.baseId,
          berth: boat.berth,
          boatClass: boat.boatClass ?? null,
          sand: boat.sand ?? false,
          salt: boat.salt ?? true,
          hireDayMinor: boat.hireDayMinor ?? null,
        }
      : {
          name: '',
          baseId: me.baseId ?? bases[0]!.id,
          berth: null,
          boatClass: null,
          sand: false,
          salt: true,
          hireDayMinor: null,
        },
  });
  const save = handleSubmit(async (values) => {
    const clean = { ...values, berth: values.berth || null, boatClass: values.boatClass || null };
    const answer = boat ? await edit({ id: boat.id, version: boat.version, ...clean }) : await add(clean);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: boat ? `${values.name} is changed.` : `${values.name} is in the fleet. Hang its engines on now.`,
      }),
    );
    onClose();
    if (!boat) void navigate(`/fleet/boats/${answer.data.id}`);
  });
  return (
    <FormSheet
      title={boat ? `Edit ${boat.name}` : 'A new boat'}
      act={boat ? 'Keep the changes' : 'Add the boat'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Pick control={control} name="baseId" label="Base" options={bases.map((b) => [b.id, b.name])} />
      <Field control={control} name="berth" label="Berth" />
      <Field
        control={control}
        name="boatClass"
        label="Hired out as"
        help="boats of one class stand in for each other; empty: boats with the same engines"
      />
      <Pick
        control={control}
        name="sand"
        label="Works in sand and shallows"
        options={[
          [false, 'no'],
          [true, 'yes: its pump is due in fewer hours'],
        ]}
      />
      <Pick
        control={control}
        name="salt"
        label="Water"
        options={[
          [true, 'salt'],
          [false, 'fresh'],
        ]}
      />
      <MoneyField
        control={control}
        name="hireDayMinor"
        label={`A day on hire brings (${currency})`}
        help="empty: the book’s usual"
      />
    </FormSheet>
  );
}
