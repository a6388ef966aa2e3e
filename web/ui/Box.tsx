import { InputBase } from '@mui/material';
import type { InputHTMLAttributes } from 'react';

/**
 * A box to type in, in a table or a row: the label is the one around it, or said by `aria-label`. A field of a form with
 * its label above is an `Entry`.
 */
export function Box({
  figure = false,
  short = false,
  wide = false,
  lines = 1,
  disabled = false,
  autoFocus = false,
  defaultValue,
  ...input
}: {
  /** For a figure: by the right, with the digits' keyboard on a phone. */
  figure?: boolean;
  /** As narrow as a figure. */
  short?: boolean;
  /** As wide as what it stands in. */
  wide?: boolean;
  /** So many lines high; one is a line. */
  lines?: number;
} & Omit<InputHTMLAttributes<HTMLInputElement>, 'className'>) {
  return (
    <InputBase
      className={`field-box${short ? ' short' : ''}${wide ? ' wide-box' : ''}`}
      disabled={disabled}
      autoFocus={autoFocus}
      type={input.type ?? 'text'}
      multiline={lines > 1}
      {...(lines > 1 && { rows: lines })}
      {...(defaultValue !== undefined && { defaultValue })}
      slotProps={{ input: { ...(figure && { inputMode: 'decimal', className: 'num figure' }), ...input } }}
    />
  );
}
