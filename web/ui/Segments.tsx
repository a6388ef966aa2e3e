import { ToggleButton, ToggleButtonGroup } from '@mui/material';

/** One of a few ways to look at the same, side by side. */
export function Segments<T extends string>({
  label,
  value,
  of,
  onChange,
}: {
  label: string;
  value: T;
  of: readonly (readonly [value: T, word: string])[];
  onChange: (value: T) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      className="segments"
      aria-label={label}
      value={value}
      onChange={(_event, next: T | null) => {
        // Pressed again it stays as it is.
        if (next !== null) onChange(next);
      }}>
      {of.map(([key, word]) => (
        <ToggleButton key={key} value={key}>
          {word}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
