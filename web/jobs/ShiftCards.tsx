import type { JobRow } from '@diurna/contract/jobs';
import { addDays } from '@diurna/core/calendar';
import { worksText } from '@diurna/core/service';
import { useMemo, useState } from 'react';
import { useShort, useToday } from '../app/useBook.ts';
import { peopleApi } from '../people/api.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural, shortDay } from '../ui/format.ts';
import { Choice, Entry } from '../ui/parts.tsx';
import { jobsApi } from './api.ts';
import { Several, type SeveralLine } from './Several.tsx';

/** As many as one decision takes. */
const MOST = 100;
const DAYS: [value: number, word: string][] = [
  [1, 'a day later'],
  [2, 'two days later'],
  [3, 'three days later'],
  [7, 'a week later'],
  [14, 'two weeks later'],
  [-1, 'a day earlier'],
  [-7, 'a week earlier'],
];

const begun = (j: JobRow) => (j.progress?.done ?? 0) > 0 || j.tasks.some((t) => t.state === 'done');

/** Moves the cards of some days by so many days, in one decision: a storm week, a crane that is out. */
export function ShiftCards({ from, onClose }: { from: string; onClose: () => void }) {
  const today = useToday();
  const short = useShort();
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [first, setFirst] = useState(from < today ? today : from);
  const [last, setLast] = useState(addDays(from < today ? today : from, 6));
  const [by, setBy] = useState(7);
  const [baseId, setBaseId] = useState<number | ''>('');
  const [personId, setPersonId] = useState<number | ''>('');
  const { data } = jobsApi.useListJobsQuery(
    {
      status: 'open',
      from: first,
      to: last,
      page: 1,
      size: MOST,
      ...(baseId !== '' && { baseId }),
      ...(personId !== '' && { technicianId: personId }),
    },
    { skip: first === '' || last === '' },
  );
  const rows = useMemo(() => data?.rows.filter((j) => !begun(j)) ?? [], [data]);
  const stays = (data?.rows.length ?? 0) - rows.length;
  /** Everything goes but what somebody takes out. */
  const [out, setOut] = useState<ReadonlySet<string>>(new Set());
  const lines = rows.map((j): SeveralLine => ({
    key: String(j.id),
    name: j.boatName,
    words: `${shortDay(j.day)} to ${shortDay(addDays(j.day, by))}, ${short(j.technician)}: ${worksText(j.works)}`,
    card: { move: { jobId: j.id, version: j.version, technicianId: j.technicianId, day: addDays(j.day, by) } },
  }));
  const notes = [
    ...(stays > 0
      ? [
          `${plural(stays, 'card')} begun already ${stays === 1 ? 'stays' : 'stay'} where ${stays === 1 ? 'it is' : 'they are'}.`,
        ]
      : []),
    ...((data?.total ?? 0) > MOST ? [`Only the first ${MOST} of ${data!.total}: choose fewer days, or a base.`] : []),
  ];
  return (
    <Several
      title="Move the cards of some days"
      lines={lines}
      more={notes.join(' ')}
      ticked={new Set(lines.map((l) => l.key).filter((k) => !out.has(k)))}
      setTicked={(keys) => {
        setOut(new Set(lines.map((l) => l.key).filter((k) => !keys.has(k))));
      }}
      act={(n) => (n === 0 ? 'Move them' : `Move ${plural(n, 'card')}`)}
      done={(n) => `${plural(n, 'card')} moved ${DAYS.find(([d]) => d === by)?.[1] ?? ''}.`}
      none={data ? 'No open card on these days.' : 'Looking …'}
      onClose={onClose}>
      <Entry kind="date" label="From" value={first} onType={setFirst} />
      <Entry kind="date" label="To" value={last} onType={setLast} />
      <Choice<number>
        label="Go"
        value={by}
        options={DAYS}
        onChange={(d) => {
          if (d !== '') setBy(d);
        }}
      />
      <BaseChoice value={baseId} onChange={setBaseId} none="All bases" />
      <Choice<number>
        label="Whose"
        value={personId}
        options={[
          ['', 'Everybody’s'],
          ...people.filter((p) => p.active && p.role === 'technician').map((p): [number, string] => [p.id, p.name]),
        ]}
        onChange={setPersonId}
      />
    </Several>
  );
}
