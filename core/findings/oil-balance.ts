import { fromMillilitres, round, toMillilitres, type PrintedVolume, type VolumeUnit } from '../units/index.ts';
import { millilitresOf } from './measures.ts';
import { readingKey, type ReadingKind, type ReadingValue } from './readings.ts';

/** Every pour of an oil change, in the order they are made. */
export const POURS = ['oil in', 'oil topped up', 'oil added'] as const satisfies readonly ReadingKind[];

/** Where the dipstick stood, as a share of the band between its marks: 0 at the lower, 1 at the upper one. */
const IN_BAND: Record<string, number> = { below: -0.25, lower: 0.25, upper: 0.75, full: 1, above: 1.25 };
/** Share of the band a level stands at; null for a word that is none. */
export const shareOfBand = (level: string | null): number | null => (level === null ? null : (IN_BAND[level] ?? null));

/** What came out of a sump and went in, in mL; null = nobody measured it. */
export interface OilBalance {
  out: number | null;
  /** All pours together; null while the first was not measured. */
  in: number | null;
  label: number | null;
  /** What the dipstick says went in besides what came out: from the level as found to the one it was left at. */
  risen: number | null;
}

/** Sums up one engine's oil change from its readings. */
export function oilBalance(
  engine: { id: number; sump: PrintedVolume | null; traits: { dipstickMl: number | null } },
  readings: Readonly<Record<string, ReadingValue>>,
): OilBalance {
  const ml = (kind: ReadingKind) => {
    const value = readings[readingKey(engine.id, kind)];
    return value && 'value' in value ? millilitresOf(value) : null;
  };
  const level = (kind: ReadingKind) => {
    const value = readings[readingKey(engine.id, kind)];
    return shareOfBand(value && 'choice' in value ? value.choice : null);
  };
  const [found, left] = [level('oil level found'), level('oil level')];
  const band = engine.traits.dipstickMl;
  return {
    out: ml('oil out'),
    in: ml('oil in') === null ? null : POURS.reduce((sum, kind) => sum + (ml(kind) ?? 0), 0),
    label: engine.sump && toMillilitres(engine.sump.value, engine.sump.unit),
    risen: found === null || left === null || band === null ? null : (left - found) * band,
  };
}

/** Millilitres in the unit the label is printed in: "0.4 L", "0.42 US qt". */
export function asPrinted(ml: number, label: PrintedVolume | null): string {
  const unit: VolumeUnit = label?.unit ?? 'L';
  return `${round(fromMillilitres(ml, unit), unit === 'mL' ? 0 : 2)} ${unit}`;
}

/** "Out 2.4 L, in 2.55 L, label 2.7 L."; null while nothing was measured. */
export function balanceText(balance: OilBalance, label: PrintedVolume | null): string | null {
  if (balance.out === null && balance.in === null) return null;
  const part = (word: string, ml: number | null) => (ml === null ? [] : [`${word} ${asPrinted(ml, label)}`]);
  const text = [...part('out', balance.out), ...part('in', balance.in), ...part('label', balance.label)].join(', ');
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
}
