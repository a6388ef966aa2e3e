import { Button } from '@mui/material';
import { kindsOf, MESSAGE_WAYS, type MessageWay } from '@diurna/contract/messages';
import { isMailAddress, MESSAGE_WORDS } from '@diurna/core/messages';
import { useState } from 'react';
import type { Reply } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMe } from '../app/useBook.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { messagesApi } from './api.ts';
import { Tick } from '../ui/Tick.tsx';
import { timeText } from '../ui/format.ts';

const WAYS: Record<MessageWay, string> = {
  book: 'in the book only',
  mail: 'by mail, at once',
  morning: 'by mail, mornings',
};

/** Where one has mail, and what comes there. */
export function MyMessages() {
  const { data } = messagesApi.useReadMyMessagesQuery();
  if (!data) return null;
  return (
    <section className="block">
      <h2>What you are told</h2>
      {data.mail ? (
        <Choices key={data.version ?? 'none'} kept={data} />
      ) : (
        <p className="faint">
          Messages come in the book, at the head of every page. This book sends no mail: whoever runs it can set that
          up.
        </p>
      )}
    </section>
  );
}

function Choices({ kept }: { kept: Reply<'readMyMessages'> }) {
  const me = useMe();
  const dispatch = useAppDispatch();
  const [set, setting] = messagesApi.useSetMyMessagesMutation();
  const [attempt, trying] = messagesApi.useTryMyMailMutation();
  const [address, setAddress] = useState(kept.address ?? '');
  const [choices, setChoices] = useState(kept.choices);
  const [morning, setMorning] = useState(kept.morning);
  const typed = address.trim();
  const wrong = typed !== '' && !isMailAddress(typed);
  const keep = async () => {
    const answer = await set({ address: typed === '' ? null : typed, choices, morning, version: kept.version });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: typed === '' ? 'Nothing comes by mail any more.' : `Kept: what you chose goes to ${typed}.`,
        }),
      );
  };
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        if (!wrong) void keep();
      }}>
      <p>Everything you are told stands in the book until you put it away. With an address it can come by mail too.</p>
      <div className="tools long-boxes">
        <Entry
          label="Your address of mail"
          value={address}
          autoComplete="email"
          aria-invalid={wrong}
          onType={setAddress}
        />
      </div>
      {wrong && <p className="minus small">This is no address of mail; write it like ines@yard.example.</p>}
      {typed !== '' && !wrong && (
        <>
          <div className="form-grid measure">
            {kindsOf(me.role).map((kind) => (
              <Choice<MessageWay>
                key={kind}
                label={MESSAGE_WORDS[kind]}
                value={choices[kind]}
                options={MESSAGE_WAYS.map((w): [MessageWay, string] => [w, WAYS[w]])}
                onChange={(way) => {
                  if (way !== '') setChoices({ ...choices, [kind]: way });
                }}
              />
            ))}
          </div>
          <p>
            <label>
              <Tick
                on={morning}
                onTick={(on) => {
                  setMorning(on);
                }}
              />{' '}
              One mail each working morning at {timeText(kept.morningMinute)}: what waits for you that day
            </label>
          </p>
        </>
      )}
      <Wrong error={setting.error ?? trying.error} />
      <div className="tools">
        <Button type="submit" disabled={wrong || setting.isLoading}>
          Keep this
        </Button>
        {kept.address !== null && kept.address === typed && (
          <Button
            disabled={trying.isLoading}
            onClick={() =>
              void attempt().then((answer) => {
                if (answer.data)
                  dispatch(say({ tone: 'done', text: `On its way to ${kept.address}: it goes at once.` }));
              })
            }>
            Send a trial mail
          </Button>
        )}
      </div>
    </form>
  );
}
