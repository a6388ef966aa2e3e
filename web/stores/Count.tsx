import { Button } from '@mui/material';
import type { CountLine } from '@diurna/contract/counts';
import { countDoubt } from '@diurna/core/stores';
import { parseAmount } from '@diurna/core/units';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe } from '../app/useBook.ts';
import { STORES_LEAVES } from '../ordering/index.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { Box } from '../ui/Box.tsx';
import { fullDay, plural, quantityText } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Empty, Entry, Heads, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { storesApi } from './api.ts';
import './stores.css';

/** A line as it was counted: typed, and whether it was counted a second time. */
interface Typed {
  text: string;
  again: boolean;
}

/**
 * A counting round, shelf by shelf: what is there is typed, what is off is explained, a large difference counted twice.
 */
export function Count() {
  const me = useMe();
  const bases = useBases();
  const [params, setParams] = useSearchParams();
  const baseId = Number(params.get('base') ?? me.baseId ?? bases[0]?.id ?? 0);
  const shelf = params.get('shelf') ?? '';
  const [blind, setBlind] = useState(false);
  const { data, error } = storesApi.useCountSheetQuery({ baseId, shelf }, { skip: baseId === 0 });
  const turn = (base: number, to: string) => {
    setParams({ base: String(base), ...(to && { shelf: to }) }, { replace: true });
  };
  return (
    <>
      <PageHead
        title="Stores"
        acts={
          <BaseChoice
            hideLabel
            value={baseId}
            onChange={(b) => {
              if (b !== '') turn(b, '');
            }}
          />
        }>
        Count a shelf
      </PageHead>
      <Leaves label="Stores" of={STORES_LEAVES} />
      <div className="tools">
        <Entry
          label="Shelf"
          short
          value={shelf}
          onType={(text) => {
            turn(baseId, text);
          }}
        />
        <label>
          <Tick on={blind} onTick={setBlind} /> without seeing what should be there
        </label>
      </div>
      <Asked data={data} error={error} />
      {data?.length === 0 && (
        <Empty title="Nothing lies there by the book.">
          Say at a part where it lies, or leave the shelf empty to count all of the base.
        </Empty>
      )}
      {data && data.length > 0 && <Sheet key={`${baseId} ${shelf}`} baseId={baseId} lines={data} blind={blind} />}
    </>
  );
}

function Sheet({ baseId, lines, blind }: { baseId: number; lines: readonly CountLine[]; blind: boolean }) {
  const [typed, setTyped] = useState<Record<number, Typed>>({});
  const [book, { isLoading, error }] = storesApi.useCountShelfMutation();
  const dispatch = useAppDispatch();
  const counted = lines.flatMap((l) => {
    const own = typed[l.id];
    const found = own && own.text.trim() !== '' ? parseAmount(own.text) : undefined;
    return own === undefined || found === undefined ? [] : [{ line: l, found, again: own.again }];
  });
  const bad = counted.filter((c) => c.found === null).length;
  const waits = counted.filter(
    (c) => c.found !== null && !c.again && countDoubt(c.found, c.line.said, c.line.unit).large,
  );
  const send = async () => {
    const answer = await book({
      baseId,
      lines: counted.map((c) => ({ partId: c.line.id, counted: c.found!, said: c.line.said, again: c.again })),
    });
    if (!answer.data) return;
    setTyped({});
    const off = answer.data.booked - answer.data.right;
    dispatch(
      say({
        tone: 'done',
        text: `${plural(answer.data.booked, 'part')} counted: ${off === 0 ? 'all of it was right' : `${off} set right`}.`,
      }),
    );
  };
  const faults = problemOf(error)?.faults ?? [];
  return (
    <form
      aria-label="Count"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}>
      <Lines className="as-cards count-lines">
        <Heads of={['Place', 'Part', ...(blind ? [] : [{ num: 'Should be' }]), { num: 'Is there' }, 'Difference']} />
        <tbody>
          {lines.map((l) => (
            <CountRow
              key={l.id}
              line={l}
              blind={blind}
              typed={typed[l.id] ?? { text: '', again: false }}
              fault={faults.find((f) => counted[Number(f.path.split('.')[1])]?.line.id === l.id)?.text ?? null}
              onType={(own) => {
                setTyped({ ...typed, [l.id]: own });
              }}
            />
          ))}
        </tbody>
      </Lines>
      <div className="tools above-s">
        <Button
          type="submit"
          variant="contained"
          color="primary"
          disabled={counted.length === 0 || bad > 0 || waits.length > 0 || isLoading}>
          Book {plural(counted.length, 'count')}
        </Button>
        {waits.length > 0 && (
          <span className="soon" role="status">
            {plural(waits.length, 'part')} to count a second time.
          </span>
        )}
      </div>
      <Wrong error={error} />
    </form>
  );
}

/** What was in and out since the last count, in words. */
function sinceText({ counted, since, unit }: CountLine): string {
  const moves = [
    [since.received, 'received'],
    [since.used, 'used'],
    [since.moved, 'moved'],
    [since.writtenOff, 'written off'],
  ] as const;
  const some = moves.filter(([n]) => n !== 0).map(([n, word]) => `${quantityText(Math.abs(n), unit)} ${word}`);
  return `${counted === null ? 'Never counted' : `Counted on ${fullDay(counted)}`}; since then ${some.length === 0 ? 'nothing in or out' : some.join(', ')}.`;
}

function CountRow({
  line,
  blind,
  typed,
  fault,
  onType,
}: {
  line: CountLine;
  blind: boolean;
  typed: Typed;
  fault: string | null;
  onType: (typed: Typed) => void;
}) {
  const found = typed.text.trim() === '' ? null : parseAmount(typed.text);
  const doubt = found === null ? null : countDoubt(found, line.said, line.unit);
  return (
    <tr>
      <td>{line.place ?? <span className="faint">no place</span>}</td>
      <th scope="row">
        <Link to={`/stores/parts/${line.id}`}>{line.number}</Link> <span className="faint">{line.name}</span>
      </th>
      {!blind && <td className="num figure">{quantityText(line.said, line.unit)}</td>}
      <td className="num">
        <Box
          figure
          short
          aria-label={`Is there: ${line.number}${line.unit === 'mL' ? ', mL' : ''}`}
          aria-invalid={typed.text.trim() !== '' && found === null}
          value={typed.text}
          onChange={(e) => {
            onType({ text: e.target.value, again: false });
          }}
        />
        {line.unit === 'mL' && ' mL'}
      </td>
      <td className="line-words wraps">
        {doubt && doubt.off === 0 && <span className="fine">right</span>}
        {doubt && doubt.off !== 0 && (!blind || doubt.large) && (
          <>
            {!blind && (
              <b className="figure minus">
                {doubt.off > 0 ? '+' : '−'}
                {quantityText(Math.abs(doubt.off), line.unit)}
              </b>
            )}{' '}
            <span className="faint">{sinceText(line)}</span>{' '}
            {doubt.large && (
              <label className="block-line">
                <Tick
                  on={typed.again}
                  onTick={(again) => {
                    onType({ ...typed, again });
                  }}
                />{' '}
                counted a second time
              </label>
            )}
          </>
        )}
        {fault && <p className="minus no-margin">{fault}</p>}
      </td>
    </tr>
  );
}
