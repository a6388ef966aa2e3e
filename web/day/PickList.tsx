import { addDays } from '@diurna/core/calendar';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useBases, useMe, useToday } from '../app/useBook.ts';
import { placeOf, ScanButton } from '../labels/index.ts';
import { STORES_LEAVES } from '../ordering/index.ts';
import { storesApi } from '../stores/api.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, quantityText } from '../ui/format.ts';
import { Asked, Empty, Entry, Leaves, PageHead } from '../ui/parts.tsx';
import { Tick } from '../ui/Tick.tsx';
import { dayApi } from './api.ts';
import { usePicked } from './picked.ts';
import { picksOf, type Pick } from './picks.ts';
import './day.css';

/** What a day takes off the shelves of a base, in the order one walks; ticked, or picked by scan. */
export function PickList() {
  const me = useMe();
  const bases = useBases();
  const today = useToday();
  const [params, setParams] = useSearchParams();
  const baseId = Number(params.get('base') ?? me.baseId ?? bases[0]?.id ?? 0);
  const day = params.get('day') ?? today;
  const { data, error } = dayApi.useReadDayQuery({ day, baseId }, { skip: baseId === 0 });
  const [picked, put] = usePicked(day, baseId);
  const picks = picksOf(data?.kits.filter((k) => k.baseId === baseId) ?? []);
  const left = picks.filter((p) => !picked.includes(p.partId));
  const turn = (base: number, to: string) => {
    setParams({ base: String(base), day: to }, { replace: true });
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
              if (b !== '') turn(b, day);
            }}
          />
        }>
        To pick for {fullDay(day)}
      </PageHead>
      <Leaves label="Stores" of={STORES_LEAVES} />
      <div className="tools">
        <Entry
          kind="date"
          label="Day"
          value={day}
          min={addDays(today, -1)}
          onType={(to) => {
            if (to !== '') turn(baseId, to);
          }}
        />
        {picks.length > 0 && (
          <Scanned
            picks={picks}
            onPick={(partId) => {
              put(partId, true);
            }}
          />
        )}
      </div>
      <Asked data={data} error={error} />
      {data && picks.length === 0 && (
        <Empty title="Nothing to pick.">No open card of that day takes a part here.</Empty>
      )}
      {picks.length > 0 && (
        <>
          <p role="status">
            {left.length === 0 ? (
              <b className="fine">All of it is picked.</b>
            ) : (
              `${left.length} of ${picks.length} to pick.`
            )}
          </p>
          <ul className="kits" aria-label="To pick">
            {picks.map((p) => (
              <PickLine
                key={p.partId}
                pick={p}
                baseId={baseId}
                on={picked.includes(p.partId)}
                onTick={(on) => {
                  put(p.partId, on);
                }}
              />
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** A hand scanner types the label of what is in the hand, a person its number. */
function Scanned({ picks, onPick }: { picks: readonly Pick[]; onPick: (partId: number) => void }) {
  const [text, setText] = useState('');
  const [unknown, setUnknown] = useState<string | null>(null);
  const find = (typed: string) => {
    const place = placeOf(typed);
    const path = place ?? typed;
    const found = picks.find(
      (p) => path === `/stores/parts/${p.partId}` || p.number.toLowerCase() === typed.toLowerCase(),
    );
    setUnknown(found ? null : typed);
    if (found) onPick(found.partId);
    setText('');
  };
  return (
    <form
      className="tools"
      onSubmit={(e) => {
        e.preventDefault();
        find(text.trim());
      }}>
      <Entry label="In the hand: scan or number" value={text} onType={setText} />
      <ScanButton onPlace={find} />
      {unknown !== null && unknown !== '' && (
        <span className="minus" role="alert">
          {unknown.includes('/') ? 'This' : unknown} is not on the list: put it back.
        </span>
      )}
    </form>
  );
}

function PickLine({
  pick: p,
  baseId,
  on,
  onTick,
}: {
  pick: Pick;
  baseId: number;
  on: boolean;
  onTick: (on: boolean) => void;
}) {
  return (
    <li>
      <label className="pick-line">
        <Tick on={on} onTick={onTick} />
        <b>{p.place ?? 'no place'}</b>
        <span className="num figure">
          {quantityText(Math.round(p.quantity), p.unit)}
          {p.unit === 'each' ? ' ×' : ''}
        </span>
        <span>
          <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link> {p.name}{' '}
          <span className="faint">for {p.boats.join(', ')}</span>
          {p.containers && <span className="block-line">{p.containers}</span>}
        </span>
      </label>
      {p.lacks > 1e-6 && <Short pick={p} baseId={baseId} />}
    </li>
  );
}

/** What can be done about a part of which there is too little. */
function Short({ pick: p, baseId }: { pick: Pick; baseId: number }) {
  const bases = useBases();
  const { data: part } = storesApi.useReadPartQuery(p.partId);
  const elsewhere = (part?.onHand ?? []).filter((h) => h.baseId !== baseId && h.quantity > 0);
  return (
    <ul aria-label={`${p.number} is short`}>
      <li className="minus">Lacks {quantityText(Math.ceil(p.lacks), p.unit)}.</li>
      {p.instead.map((o) => (
        <li key={o.partId}>
          Take <Link to={`/stores/parts/${o.partId}`}>{o.number}</Link>: {quantityText(o.onHand, p.unit)} on the shelf
          {o.place ? ` at ${o.place}` : ''} <span className="faint">{o.why}</span>
        </li>
      ))}
      {elsewhere.map((h) => (
        <li key={h.baseId}>
          {bases.find((b) => b.id === h.baseId)?.name} has {quantityText(h.quantity, p.unit)}:{' '}
          <Link to={`/stores/parts/${p.partId}`}>have it sent</Link>
        </li>
      ))}
      <li>
        <Link to={`/stores/orders?base=${baseId}`}>Order it</Link>, or leave the task off the card of{' '}
        {p.cards.map((c, i) => (
          <span key={c.jobId}>
            {i > 0 && ', '}
            <Link to={`/jobs/${c.jobId}`}>{c.boatName}</Link>
          </span>
        ))}
      </li>
    </ul>
  );
}
