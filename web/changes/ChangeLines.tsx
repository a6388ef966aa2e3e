import type { CardChangeLine } from '@diurna/contract/changes';
import { groupedChanges, type ChangeKind } from '@diurna/core/changes';
import { TASKS } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { shortDay, timeText } from '../ui/format.ts';
import { ShowAll } from '../ui/ShowAll.tsx';
import './changes.css';

const SHOWN = 6;
const HEADS: Record<ChangeKind, string> = {
  new: 'New cards',
  given: 'Given to another person',
  moved: 'Moved to another day',
  work: 'Other work on the card',
  'called off': 'Called off',
  hour: 'Another hour of the same day, nobody is told',
  none: 'As before',
};

const works = (c: CardChangeLine) =>
  [...new Set(c.after.tasks.filter((t) => t.state !== 'done').map((t) => TASKS[t.task].word.toLowerCase()))].join(', ');

/** Who and when: "Thu 16 Apr 8:30 with Ines Okoye". */
const place = (of: NonNullable<CardChangeLine['before']>, who: string | null) =>
  `${shortDay(of.day)}${of.startMinute === null ? '' : ` ${timeText(of.startMinute)}`} with ${who ?? 'somebody'}`;

function words(c: CardChangeLine): string {
  switch (c.kind) {
    case 'new':
      return `${place(c.after, c.who.after)}: ${works(c)}`;
    case 'called off':
      return `was ${place(c.before!, c.who.before)}: ${works(c)}`;
    case 'given':
      return `from ${place(c.before!, c.who.before)} to ${place(c.after, c.who.after)}`;
    case 'moved':
      return `from ${shortDay(c.before!.day)} to ${place(c.after, c.who.after)}`;
    case 'work':
      return `${place(c.after, c.who.after)} is now: ${works(c)}`;
    case 'hour':
      return `from ${c.before!.startMinute === null ? 'some time' : timeText(c.before!.startMinute)} to ${place(c.after, c.who.after)}`;
    case 'none':
      return place(c.after, c.who.after);
  }
}

/** What becomes of cards, kind by kind, each with how many; long kinds open on demand. */
export function ChangeLines({ changes }: { changes: readonly (CardChangeLine & { against?: string | null })[] }) {
  return (
    <div className="change-kinds">
      {groupedChanges(changes).map((g) => (
        <Kind key={g.kind} kind={g.kind} changes={g.changes} />
      ))}
    </div>
  );
}

function Kind({
  kind,
  changes,
}: {
  kind: ChangeKind;
  changes: readonly (CardChangeLine & { against?: string | null })[];
}) {
  const [all, setAll] = useState(kind !== 'hour');
  const [long, setLong] = useState(false);
  const shown = !all ? [] : long ? changes : changes.slice(0, SHOWN);
  return (
    <section className="change-kind" aria-label={HEADS[kind]}>
      <h3>
        <button
          type="button"
          className="link-button plain"
          aria-expanded={all}
          onClick={() => {
            setAll(!all);
          }}>
          {HEADS[kind]} <span className="figure faint">{changes.length}</span>
        </button>
      </h3>
      <ul>
        {shown.map((c) => (
          <li key={`${c.jobId ?? 'new'} ${c.boatId} ${c.after.day}`}>
            {c.jobId === null ? <b>{c.boatName}</b> : <Link to={`/jobs/${c.jobId}`}>{c.boatName}</Link>} {words(c)}
            {c.against && <span className="minus">, {c.against}</span>}
          </li>
        ))}
      </ul>
      {all && changes.length > SHOWN && <ShowAll all={long} rest={changes.length - SHOWN} onChange={setLong} />}
    </section>
  );
}
