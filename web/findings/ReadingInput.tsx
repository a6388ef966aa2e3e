import type { JobCard as Card } from '@diurna/contract/jobs';
import {
  READING_UNITS,
  readingDoubt,
  readingFault,
  READINGS,
  valueText,
  type ReadingKind,
  type ReadingValue,
} from '@diurna/core/findings';
import { keysAsked, type AskedReading, type CardState, type Step } from '@diurna/core/visit';
import { inBothUnits, unitTrap, type PrintedVolume, type VolumeUnit } from '@diurna/core/units';
import { useMediaQuery } from '@mui/material';
import { useState } from 'react';
import { parseAmount } from '@diurna/core/units';
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
 * What is seen or measured at a step: large buttons for looks, a figure with its unit for the rest. On a phone one thing
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
          <Figure
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

function Figure({
  kind,
  label,
  named,
  part,
  beside,
  value,
  volume,
  disabled,
  onWrite,
}: {
  kind: ReadingKind;
  part: string | null;
  beside: readonly Beside[];
  label: string;
  named: boolean;
  value: ReadingValue | undefined;
  volume: PrintedVolume | null;
  disabled: boolean;
  onWrite: (value: { value: number; unit: string }, entered: boolean) => void;
}) {
  const kept = value && 'value' in value ? value : null;
  const units = READING_UNITS[READINGS[kind].unit!];
  const [text, setText] = useState<string | null>(null);
  const [unit, setUnit] = useState(kept?.unit ?? volume?.unit ?? units[0]!);
  const shown = text ?? (kept ? String(kept.value) : '');
  const typed = text === null ? (kept?.value ?? null) : parseAmount(text);
  const trap =
    volume && typed !== null && typed > 0 ? unitTrap({ value: typed, unit: unit as VolumeUnit }, volume) : null;
  const faultOf = (amount: number | null, inUnit: string) =>
    amount === null ? 'Figures only, such as 2.7' : readingFault(kind, { value: amount, unit: inUnit }, part);
  // Told while it is typed, and not kept: a figure that cannot be goes nowhere from here.
  const fault = text === null || text.trim() === '' ? null : faultOf(typed, unit);
  const doubt =
    typed === null || fault !== null || trap !== null ? null : readingDoubt(kind, { value: typed, unit }, beside);
  const keep = (nextUnit = unit, entered = false) => {
    const amount = parseAmount(shown);
    if (amount === null || faultOf(amount, nextUnit) !== null || (kept?.value === amount && kept.unit === nextUnit))
      return;
    onWrite({ value: amount, unit: nextUnit }, entered);
    setText(null);
  };
  return (
    <div className="figure-in">
      <label>
        <span className={named ? 'reading-part' : 'visually-hidden'}>{label}</span>
        <input
          className="plain-input num figure"
          inputMode="decimal"
          aria-label={label}
          aria-invalid={fault !== null}
          value={shown}
          placeholder={volume ? String(volume.value) : ''}
          disabled={disabled}
          onChange={(e) => {
            setText(e.target.value);
          }}
          onBlur={() => {
            keep();
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              e.preventDefault();
              keep(unit, true);
            }
          }}
        />
      </label>
      {units.length === 1 ? (
        <span className="faint">{units[0]}</span>
      ) : (
        <select
          aria-label={`Unit, ${label}`}
          className="plain-input"
          value={unit}
          disabled={disabled}
          onChange={(e) => {
            setUnit(e.target.value);
            keep(e.target.value);
          }}>
          {units.map((u) => (
            <option key={u} value={u}>
              {u}
            </option>
          ))}
        </select>
      )}
      {fault !== null && (
        <p className="trap" role="alert">
          {fault}
        </p>
      )}
      {doubt !== null && (
        <p className="trap" role="status">
          {doubt}
        </p>
      )}
      <BesideText kind={kind} beside={beside} />
      {trap && (
        <p className="trap" role="status">
          {typed} looks like {trap}, not {unit}: the label says {inBothUnits(volume!)}.
        </p>
      )}
    </div>
  );
}
