import { Button } from '@mui/material';
import { useState } from 'react';
import type { Reply } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, plural } from '../ui/format.ts';
import { Entry, Wrong } from '../ui/parts.tsx';
import { workCalendarApi } from './api.ts';

/** Public holidays and the like, by hand or from a calendar file. */
export function ClosedDays({ data, maySteer }: { data: Reply<'readWorkCalendar'>; maySteer: boolean }) {
  const bases = useBases();
  const today = useToday();
  const dispatch = useAppDispatch();
  const [add, adding] = workCalendarApi.useAddClosedDayMutation();
  const [remove] = workCalendarApi.useRemoveClosedDayMutation();
  const [bring, bringing] = workCalendarApi.useImportClosedDaysMutation();
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [day, setDay] = useState(today);
  const [name, setName] = useState('');
  const read = async (file: File | undefined) => {
    if (!file || baseId === '') return;
    const answer = await bring({ id: baseId, text: await file.text() });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${plural(answer.data.added, 'day')} without work read in${answer.data.known > 0 ? `, ${answer.data.known} known already` : ''}.`,
        }),
      );
  };
  return (
    <section className="block">
      <h2>Days without work</h2>
      {data.closed.length === 0 && <p className="faint">None ahead.</p>}
      <ul className="plain-list">
        {data.closed.slice(0, 12).map((c) => (
          <li key={c.id}>
            <span className="figure">{fullDay(c.day)}</span> {c.name}, {bases.find((b) => b.id === c.baseId)?.name}{' '}
            {maySteer && (
              <button
                type="button"
                className="link-button"
                onClick={() => void remove(c.id)}
                aria-label={`take back ${fullDay(c.day)}`}>
                take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {data.closed.length > 12 && <p className="faint">and {data.closed.length - 12} more</p>}
      {maySteer && (
        <div className="tools">
          <BaseChoice value={baseId} onChange={setBase} />
          <Entry kind="date" label="Day" value={day} min={today} onType={setDay} />
          <Entry label="Name of the day" value={name} maxLength={80} onType={setName} />
          <Button
            disabled={adding.isLoading || baseId === '' || day === '' || name.trim() === ''}
            onClick={() =>
              void add({ id: baseId as number, day, name: name.trim() }).then((a) => {
                if (a.data) setName('');
              })
            }>
            Add the day
          </Button>
          <label className="choice">
            <span className="choice-label">Or from a calendar file (.ics)</span>
            <input
              type="file"
              accept=".ics,text/calendar"
              onChange={(e) => {
                void read(e.target.files?.[0]);
                e.target.value = '';
              }}
            />
          </label>
        </div>
      )}
      <Wrong error={adding.error ?? bringing.error} />
    </section>
  );
}
