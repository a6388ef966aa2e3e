import type { PartPage } from '@diurna/contract/stores';
import { amountUnits } from '@diurna/core/stores';
import { parseAmount, toMillilitres } from '@diurna/core/units';
import { useState, type ReactNode } from 'react';
import { useBases, useSession } from '../app/useBook.ts';
import { peopleApi } from '../people/api.ts';
import { Choice, Entry } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { WITH_PERSON, type Act, type Filled } from './shelf-act.ts';

/** What a container of the part holds, by what is printed on it. */
export const sizesOf = (part: Pick<PartPage, 'containers'>) =>
  part.containers.map((c) => ({
    id: `${c.value} ${c.unit} ${c.kind}`,
    ml: toMillilitres(c.value, c.unit),
    printed: c,
  }));

/** A typed amount, in its unit. */
export function useAmount(part: PartPage) {
  const units = amountUnits(part.unit, sizesOf(part));
  const [text, setText] = useState('');
  const [unitId, setUnit] = useState(units[0]!.id);
  const unit = units.find((u) => u.id === unitId) ?? units[0]!;
  const typed = parseAmount(text);
  const quantity = typed === null ? null : Math.round(typed * unit.each * 100) / 100;
  return { units, text, setText, unit, setUnit, quantity, bad: text !== '' && typed === null };
}

/** Something a person says by a tick, before it goes on. */
export function Said({ on, onTick, children }: { on: boolean; onTick: (on: boolean) => void; children: ReactNode }) {
  return (
    <label className="full">
      <Tick on={on} onTick={onTick} /> {children}
    </label>
  );
}

export const HOW_MUCH: Record<Act, string> = {
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
export function Where({ act, filled: { baseId, toBaseId, personId }, fill }: Fills & { act: Act }) {
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
export function HowMuch({
  part,
  amount,
  label,
}: {
  part: PartPage;
  amount: ReturnType<typeof useAmount>;
  label: string;
}) {
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
export function Receipt({ filled, fill }: Fills) {
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
