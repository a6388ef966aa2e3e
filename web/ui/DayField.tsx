import { AdapterDateFns } from '@mui/x-date-pickers/AdapterDateFns';
import { DesktopDatePicker } from '@mui/x-date-pickers/DesktopDatePicker';
import { TimeField } from '@mui/x-date-pickers/TimeField';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { enGB } from 'date-fns/locale/en-GB';
import type { Locale } from 'date-fns/locale';
import { isValid } from 'date-fns/isValid';
import { useState, type FocusEvent, type Ref } from 'react';
import { twelveHours, weekStarts } from './format.ts';
import './day-field.css';

export interface DayFieldProps {
  label: string;
  /** "2026-04-15", or "09:30"; empty = none. */
  value: string;
  /** What stands there now; empty where it was emptied. */
  onDay: (value: string) => void;
  /** An hour of a day, not a day. */
  hour?: boolean;
  min?: string | undefined;
  max?: string | undefined;
  disabled?: boolean | undefined;
  /** Heard, not seen. */
  hideLabel?: boolean;
  error?: boolean;
  help?: string | undefined;
  autoFocus?: boolean;
  onBlur?: () => void;
  inputRef?: Ref<HTMLInputElement>;
}

const two = (n: number) => String(n).padStart(2, '0');
/** A day of the calendar at no hour: as the picker keeps it, at noon by this machine, where no clock change comes. */
const dateOfDay = (day: string) => (/^\d{4}-\d\d-\d\d$/.test(day) ? new Date(`${day}T12:00:00`) : null);
const dayOf = (date: Date) =>
  date.getFullYear() < 1000 ? '' : `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
/** An hour of no day: as the picker keeps it, on a day without a clock change. */
const dateOfHour = (time: string) => (/^\d\d:\d\d$/.test(time) ? new Date(`2026-01-15T${time}:00`) : null);
const hourOf = (date: Date) => `${two(date.getHours())}:${two(date.getMinutes())}`;

/** The words of the calendar, for each day a yard's weeks may begin on; date-fns counts from Sunday. */
const YARDS: Record<number, Locale> = Object.fromEntries(
  [1, 6, 7].map((day) => [day, { ...enGB, options: { ...enGB.options, weekStartsOn: (day % 7) as 0 | 1 | 6 } }]),
);

/**
 * A day, typed part by part or taken from the calendar, written as the book writes days; or an hour. Weeks begin and
 * hours are counted as the yard likes.
 */
export function DayField({
  label,
  value,
  onDay,
  hour = false,
  min,
  max,
  disabled = false,
  hideLabel = false,
  error,
  help,
  autoFocus = false,
  onBlur,
  inputRef,
}: DayFieldProps) {
  const asDate = hour ? dateOfHour : dateOfDay;
  const asText = (date: Date | null) => (date === null || !isValid(date) ? '' : hour ? hourOf(date) : dayOf(date));
  // What is half typed stays while it is typed; left so, it is again what stood there.
  const [typed, setTyped] = useState<{ of: string; date: Date | null }>({ of: value, date: asDate(value) });
  const first = asDate(min ?? '');
  const last = asDate(max ?? '');
  const field = {
    className: ['day-field', hour && 'hour', hideLabel && 'bare'].filter(Boolean).join(' '),
    label,
    value: typed.of === value ? typed.date : asDate(value),
    disabled,
    ...(autoFocus && { autoFocus }),
    onChange: (next: Date | null) => {
      const text = asText(next);
      // Half typed it is nobody's yet: the one before holds until this is whole.
      const whole = next === null || text !== '';
      setTyped({ of: whole ? text : value, date: next });
      if (whole && text !== value) onDay(text);
    },
  };
  const input = {
    size: 'small' as const,
    ...(error !== undefined && { error }),
    helperText: help,
    ...(inputRef && { inputRef }),
    onBlur: (e: FocusEvent) => {
      if (e.currentTarget.contains(e.relatedTarget)) return;
      if (typed.date !== null && asText(typed.date) === '') setTyped({ of: value, date: asDate(value) });
      onBlur?.();
    },
  };
  return (
    <LocalizationProvider dateAdapter={AdapterDateFns} adapterLocale={YARDS[weekStarts()]!}>
      {hour ? (
        <TimeField
          {...field}
          format={twelveHours() ? 'hh:mm aa' : 'HH:mm'}
          ampm={twelveHours()}
          slotProps={{ textField: input }}
        />
      ) : (
        <DesktopDatePicker
          {...field}
          format="d MMM yyyy"
          {...(first && { minDate: first })}
          {...(last && { maxDate: last })}
          reduceAnimations
          slotProps={{
            field: { shouldRespectLeadingZeros: true },
            textField: input,
            openPickerButton: { size: 'small' },
            desktopPaper: { className: 'day-calendar' },
          }}
        />
      )}
    </LocalizationProvider>
  );
}
