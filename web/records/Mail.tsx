import { Button } from '@mui/material';
import { MAIL_STATES, type MailKind, type MailRow, type MailState } from '@diurna/contract/messages';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { messagesApi } from '../messages/api.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Heads, Leaves, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { useRecordLeaves } from './leaves.ts';

const SIZE = 50;
/** Beside a mail that is read, its line stays where it was. */
const KINDS: Record<MailKind, string> = {
  told: 'Told',
  morning: 'The morning’s mail',
  written: 'Written by hand',
  trial: 'Trial',
};
const STATES: Record<MailState, string> = { waiting: 'waits', sent: 'went', failed: 'given up', stopped: 'stopped' };

/** Mail of the book: what waits, went and did not go, and why; tried again or stopped by hand. */
export function Mail() {
  const [state, setState] = useState<MailState | ''>('');
  const [page, setPage] = useState(1);
  const { data, error } = messagesApi.useListMailQuery({ page, size: SIZE, ...(state !== '' && { state }) });
  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <Choice<MailState | ''>
              hideLabel
              label="How it stands"
              value={state}
              onChange={(value) => {
                setState(value);
                setPage(1);
              }}
              options={[['', 'However it stands'], ...MAIL_STATES.map((s): [MailState, string] => [s, STATES[s]])]}
            />
          </div>
        }
        title="Mail">
        {data && (
          <>
            {data.counts.waiting === 0 ? 'Nothing waits' : `${data.counts.waiting} on the way`}; {data.counts.sent} went
            {data.counts.failed > 0 && `, ${data.counts.failed} given up`}
          </>
        )}
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <Asked data={data} error={error} />
      {data && !data.mail && (
        <p className="soon">
          This book sends no mail. Whoever runs it sets DIURNA_MAIL, as “docs/operating.md” says; until then what people
          are told stands in the book.
        </p>
      )}
      {data?.rows.length === 0 && (
        <Empty title={state === '' ? 'No mail yet.' : `No mail that ${STATES[state]}.`}>
          Everybody chooses under “The yard” what comes by mail; the hire desk and others outside are named there too.
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <Lines>
          <Heads of={['Written', 'To', 'Mail', 'How it stands', { unseen: 'Send again or stop' }]} />
          <tbody>
            {data.rows.map((row) => (
              <Line key={row.id} row={row} sends={data.mail} />
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
    </>
  );
}

function Line({ row, sends }: { row: MailRow; sends: boolean }) {
  const [again, trying] = messagesApi.useSendMailAgainMutation();
  const [stop, stopping] = messagesApi.useStopMailMutation();
  const [read, setRead] = useState(false);
  const dispatch = useAppDispatch();
  const tell = (text: string) => (answer: { data?: unknown }) => {
    if (answer.data) dispatch(say({ tone: 'done', text }));
  };
  const what = `“${row.subject}” to ${row.to}`;
  return (
    <tr>
      <td className="faint whole at-top">
        {clockText(row.at)}
        <br />
        {KINDS[row.kind]}
        {row.writtenBy !== null && row.kind !== 'trial' && `, ${row.writtenBy}`}
      </td>
      <td className="at-top">
        <b>{row.to}</b>
        <br />
        <span className="faint small">{row.sentTo}</span>
      </td>
      <td className="at-top words">
        <button
          type="button"
          className="link-button plain"
          aria-expanded={read}
          onClick={() => {
            setRead(!read);
          }}>
          {row.subject}
        </button>
        {read && <p className="as-written">{row.text}</p>}
      </td>
      <td className="at-top words">
        {STATES[row.state]} {row.sentAt !== null && clockText(row.sentAt)}
        {row.next !== null && row.tries > 0 && `, again ${clockText(row.next)}`}
        {row.tries > 1 && <span className="faint">, {plural(row.tries, 'try', 'tries')}</span>}
        {row.fault !== null && <p className="small soon">{row.fault}</p>}
        <Wrong error={trying.error ?? stopping.error} />
      </td>
      <td className="whole at-top">
        {row.state !== 'sent' && sends && (
          <Button
            size="small"
            aria-label={`Send ${row.state === 'waiting' ? 'now' : 'again'}: ${what}`}
            disabled={trying.isLoading}
            onClick={() => void again(row.id).then(tell('It goes at once.'))}>
            {row.state === 'waiting' ? 'Now' : 'Send again'}
          </Button>
        )}
        {row.state === 'waiting' && (
          <Button
            size="small"
            aria-label={`Stop: ${what}`}
            disabled={stopping.isLoading}
            onClick={() => void stop(row.id).then(tell('Stopped.'))}>
            Stop
          </Button>
        )}
      </td>
    </tr>
  );
}
