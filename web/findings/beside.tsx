import type { JobCard as Card } from '@diurna/contract/jobs';
import {
  balanceText,
  COMPRESSION_SPREAD_TEXT,
  compressionSpread,
  kilopascalsOf,
  LAST_TIME,
  oilBalance,
  readingKey,
  READINGS,
  spreadPasses,
  valueText,
  type ReadingKind,
  type ReadingValue,
} from '@diurna/core/findings';
import { traitsOf } from '@diurna/core/fleet';
import { readingsOf, type CardState } from '@diurna/core/visit';
import { fullDay } from '../ui/format.ts';

/** The value all of them share; undefined where they differ or one is missing. */
export function alikeOf(keys: readonly { key: string }[], state: CardState): ReadingValue | undefined {
  const values = keys.map(({ key }) => state.readings.get(key)?.value);
  return values.every((v) => JSON.stringify(v) === JSON.stringify(values[0])) ? values[0] : undefined;
}

/** Where the last of the oil goes in, the sums stand beside it. */
export const POURED: readonly ReadingKind[] = ['oil topped up', 'oil added'];

/** Out, in and label side by side, where the last of the oil goes in. */
export function Balance({ engine, state }: { engine: Card['engines'][number]; state: CardState }) {
  const text = balanceText(oilBalance({ ...engine, traits: traitsOf(engine) }, readingsOf(state)), engine.sump);
  return text === null ? null : <p className="faint">{text}</p>;
}

export interface Beside {
  words: string;
  when: string | null;
  value: ReadingValue;
}

/** What a reading is held against: the engine's own last one, and the twin's of today or its last. */
export function besideOf(
  engine: Card['engines'][number] | undefined,
  kind: ReadingKind,
  part: string | null,
  state: CardState,
): Beside[] {
  if (!engine || !READINGS[kind].trend) return [];
  const last = engine.past.findLast((p) => p.key === readingKey(engine.id, kind, part));
  const twin = engine.twin;
  const now = twin && state.readings.get(readingKey(twin.engineId, kind, part))?.value;
  const then = twin?.past.findLast((p) => p.key === readingKey(twin.engineId, kind, part));
  return [
    ...(last ? [{ words: LAST_TIME, when: fullDay(last.day), value: last.value }] : []),
    ...(twin && now
      ? [{ words: `on the ${twin.position} one`, when: null, value: now }]
      : twin && then
        ? [{ words: `on the ${twin.position} one`, when: fullDay(then.day), value: then.value }]
        : []),
  ];
}

/** What it is held against, in words. */
export function BesideText({ kind, beside }: { kind: ReadingKind; beside: readonly Beside[] }) {
  return beside.length === 0 ? null : (
    <p className="faint reading-beside">
      {beside
        .map(
          ({ words, when, value }) =>
            `${words[0]!.toUpperCase()}${words.slice(1)}${when === null ? '' : `, ${when}`}: ${valueText(readingKey(0, kind), value)}`,
        )
        .join(' · ')}
    </p>
  );
}

/** How far the cylinders lie apart, as soon as two are read. */
export function Spread({ keys, state, floor }: { keys: string[]; state: CardState; floor: number | null }) {
  const pressures = keys.flatMap((key) => {
    const value = state.readings.get(key)?.value;
    const kpa = value && 'value' in value ? kilopascalsOf(value) : null;
    return kpa === null ? [] : [kpa];
  });
  const spread = compressionSpread(pressures);
  if (spread === null) return <p className="faint">{COMPRESSION_SPREAD_TEXT} apart is the most.</p>;
  const low = floor !== null && pressures.some((p) => p < floor);
  const bad = !spreadPasses(spread) || low;
  return (
    <p className={bad ? 'trap' : 'fine'} role="status">
      {Math.round(spread * 1000) / 10} % apart:{' '}
      {low
        ? 'one lies below the model’s floor'
        : bad
          ? `more than ${COMPRESSION_SPREAD_TEXT}, a cylinder is weak`
          : `passes, ${COMPRESSION_SPREAD_TEXT} is the most`}
      {pressures.length < keys.length ? ' so far' : ''}.
    </p>
  );
}
