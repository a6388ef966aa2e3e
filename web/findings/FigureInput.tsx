import {
  READING_UNITS,
  readingDoubt,
  readingFault,
  READINGS,
  type ReadingKind,
  type ReadingValue,
} from '@diurna/core/findings';
import { inBothUnits, parseAmount, unitTrap, type PrintedVolume, type VolumeUnit } from '@diurna/core/units';
import { useState } from 'react';
import { BesideText, type Beside } from './beside.tsx';
import { Box } from '../ui/Box.tsx';
import { Choice } from '../ui/parts.tsx';

/** A figure with its unit: kept when the field is left or with Enter, and held against the last one. */
export function FigureInput({
  kind,
  label,
  named,
  part,
  beside,
  value,
  volume,
  disabled,
  onWrite,
}: {
  kind: ReadingKind;
  part: string | null;
  beside: readonly Beside[];
  label: string;
  named: boolean;
  value: ReadingValue | undefined;
  volume: PrintedVolume | null;
  disabled: boolean;
  onWrite: (value: { value: number; unit: string }, entered: boolean) => void;
}) {
  const kept = value && 'value' in value ? value : null;
  const units = READING_UNITS[READINGS[kind].unit!];
  const [text, setText] = useState<string | null>(null);
  const [unit, setUnit] = useState(kept?.unit ?? volume?.unit ?? units[0]!);
  const shown = text ?? (kept ? String(kept.value) : '');
  const typed = text === null ? (kept?.value ?? null) : parseAmount(text);
  const trap =
    volume && typed !== null && typed > 0 ? unitTrap({ value: typed, unit: unit as VolumeUnit }, volume) : null;
  const faultOf = (amount: number | null, inUnit: string) =>
    amount === null ? 'Figures only, such as 2.7' : readingFault(kind, { value: amount, unit: inUnit }, part);
  // Told while it is typed, and not kept: a figure that cannot be goes nowhere from here.
  const fault = text === null || text.trim() === '' ? null : faultOf(typed, unit);
  const doubt =
    typed === null || fault !== null || trap !== null ? null : readingDoubt(kind, { value: typed, unit }, beside);
  const keep = (nextUnit = unit, entered = false) => {
    const amount = parseAmount(shown);
    if (amount === null || faultOf(amount, nextUnit) !== null || (kept?.value === amount && kept.unit === nextUnit))
      return;
    onWrite({ value: amount, unit: nextUnit }, entered);
    setText(null);
  };
  return (
    <div className="figure-in">
      <label>
        <span className={named ? 'reading-part' : 'visually-hidden'}>{label}</span>
        <Box
          figure
          aria-label={label}
          aria-invalid={fault !== null}
          value={shown}
          placeholder={volume ? String(volume.value) : ''}
          disabled={disabled}
          onChange={(e) => {
            setText(e.target.value);
          }}
          onBlur={() => {
            keep();
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              e.preventDefault();
              keep(unit, true);
            }
          }}
        />
      </label>
      {units.length === 1 ? (
        <span className="faint">{units[0]}</span>
      ) : (
        <Choice
          hideLabel
          label={`Unit, ${label}`}
          value={unit}
          disabled={disabled}
          options={units.map((u) => [u, u])}
          onChange={(u) => {
            setUnit(u);
            keep(u);
          }}
        />
      )}
      {fault !== null && (
        <p className="trap" role="alert">
          {fault}
        </p>
      )}
      {doubt !== null && (
        <p className="trap" role="status">
          {doubt}
        </p>
      )}
      <BesideText kind={kind} beside={beside} />
      {trap && (
        <p className="trap" role="status">
          {typed} looks like {trap}, not {unit}: the label says {inBothUnits(volume!)}.
        </p>
      )}
    </div>
  );
}
