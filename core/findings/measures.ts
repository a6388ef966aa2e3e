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
export function readingFault(kind: ReadingKind, value: ReadingValue, part: string | null = null): string | null {
  const info = READINGS[kind];
  if ('not' in value) {
    if (!info.needed) return 'It can be left empty: the step does not hang on it.';
    return value.not.trim() === '' ? 'Say why it was not possible.' : null;
  }
  if (info.options)
    return 'choice' in value && info.options.some((o) => o.key === value.choice)
      ? null
      : `Choose one of: ${info.options.map((o) => o.word).join(', ')}.`;
  if (!('value' in value) || !Number.isFinite(value.value)) return 'A figure of 0 or more is wanted.';
  const unit = info.unit!;
  if (!READING_UNITS[unit].includes(value.unit) && !(kind === 'waste' && value.unit === 'pieces'))
    return `It is given in ${READING_UNITS[unit].join(', ')}.`;
  const [least, most] = limitsOf(kind, value.unit, part);
  if (value.value >= least - 1e-9 && value.value <= most + 1e-9) return null;
  return `${named(kind, part)} lies between ${least} and ${most} ${value.unit}: ${value.value} ${value.unit} cannot be right. Look at the figure and its unit.`;
}

const named = (kind: ReadingKind, part: string | null) =>
  part !== null && READINGS[kind].per === 'cylinder'
    ? `${READINGS[kind].word}, cylinder ${part},`
    : READINGS[kind].word;

/**
 * Least and most a figure can be, in the unit it is read in: outside it is a slip of the hand or the wrong unit. No
 * petrol outboard comes near. Common practice, no source.
 */
function limitsOf(kind: ReadingKind, unit: string, part: string | null): [least: number, most: number] {
  const [least, most] =
    (kind === 'waste' && (unit === 'pieces' || part === 'filters' || part === 'rags') ? PIECES : LIMITS[kind]) ??
    LIMITS_OF_UNIT[READINGS[kind].unit!];
  const one = IN_BASE_UNIT[READINGS[kind].unit!](unit);
  return [round(least / one, 2), round(most / one, most / one < 10 ? 2 : 0)];
}

/** In mL, N·m, kPa, mm, %, pieces and V. */
const LIMITS_OF_UNIT: Record<ReadingUnit, [least: number, most: number]> = {
  volume: [0, 15_000],
  torque: [1, 300],
  pressure: [0, 2500],
  gap: [0.2, 2.5],
  percent: [0, 100],
  count: [0, 6],
  voltage: [0, 16],
};
const LIMITS: Partial<Record<ReadingKind, [least: number, most: number]>> = {
  'lube in': [0, 3000],
  waste: [0, 200_000],
};
const PIECES: [number, number] = [0, 99];

/** How much of the base unit one of this unit is. */
const IN_BASE_UNIT: Record<ReadingUnit, (unit: string) => number> = {
  volume: (unit) => millilitresOf({ value: 1, unit }) ?? 1,
  torque: (unit) => newtonMetresOf({ value: 1, unit }) ?? 1,
  pressure: (unit) => kilopascalsOf({ value: 1, unit }) ?? 1,
  gap: (unit) => (unit === 'in' ? 25.4 : 1),
  percent: () => 1,
  count: () => 1,
  voltage: () => 1,
};

/** Beyond this share off the last one, or off the twin, a figure is asked about. Common practice, no source. */
const FAR_OFF = 0.25;
/** An anode is read by eye: so many percent points mean nothing. */
const BY_EYE = 10;

/**
 * Whether a figure is worth a second look: far off the engine's last one or the twin's; null = no. It is kept all the
 * same: it may be right.
 *
 * @param beside what it is held against, with the words for it ("last time", "starboard")
 */
export function readingDoubt(
  kind: ReadingKind,
  value: ReadingValue,
  beside: readonly { words: string; value: ReadingValue }[],
): string | null {
  if (!('value' in value) || !READINGS[kind].trend) return null;
  const one = IN_BASE_UNIT[READINGS[kind].unit!];
  const is = value.value * one(value.unit);
  for (const { words, value: other } of beside) {
    if (!('value' in other)) continue;
    const was = other.value * one(other.unit);
    const text = `${other.value} ${other.unit} ${words}`;
    if (kind === 'anode left') {
      // It only goes down, unless it was swapped.
      if (words === LAST_TIME && is > was + BY_EYE && is < 95) return `${text}: it cannot have grown. Is it right?`;
    } else if (was > 0 && Math.abs(is / was - 1) > FAR_OFF) return `${text}. Is it right?`;
  }
  return null;
}

/** The words for the engine's own last reading. */
export const LAST_TIME = 'last time';
