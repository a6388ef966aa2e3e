import { Button } from '@mui/material';
import type { partEdit, PartPage } from '@diurna/contract/stores';
import { CONTAINER_KINDS, PART_LINK_KINDS } from '@diurna/core/stores';
import { VOLUME_UNITS } from '@diurna/core/units';
import { useState } from 'react';
import { useFieldArray, useWatch, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { useMe, useToday } from '../app/useBook.ts';
import { Field, Pick } from '../ui/form.tsx';
import { PartPick } from './PartPick.tsx';
import './stores.css';

export type PartValues = z.input<typeof partEdit>;
type Of = { control: Control<PartValues> };

/** What a fluid is sold in, as it is printed on the containers. */
export function ContainerRows({ control }: Of) {
  const unit = useWatch({ control, name: 'unit' });
  const rows = useFieldArray({ control, name: 'containers' });
  if (unit !== 'mL') return null;
  return (
    <div className="full">
      <h3>Sold in</h3>
      {rows.fields.map((f, i) => (
        <div className="container-row" key={f.id}>
          <Field control={control} name={`containers.${i}.value`} label="Printed on it" kind="number" />
          <Pick
            control={control}
            name={`containers.${i}.unit`}
            label="Unit"
            options={VOLUME_UNITS.map((u) => [u, u])}
          />
          <Pick
            control={control}
            name={`containers.${i}.kind`}
            label="It is a"
            options={CONTAINER_KINDS.map((k) => [k, k])}
          />
          <Button
            onClick={() => {
              rows.remove(i);
            }}>
            Take out
          </Button>
        </div>
      ))}
      <Button
        onClick={() => {
          rows.append({ value: 1, unit: 'L', kind: 'bottle' });
        }}>
        Add a size
      </Button>
    </div>
  );
}

const named = (part?: PartPage) => new Map(part?.others.map((o) => [o.id, `${o.number}, ${o.name}`]));

/** What is in a kit. */
export function ContentRows({ control, part }: Of & { part: PartPage | undefined }) {
  const rows = useFieldArray({ control, name: 'contents' });
  const [names, setNames] = useState(() => named(part));
  return (
    <div className="full">
      <h3>In the kit</h3>
      {rows.fields.map((f, i) => (
        <div className="content-row" key={f.id}>
          <b>{names.get(f.partId)}</b>
          <Field control={control} name={`contents.${i}.quantity`} label="How many, or mL" kind="number" />
          <Button
            onClick={() => {
              rows.remove(i);
            }}>
            Take out
          </Button>
        </div>
      ))}
      <PartPick
        label="Add what is in it"
        onPick={(p) => {
          setNames(new Map(names).set(p.id, `${p.number}, ${p.name}`));
          rows.append({ partId: p.id, quantity: p.unit === 'mL' ? 1000 : 1 });
        }}
      />
    </div>
  );
}

/** Numbers that may be fitted instead, with who says so. */
export function LinkRows({ control, part }: Of & { part: PartPage | undefined }) {
  const rows = useFieldArray({ control, name: 'links' });
  const [names, setNames] = useState(() => named(part));
  const today = useToday();
  const me = useMe();
  return (
    <div className="full">
      <h3>Other numbers that may be fitted instead</h3>
      {rows.fields.map((f, i) => (
        <div className="link-row" key={f.id}>
          <b>{names.get(f.otherId)}</b>
          <Pick
            control={control}
            name={`links.${i}.kind`}
            label="It is"
            options={PART_LINK_KINDS.map((k) => [k, k === 'equivalent' ? 'an equivalent' : 'the newer number'])}
          />
          <Pick
            control={control}
            name={`links.${i}.approved`}
            label="Fitted here"
            options={[
              [true, 'yes, approved'],
              [false, 'no'],
            ]}
          />
          <Field control={control} name={`links.${i}.evidence`} label="Where it is written" />
          <Field control={control} name={`links.${i}.saidBy`} label="Who says so" />
          <Field control={control} name={`links.${i}.day`} label="On" kind="date" />
          <Button
            onClick={() => {
              rows.remove(i);
            }}>
            Take out
          </Button>
        </div>
      ))}
      <PartPick
        label="Add a number"
        onPick={(p) => {
          setNames(new Map(names).set(p.id, `${p.number}, ${p.name}`));
          rows.append({
            otherId: p.id,
            kind: 'equivalent',
            approved: false,
            evidence: '',
            saidBy: me.name,
            day: today,
          });
        }}
      />
    </div>
  );
}
