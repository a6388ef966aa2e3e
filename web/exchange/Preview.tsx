import { DAY_ORDERS, type DayOrder } from '@diurna/core/calendar';
import { Button } from '@mui/material';
import type { ImportResult } from '@diurna/contract/exchange';
import { plural } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Choice } from '../ui/parts.tsx';

const ORDER_WORD: Record<DayOrder, string> = { 'day-first': 'the day first', 'month-first': 'the month first' };
const DOES = { add: 'new', change: 'changes', same: 'in the book', left: 'left out', faulty: 'faulty' } as const;

/** What would come of a file: how many rows do what, and each faulty cell in its place. */
export function Preview({
  result,
  name,
  onWrite,
  onDays,
  busy,
}: {
  result: ImportResult;
  name: string;
  onWrite: () => void;
  onDays: (order: DayOrder) => void;
  busy: boolean;
}) {
  const { counts } = result;
  const total = counts.add + counts.change + counts.same + counts.left + counts.faulty;
  // A column the file lacks can be what is wrong: it is shown too.
  const columns = [...new Set([...result.columns, ...result.rows.flatMap((r) => r.faults.map((f) => f.column))])];
  return (
    <div>
      <p role="status" className="preview-sum">
        <b>{name}</b>: {plural(total, 'row')}, {counts.add} new, {counts.change}{' '}
        {result.written ? 'changed' : 'to change'}, {counts.same} in the book already
        {counts.left > 0 && `, ${counts.left} of parts the book does not have`}
        {counts.faulty > 0 && <b className="minus">, {counts.faulty} faulty</b>}
        {result.written ? '. Written.' : '.'}
      </p>
      {result.ignored.length > 0 && (
        <p className="faint">Columns the book does not know and leaves out: {result.ignored.join(', ')}.</p>
      )}
      {!result.written && counts.faulty > 0 && (
        <p>Nothing is written while a cell is faulty. Mend the marked cells in the file and choose it again.</p>
      )}
      {result.days && !result.written && (
        <div className="tools">
          <Choice<DayOrder>
            label={`Days like ${result.days.example} have`}
            value={result.days.sure ? result.days.order : ''}
            options={[
              ...(result.days.sure ? [] : [['', 'which first?'] as ['', string]]),
              ...DAY_ORDERS.map((o): [DayOrder, string] => [o, ORDER_WORD[o]]),
            ]}
            onChange={(order) => {
              if (order !== '') onDays(order);
            }}
          />
          {!result.days.sure && (
            <p role="status">Nothing in the file tells, and every day of it can be read both ways: say which.</p>
          )}
        </div>
      )}
      {!result.written &&
        counts.faulty === 0 &&
        (result.days?.sure ?? true) &&
        (counts.add + counts.change > 0 ? (
          <Button variant="contained" color="primary" disabled={busy} onClick={onWrite}>
            Write {plural(counts.add + counts.change, 'row')} into the book
          </Button>
        ) : (
          <p>
            {counts.left > 0
              ? 'Nothing in this file changes the book.'
              : 'Everything in this file is in the book already.'}
          </p>
        ))}
      <Lines className="preview">
        <thead>
          <tr>
            <th scope="col" className="num">
              Line
            </th>
            <th scope="col">Row</th>
            {columns.map((c) => (
              <th scope="col" key={c}>
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {result.rows.slice(0, 200).map((row) => (
            <tr key={row.line} className={row.does}>
              <td className="num figure">{row.line}</td>
              <td>{DOES[row.does]}</td>
              {columns.map((c) => {
                const faults = row.faults.filter((f) => f.column === c);
                return (
                  <td key={c} className={faults.length > 0 ? 'faulty-cell' : ''}>
                    {row.cells[c]}
                    {row.read[c] && <span className="cell-read">read as {row.read[c]}</span>}
                    {row.was[c] !== undefined && <span className="cell-was">was {row.was[c]}</span>}
                    {faults.map((f) => (
                      <span key={f.text} className="cell-fault">
                        {f.text}
                      </span>
                    ))}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Lines>
      {result.rows.length < total || result.rows.length > 200 ? (
        <p className="faint small">
          Shown: the first {Math.min(200, result.rows.length)} of {total} rows, faulty ones first.
        </p>
      ) : null}
    </div>
  );
}
