import type { modelEdit } from '@diurna/contract/fleet';
import { torqueOf, torqueText, type ModelTraits, type TorqueFigure } from '@diurna/core/fleet';
import { round } from '@diurna/core/units';
import { useController, useWatch, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { Choice, Entry } from '../ui/parts.tsx';
import { Box } from '../ui/Box.tsx';

type Values = z.input<typeof modelEdit>;
export type TraitKey = keyof ModelTraits;
/** Where a trait is kept: with the model, or with some of its engines. */
type TraitPath = `traits.${TraitKey}` | `variants.${number}.traits.${TraitKey}`;

/** A trait as it is asked for. */
interface TraitAsked {
  key: TraitKey;
  label: string;
  by: 'choice' | 'torque' | 'figure' | 'text';
  options?: (string | number | boolean)[];
  /** A figure in the other school's unit. */
  beside?: (value: number) => string;
}

const choice = (key: TraitKey, label: string, options: (string | number | boolean)[]): TraitAsked => ({
  key,
  label,
  by: 'choice',
  options,
});
const yesNo = (key: TraitKey, label: string) => choice(key, label, [true, false]);
const torque = (key: TraitKey, label: string): TraitAsked => ({ key, label: `${label}, N·m`, by: 'torque' });
const figure = (key: TraitKey, label: string, beside: (value: number) => string): TraitAsked => ({
  key,
  label,
  by: 'figure',
  beside,
});
const inches = (v: number) => `${round(v / 25.4, 3)} in`;

/** Every trait somebody can enter, in the order they are asked for. */
export const TRAITS_ASKED: readonly TraitAsked[] = [
  choice('induction', 'Fuel gets in by', ['carburettor', 'injection', 'direct injection']),
  choice('runsOn', 'Out of the water it runs on', ['muffs', 'flush port', 'muffs or flush port']),
  choice('drainAt', 'Oil drain', ['leg', 'behind the side cover']),
  choice('oilBy', 'Oil comes out by', ['gravity', 'extraction']),
  choice('drainKind', 'The drain is a', ['screw', 'valve']),
  choice('fillAt', 'Oil goes in at', ['cap', 'dipstick hole']),
  choice('gearScrews', 'Gear-case screws', [2, 3]),
  choice('fuelFilter', 'Fuel filter', ['in-line', 'canister']),
  choice('propNut', 'Propeller nut', ['cotter pin', 'bevelled washer', 'bent tab']),
  yesNo('sideCover', 'Side cover under the cowl'),
  yesNo('tiltBeforeLevel', 'Tilted a quarter of an hour before the level is read'),
  yesNo('drainsPoorly', 'Keeps water though it stands upright'),
  yesNo('gearNeedsPropOff', 'Propeller off for the gear-case screws'),
  yesNo('recoil', 'Started by a rope through the cowl'),
  yesNo('twoPersonUnit', 'Lower unit takes two people'),
  yesNo('boltUnderTab', 'A bolt hides under the trim tab'),
  yesNo('speedTube', 'Speed tube into the lower unit'),
  torque('drainScrewNm', 'Drain screw'),
  torque('filterNm', 'Oil filter'),
  torque('plugNm', 'Spark plugs'),
  torque('gearScrewNm', 'Gear-case screws'),
  torque('propNutNm', 'Propeller nut'),
  figure('drainSocketMm', 'Drain socket, mm', inches),
  figure('filterWrenchMm', 'Filter wrench, mm', inches),
  figure('plugSocketMm', 'Plug socket, mm', inches),
  figure('propSocketMm', 'Propeller-nut socket, mm', inches),
  figure('dipstickMl', 'Between the dipstick’s marks, mL', (v) => `${round(v / 946.352946, 2)} US qt`),
  figure('plugGapMm', 'Plug gap, mm', inches),
  figure('compressionFloorKpa', 'Least compression, kPa', (v) => `${round(v / 6.894757, 0)} psi`),
  { key: 'oilGrade', label: 'Oil grade', by: 'text' },
  { key: 'lubeGrade', label: 'Gear lube', by: 'text' },
];

/** How the model is built: what is left empty is taken as usual for its size, torques then stand in the manual only. */
export function TraitFields({ control, usual }: { control: Control<Values>; usual: ModelTraits }) {
  return (
    <section className="block measure">
      <h2>How it is built</h2>
      <p className="faint">
        The steps of a card follow this. Left as usual, it is taken for an engine of its size; torques come from the
        engine maker’s manual only: one figure or a range, “80 to 100 lbf·ft” too.
      </p>
      <div className="form-grid">
        {TRAITS_ASKED.map((of) => (
          <TraitField key={of.key} control={control} of={of} name={`traits.${of.key}`} usual={usual[of.key]} />
        ))}
      </div>
    </section>
  );
}

/** One trait under the pen. */
export function TraitField({
  control,
  of: { label, by, options = [], beside = () => '' },
  name,
  usual,
}: {
  control: Control<Values>;
  of: TraitAsked;
  name: TraitPath;
  usual: unknown;
}) {
  const field = { control, name, label };
  switch (by) {
    case 'choice':
      return <TraitChoice {...field} options={options} usual={usual} />;
    case 'torque':
      return <TraitTorque {...field} />;
    case 'figure':
      return <TraitFigure {...field} beside={beside} />;
    default:
      return <TraitText {...field} placeholder={typeof usual === 'string' ? usual : ''} />;
  }
}

interface FieldProps {
  control: Control<Values>;
  name: TraitPath;
  label: string;
}

const wordOf = (v: unknown) => (v === true ? 'yes' : v === false ? 'no' : String(v));

function TraitChoice({
  control,
  name,
  label,
  options,
  usual,
}: FieldProps & { options: (string | number | boolean)[]; usual: unknown }) {
  const { field } = useController({ control, name: name });
  const value = field.value === undefined || field.value === null ? '' : wordOf(field.value);
  return (
    <Choice<string>
      label={label}
      value={value}
      onChange={(v) => {
        field.onChange(v === '' ? undefined : options.find((o) => wordOf(o) === v));
      }}
      options={[['', `as usual: ${wordOf(usual)}`], ...options.map((o): [string, string] => [wordOf(o), wordOf(o)])]}
    />
  );
}

function TraitFigure({ control, name, label, beside }: FieldProps & { beside: (value: number) => string }) {
  const { field, fieldState } = useController({ control, name: name });
  const kept: unknown = useWatch({ control, name: name });
  return (
    <label className="choice">
      <span className="choice-label">{label}</span>
      <Box
        figure
        aria-invalid={fieldState.invalid}
        defaultValue={typeof kept === 'number' ? kept : ''}
        onChange={(e) => {
          const clean = e.target.value.trim().replace(',', '.');
          field.onChange(clean === '' ? undefined : /^\d+(\.\d+)?$/.test(clean) ? Number(clean) : clean);
        }}
      />
      <span className="faint small">
        {fieldState.error ? (
          <span className="minus">{fieldState.error.message ?? 'A figure is wanted.'}</span>
        ) : typeof kept === 'number' ? (
          beside(kept)
        ) : (
          ' '
        )}
      </span>
    </label>
  );
}

const torqueField = (figure: TorqueFigure) =>
  typeof figure === 'number' ? String(figure) : `${figure.least} to ${figure.most}`;

/** One figure or a range; in lbf·ft where that is written behind it. */
function TraitTorque({ control, name, label }: FieldProps) {
  const { field, fieldState } = useController({ control, name: name });
  const kept = useWatch({ control, name: name }) as TorqueFigure | string | null | undefined;
  const known = kept != null && typeof kept !== 'string';
  return (
    <label className="choice">
      <span className="choice-label">{label}</span>
      <Box
        figure
        aria-invalid={fieldState.invalid}
        defaultValue={known ? torqueField(kept) : ''}
        onChange={(e) => {
          const text = e.target.value.trim();
          field.onChange(text === '' ? undefined : (torqueOf(text) ?? text));
        }}
      />
      <span className="faint small">
        {fieldState.error ? (
          <span className="minus">{fieldState.error.message ?? 'A torque is wanted.'}</span>
        ) : known ? (
          torqueText(kept)
        ) : (
          ' '
        )}
      </span>
    </label>
  );
}

function TraitText({ control, name, label, placeholder }: FieldProps & { placeholder: string }) {
  const { field } = useController({ control, name: name });
  return (
    <Entry
      label={label}
      maxLength={60}
      placeholder={placeholder}
      value={typeof field.value === 'string' ? field.value : ''}
      onType={(text) => {
        field.onChange(text === '' ? undefined : text);
      }}
    />
  );
}
