import { zodResolver } from '@hookform/resolvers/zod';
import { supplierEdit, type Supplier } from '@diurna/contract/ordering';
import { useState } from 'react';
import { Controller, useFieldArray, useForm, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch } from '../app/store.ts';
import { useSession } from '../app/useBook.ts';
import { messagesApi } from '../messages/api.ts';
import { Field, FormSheet, MoneyField, Pick } from '../ui/form.tsx';
import { Ticks } from '../ui/Ticks.tsx';
import { orderingApi } from './api.ts';
import { PartPick } from '../stores/index.ts';
import { daysOfWeek } from '../ui/format.ts';
import { WEEKDAYS } from './words.ts';
import './ordering.css';

type Values = z.input<typeof supplierEdit>;

const EMPTY: Values = {
  name: '',
  contactId: null,
  leadDays: 2,
  weekdays: [1, 2, 3, 4, 5],
  carriageMinor: 0,
  freeFromMinor: null,
  leastMinor: 0,
  serviceUrl: null,
  offers: [],
};

const valuesOf = ({ id: _, version: __, learned: ___, offers, ...rest }: Supplier): Values => ({
  ...rest,
  offers: offers.map(({ partId, number, packQuantity, breaks }) => ({ partId, number, packQuantity, breaks })),
});

/** A supplier with what they sell: packs, and prices by how many are taken at once. */
export function SupplierForm({ supplier, onClose }: { supplier: Supplier | null; onClose: () => void }) {
  const { data: contacts } = messagesApi.useListContactsQuery();
  const [add, adding] = orderingApi.useAddSupplierMutation();
  const [edit, editing] = orderingApi.useEditSupplierMutation();
  const [retire, retiring] = orderingApi.useRetireSupplierMutation();
  const dispatch = useAppDispatch();
  const currency = useSession()?.currency ?? 'EUR';
  const { control, handleSubmit } = useForm<Values>({
    resolver: zodResolver(supplierEdit),
    defaultValues: supplier ? valuesOf(supplier) : EMPTY,
  });
  const offers = useFieldArray({ control, name: 'offers' });
  const [names, setNames] = useState(
    () => new Map(supplier?.offers.map((o) => [o.partId, `${o.part}, ${o.partName}`])),
  );
  const done = (text: string) => {
    dispatch(say({ tone: 'done', text }));
    onClose();
  };
  const save = handleSubmit(async (values) => {
    const whole = { ...values, serviceUrl: values.serviceUrl || null };
    const answer = supplier ? await edit({ id: supplier.id, version: supplier.version, ...whole }) : await add(whole);
    if (answer.data) done(`${values.name}: ${values.offers.length} offers kept. Orders are worked out with them.`);
  });
  const leave = async () => {
    if (!supplier) return;
    const answer = await retire({ id: supplier.id, version: supplier.version });
    if (answer.data) done(`Nothing is ordered from ${supplier.name} any more.`);
  };
  return (
    <FormSheet
      wide
      title={supplier ? `Edit ${supplier.name}` : 'A new supplier'}
      act={supplier ? 'Keep the changes' : 'Add the supplier'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error ?? retiring.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Pick
        control={control}
        name="contactId"
        label="Orders are written to"
        options={[[null, 'nobody'], ...(contacts?.contacts ?? []).map((c): [number, string] => [c.id, c.name])]}
      />
      <Field control={control} name="leadDays" label="Days until it is on the shelf" kind="number" />
      <MoneyField control={control} name="carriageMinor" label={`Carriage of an order (${currency})`} />
      <MoneyField
        control={control}
        name="freeFromMinor"
        label={`Free from goods of (${currency})`}
        help="empty: always charged"
      />
      <MoneyField control={control} name="leastMinor" label={`Smallest order (${currency})`} />
      <Field
        control={control}
        name="serviceUrl"
        label="Its service takes orders at"
        help="a web address; empty: it has none"
      />
      <Controller
        control={control}
        name="weekdays"
        render={({ field, fieldState }) => (
          <Ticks
            inRow
            label="Takes orders on"
            value={field.value}
            options={daysOfWeek().map((day): [number, string] => [day, WEEKDAYS[day - 1]!])}
            onChange={(days) => {
              field.onChange([...days].sort((a, b) => a - b));
            }}
            wrong={fieldState.error && 'Choose one day at least.'}
          />
        )}
      />
      <div className="full">
        <h3>Sells</h3>
        {offers.fields.map((f, i) => (
          <OfferRow
            key={f.id}
            control={control}
            at={i}
            part={names.get(f.partId) ?? ''}
            onRemove={() => {
              offers.remove(i);
            }}
          />
        ))}
        <PartPick
          label="Add what they sell"
          onPick={(p) => {
            setNames(new Map(names).set(p.id, `${p.number}, ${p.name}`));
            offers.append({
              partId: p.id,
              number: null,
              packQuantity: p.unit === 'mL' ? 1000 : 1,
              breaks: [{ packs: 1, priceMinor: p.priceMinor ?? 0 }],
            });
          }}
        />
        <p className="faint small">
          A pack holds so many pieces, or so many mL. The first price says the least they sell.
        </p>
        {supplier && (
          <p>
            <button type="button" className="link-button" disabled={retiring.isLoading} onClick={() => void leave()}>
              Order nothing from {supplier.name} any more
            </button>
          </p>
        )}
      </div>
    </FormSheet>
  );
}

/** A part in one pack, with its prices. */
function OfferRow({
  control,
  at,
  part,
  onRemove,
}: {
  control: Control<Values>;
  at: number;
  /** What it is. */
  part: string;
  onRemove: () => void;
}) {
  const breaks = useFieldArray({ control, name: `offers.${at}.breaks` });
  return (
    <div className="offer-row">
      <b>{part}</b>
      <button type="button" className="link-button" aria-label={`Take away ${part}`} onClick={onRemove}>
        take away
      </button>
      <div className="offer-breaks">
        <Field control={control} name={`offers.${at}.packQuantity`} label="In a pack" kind="number" />
        {breaks.fields.map((b, k) => (
          <div key={b.id} className="offer-break">
            <Field control={control} name={`offers.${at}.breaks.${k}.packs`} label="From packs" kind="number" />
            <MoneyField control={control} name={`offers.${at}.breaks.${k}.priceMinor`} label="Price of a pack" />
          </div>
        ))}
        <button
          type="button"
          className="link-button"
          onClick={() => {
            const last = breaks.fields.at(-1);
            breaks.append({ packs: (last?.packs ?? 0) + 5, priceMinor: last?.priceMinor ?? 0 });
          }}>
          cheaper from
        </button>
        {breaks.fields.length > 1 && (
          <button
            type="button"
            className="link-button"
            onClick={() => {
              breaks.remove(breaks.fields.length - 1);
            }}>
            one price less
          </button>
        )}
      </div>
    </div>
  );
}
