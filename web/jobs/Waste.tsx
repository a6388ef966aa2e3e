import {
  READING_UNITS,
  readingFault,
  wasteCounted,
  wasteKey,
  wasteOf,
  type ReadingValue,
  type WasteStream,
} from '@diurna/core/findings';
import { readingsOf, type CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import { quantityText } from '../ui/format.ts';
import { parseAmount } from '@diurna/core/units';
import type { LiveCard } from './live-card.ts';
import { Box } from '../ui/Box.tsx';
import { Choice } from '../ui/parts.tsx';

/** What goes to which stream: worked out from the work, and changed where more or less came out. */
export function Waste({
  live,
  editable,
  write,
}: {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  if (!editable) {
    return live.card.waste.length === 0 ? null : (
      <section className="block">
        <h2 className="above">Waste booked</h2>
        <table className="used">
          <tbody>
            {live.card.waste.map((w) => (
              <tr key={w.stream}>
                <th scope="row">
                  {w.stream}
                  {!w.measured && <span className="faint"> by the label</span>}
                </th>
                <td className="num figure">
                  {wasteCounted(w.stream as WasteStream) ? w.quantity : quantityText(w.quantity, 'mL')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    );
  }
  const { card, state } = live;
  const done = live.tasks.filter((t) => t.state === 'done');
  const labels = (engineId: number) => card.engines.find((e) => e.id === engineId);
  // What the work takes out anyway, and what was typed besides.
  const worked = wasteOf(done, labels, {});
  const streams = [
    ...worked,
    ...wasteOf(done, labels, readingsOf(state)).filter((w) => !worked.some((x) => x.stream === w.stream)),
  ];
  if (streams.length === 0) return null;
  return (
    <section className="block" aria-label="Waste">
      <h2 className="above">Waste</h2>
      <p className="faint">By stream, as the work takes it out. Change a figure where you measured another.</p>
      <table className="used">
        <tbody>
          {streams.map(({ stream, quantity }) => (
            <Line
              key={stream}
              stream={stream}
              worked={quantity}
              value={state.readings.get(wasteKey(stream))?.value}
              onWrite={(value) => void write({ kind: 'read', key: wasteKey(stream), value })}
            />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Line({
  stream,
  worked,
  value,
  onWrite,
}: {
  stream: WasteStream;
  worked: number;
  value: ReadingValue | undefined;
  onWrite: (value: ReadingValue) => void;
}) {
  const kept = value && 'value' in value ? value : null;
  const counted = wasteCounted(stream);
  const [text, setText] = useState<string | null>(null);
  const [unit, setUnit] = useState(kept?.unit ?? 'L');
  const faultOf = (amount: number | null, inUnit: string) =>
    amount === null
      ? 'Figures only, such as 2.7'
      : readingFault('waste', { value: amount, unit: counted ? 'pieces' : inUnit }, stream);
  const fault = text === null || text.trim() === '' ? null : faultOf(parseAmount(text), unit);
  const keep = (nextUnit = unit) => {
    const amount = text === null ? (kept?.value ?? null) : parseAmount(text);
    if (amount === null || faultOf(amount, nextUnit) !== null || (kept?.value === amount && kept.unit === nextUnit))
      return;
    onWrite({ value: amount, unit: counted ? 'pieces' : nextUnit });
    setText(null);
  };
  return (
    <tr>
      <th scope="row">
        {stream} <span className="faint">about {counted ? worked : quantityText(worked, 'mL')}</span>
      </th>
      <td className="num">
        <Box
          figure
          aria-label={`Waste: ${stream}`}
          aria-invalid={fault !== null}
          value={text ?? (kept ? String(kept.value) : '')}
          placeholder={counted ? String(worked) : String(Math.round(worked / 10) / 100)}
          onChange={(e) => {
            setText(e.target.value);
          }}
          onBlur={() => {
            keep();
          }}
        />
        {counted ? (
          ''
        ) : (
          <Choice
            hideLabel
            label={`Unit of ${stream}`}
            value={unit}
            options={READING_UNITS.volume.map((u) => [u, u])}
            onChange={(u) => {
              setUnit(u);
              keep(u);
            }}
          />
        )}
        {fault !== null && (
          <p className="trap" role="alert">
            {stream}: {fault}
          </p>
        )}
      </td>
    </tr>
  );
}
