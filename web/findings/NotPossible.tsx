import type { ReadingValue } from '@diurna/core/findings';
import type { CardState } from '@diurna/core/visit';
import { Button } from '@mui/material';
import { useState } from 'react';
import { Entry } from '../ui/parts.tsx';

/** Fewer letters are no reason. */
const LEAST = 3;

/** A reading the step hangs on and that cannot be taken: why, in place of it. What follows is proposed as a finding. */
export function NotPossible({
  word,
  keys,
  state,
  disabled,
  onRead,
}: {
  word: string;
  keys: readonly string[];
  state: CardState;
  disabled: boolean;
  onRead: (keys: readonly string[], value: ReadingValue, entered: boolean) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const values = keys.map((key) => state.readings.get(key)?.value);
  const not = values.find((v) => v && 'not' in v);
  const open = keys.filter((_, i) => values[i] === undefined);
  if (text === null) {
    if (not && 'not' in not)
      return (
        <p className="trap" role="status">
          Not possible: {not.not}
        </p>
      );
    return open.length === 0 ? null : (
      <button
        type="button"
        className="link-button not-possible"
        disabled={disabled}
        aria-label={`not possible, because ... (${word.toLowerCase()})`}
        onClick={() => {
          setText('');
        }}>
        not possible ...
      </button>
    );
  }
  const keep = () => {
    onRead(open, { not: text.trim() }, false);
    setText(null);
  };
  return (
    <div className="not-possible">
      <Entry full label={`${word}: why is it not possible?`} value={text} maxLength={200} onType={setText} />
      <div className="tools">
        <Button variant="contained" size="small" disabled={disabled || text.trim().length < LEAST} onClick={keep}>
          Keep the reason
        </Button>
        <Button
          size="small"
          onClick={() => {
            setText(null);
          }}>
          Back to the reading
        </Button>
      </div>
    </div>
  );
}
