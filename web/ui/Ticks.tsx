import type { ReactNode } from 'react';
import { Tick } from './Tick.tsx';

/** Several of a few things, each with a box to tick. */
export function Ticks<T extends string | number>({
  label,
  options,
  value,
  onChange,
  wrong,
}: {
  label: string;
  options: [value: T, word: ReactNode][];
  value: readonly T[];
  onChange: (value: T[]) => void;
  /** What is wrong with what is ticked. */
  wrong?: string | undefined;
}) {
  return (
    <fieldset className="ticks full">
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
