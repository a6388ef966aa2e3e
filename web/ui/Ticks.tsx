import type { ReactNode } from 'react';
import { Tick } from './Tick.tsx';

/** Several of a few things, each with a box to tick. */
export function Ticks<T extends string | number>({
  label,
  options,
  value,
  onChange,
  inRow = false,
  wrong,
}: {
  label: string;
  options: [value: T, word: ReactNode][];
  value: readonly T[];
  onChange: (value: T[]) => void;
  /** Beside each other, where they are short. */
  inRow?: boolean;
  /** What is wrong with what is ticked. */
  wrong?: string | undefined;
}) {
  return (
    <fieldset className={inRow ? 'ticks in-row full' : 'ticks full'}>
      <legend className="choice-label">{label}</legend>
      {options.map(([v, word]) => (
        <label key={v}>
          <Tick
            on={value.includes(v)}
            onTick={(on) => {
              onChange(on ? [...value, v] : value.filter((x) => x !== v));
            }}
          />{' '}
          {word}
        </label>
      ))}
      {wrong !== undefined && <span className="minus small">{wrong}</span>}
    </fieldset>
  );
}
