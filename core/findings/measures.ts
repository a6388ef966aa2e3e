import { kilopascals, newtonMetres, round, toMillilitres, VOLUME_UNITS, type VolumeUnit } from '../units/index.ts';
import { READING_UNITS, READINGS, type ReadingKind, type ReadingUnit, type ReadingValue } from './readings.ts';

/** The most the highest and the lowest cylinder may differ, of the highest. Common practice, no source. */
export const COMPRESSION_SPREAD = 0.15;
/** "15 %". */
export const COMPRESSION_SPREAD_TEXT = `${COMPRESSION_SPREAD * 100} %`;

/** (highest - lowest) / highest; null with fewer than two cylinders read. */
export function compressionSpread(pressures: readonly number[]): number | null {
  if (pressures.length < 2) return null;
  const highest = Math.max(...pressures);
  return highest <= 0 ? null : (highest - Math.min(...pressures)) / highest;
}

/** Whether cylinders so far apart pass; exactly at the limit they do. */
export const spreadPasses = (spread: number): boolean => spread <= COMPRESSION_SPREAD + 1e-9;

/** Kilopascals of a pressure as read; null for a unit that is none. */
export function kilopascalsOf({ value, unit }: { value: number; unit: string }): number | null {
  return unit === 'kPa' ? value : unit === 'bar' ? value * 100 : unit === 'psi' ? kilopascals(value) : null;
}
/** Newton metres of a torque as read, from N·m or lbf·ft; null for a unit that is none. */
export const newtonMetresOf = ({ value, unit }: { value: number; unit: string }): number | null =>
  unit === 'N·m' ? value : unit === 'lbf·ft' ? newtonMetres(value) : null;
/** Millilitres of a volume as read; null for a unit that is none. */
export function millilitresOf({ value, unit }: { value: number; unit: string }): number | null {
  return VOLUME_UNITS.includes(unit as VolumeUnit) ? toMillilitres(value, unit as VolumeUnit) : null;
}

/** "12.5 %" of a share. */
export const percent = (share: number) => `${round(share * 100, 1)} %`;

/**
 * What stands in the way of a reading that is asked for; null = it can be taken. Looks have to be one of those offered,
 * figures lie within what can be.
 */
export function readingFault(kind: ReadingKind, value: ReadingValue): string | null {
  const info = READINGS[kind];
  if (info.options)
    return 'choice' in value && info.options.some((o) => o.key === value.choice)
      ? null
      : `Choose one of: ${info.options.map((o) => o.word).join(', ')}.`;
  if (!('value' in value) || !Number.isFinite(value.value) || value.value < 0)
    return 'A figure of 0 or more is wanted.';
  if (!READING_UNITS[info.unit!].includes(value.unit)) return `It is given in ${READING_UNITS[info.unit!].join(', ')}.`;
  const { most, of } = LIMITS[info.unit!];
  return of(value)! > most ? `${value.value} ${value.unit} cannot be right. Look at the figure and its unit.` : null;
}

/**
 * More than this is a slip of the hand or the wrong unit, in whichever unit it was read. No petrol outboard comes near.
 * Common practice, no source.
 */
const LIMITS: Record<ReadingUnit, { most: number; of: (value: { value: number; unit: string }) => number | null }> = {
  volume: { most: 60_000, of: millilitresOf },
  torque: { most: 500, of: newtonMetresOf },
  pressure: { most: 3000, of: kilopascalsOf },
  gap: { most: 10, of: ({ value, unit }) => (unit === 'in' ? value * 25.4 : value) },
  percent: { most: 100, of: ({ value }) => value },
  count: { most: 100, of: ({ value }) => value },
};
