import { useMediaQuery } from '@mui/material';
import { TASKS } from '@diurna/core/service';
import {
  FACTS,
  TO_RUN,
  placedText,
  stepAtHand,
  timersOf,
  type CardAct,
  type Fact,
  type Step,
} from '@diurna/core/visit';
import { engineName } from '@diurna/core/fleet';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { Findings, findingsOn } from '../findings/index.ts';
import { plural, hourText } from '../ui/format.ts';
import { Conflicts } from './Conflicts.tsx';
import { countdown, type LiveCard } from './live-card.ts';
import { ring, stayAwake } from './ring.ts';
import { useClock } from './useCard.ts';

interface Props {
  live: LiveCard;
  editable: boolean;
  write: (act: CardAct) => Promise<void>;
}

type Timer = ReturnType<typeof timersOf>[number];

/**
 * What stands beside the step at hand: what drains, what is open, held, found or paused. On a phone it folds into one
 * line with the nearest time, so that the step stays whole in view; what has to be decided first unfolds it.
 */
export function CardStrip({ live, editable, write }: Props) {
  const narrow = useMediaQuery('(max-width: 760px)');
  const now = useClock(editable && timersOf(live, 0).length > 0);
  const timers = timersOf(live, now);
  useCalls(
    live,
    timers.filter((t) => t.over).map((t) => t.step),
  );
  useEffect(() => (editable && timers.some((t) => !t.over) ? stayAwake() : undefined), [editable, timers]);
  const urgent = findingsOn(live).filter(isUrgent);
  const wanted = urgent.filter((f) => f.state === 'open').length + live.state.open.length;
  const pause = live.state.pauses.at(-1);
  const paused = pause?.to === null ? pause : null;
  const goesOn = stepAtHand(live, now);
  const words = [
    wanted > 0 && `${wanted} to decide`,
    paused && 'paused',
    live.card.holds.length + live.state.holds.filter((h) => !h.sent).length > 0 && 'held',
    urgent.length > 0 && wanted === 0 && plural(urgent.length, 'finding'),
    openNow(live).length > 0 && openNow(live).flatMap((e) => e.open)[0],
  ].filter((w): w is string => typeof w === 'string');
  const nearest = timers[0];
  const all = (
    <>
      <Held live={live} />
      <Conflicts live={live} mayDecide={editable} write={write} />
      <Findings live={live} findings={urgent} mayDecide={editable} write={write} />
      {timers.map((t) => (
        <TimerLine key={t.step.id} live={live} timer={t} now={now} goesOn={goesOn.at !== null && goesOn.waits <= 0} />
      ))}
      <OpenNow live={live} />
      {paused && (
        <p className="caution" role="status">
          <b>Paused</b>
          {paused.why ? `: ${paused.why}` : ''}, since {hourText(paused.from)}.{' '}
          {editable && (
            <button
              type="button"
              className="link-button"
              onClick={() => void write({ kind: 'pause', on: false, why: null })}>
              Go on
            </button>
          )}
        </p>
      )}
    </>
  );
  if (!narrow) return all;
  if (words.length === 0 && !nearest) return null;
  return (
    <Fold
      key={String(wanted > 0 || paused !== null)}
      open={wanted > 0 || paused !== null}
      urgent={wanted > 0}
      timer={nearest?.over ? 'done' : nearest ? countdown(nearest.until - now) : null}
      of={nearest ? placedText(live.card.engines, nearest.step) : null}
      words={[...words, ...(timers.length > 1 ? [`${timers.length - 1} more`] : [])].join(' · ')}>
      {all}
    </Fold>
  );
}

function Fold({
  open,
  urgent,
  timer,
  of,
  words,
  children,
}: {
  open: boolean;
  urgent: boolean;
  timer: string | null;
  of: string | null;
  words: string;
  children: ReactNode;
}) {
  const [shown, setShown] = useState(open);
  const top = useRef<HTMLDivElement>(null);
  // What is to be decided comes up wherever the page stands.
  useEffect(() => {
    if (urgent) top.current?.scrollIntoView({ block: 'start' });
  }, [urgent]);
  return (
    <div className={urgent ? 'card-strip urgent' : 'card-strip'} role="group" aria-label="Beside the step" ref={top}>
      <button
        type="button"
        aria-expanded={shown}
        onClick={() => {
          setShown(!shown);
        }}>
        {timer !== null && (
          <b className="figure" role={shown ? undefined : 'timer'}>
            {timer}
          </b>
        )}
        <span>{[words, of].filter(Boolean).join(' · ')}</span>
        <span aria-hidden="true">{shown ? '▴' : '▾'}</span>
      </button>
      {shown && children}
    </div>
  );
}

