import { Button } from '@mui/material';
import {
  BACKGROUND_KINDS,
  BACKGROUND_STATES,
  type BackgroundKind,
  type BackgroundRow,
  type BackgroundState,
} from '@diurna/contract/background';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Heads, Leaves, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { recordsApi } from './api.ts';
import { useRecordLeaves } from './leaves.ts';

const SIZE = 50;
/** Nothing tells the page of work that nobody waits for: it asks. */
const ASK_MS = 5_000;

const KINDS: Record<BackgroundKind, string> = {
  feed: 'Read a calendar',
  mail: 'Send the mail that is due',
  morning: 'Write the mail of the morning',
  order: 'Send an order to its supplier',
  tidy: 'Clear what is not needed any more',
};
const STATES: Record<BackgroundState, string> = {
  waiting: 'waits',
  'at work': 'at work',
  again: 'tried again',
  done: 'done',
  stopped: 'stopped',
  failed: 'given up',
};
const GOES_ON: readonly BackgroundState[] = ['waiting', 'at work', 'again'];

/** Work behind the scenes: what the book does while nobody waits for it; an administrator stops and repeats it. */
export function Background() {
  const [kind, setKind] = useState<BackgroundKind | ''>('');
  const [state, setState] = useState<BackgroundState | ''>('');
  const [page, setPage] = useState(1);
  const { data, error } = recordsApi.useListBackgroundQuery(
    { page, size: SIZE, ...(kind !== '' && { kind }), ...(state !== '' && { state }) },
    { pollingInterval: ASK_MS, skipPollingIfUnfocused: true },
  );
  const first =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      set(value);
      setPage(1);
    };
  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <Choice<BackgroundKind | ''>
              hideLabel
              label="Work"
              value={kind}
              onChange={first(setKind)}
              options={[['', 'Everything'], ...BACKGROUND_KINDS.map((k): [BackgroundKind, string] => [k, KINDS[k]])]}
            />
            <Choice<BackgroundState | ''>
              hideLabel
              label="How it stands"
              value={state}
              onChange={first(setState)}
              options={[
                ['', 'However it stands'],
                ...BACKGROUND_STATES.map((s): [BackgroundState, string] => [s, STATES[s]]),
              ]}
            />
          </div>
        }
        title="Work behind the scenes">
        {data && <Counts counts={data.counts} />}
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <Asked data={data} error={error} />
      {data?.rows.length === 0 && (
        <Empty title="No such work in the last week.">
          Calendars are read every quarter of an hour, and once an hour what nobody needs any more is cleared.
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <Heads
            of={[
              'Asked for',
              'Work',
              'How it stands',
              'What came of it',
              { num: 'Took' },
              { unseen: 'Stop or repeat' },
            ]}
          />
          <tbody>
            {data.rows.map((row) => (
              <Piece key={row.id} row={row} />
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
    </>
  );
}

function Counts({ counts }: { counts: Record<BackgroundState, number> }) {
  const open = counts.waiting + counts['at work'] + counts.again;
  return (
    <>
      {open === 0 ? 'Nothing waits' : `${open} not done yet`}; {counts.done} done within a week
      {counts.failed > 0 && `, ${counts.failed} given up`}
    </>
  );
}

const took = ({ began, ended }: BackgroundRow) => {
  if (began === null || ended === null) return '';
  const seconds = Math.max(0, (Date.parse(ended) - Date.parse(began)) / 1000);
  return seconds < 10 ? `${seconds.toFixed(1)} s` : `${Math.round(seconds)} s`;
};

function Piece({ row }: { row: BackgroundRow }) {
  const [stop, stopping] = recordsApi.useStopBackgroundMutation();
  const [repeat, repeating] = recordsApi.useRepeatBackgroundMutation();
  const dispatch = useAppDispatch();
  const goesOn = GOES_ON.includes(row.state);
  const what = row.title ? `${KINDS[row.kind]}: ${row.title}` : KINDS[row.kind];
  const tell = (text: string) => (answer: { data?: unknown }) => {
    if (answer.data) dispatch(say({ tone: 'done', text }));
  };
  return (
    <tr>
      <td className="faint whole">{clockText(row.sent)}</td>
      <th scope="row">
        {KINDS[row.kind]} {row.title && <b>{row.title}</b>}
      </th>
      <td className="whole">
        {STATES[row.state]}
        {row.next && ` ${clockText(row.next)}`}
        {row.tries > 1 && <span className="faint">, {plural(row.tries, 'try', 'tries')}</span>}
      </td>
      <td className="words">
        {row.outcome}
        <Wrong error={stopping.error ?? repeating.error} />
      </td>
      <td className="num figure">{took(row)}</td>
      <td>
        {goesOn ? (
          <Button
            size="small"
            disabled={stopping.isLoading}
            aria-label={`Stop: ${what}`}
            onClick={() => void stop(row.id).then(tell('Stopped.'))}>
            Stop
          </Button>
        ) : (
          <Button
            size="small"
            disabled={repeating.isLoading}
            aria-label={`Repeat: ${what}`}
            onClick={() => void repeat(row.id).then(tell('Put into the queue again.'))}>
            Repeat
          </Button>
        )}
      </td>
    </tr>
  );
}
