import { Button } from '@mui/material';
import type { PartPage } from '@diurna/contract/stores';
import { parseAmount } from '@diurna/core/units';
import { useState } from 'react';
import { useBases, useMay, useMe } from '../app/useBook.ts';
import { clockText, millilitresText } from '../ui/format.ts';
import { Choice, Entry, Heads, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { storesApi } from './api.ts';
import { sizesOf } from './ShelfFields.tsx';
import './stores.css';

/** Containers of a fluid that stand open: they are poured first, the oldest of them before the others. */
export function OpenContainers({ part }: { part: PartPage }) {
  const bases = useBases();
  const mayTake = useMay('administrator', 'coordinator', 'stores');
  const sizes = sizesOf(part);
  if (part.unit !== 'mL' || (sizes.length === 0 && part.open.length === 0)) return null;
  const nameOf = (id: number) => bases.find((b) => b.id === id)?.name ?? '';
  return (
    <section className="block" aria-label="Open containers">
      <h2>Open</h2>
      {part.open.length === 0 && <p className="faint">Nothing stands open.</p>}
      {part.open.length > 0 && (
        <Lines>
          <Heads of={['Container', 'Base', 'Opened', { num: 'Left' }]} />
          <tbody>
            {part.open.map((o) => (
              <tr key={o.id}>
                <th scope="row">{o.label}</th>
                <td>{nameOf(o.baseId)}</td>
                <td className="faint">{clockText(o.openedAt)}</td>
                <td className="num figure">{millilitresText(o.leftMl)}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {mayTake && sizes.length > 0 && <OpenNew part={part} />}
      {mayTake && part.open.length > 1 && <Decant part={part} />}
    </section>
  );
}

/** Opens a full one. */
function OpenNew({ part }: { part: PartPage }) {
  const me = useMe();
  const bases = useBases();
  const sizes = sizesOf(part);
  const [baseId, setBase] = useState<number | ''>(me.baseId ?? bases[0]?.id ?? '');
  const [size, setSize] = useState(sizes[0]!.id);
  const [move, { isLoading, error }] = storesApi.useMoveStockMutation();
  return (
    <div className="tools above-s">
      <Choice label="At" value={baseId} onChange={setBase} options={bases.map((b) => [b.id, b.name])} />
      <Choice label="Size" value={size} onChange={setSize} options={sizes.map((s) => [s.id, s.id])} />
      <Button
        disabled={isLoading || baseId === ''}
        onClick={() =>
          void move({
            act: 'open',
            partId: part.id,
            baseId: Number(baseId),
            container: sizes.find((s) => s.id === size)!.printed,
          })
        }>
        Open a full one
      </Button>
      <Wrong error={error} />
    </div>
  );
}

/** Pours one open container into another. */
function Decant({ part }: { part: PartPage }) {
  const [fromId, setFrom] = useState(part.open[0]!.id);
  const from = part.open.find((o) => o.id === fromId) ?? part.open[0]!;
  const others = part.open.filter((o) => o.baseId === from.baseId && o.id !== from.id);
  const [toId, setTo] = useState<number | ''>('');
  const [text, setText] = useState('');
  const [move, { isLoading, error }] = storesApi.useMoveStockMutation();
  const ml = parseAmount(text);
  const to = others.find((o) => o.id === toId);
  const word = (o: (typeof others)[number]): [number, string] => [
    o.id,
    `${o.label}, ${millilitresText(o.leftMl)} left`,
  ];
  if (others.length === 0) return null;
  return (
    <form
      className="tools"
      onSubmit={(e) => {
        e.preventDefault();
        if (ml === null || !to) return;
        void move({ act: 'decant', partId: part.id, baseId: from.baseId, fromId: from.id, toId: to.id, ml }).then(
          (answer) => {
            if (answer.data) setText('');
          },
        );
      }}>
      <Choice
        label="Pour from"
        value={from.id}
        onChange={(v) => {
          setFrom(Number(v));
        }}
        options={part.open.map(word)}
      />
      <Choice label="Into" value={to ? to.id : ''} onChange={setTo} options={[['', 'choose'], ...others.map(word)]} />
      <Entry kind="figure" short label="mL" value={text} onType={setText} />
      <Button type="submit" disabled={isLoading || ml === null || ml <= 0 || !to}>
        Pour over
      </Button>
      <Wrong error={error} />
    </form>
  );
}
