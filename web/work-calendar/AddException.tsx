import { Button } from '@mui/material';
import { minuteOfField } from '@diurna/core/calendar';
import { useState } from 'react';
import { useBases, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { workCalendarApi } from './api.ts';
import { DaySpan } from './DaySpan.tsx';

/** One more day, or run of days, on which a person is away, elsewhere or at other hours. */
export function AddException({ personId }: { personId: number }) {
  const bases = useBases();
  const today = useToday();
  const [add, { error, isLoading }] = workCalendarApi.useAddExceptionMutation();
  const [kind, setKind] = useState<'away' | 'base' | 'hours'>('away');
  const [span, setSpan] = useState<readonly [first: string, last: string]>([today, today]);
  const [firstDay, lastDay] = span;
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [from, setFrom] = useState('08:00');
  const [to, setTo] = useState('16:00');
  const [reason, setReason] = useState('');
  const send = async () => {
    const days = { firstDay, lastDay, reason: reason.trim() || null };
    const body =
      kind === 'away'
        ? { kind, ...days }
        : kind === 'base'
          ? { kind, baseId: baseId as number, ...days }
          : { kind, fromMinute: minuteOfField(from) ?? 0, toMinute: minuteOfField(to) ?? 0, ...days };
    if (!(await add({ id: personId, ...body })).error) setReason('');
  };
  return (
    <div className="tools">
      <Choice
        label="What"
        hideLabel
        value={kind}
        onChange={(k) => {
          if (k !== '') setKind(k);
        }}
        options={[
          ['away', 'away'],
          ['base', 'at another base'],
          ['hours', 'at other hours'],
        ]}
      />
      <DaySpan words={['First day', 'Last day']} span={span} onChange={setSpan} />
      {kind === 'base' && <BaseChoice value={baseId} onChange={setBase} />}
      {kind === 'hours' && (
        <>
          <Entry kind="time" short label="From" value={from} onType={setFrom} />
          <Entry kind="time" short label="To" value={to} onType={setTo} />
        </>
      )}
      <Entry label="Why" value={reason} maxLength={200} onType={setReason} />
      <Button disabled={isLoading || firstDay === ''} onClick={() => void send()}>
        Write it down
      </Button>
      <Wrong error={error} />
    </div>
  );
}
