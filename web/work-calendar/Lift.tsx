import { Button } from '@mui/material';
import { useState } from 'react';
import type { Reply } from '../app/api.ts';
import { useBases, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, plural } from '../ui/format.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { workCalendarApi } from './api.ts';
import { DaySpan } from './DaySpan.tsx';

/** How many visits the lift takes, and the days on which it takes fewer. */
export function Lift({ data, maySteer }: { data: Reply<'readWorkCalendar'>; maySteer: boolean }) {
  const bases = useBases();
  const today = useToday();
  const [add, { error, isLoading }] = workCalendarApi.useAddLiftOutMutation();
  const [remove] = workCalendarApi.useRemoveLiftOutMutation();
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [span, setSpan] = useState<readonly [first: string, last: string]>([today, today]);
  const [firstDay, lastDay] = span;
  const [slots, setSlots] = useState(0);
  const [reason, setReason] = useState('');
  return (
    <section className="block">
      <h2>The lift</h2>
      <p>
        {bases.map((b) => `${b.name}: ${plural(b.liftSlots, 'visit')} a day`).join('; ')}. Changed on the page of bases.
      </p>
      <ul className="plain-list">
        {data.liftOut.map((l) => (
          <li key={l.id}>
            {bases.find((b) => b.id === l.baseId)?.name}, {fullDay(l.firstDay)} to {fullDay(l.lastDay)}:{' '}
            {l.slots === 0 ? 'out' : `${l.slots} a day`}, {l.reason}{' '}
            {maySteer && (
              <button type="button" className="link-button" onClick={() => void remove(l.id)}>
                take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {maySteer && (
        <div className="tools">
          <BaseChoice value={baseId} onChange={setBase} />
          <Choice
            label="Takes"
            value={slots}
            onChange={(n) => {
              if (n !== '') setSlots(n);
            }}
            options={[[0, 'none'], ...[1, 2, 3, 4, 5].map((n): [number, string] => [n, plural(n, 'visit')])]}
          />
          <DaySpan words={['From', 'Until']} span={span} onChange={setSpan} />
          <Entry label="Why" value={reason} maxLength={80} onType={setReason} />
          <Button
            disabled={isLoading || baseId === '' || firstDay === '' || reason.trim() === ''}
            onClick={() =>
              void add({ id: baseId as number, firstDay, lastDay, slots, reason: reason.trim() }).then((a) => {
                if (a.data) setReason('');
              })
            }>
            Write it down
          </Button>
        </div>
      )}
      <Wrong error={error} />
    </section>
  );
}
