import type { Finding, FindingEngine, PastReading, Proposal, Readings, Weight } from '../finding.ts';
import { readingKey, readingOf, type ReadingKind, type ReadingValue } from '../readings.ts';

/** One engine's readings, as the looks at its parts ask them, and where what they find goes. */
export interface Look {
  engine: FindingEngine;
  readings: Readings;
  at: (kind: ReadingKind, part?: string | number | null) => ReadingValue | undefined;
  /** Values of a kind whatever its part, with their keys. */
  all: (kind: ReadingKind) => { key: string; part: string | null; value: ReadingValue }[];
  /** What was chosen for a kind; null = nothing. */
  choice: (kind: ReadingKind) => string | null;
  key: (kind: ReadingKind) => string;
  /** What was read of it before this card, oldest first. */
  before: (kind: ReadingKind, part?: string | number | null) => PastReading[];
  add: (
    code: string,
    from: string[],
    weight: Weight,
    seen: string,
    means: string,
    does: string,
    proposals?: Proposal[],
  ) => void;
  found: Finding[];
}

/** Work is looked at again after so many days. Common practice, no source. */
export const LOOK_AGAIN_DAYS = 28;
/** And soon is so many. */
export const SOON_DAYS = 14;

/** Days of a month, on average. */
export const MONTH_DAYS = 365.25 / 12;

const dayText = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
/** "12 May 2025", and the hours it ran since where both are known: "12 May 2025, 42 h ago". */
export function thenText(engine: FindingEngine, then: PastReading): string {
  const ran = engine.hours === null || then.hours === null ? null : Math.round(engine.hours - then.hours);
  return `${dayText.format(new Date(`${then.day}T00:00:00Z`))}${ran === null || ran < 0 ? '' : `, ${ran} h ago`}`;
}

/** Takes an engine's readings up for looking. */
export function lookAt(engine: FindingEngine, readings: Readings): Look {
  const found: Finding[] = [];
  const key = (kind: ReadingKind) => readingKey(engine.id, kind);
  const at: Look['at'] = (kind, part = null) => readings[readingKey(engine.id, kind, part)];
  return {
    engine,
    readings,
    found,
    key,
    at,
    all: (kind) =>
      Object.entries(readings).flatMap(([name, value]) => {
        const of = readingOf(name);
        return of?.engineId === engine.id && of.kind === kind ? [{ key: name, part: of.part, value }] : [];
      }),
    before: (kind, part = null) => {
      const name = readingKey(engine.id, kind, part);
      return engine.past.filter((p) => p.key === name);
    },
    choice: (kind) => {
      const value = at(kind);
      return value && 'choice' in value ? value.choice : null;
    },
    add: (code, from, weight, seen, means, does, proposals = []) => {
      found.push({
        key: `${engine.id} ${code}`,
        engineId: engine.id,
        code,
        from,
        weight,
        seen,
        means,
        does,
        proposals,
      });
    },
  };
}
