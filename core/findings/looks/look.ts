import type { Finding, FindingEngine, Proposal, Readings, Weight } from '../finding.ts';
import { readingKey, readingOf, type ReadingKind, type ReadingValue } from '../readings.ts';

/** One engine's readings, as the looks at its parts ask them, and where what they find goes. */
export interface Look {
  engine: FindingEngine;
  at: (kind: ReadingKind, part?: string | number | null) => ReadingValue | undefined;
  /** Values of a kind whatever its part, with their keys. */
  all: (kind: ReadingKind) => { key: string; part: string | null; value: ReadingValue }[];
  /** What was chosen for a kind; null = nothing. */
  choice: (kind: ReadingKind) => string | null;
  key: (kind: ReadingKind) => string;
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

/** Takes an engine's readings up for looking. */
export function lookAt(engine: FindingEngine, readings: Readings): Look {
  const found: Finding[] = [];
  const key = (kind: ReadingKind) => readingKey(engine.id, kind);
  const at: Look['at'] = (kind, part = null) => readings[readingKey(engine.id, kind, part)];
  return {
    engine,
    found,
    key,
    at,
    all: (kind) =>
      Object.entries(readings).flatMap(([name, value]) => {
        const of = readingOf(name);
        return of?.engineId === engine.id && of.kind === kind ? [{ key: name, part: of.part, value }] : [];
      }),
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
