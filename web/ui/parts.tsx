import { LateDayField } from './LateDayField.tsx';
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
import { useEffect, useState, type InputHTMLAttributes, type SVGProps, type ReactNode } from 'react';
import { NavLink } from 'react-router';
import { problemOf } from '../app/api.ts';

/** The head of a room: its title, a sentence, and what can be done. */
export function PageHead({
  title,
  children,
  tools,
  acts,
}: {
  title: string;
  children?: ReactNode;
  /** What the page is narrowed by: beside its name where there is room. */
  tools?: ReactNode;
  acts?: ReactNode;
}) {
  useEffect(() => {
    document.title = `${title} · Diurna`;
  }, [title]);
  return (
    <header className="page-head">
      <h1>{title}</h1>
      {children && <p className="sentence">{children}</p>}
      {tools}
      {acts && <div className="acts">{acts}</div>}
    </header>
  );
}

/** Leaves inside one room. */
export function Leaves({ of, label }: { of: [to: string, word: string][]; label: string }) {
  return (
    <nav className="leaves" aria-label={label}>
      {of.map(([to, word]) => (
        <NavLink key={to} to={to} end>
          {word}
        </NavLink>
      ))}
    </nav>
  );
}

/** What went wrong and what to do, spoken at once to a screen reader. */
export function Wrong({ error, children }: { error: unknown; children?: ReactNode }) {
  const problem = problemOf(error);
  if (!problem) return null;
  return (
    <div className="wrong" role="alert">
      <p>{problem.detail}</p>
      {children}
    </div>
  );
}

/** What is asked of the book: why it did not come, or that it is on its way; nothing once it is there. */
export function Asked({ data, error }: { data: unknown; error: unknown }) {
  return (
    <>
      <Wrong error={error} />
      {!data && !error && <Waiting />}
    </>
  );
}

/** A column's head: words, over figures at their right edge, or for those alone who have the page read to them. */
type Head = string | { num: string } | { unseen: string };

/** The heads of a table's columns. */
export function Heads({ of }: { of: readonly Head[] }) {
  return (
    <thead>
      <tr>
        {of.map((head) =>
          typeof head === 'string' ? (
            <th scope="col" key={head}>
              {head}
            </th>
          ) : 'num' in head ? (
            <th scope="col" className="num" key={head.num}>
              {head.num}
            </th>
          ) : (
            <th scope="col" key={head.unseen}>
              <span className="visually-hidden">{head.unseen}</span>
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="empty">
      <p className="empty-title">{title}</p>
      {children && <p>{children}</p>}
    </div>
  );
}

export function Waiting() {
  return (
    <p className="waiting" role="status">
      Turning the page ...
    </p>
  );
}

export function Pager({
  page,
  size,
  total,
  turn,
}: {
  page: number;
  size: number;
  total: number;
  turn: (page: number) => void;
}) {
  const last = Math.max(1, Math.ceil(total / size));
  if (last === 1) return null;
  return (
    <nav className="pager" aria-label="Pages">
      <Button
        size="small"
        disabled={page <= 1}
        onClick={() => {
          turn(page - 1);
        }}>
        Earlier rows
      </Button>
      <span className="figure">
        {(page - 1) * size + 1} to {Math.min(total, page * size)} of {total}
      </span>
      <Button
        size="small"
        disabled={page >= last}
        onClick={() => {
          turn(page + 1);
        }}>
        Further rows
      </Button>
    </nav>
  );
}

/** The mark of what opens downwards. */
/** The arrow of a choice. */
export const Down = (props: SVGProps<SVGSVGElement>) => (
  <svg {...props} width="22" height="22" viewBox="0 0 24 24" aria-hidden="true">
    <path d="M7 9.5 12 14.500 17 9.5" fill="none" stroke="currentColor" strokeWidth="2.2" />
  </svg>
);

/** One of several; native inside, the fastest by keyboard and the largest by thumb. */
export function Choice<T extends string | number>({
  label,
  value,
  options,
  onChange,
  hideLabel = false,
  disabled = false,
}: {
  label: string;
  value: T | '';
  options: [value: T | '', word: string][];
  onChange: (value: T | '') => void;
  hideLabel?: boolean;
  disabled?: boolean;
}) {
  return (
    <label className="choice">
      <span className={hideLabel ? 'visually-hidden' : 'choice-label'}>{label}</span>
      <NativeSelect
        input={<InputBase className="field-box" />}
        value={String(value)}
        disabled={disabled}
        IconComponent={Down}
        onChange={(e) => {
          onChange(options.find(([v]) => String(v) === e.target.value)?.[0] ?? '');
        }}>
        {options.map(([v, word]) => (
          <option key={String(v)} value={String(v)}>
            {word}
          </option>
        ))}
      </NativeSelect>
    </label>
  );
}

/** A labelled field: words or a figure with decimals as they were typed, a day, or an hour. */
export function Entry({
  label,
  kind = 'text',
  short = false,
  full = false,
  hideLabel = false,
  lines = 1,
  onType,
  value,
  disabled = false,
  autoFocus = false,
  ...rest
}: {
  label: string;
  kind?: 'text' | 'figure' | 'date' | 'time';
  /** As narrow as a figure. */
  short?: boolean;
  /** The whole width of a form. */
  full?: boolean;
  /** Heard, not seen: in a row of tools, beside a placeholder that says as much. */
  hideLabel?: boolean;
  /** So many lines high; one is a line. */
  lines?: number;
  value: string;
  onType: (text: string) => void;
} & Omit<InputHTMLAttributes<HTMLInputElement>, 'type' | 'className' | 'onChange' | 'inputMode' | 'value'>) {
  const figure = kind === 'figure';
  if (kind === 'date' || kind === 'time')
    return (
      <div className={full ? 'choice full' : 'choice'}>
        <LateDayField
          label={label}
          value={value}
          min={rest.min === undefined ? undefined : String(rest.min)}
          max={rest.max === undefined ? undefined : String(rest.max)}
          disabled={disabled}
          hideLabel={hideLabel}
          hour={kind === 'time'}
          onDay={onType}
        />
      </div>
    );
  return (
    <label className={full ? 'choice full' : 'choice'}>
      <span className={hideLabel ? 'visually-hidden' : 'choice-label'}>{label}</span>
      <InputBase
        className={short ? 'field-box short' : 'field-box'}
        value={value}
        disabled={disabled}
        autoFocus={autoFocus}
        multiline={lines > 1}
        {...(lines > 1 && { rows: lines })}
        slotProps={{ input: { ...rest, ...(figure && { inputMode: 'decimal', className: 'num figure' }) } }}
        onChange={(e) => {
          onType(e.target.value);
        }}
      />
    </label>
  );
}

/** Asks for the reason of something that cannot simply be taken back. */
export function AskReason({
  open,
  title,
  sentence,
  act,
  label = 'Why',
  onClose,
  onGive,
  error,
}: {
  open: boolean;
  title: string;
  sentence: string;
  act: string;
  label?: string;
  onClose: () => void;
  onGive: (reason: string) => void;
  error?: unknown;
}) {
  const [reason, setReason] = useState('');
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (reason.trim().length >= 3) onGive(reason.trim());
        }}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <p>{sentence}</p>
          <TextField
            autoFocus
            fullWidth
            label={label}
            value={reason}
            onChange={(e) => {
              setReason(e.target.value);
            }}
            slotProps={{ htmlInput: { maxLength: 500 } }}
            helperText="A few words; they stay in the book."
          />
          <Wrong error={error} />
        </DialogContent>
        <DialogActions>
          <Button type="submit" variant="contained" color="primary" disabled={reason.trim().length < 3}>
            {act}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
