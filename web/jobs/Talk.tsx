import { Button } from '@mui/material';
import type { CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import { Entry } from '../ui/parts.tsx';
import { type LiveCard } from './live-card.ts';
import { hourText } from '../ui/format.ts';

/** Words between the dock and the desk, and who helps; an answer goes back where the question came from. */
export function Talk({
  live,
  editable,
  write,
}: {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  const [answer, setAnswer] = useState('');
  const { talk, helpers } = live.state;
  if (talk.length === 0 && helpers.size === 0) return null;
  return (
    <section className="block card-talk" aria-label="Words on this card">
      {helpers.size > 0 && (
        <p className="faint">
          {[...helpers].map((id) => live.nameOf(id)).join(' and ')} {helpers.size === 1 ? 'writes' : 'write'} on this
          card too.
        </p>
      )}
      {talk.map((t) => (
        <p key={t.id}>
          <span className="figure faint">{hourText(t.at)}</span> <b>{live.nameOf(t.by)}:</b> {t.text}
        </p>
      ))}
      {editable && talk.length > 0 && (
        <form
          className="tools"
          onSubmit={(e) => {
            e.preventDefault();
            if (answer.trim() === '') return;
            void write({ kind: 'say', text: answer.trim() });
            setAnswer('');
          }}>
          <Entry label="Answer" value={answer} maxLength={1000} onType={setAnswer} />
          <Button type="submit" disabled={answer.trim() === ''}>
            Send
          </Button>
        </form>
      )}
    </section>
  );
}
