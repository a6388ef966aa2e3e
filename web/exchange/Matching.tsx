import { Button } from '@mui/material';
import { COLUMNS, type ImportResult } from '@diurna/contract/exchange';
import { useState } from 'react';
import { Choice } from '../ui/parts.tsx';

const plain = (name: string) =>
  name
    .trim()
    .toLowerCase()
    .replaceAll(/[\s-]+/g, '_');

/** The name of a column as words. */
const words = (column: string) => column.replaceAll('_', ' ');

/** Which column of the file is which of the book's: said once, remembered for the next file like it. */
export function Matching({
  result,
  whose,
  busy,
  onMatch,
}: {
  result: ImportResult;
  /** Whose files it is remembered for. */
  whose: string;
  busy: boolean;
  onMatch: (match: Record<string, string>) => void;
}) {
  const { required, optional } = COLUMNS[result.kind];
  const [match, setMatch] = useState<Record<string, string>>({});
  const theirs = (column: string) =>
    match[column] ?? result.match[column] ?? result.header.find((h) => plain(h) === column) ?? '';
  const chosen = () =>
    Object.fromEntries(
      [...required, ...optional].map((c) => [c, theirs(c)] as const).filter(([, header]) => header !== ''),
    );
  const lacking = required.filter((c) => theirs(c) === '');
  return (
    <section className="matching" aria-label="Columns of the file">
      <p>
        {result.missing.length > 0
          ? 'This file names its columns in its own way. Say which is which; nothing is read until then.'
          : 'Which column of the file is read as which.'}{' '}
        It is remembered for {whose}.
      </p>
      <div className="tools">
        {[...required, ...optional].map((column) => (
          <Choice
            key={column}
            label={`${words(column)}${required.includes(column) ? ' (needed)' : ''}`}
            value={theirs(column)}
            options={[['', '(not in it)'], ...result.header.filter(Boolean).map((h): [string, string] => [h, h])]}
            onChange={(header) => {
              setMatch({ ...match, [column]: header });
            }}
          />
        ))}
      </div>
      <Button
        disabled={busy || lacking.length > 0}
        onClick={() => {
          onMatch(chosen());
        }}>
        Read it so
      </Button>
      {lacking.length > 0 && <p className="faint">Still needed: {lacking.map(words).join(', ')}.</p>}
    </section>
  );
}
