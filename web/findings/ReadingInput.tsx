import type { JobCard as Card } from '@diurna/contract/jobs';
import { READINGS, valueText, type ReadingKind, type ReadingValue } from '@diurna/core/findings';
import { keysAsked, type AskedReading, type CardState, type Step } from '@diurna/core/visit';
import type { PrintedVolume } from '@diurna/core/units';
import { useMediaQuery } from '@mui/material';
import { useState } from 'react';
import { FigureInput } from './FigureInput.tsx';
import { NotPossible } from './NotPossible.tsx';
import { alikeOf, Balance, besideOf, BesideText, POURED, Spread, type Beside } from './beside.tsx';
import './findings.css';

interface Props {
  card: Card;
  step: Step;
  state: CardState;
  disabled: boolean;
  /** @param entered it was said to the end: an answer, or a figure with Enter; not one that was only left */
  onRead: (keys: readonly string[], value: ReadingValue, entered: boolean) => void;
}

/**
 * What is seen or measured at a step: large buttons for looks, a figure with its unit for the rest. On a phone one
 * thing
 * is asked at a time: what was answered is a line, what may be measured opens on demand.
 */
export function Readings(props: Props) {
  const { step, state, disabled } = props;
  const narrow = useMediaQuery('(max-width: 760px)');
  const [opened, setOpened] = useState<ReadonlySet<ReadingKind>>(new Set());
  const cylinders = cylindersOf(props);
  // What is measured comes before what the step hangs on: that answer may tick it.
  const kinds = [...new Set(step.readings)]
    .filter((k) => k !== 'waste')
    .sort((a, b) => Number(READINGS[a].needed) - Number(READINGS[b].needed));
  if (kinds.length === 0) return null;
  const keysOf = (kind: ReadingKind) => keysAsked(step, cylinders).filter((k) => k.kind === kind);
  const isGiven = (kind: ReadingKind) => keysOf(kind).every(({ key }) => state.readings.has(key));
  const open = (kind: ReadingKind) => {
    setOpened(new Set([...opened, kind]));
  };
  const first = kinds.find((k) => READINGS[k].needed && !isGiven(k));
  const isFolded = (kind: ReadingKind) => narrow && kinds.length > 1 && kind !== first && !opened.has(kind);
  const later = kinds.filter((k) => isFolded(k) && !isGiven(k));
  return (
    <div className="readings">
      {kinds.map((kind) =>
        !isFolded(kind) ? (
          <Reading key={kind} {...props} kind={kind} keys={keysOf(kind)} alone={kinds.length === 1} />
        ) : isGiven(kind) ? (
          <p key={kind} className="reading-given">
            <span className="faint">{READINGS[kind].word}:</span>{' '}
            <b>
              {[...new Set(keysOf(kind).map(({ key }) => valueText(key, state.readings.get(key)!.value)))].join(', ')}
            </b>{' '}
            <button
              type="button"
              className="link-button"
              disabled={disabled}
              aria-label={`Change ${READINGS[kind].word.toLowerCase()}`}
              onClick={() => {
                open(kind);
              }}>
              change
            </button>
          </p>
        ) : null,
      )}
      {later.some((k) => !READINGS[k].needed) && (
        <p className="reading-later">
          {later
            .filter((k) => !READINGS[k].needed)
            .map((kind) => (
              <button
                key={kind}
                type="button"
                className="link-button"
                disabled={disabled}
                onClick={() => {
                  open(kind);
                }}>
                {READINGS[kind].word} measured?
              </button>
            ))}
        </p>
      )}
      {later.some((k) => READINGS[k].needed) && (
        <p className="faint reading-later">
          then:{' '}
          {later
            .filter((k) => READINGS[k].needed)
            .map((k) => READINGS[k].word.toLowerCase())
            .join(', ')}
        </p>
      )}
    </div>
  );
}

const engineOf = ({ card, step }: Pick<Props, 'card' | 'step'>) => card.engines.find((e) => e.id === step.engineId);
const cylindersOf = (of: Pick<Props, 'card' | 'step'>) => engineOf(of)?.cylinders ?? 1;

/** One thing that is seen or measured, with what it is held against. */
function Reading({
  card,
  step,
  state,
  disabled,
  onRead,
  kind,
  keys,
  alone,
}: Props & {
  kind: ReadingKind;
  keys: readonly AskedReading[];
  /** The step asks nothing else. */
  alone: boolean;
}) {
  const engine = engineOf({ card, step });
  const info = READINGS[kind];
  const perCylinder = info.per === 'cylinder';
  const notPossible = info.needed && (
    <NotPossible word={info.word} keys={keys.map((k) => k.key)} state={state} disabled={disabled} onRead={onRead} />
  );
  return (
    <div className="reading">
      {!perCylinder && !(info.options && alone && step.text.endsWith('?')) && (
        <p className="reading-asks">
          {info.asks}
          {info.needed ? '' : <span className="faint"> if you measured it</span>}
        </p>
      )}
      {keys.map(({ key, part }) =>
        info.options ? (
          <Look
            key={key}
            beside={besideOf(engine, kind, part, state)}
            kind={kind}
            label={perCylinder ? `${info.asks} ${part ?? ''}` : info.asks}
            named={perCylinder}
            value={state.readings.get(key)?.value}
            disabled={disabled}
            onChoose={(choice) => {
              onRead([key], { choice }, true);
            }}
          />
        ) : (
          <FigureInput
            key={key}
            part={part}
            beside={besideOf(engine, kind, part, state)}
            kind={kind}
            label={perCylinder ? `${info.asks} ${part ?? ''}` : info.asks}
            named={perCylinder}
            value={state.readings.get(key)?.value}
            volume={labelOf(kind, engine)}
            disabled={disabled}
            onWrite={(value, entered) => {
              onRead([key], value, entered);
            }}
          />
        ),
      )}
      {info.options && perCylinder && keys.length > 1 && (
        <Look
          kind={kind}
          label="All alike"
          named
          beside={[]}
          value={alikeOf(keys, state)}
          disabled={disabled}
          onChoose={(choice) => {
            onRead(
              keys.map((k) => k.key),
              { choice },
              true,
            );
          }}
        />
      )}
      {notPossible}
      {POURED.includes(kind) && engine && <Balance engine={engine} state={state} />}
      {kind === 'compression' && (
        <Spread keys={keys.map((k) => k.key)} state={state} floor={engine?.traits.compressionFloorKpa ?? null} />
      )}
    </div>
  );
}

const labelOf = (kind: ReadingKind, engine: Card['engines'][number] | undefined): PrintedVolume | null =>
  kind === 'oil in' || kind === 'oil out'
    ? (engine?.sump ?? null)
    : kind === 'lube in'
      ? (engine?.gearCase ?? null)
      : null;

function Look({
  kind,
  label,
  named,
  beside,
  value,
  disabled,
  onChoose,
}: {
  kind: ReadingKind;
  label: string;
  named: boolean;
  beside: readonly Beside[];
  value: ReadingValue | undefined;
  disabled: boolean;
  onChoose: (choice: string) => void;
}) {
  const chosen = value && 'choice' in value ? value.choice : null;
  return (
    <div role="radiogroup" aria-label={label} className="looks">
      {named && <span className="reading-part">{label}</span>}
      {READINGS[kind].options!.map((o) => (
        <button
          key={o.key}
          type="button"
          role="radio"
          aria-checked={chosen === o.key}
          disabled={disabled}
          className={`look ${o.tone}`}
          onClick={() => {
            onChoose(o.key);
          }}>
          {o.word}
        </button>
      ))}
      <BesideText kind={kind} beside={beside} />
    </div>
  );
}
