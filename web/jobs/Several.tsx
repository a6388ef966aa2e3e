import type { MovedCard, NewCard } from '@diurna/contract/hand-out';
import { minutesText } from '@diurna/core/visit';
import { useEffect, useState, type ReactNode } from 'react';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { FormSheet } from '../ui/form.tsx';
import { plural } from '../ui/format.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { jobsApi } from './api.ts';
import './several.css';
import { Tick } from '../ui/Tick.tsx';

/** Fewer letters are no reason. */
const LEAST_REASON = 3;

/** A boat, or a card, of several that are decided at once. */
export interface SeveralLine {
  key: string;
  name: string;
  words: string;
  /** What is asked for; null = nothing yet, it cannot be ticked. */
  card: { card: NewCard } | { move: MovedCard } | null;
}

/** Who may be chosen for a line; without it everybody keeps what is theirs. */
interface Hands {
  of: (line: SeveralLine) => [id: number, name: string][];
  chosen: (line: SeveralLine) => number | '';
  choose: (line: SeveralLine, id: number) => void;
}

/**
 * A sheet on which several boats or cards are looked at together and decided in one: each line with what is against it
 * beside those above, one reason for all that is done all the same, one undo.
 */
export function Several({
  title,
  lines,
  more,
  children,
  hands,
  ticked,
  setTicked,
  act,
  done,
  none,
  onClose,
}: {
  title: string;
  lines: readonly SeveralLine[];
  /** Said below the lines. */
  more?: string | null;
  /** What all of them have in common, asked above the lines. */
  children: ReactNode;
  hands?: Hands;
  ticked: ReadonlySet<string>;
  setTicked: (keys: ReadonlySet<string>) => void;
  act: (n: number) => string;
  done: (n: number) => string;
  /** Said where there is no line. */
  none: string;
  onClose: () => void;
}) {
  const dispatch = useAppDispatch();
  const going = lines.filter((l) => l.card !== null && ticked.has(l.key));
  const asked = {
    cards: going.flatMap((l) => (l.card && 'card' in l.card ? [l.card.card] : [])),
    moves: going.flatMap((l) => (l.card && 'move' in l.card ? [l.card.move] : [])),
  };
  const look = jobsApi.useLookAtSeveralQuery(asked, { skip: going.length === 0, refetchOnMountOrArgChange: true });
  const [decide, { error, isLoading }] = jobsApi.useDecideSeveralMutation();
  const [insist, setInsist] = useState('');
  const { refetch } = look;
  const refused = going.length > 0 && problemOf(error)?.type === 'questioned';
  useEffect(() => {
    if (refused) void refetch();
  }, [refused, refetch]);
  const found = going.length === 0 ? undefined : look.currentData;
  const foundOf = new Map(going.map((l, i) => [l.key, found?.[i]]));
  const against = [...foundOf.values()].filter((f) => (f?.against.length ?? 0) > 0).length;
  const why = insist.trim();
  const ready = found !== undefined && (against === 0 || why.length >= LEAST_REASON);
  const save = async () => {
    if (!ready) return;
    const answer = await decide({ ...asked, ...(against > 0 && { insist: why }) });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: done(answer.data.cards), changeId: answer.data.changeId }));
    onClose();
  };
  const tick = (key: string, on: boolean) => {
    const next = new Set(ticked);
    if (on) next.add(key);
    else next.delete(key);
    setTicked(next);
  };
  const all = lines.length > 0 && lines.every((l) => ticked.has(l.key));
  return (
    <FormSheet
      title={title}
      act={act(going.length)}
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading || !ready}
      wide>
      <div className="full tools">{children}</div>
      {lines.length === 0 && <p className="full faint">{none}</p>}
      {lines.length > 0 && (
        <div className="full">
          <p>
            <button
              type="button"
              className="link-button"
              onClick={() => {
                setTicked(all ? new Set() : new Set(lines.map((l) => l.key)));
              }}>
              {all ? 'none of them' : `all ${lines.length}`}
            </button>{' '}
            {going.length > 0 && (
              <span className="faint">
                {going.length} chosen
                {found && `, ${minutesText(found.reduce((sum, f) => sum + f.minutes, 0))} in all`}
                {found && against > 0 && `, ${plural(against, 'has', 'have')} something against`}
              </span>
            )}
          </p>
          {/* Above the list: by keyboard it would come after a hundred boxes. */}
          {against > 0 && (
            <Entry full label="Why it is done all the same" value={insist} maxLength={300} onType={setInsist} />
          )}
          <ul className="several" aria-label={title}>
            {lines.map((l) => (
              <Line key={l.key} line={l} on={ticked.has(l.key)} tick={tick} hands={hands} found={foundOf.get(l.key)} />
            ))}
          </ul>
          {more && <p className="faint">{more}</p>}
          <Wrong error={going.length > 0 ? look.error : undefined} />
        </div>
      )}
    </FormSheet>
  );
}

function Line({
  line,
  on,
  tick,
  hands,
  found,
}: {
  line: SeveralLine;
  on: boolean;
  tick: (key: string, on: boolean) => void;
  hands: Hands | undefined;
  found: { minutes: number; against: { bar: string; text: string; frees: string | null }[] } | undefined;
}) {
  return (
    <li>
      <label className="several-what">
        <Tick
          on={on}
          onTick={(on) => {
            tick(line.key, on);
          }}
        />
        <span>
          <b>{line.name}</b> <span className="faint">{line.words}</span>
        </span>
      </label>
      {hands && (
        <Choice<number>
          label={`Who works on ${line.name}`}
          hideLabel
          value={hands.chosen(line)}
          options={hands.of(line)}
          onChange={(id) => {
            if (id !== '') hands.choose(line, id);
          }}
        />
      )}
      {on && found && found.against.length > 0 && (
        <ul className="several-against minus">
          {found.against.map((r) => (
            <li key={`${r.bar} ${r.text}`}>
              {r.text} {r.frees !== null && <span className="faint">{r.frees}</span>}
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