/** What drains or settles, with the time it has left. */
function TimerLine({ live, timer, now, goesOn }: { live: LiveCard; timer: Timer; now: number; goesOn: boolean }) {
  const { step, until, over } = timer;
  const text = placedText(live.card.engines, step);
  return (
    <p className={over ? 'step-timer is-over' : 'step-timer'} role={over ? 'status' : 'timer'}>
      <b className="figure">{over ? 'done' : countdown(until - now)}</b>
      <span>
        {over ? (
          <>
            <b>Done waiting.</b> {text}
          </>
        ) : (
          <>
            {text}. {goesOn ? 'Go on meanwhile.' : ''}
          </>
        )}
      </span>
    </p>
  );
}

/** Of what stands open, what would hurt if it were forgotten; that the cowl is off everybody sees. */
const SAID = new Set<Fact>(TO_RUN);

/** What stands open, engine by engine. */
function openNow(live: LiveCard): { engineId: number; name: string; open: string[] }[] {
  // What hurts most stands first.
  const open = live.engines
    .open()
    .filter((o) => o.closer !== null && SAID.has(o.fact))
    .sort((a, b) => TO_RUN.indexOf(a.fact) - TO_RUN.indexOf(b.fact));
  return live.card.engines
    .map((e) => ({
      engineId: e.id,
      name: live.card.engines.length > 1 ? engineName('', e.position).trim() : '',
      open: open.filter((o) => o.engineId === e.id).map((o) => FACTS[o.fact].open),
    }))
    .filter((e) => e.open.length > 0);
}

/** What stands open on the engines, for whoever takes the card over, or comes back to it. */
function OpenNow({ live }: { live: LiveCard }) {
  const open = openNow(live);
  if (open.length === 0) return null;
  return (
    <ul className="open-now" aria-label="Open now">
      {open.map((e) => (
        <li key={e.engineId}>
          {e.name !== '' && <b>{e.name}: </b>}
          {e.open.join(', ')}
        </li>
      ))}
    </ul>
  );
}

/** Why engines of the card are held, told also while the book has not heard of it. */
function Held({ live }: { live: LiveCard }) {
  const { card } = live;
  return (
    <>
      {card.holds.map((h) => (
        <div key={h.id} className="wrong held">
          <p>
            <b>Held{card.engines.length > 1 ? `, ${h.position}` : ''}:</b> {h.why}{' '}
            {h.missing.length > 0
              ? `Wanted first: ${h.missing.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.`
              : 'Its checks are done; a coordinator lets it go.'}{' '}
            <Link to={`/fleet/engines/${h.engineId}`}>See the engine</Link>
          </p>
        </div>
      ))}
      {live.state.holds
        .filter((h) => !h.sent)
        .map((h) => (
          <div key={h.at} className="wrong held">
            <p>
              <b>Held:</b> {h.why} It is on this phone and goes into the book with the next signal. Tell the coordinator
              that the boat must not go out.
            </p>
          </div>
        ))}
    </>
  );
}

/** What keeps the engine from going out stands above all else, and stays there when it is decided. */
export const isUrgent = (f: { weight: string }): boolean => f.weight === 'hold' || f.weight === 'stop';

/** A drain that is over calls once on this phone, also when the page was shut meanwhile. */
function useCalls(live: LiveCard, over: readonly Step[]): void {
  const called = useRef<Set<string> | null>(null);
  const store = `diurna.called.${live.card.id}`;
  useEffect(() => {
    called.current ??= new Set(JSON.parse(localStorage.getItem(store) ?? '[]') as string[]);
    const fresh = over.filter((s) => !called.current!.has(`${s.id} ${live.state.ticks.get(s.id)!.at}`));
    if (fresh.length === 0) return;
    for (const s of fresh) called.current.add(`${s.id} ${live.state.ticks.get(s.id)!.at}`);
    localStorage.setItem(store, JSON.stringify([...called.current].slice(-60)));
    // The strip at the top says which; a notice would lie over the buttons.
    ring();
  });
}
