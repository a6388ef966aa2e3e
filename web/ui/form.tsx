import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  InputBase,
  NativeSelect,
  TextField,
} from '@mui/material';
import { useState, type ReactNode } from 'react';
import { Controller, type Control, type FieldPath, type FieldValues } from 'react-hook-form';
import { minorOf, moneyFigure } from './format.ts';
import { LateDayField } from './LateDayField.tsx';
import { Down, Wrong } from './parts.tsx';

/** Text, or a figure kept as a number (null when empty). */
export function Field<T extends FieldValues>({
  control,
  name,
  label,
  kind = 'text',
  help,
  autoFocus = false,
  autoComplete = 'off',
}: {
  control: Control<T>;
  name: FieldPath<T>;
  label: string;
  kind?: 'text' | 'number' | 'date' | 'time' | 'password';
  help?: string;
  autoFocus?: boolean;
  autoComplete?: string;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) =>
        kind === 'date' || kind === 'time' ? (
          <LateDayField
            label={label}
            hour={kind === 'time'}
            value={field.value ?? ''}
            error={fieldState.invalid}
            help={fieldState.error ? sentence(label, fieldState.error.message) : help}
            autoFocus={autoFocus}
            inputRef={field.ref}
            onBlur={field.onBlur}
            onDay={(day) => {
              field.onChange(day === '' ? null : day);
            }}
          />
        ) : (
          <TextField
            label={label}
            fullWidth
            autoFocus={autoFocus}
            type={kind === 'number' ? 'text' : kind}
            autoComplete={autoComplete}
            inputRef={field.ref}
            error={fieldState.invalid}
            helperText={fieldState.error ? sentence(label, fieldState.error.message) : help}
            onBlur={() => {
              const raw: unknown = field.value;
              if (kind === 'number' && typeof raw === 'string' && FIGURE.test(raw)) field.onChange(Number(raw));
              field.onBlur();
            }}
            value={field.value ?? ''}
            onChange={(e) => {
              field.onChange(kind === 'number' ? asNumber(e.target.value) : e.target.value);
            }}
            slotProps={{ htmlInput: kind === 'number' ? { inputMode: 'decimal', style: { textAlign: 'right' } } : {} }}
          />
        )
      }
    />
  );
}

const FIGURE = /^-?\d+(\.\d+)?$/;

/** Keeps half-typed figures as text, so that the schema can say what is wrong with them. */
function asNumber(text: string): number | string | null {
  const clean = text.trim().replace(',', '.');
  if (clean === '') return null;
  return FIGURE.test(clean) && String(Number(clean)) === clean ? Number(clean) : clean;
}

function sentence(label: string, message: string | undefined): string {
  if (!message) return `${label} is missing or no figure`;
  return `${label} ${message}`;
}

/** Money, typed in the book's currency and kept in minor units (null when empty). */
export function MoneyField<T extends FieldValues>({
  control,
  name,
  label,
  help,
}: {
  control: Control<T>;
  name: FieldPath<T>;
  label: string;
  help?: string;
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <MoneyText
          label={label}
          help={help}
          value={field.value}
          wrong={fieldState.error ? sentence(label, fieldState.error.message) : null}
          inputRef={field.ref}
          onBlur={field.onBlur}
          onChange={field.onChange}
        />
      )}
    />
  );
}

function MoneyText({
  label,
  help,
  value,
  wrong,
  inputRef,
  onBlur,
  onChange,
}: {
  label: string;
  help: string | undefined;
  value: number | null | undefined;
  wrong: string | null;
  inputRef: (node: unknown) => void;
  onBlur: () => void;
  onChange: (minor: number | string | null) => void;
}) {
  const [text, setText] = useState(typeof value === 'number' ? moneyFigure(value) : '');
  return (
    <TextField
      label={label}
      fullWidth
      autoComplete="off"
      inputRef={inputRef}
      error={wrong !== null}
      helperText={wrong ?? help}
      value={text}
      onBlur={onBlur}
      onChange={(e) => {
        setText(e.target.value);
        onChange(minorOf(e.target.value));
      }}
      slotProps={{ htmlInput: { inputMode: 'decimal', style: { textAlign: 'right' } } }}
    />
  );
}

export function Pick<T extends FieldValues>({
  control,
  name,
  label,
  options,
}: {
  control: Control<T>;
  name: FieldPath<T>;
  label: string;
  options: [value: string | number | boolean | null, word: string][];
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field, fieldState }) => (
        <label className="choice">
          <span className="choice-label">{label}</span>
          <NativeSelect
            input={<InputBase className="field-box" />}
            inputRef={field.ref}
            value={String(field.value)}
            IconComponent={Down}
            onBlur={field.onBlur}
            error={fieldState.invalid}
            onChange={(e) => {
              field.onChange(options.find(([v]) => String(v) === e.target.value)?.[0] ?? null);
            }}>
            {options.map(([v, word]) => (
              <option key={String(v)} value={String(v)}>
                {word}
              </option>
            ))}
          </NativeSelect>
          {fieldState.error && <span className="minus small">{sentence(label, fieldState.error.message)}</span>}
        </label>
      )}
    />
  );
}

/** A sheet to write on, over the page. */
export function FormSheet({
  title,
  act,
  onClose,
  onSubmit,
  error,
  busy,
  children,
  wide = false,
}: {
  title: string;
  act: string;
  onClose: () => void;
  onSubmit: () => void;
  error?: unknown;
  busy?: boolean;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Dialog open onClose={onClose} maxWidth={wide ? 'md' : 'sm'} fullWidth>
      <form
        noValidate
        className="sheet-form"
        onSubmit={(e) => {
          e.preventDefault();
          e.stopPropagation();
          onSubmit();
        }}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <div className="form-grid">{children}</div>
          <Wrong error={error} />
        </DialogContent>
        <DialogActions>
          <Button type="submit" variant="contained" color="primary" disabled={busy ?? false}>
            {act}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
