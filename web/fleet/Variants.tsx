import { Button } from '@mui/material';
import type { modelEdit } from '@diurna/contract/fleet';
import { TRANSOMS, type ModelTraits, type Transom } from '@diurna/core/fleet';
import { useState } from 'react';
import { useFieldArray, useWatch, type Control, type UseFormSetValue } from 'react-hook-form';
import type { z } from 'zod';
import { Field, Pick } from '../ui/form.tsx';
import { Choice } from '../ui/parts.tsx';
import { TraitField, TRAITS_ASKED, type TraitKey } from './TraitFields.tsx';

type Values = z.input<typeof modelEdit>;
interface Props {
  control: Control<Values>;
  setValue: UseFormSetValue<Values>;
  usual: ModelTraits;
}

/** Engines of the model that are built otherwise: from a serial on, for a transom, or both. */
export function Variants({ control, setValue, usual }: Props) {
  const rows = useFieldArray({ control, name: 'variants' });
  return (
    <section className="block measure">
      <h2>Some of them are built otherwise</h2>
      <p className="faint">
        Makers change an engine at a serial number, and by its transom. Cards and parts of those engines follow what
        stands here; of two that hold, the later one counts.
      </p>
      {rows.fields.map((f, i) => (
        <fieldset key={f.id} className="variant">
          <legend>Otherwise {i + 1}</legend>
          <div className="form-grid">
            <Field control={control} name={`variants.${i}.from`} label="From serial" />
            <Field control={control} name={`variants.${i}.to`} label="To serial" />
            <Pick
              control={control}
              name={`variants.${i}.transom`}
              label="Transom"
              options={[[null, 'any'], ...TRANSOMS.map((t): [Transom, string] => [t, t])]}
            />
          </div>
          <Differs control={control} setValue={setValue} usual={usual} at={i} />
          <Button
            size="small"
            onClick={() => {
              rows.remove(i);
            }}>
            Take these out
          </Button>
        </fieldset>
      ))}
      <Button
        onClick={() => {
          rows.append({ from: null, to: null, transom: null, traits: {} });
        }}>
        Add engines that are built otherwise
      </Button>
    </section>
  );
}

/** In what they differ; nothing else is asked. */
function Differs({ control, setValue, usual, at }: Props & { at: number }) {
  const traits = useWatch({ control, name: `variants.${at}.traits` }) ?? {};
  const [asked, setAsked] = useState<ReadonlySet<TraitKey>>(
    () => new Set(TRAITS_ASKED.map((t) => t.key).filter((key) => traits[key] != null)),
  );
  const own = TRAITS_ASKED.filter((t) => asked.has(t.key));
  return (
    <div className="form-grid">
      {own.map((of) => (
        <div key={of.key} className="variant-trait">
          <TraitField control={control} of={of} name={`variants.${at}.traits.${of.key}`} usual={usual[of.key]} />
          <button
            type="button"
            className="link-button"
            aria-label={`as the model: ${of.label}`}
            onClick={() => {
              setValue(`variants.${at}.traits.${of.key}`, undefined, { shouldDirty: true });
              setAsked((all) => new Set([...all].filter((k) => k !== of.key)));
            }}>
            as the model
          </button>
        </div>
      ))}
      <Choice<TraitKey>
        label={own.length === 0 ? 'In what do they differ?' : 'And in'}
        value=""
        onChange={(key) => {
          if (key !== '') setAsked((all) => new Set([...all, key]));
        }}
        options={[
          ['', 'choose'],
          ...TRAITS_ASKED.filter((t) => !asked.has(t.key)).map((t): [TraitKey, string] => [t.key, t.label]),
        ]}
      />
    </div>
  );
}
