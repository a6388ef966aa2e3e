import type { InputHTMLAttributes } from 'react';

/** A box to tick. */
export function Tick({
  on,
  onTick,
  ...rest
}: { on: boolean; onTick: (on: boolean) => void } & Omit<
  InputHTMLAttributes<HTMLInputElement>,
  'type' | 'className' | 'checked' | 'onChange'
>) {
  return (
    <input
      {...rest}
      type="checkbox"
      className="tick"
      checked={on}
      onChange={(e) => {
        onTick(e.target.checked);
      }}
    />
  );
}
