import { Button } from '@mui/material';
import type { PartPage } from '@diurna/contract/stores';
import { amountUnits, farFromUsual } from '@diurna/core/stores';
import { parseAmount, toMillilitres } from '@diurna/core/units';
import { useState, type ReactNode } from 'react';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe, useSession } from '../app/useBook.ts';
import { minorOf, quantityText, millilitresText } from '../ui/format.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { peopleApi } from '../people/api.ts';
import { storesApi } from './api.ts';
import './stores.css';

const ACTS = {
  receive: 'Receive',
  count: 'Count',
  'hand out': 'Hand to a person',
  'bring back': 'Brought back',
  move: 'Send to another base',
  'write off': 'Write off',
} as const;
const WITH_PERSON: readonly Act[] = ['hand out', 'bring back'];
type Act = keyof typeof ACTS;

/** What a container of the part holds, by what is printed on it. */
export const sizesOf = (part: Pick<PartPage, 'containers'>) =>
  part.containers.map((c) => ({
    id: `${c.value} ${c.unit} ${c.kind}`,
    ml: toMillilitres(c.value, c.unit),
    printed: c,
  }));

/** What is done with a part at its shelves: received, counted, sent, written off; by the piece or by full containers. */
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

/** A typed amount, in its unit. */
function useAmount(part: PartPage) {
  const units = amountUnits(part.unit, sizesOf(part));
  const [text, setText] = useState('');
  const [unitId, setUnit] = useState(units[0]!.id);
  const unit = units.find((u) => u.id === unitId) ?? units[0]!;
  const typed = parseAmount(text);
  const quantity = typed === null ? null : Math.round(typed * unit.each * 100) / 100;
  return { units, text, setText, unit, setUnit, quantity, bad: text !== '' && typed === null };
}

/** What is typed in the form of an act, besides how much. */
interface Filled {
  baseId: number | '';
  toBaseId: number | '';
  personId: number | '';
  note: string;
  lot: string;
  expires: string;
  cost: string;
  /** What was found in each open container, mL. */
  inOpen: Record<number, string>;
  /** Cards that want what is sent away go short. */
  although: boolean;
  /** A figure far from what is usual was looked at again. */
  sure: boolean;
}

function ActForm({ act, part, onDone }: { act: Act; part: PartPage; onDone: () => void }) {
  const me = useMe();
  const bases = useBases();
  const dispatch = useAppDispatch();
  const amount = useAmount(part);
  const [filled, setFilled] = useState<Filled>({
    ...{
      baseId: me.baseId ?? bases[0]?.id ?? '',
      toBaseId: '',
      personId: '',
      note: '',
      lot: '',
      expires: '',
      cost: '',
    },
    inOpen: {},
    although: false,
    sure: false,
  });
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
    const line = { partId: part.id, baseId, note: note.trim() || null };
    const answer = await moveStock(
      act === 'count'
        ? { act, ...line, counted: quantity, open: found.map((f) => ({ id: f.id, leftMl: f.leftMl! })) }
        : act === 'move'
          ? { act, ...line, quantity, toBaseId: toBaseId as number, although: filled.although }
          : act === 'hand out'
            ? { act, ...line, quantity, personId: personId as number, although: filled.although }
            : act === 'bring back'
              ? { act, ...line, quantity, personId: personId as number }
              : act === 'write off'
                ? { act, ...line, quantity, note: note.trim() }
                : {
                    act,
                    ...line,
                    quantity,
                    lot: filled.lot.trim() || null,
                    expires: filled.expires || null,
                    costMinor,
                  },
    );
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

/** Something a person says by a tick, before it goes on. */
function Said({ on, onTick, children }: { on: boolean; onTick: (on: boolean) => void; children: ReactNode }) {
  return (
    <label className="full">
      <Tick on={on} onTick={onTick} /> {children}
    </label>
  );
}

const HOW_MUCH: Record<Act, string> = {
  receive: 'How many',
  count: 'On the shelf',
  'hand out': 'How many',
  'bring back': 'How many',
  move: 'How many',
  'write off': 'How many',
};

interface Fills {
  filled: Filled;
  fill: (more: Partial<Filled>) => void;
}

/** The base, or both of them; the person. */
function Where({ act, filled: { baseId, toBaseId, personId }, fill }: Fills & { act: Act }) {
  const { data: people = [] } = peopleApi.useListPeopleQuery(undefined, { skip: !WITH_PERSON.includes(act) });
  const options = useBases().map((b): [number, string] => [b.id, b.name]);
  return (
    <>
      <Choice
        label={act === 'move' ? 'From' : 'Base'}
        value={baseId}
        onChange={(id) => {
          fill({ baseId: id });
        }}
        options={options}
      />
      {WITH_PERSON.includes(act) && (
        <Choice
          label="Person"
          value={personId}
          onChange={(id) => {
            fill({ personId: id });
          }}
          options={[['', 'choose'], ...people.filter((p) => p.active).map((p): [number, string] => [p.id, p.name])]}
        />
      )}
      {act === 'move' && (
        <Choice
          label="To"
          value={toBaseId}
          onChange={(id) => {
            fill({ toBaseId: id });
          }}
          options={[['', 'choose'], ...options.filter(([b]) => b !== baseId)]}
        />
      )}
    </>
  );
}

/** A figure in the unit it is printed in. */
function HowMuch({ part, amount, label }: { part: PartPage; amount: ReturnType<typeof useAmount>; label: string }) {
  return (
    <>
      <Entry kind="figure" short label={label} autoFocus value={amount.text} onType={amount.setText} />
      {part.unit === 'mL' && (
        <Choice
          label="In"
          value={amount.unit.id}
          onChange={(u) => {
            amount.setUnit(u);
          }}
          options={amount.units.map((u): [string, string] => [u.id, u.id])}
        />
      )}
    </>
  );
}

/** What is printed on what came, and what it cost. */
function Receipt({ filled, fill }: Fills) {
  const currency = useSession()?.currency ?? 'EUR';
  return (
    <>
      <Entry
        label="Lot"
        short
        value={filled.lot}
        maxLength={40}
        onType={(lot) => {
          fill({ lot });
        }}
      />
      <Entry
        kind="date"
        label="Use by"
        value={filled.expires}
        onType={(expires) => {
          fill({ expires });
        }}
      />
      <Entry
        kind="figure"
        short
        label={`Cost of all (${currency})`}
        value={filled.cost}
        onType={(cost) => {
          fill({ cost });
        }}
      />
    </>
  );
}
