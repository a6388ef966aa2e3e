import { Button } from '@mui/material';
import type { PartPage } from '@diurna/contract/stores';
import { farFromUsual } from '@diurna/core/stores';
import { parseAmount } from '@diurna/core/units';
import { useState } from 'react';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe } from '../app/useBook.ts';
import { minorOf, quantityText, millilitresText } from '../ui/format.ts';
import { Entry, Wrong } from '../ui/parts.tsx';
import { storesApi } from './api.ts';
import { ACTS, bodyOf, NOTHING, WITH_PERSON, type Act, type Filled } from './shelf-act.ts';
import { HOW_MUCH, HowMuch, Receipt, Said, sizesOf, useAmount, Where } from './ShelfFields.tsx';
import './stores.css';

/**
 * What is done with a part at its shelves: received, counted, sent, written off; by the piece or by full containers.
 */
export function ShelfActs({ part }: { part: PartPage }) {
  const [act, setAct] = useState<Act | null>(null);
  return (
    <section aria-label="Stock acts">
      <div className="acts-row">
        {(Object.keys(ACTS) as Act[]).map((a) => (
          <Button
            key={a}
            aria-expanded={act === a}
            onClick={() => {
              setAct(act === a ? null : a);
            }}>
            {ACTS[a]}
          </Button>
        ))}
      </div>
      {act && (
        <ActForm
          key={act}
          act={act}
          part={part}
          onDone={() => {
            setAct(null);
          }}
        />
      )}
    </section>
  );
}

/** Quantities of the part that are known, for a second look at one that is far from all of them. */
const usualOf = (part: PartPage): number[] => [
  ...part.onHand.map((h) => h.quantity),
  ...part.lots.map((l) => l.left),
  ...part.fitments.map((f) => f.quantity ?? 0),
  ...sizesOf(part).map((s) => s.ml),
];

function ActForm({ act, part, onDone }: { act: Act; part: PartPage; onDone: () => void }) {
  const me = useMe();
  const bases = useBases();
  const dispatch = useAppDispatch();
  const amount = useAmount(part);
  const [filled, setFilled] = useState<Filled>({ ...NOTHING, baseId: me.baseId ?? bases[0]?.id ?? '' });
  const fill = (more: Partial<Filled>) => {
    setFilled({ ...filled, ...more });
  };
  const [moveStock, { isLoading, error }] = storesApi.useMoveStockMutation();
  const { baseId, toBaseId, personId, note } = filled;
  const open = act === 'count' ? part.open.filter((o) => o.baseId === baseId) : [];
  const found = open.map((o) => ({ id: o.id, leftMl: parseAmount(filled.inOpen[o.id] ?? String(o.leftMl)) }));
  // Full ones are counted; what stands open beside them is looked at by itself.
  const opened = found.reduce((sum, f) => sum + (f.leftMl ?? 0), 0);
  const quantity = amount.quantity === null ? null : amount.quantity + opened;
  const costMinor = minorOf(filled.cost);
  const far = amount.quantity !== null && farFromUsual(amount.quantity, usualOf(part));
  const ready =
    quantity !== null &&
    (act === 'count' || quantity > 0) &&
    found.every((f) => f.leftMl !== null) &&
    baseId !== '' &&
    (act !== 'move' || (toBaseId !== '' && toBaseId !== baseId)) &&
    (!WITH_PERSON.includes(act) || personId !== '') &&
    (act !== 'write off' || note.trim().length >= 3) &&
    typeof costMinor !== 'string' &&
    (!far || filled.sure);
  const send = async () => {
    if (!ready) return;
    const answer = await moveStock(bodyOf(act, { ...filled, partId: part.id, quantity, costMinor, open: found }));
    if (!answer.data) return;
    const there = quantityText(answer.data.onHand, part.unit);
    const text =
      act === 'move'
        ? `${quantityText(quantity, part.unit)} of ${part.number} on the way; ${there} left here.`
        : `${part.number}: ${there} on hand now.`;
    dispatch(say({ tone: 'done', text }));
    onDone();
  };
  return (
    <form
      className="shelf-form"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}>
      <Where act={act} filled={filled} fill={fill} />
      <HowMuch part={part} amount={amount} label={act === 'count' && open.length > 0 ? 'Full ones' : HOW_MUCH[act]} />
      {open.map((o) => (
        <Entry
          key={o.id}
          kind="figure"
          short
          label={`In the open ${o.label}, mL`}
          value={filled.inOpen[o.id] ?? String(o.leftMl)}
          onType={(text) => {
            fill({ inOpen: { ...filled.inOpen, [o.id]: text } });
          }}
        />
      ))}
      {act === 'receive' && <Receipt filled={filled} fill={fill} />}
      <Entry
        label={act === 'write off' ? 'Why' : 'Note'}
        value={note}
        maxLength={200}
        onType={(text) => {
          fill({ note: text });
        }}
      />
      <Button type="submit" variant="contained" color="primary" disabled={!ready || isLoading}>
        {act === 'move' ? 'Send' : ACTS[act]}
      </Button>
      {part.unit === 'mL' && quantity !== null && quantity > 0 && (
        <span className="figure faint" role="status">
          = {millilitresText(quantity)}
        </span>
      )}
      {far && (
        <Said
          on={filled.sure}
          onTick={(sure) => {
            fill({ sure });
          }}>
          {quantityText(amount.quantity!, part.unit)} is far from what is usual of it. It is so.
        </Said>
      )}
      {problemOf(error)?.type === 'kept' && (
        <Said
          on={filled.although}
          onTick={(although) => {
            fill({ although });
          }}>
          All the same: these cards go short.
        </Said>
      )}
      {amount.bad && (
        <span className="minus" role="status">
          Figures only.
        </span>
      )}
      <Wrong error={error} />
    </form>
  );
}
