import { READINGS, readingOf, type ReadingValue } from '@diurna/core/findings';

/** A reading in words: "110 psi", "milky". */
export function valueText(key: string, value: ReadingValue | null): string {
  if (value === null) return 'taken back';
  if ('value' in value) return `${value.value} ${value.unit}`;
  const of = readingOf(key);
  return (of && READINGS[of.kind].options?.find((o) => o.key === value.choice)?.word) ?? value.choice;
}
