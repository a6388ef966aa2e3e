import type { modelEdit } from '@diurna/contract/fleet';
import { torqueOf, torqueText, type ModelTraits, type Torque, type TorqueFigure } from '@diurna/core/fleet';
import { round } from '@diurna/core/units';
import { useController, useWatch, type Control } from 'react-hook-form';
import type { z } from 'zod';
import { Choice, Entry } from '../ui/parts.tsx';

type Values = z.input<typeof modelEdit>;
type Key = keyof ModelTraits;
interface Props {
  control: Control<Values>;
  usual: ModelTraits;
}

const YES_NO: [Key, string][] = [
  ['sideCover', 'Side cover under the cowl'],
  ['tiltBeforeLevel', 'Tilted a quarter of an hour before the level is read'],
  ['drainsPoorly', 'Keeps water though it stands upright'],
  ['gearNeedsPropOff', 'Propeller off for the gear-case screws'],
  ['recoil', 'Started by a rope through the cowl'],
  ['twoPersonUnit', 'Lower unit takes two people'],
  ['boltUnderTab', 'A bolt hides under the trim tab'],
  ['speedTube', 'Speed tube into the lower unit'],
];
const CHOICES: [Key, string, (string | number)[]][] = [
  ['induction', 'Fuel gets in by', ['carburettor', 'injection', 'direct injection']],
  ['runsOn', 'Out of the water it runs on', ['muffs', 'flush port', 'muffs or flush port']],
  ['drainAt', 'Oil drain', ['leg', 'behind the side cover']],
  ['oilBy', 'Oil comes out by', ['gravity', 'extraction']],
  ['drainKind', 'The drain is a', ['screw', 'valve']],
  ['fillAt', 'Oil goes in at', ['cap', 'dipstick hole']],
  ['gearScrews', 'Gear-case screws', [2, 3]],
  ['fuelFilter', 'Fuel filter', ['in-line', 'canister']],
  ['propNut', 'Propeller nut', ['cotter pin', 'bevelled washer', 'bent tab']],
];
const TORQUE_LABELS: [Torque, string][] = [
  ['drainScrewNm', 'Drain screw'],
  ['filterNm', 'Oil filter'],
  ['plugNm', 'Spark plugs'],
  ['gearScrewNm', 'Gear-case screws'],
  ['propNutNm', 'Propeller nut'],
];

const SIZES: [Key, string][] = [
  ['drainSocketMm', 'Drain socket'],
  ['filterWrenchMm', 'Filter wrench'],
  ['plugSocketMm', 'Plug socket'],
  ['propSocketMm', 'Propeller-nut socket'],
];

/** How the model is built: what is left empty is taken as usual for its size, torques then stand in the manual only. */
export function TraitFields({ control, usual }: Props) {
  return (
    <section className="block" style={{ maxWidth: 900 }}>
      <h2>How it is built</h2>
      <p className="faint">
        The steps of a card follow this. Left as usual, it is taken for an engine of its size; torques come from the
        engine maker’s manual only: one figure or a range, “80 to 100 lbf·ft” too.
      </p>
      <div className="form-grid">
        {CHOICES.map(([key, label, options]) => (
          <TraitChoice key={key} control={control} name={key} label={label} options={options} usual={usual[key]} />
        ))}
        {YES_NO.map(([key, label]) => (
          <TraitChoice
            key={key}
            control={control}
            name={key}
            label={label}
            options={[true, false]}
            usual={usual[key]}
          />
        ))}
        {TORQUE_LABELS.map(([key, label]) => (
          <TraitTorque key={key} control={control} name={key} label={`${label}, N·m`} />
        ))}
        {SIZES.map(([key, label]) => (
          <TraitFigure
            key={key}
            control={control}
            name={key}
            label={`${label}, mm`}
            beside={(v) => `${round(v / 25.4, 3)} in`}
          />
        ))}
        <TraitFigure
          control={control}
          name="dipstickMl"
          label="Between the dipstick’s marks, mL"
          beside={(v) => `${round(v / 946.352946, 2)} US qt`}
        />
        <TraitFigure
          control={control}
          name="plugGapMm"
          label="Plug gap, mm"
          beside={(v) => `${round(v / 25.4, 3)} in`}
        />
        <TraitFigure
          control={control}
          name="compressionFloorKpa"
          label="Least compression, kPa"
          beside={(v) => `${round(v / 6.894757, 0)} psi`}
        />
        <TraitText control={control} name="oilGrade" label="Oil grade" />
        <TraitText control={control} name="lubeGrade" label="Gear lube" placeholder={usual.lubeGrade ?? ''} />
      </div>
    </section>
  );
}

const wordOf = (v: unknown) => (v === true ? 'yes' : v === false ? 'no' : String(v));

function TraitChoice({
  control,
  name,
  label,
  options,
  usual,
}: {
  control: Control<Values>;
  name: Key;
  label: string;
  options: (string | number | boolean)[];
  usual: unknown;
}) {
  const { field } = useController({ control, name: `traits.${name}` });
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

function TraitFigure({
  control,
  name,
  label,
  beside,
}: {
  control: Control<Values>;
  name: Key;
  label: string;
  beside: (value: number) => string;
}) {
  const { field, fieldState } = useController({ control, name: `traits.${name}` });
  const kept: unknown = useWatch({ control, name: `traits.${name}` });
  return (
    <label className="choice">
      <span className="choice-label">{label}</span>
      <input
        className="plain-input num figure"
        inputMode="decimal"
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
function TraitTorque({ control, name, label }: { control: Control<Values>; name: Torque; label: string }) {
  const { field, fieldState } = useController({ control, name: `traits.${name}` });
  const kept = useWatch({ control, name: `traits.${name}` }) as TorqueFigure | string | null | undefined;
  const known = kept != null && typeof kept !== 'string';
  return (
    <label className="choice">
      <span className="choice-label">{label}</span>
      <input
        className="plain-input num figure"
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

function TraitText({
  control,
  name,
  label,
  placeholder,
}: {
  control: Control<Values>;
  name: 'oilGrade' | 'lubeGrade';
  label: string;
  placeholder?: string;
}) {
  const { field } = useController({ control, name: `traits.${name}` });
  return (
    <Entry
      label={label}
      maxLength={60}
      placeholder={placeholder}
      value={field.value ?? ''}
      onType={(text) => {
        field.onChange(text === '' ? undefined : text);
      }}
    />
  );
}
