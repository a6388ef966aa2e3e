import type { TaskKind } from '../../service/index.ts';
import { READINGS, readingOf, type ReadingKind } from '../readings.ts';
import { SOON_DAYS, type Look } from './look.ts';

/**
 * Unseen, nobody knows that the engine is fit to run: it stays until somebody has seen it. Common practice, no source.
 */
const FIT_TO_RUN: readonly ReadingKind[] = ['stream', 'oil light', 'oil level', 'leak', 'sheen', 'shift'];

/** What tells whether a repair held: unseen, the repair is not over. */
const REPAIR: Partial<Record<ReadingKind, TaskKind>> = {
  'seal pressure': 'gear-seals',
  'seal pressure again': 'gear-seals',
  'gears look': 'gear-inspection',
  'metal kind': 'oil-trace',
  'oil pressure look': 'oil-pressure',
  'pieces found': 'passages',
  'leak loss': 'leak-down',
  'tank look': 'tank-check',
};

/** Work whose very purpose is the reading: without it, it was not done. */
const MEASURED: Partial<Record<ReadingKind, TaskKind>> = {
  compression: 'compression',
  'anode left': 'anodes',
  'battery volts': 'battery-check',
  'shaft line': 'prop-shaft',
  'hub look': 'prop-shaft',
  'under cowl': 'look-over',
};

/** Readings that were not possible: the engine stays, the work comes again, or it is written down. */
export function notRead({ engine, readings, add }: Look): void {
  const why = new Map<ReadingKind, { keys: string[]; words: string[] }>();
  for (const [key, value] of Object.entries(readings)) {
    const of = readingOf(key);
    if (of?.engineId !== engine.id || !('not' in value)) continue;
    const known = why.get(of.kind) ?? { keys: [], words: [] };
    why.set(of.kind, { keys: [...known.keys, key], words: [...new Set([...known.words, value.not])] });
  }
  for (const [kind, { keys, words }] of why) {
    const code = `not read ${kind}`;
    const name = READINGS[kind].word;
    const seen = `${name}: not possible. ${words.join('; ')}`;
    const repair = REPAIR[kind];
    const measured = MEASURED[kind];
    if (FIT_TO_RUN.includes(kind))
      add(code, keys, 'hold', seen, 'Nobody has seen that it is fit to go out.', 'Hold it until that was seen.', [
        { kind: 'hold', checks: [] },
      ]);
    else if (repair !== undefined)
      add(code, keys, 'hold', seen, 'Nobody knows whether the repair holds.', 'Hold it, and do that again.', [
        { kind: 'hold', checks: [repair] },
        { kind: 'follow-up', task: repair, when: 'now' },
      ]);
    else if (measured !== undefined)
      add(code, keys, 'act', seen, 'What the work was for is not known.', 'Do it again soon.', [
        { kind: 'follow-up', task: measured, when: SOON_DAYS },
      ]);
    else add(code, keys, 'watch', seen, 'It was not looked at this time.', 'Look at it the next time.');
  }
}
