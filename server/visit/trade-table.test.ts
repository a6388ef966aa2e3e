import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  READING_KINDS,
  READINGS,
  readingKey,
  SYMPTOM_KEYS,
  findingsOf,
  type PastReading,
  type ReadingValue,
} from '@diurna/core/findings';
import { traitsOf } from '@diurna/core/fleet';
import { SCHOOL_KEYS, TASK_KINDS, usualProgramme } from '@diurna/core/service';
import { learnMinutes, GATES, knownSteps, SHIPPED } from '@diurna/core/visit';

const table = readFileSync(join(import.meta.dirname, '../../docs/trade.md'), 'utf8')
  .split('\n')
  .filter((l) => l.startsWith('| ') && !l.startsWith('| What is known'));
const steps = new Set(TASK_KINDS.flatMap((t) => SHIPPED[t].map((l) => `${t}/${l.key}`)));
const access = knownSteps();
const traits = new Set(Object.keys(traitsOf({ powerHp: 60, stroke: 4, cylinders: 4 })));

/** Every finding there is: of every look, and of figures far too low and far too high. */
function allCodes(): Set<string> {
  const codes = new Set<string>();
  for (const firstOil of [false, true]) {
    const engine = {
      id: 1,
      cylinders: 2,
      traits: traitsOf({
        powerHp: 60,
        stroke: 4 as const,
        cylinders: 2,
        traits: { plugGapMm: 1, drainScrewNm: 18, dipstickMl: 800 },
      }),
      sump: { value: 7.1, unit: 'US qt' as const },
      gearCase: { value: 0.64, unit: 'L' as const },
      firstOil,
      oilUnknown: false,
      planned: new Set<never>(),
      worked: new Set<never>(),
      past: [] as PastReading[],
      day: '2026-05-04',
      hours: 400,
    };
    const past: PastReading[] = ['lower', 'upper', 'above'].map((choice) => ({
      key: '1 oil level',
      day: '2026-01-04',
      hours: 300,
      value: { choice },
    }));
    const judge = (readings: Record<string, ReadingValue>) => {
      for (const known of [[], ...past.map((p) => [p])])
        for (const oilUnknown of [false, true])
          for (const f of findingsOf({ ...engine, past: known, oilUnknown }, readings)) codes.add(f.code);
    };
    for (const kind of READING_KINDS) {
      judge({ [readingKey(1, kind)]: { not: 'could not' } });
      for (const o of READINGS[kind].options ?? []) {
        for (const key of [
          readingKey(1, kind),
          readingKey(1, kind, 1),
          readingKey(1, kind, 'engine-oil'),
          readingKey(1, kind, 'gear-lube'),
        ])
          judge({ [key]: { choice: o.key } });
        judge({ [readingKey(1, kind)]: { choice: o.key }, '1 oil in': { value: 7.1, unit: 'US qt' } });
      }
      for (const value of [0, 0.3, 1, 5, 6.7, 12, 20, 40])
        for (const unit of ['US qt', 'N·m', '%', 'mm', 'pieces', 'L', 'V'])
          for (const key of [readingKey(1, kind), readingKey(1, kind, 'engine-oil')]) judge({ [key]: { value, unit } });
    }
    judge({ '1 compression#1': { value: 100, unit: 'psi' }, '1 compression#2': { value: 130, unit: 'psi' } });
    judge({ '1 oil in': { value: 5, unit: 'US qt' }, '1 oil level': { choice: 'upper' } });
    judge({
      '1 oil level found': { choice: 'upper' },
      '1 oil out': { value: 6.5, unit: 'US qt' },
      '1 oil in': { value: 5, unit: 'US qt' },
      '1 oil level': { choice: 'upper' },
    });
    judge({ '1 leak loss#1': { value: 30, unit: '%' } });
    past.push({ key: '1 anode left', day: '2025-12-04', hours: 200, value: { value: 100, unit: '%' } });
    judge({ '1 anode left': { value: 60, unit: '%' } });
  }
  // The torque of a step is told with the step's task, what was not possible with its reading.
  return new Set([...codes].map((c) => /^(torque|not read)\b/.exec(c)?.[0] ?? c));
}

describe('the table of the trade’s details', () => {
  const codes = allCodes();
  const isThere = (place: string): boolean => {
    const cut = place.indexOf(':');
    const [kind, name] = cut < 0 ? [null, place] : [place.slice(0, cut), place.slice(cut + 1)];
    switch (kind) {
      case null:
        return steps.has(name) || ['run', 'leaks', 'arrive', 'rags', 'waste', 'order'].includes(name);
      case 'access':
        return access.has(name);
      case 'school':
        return SCHOOL_KEYS.includes(name as never);
      case 'trait':
        return traits.has(name);
      case 'reading':
        return READING_KINDS.includes(name as never);
      case 'finding':
        return codes.has(name);
      case 'gate':
        return GATES.includes(name as never);
      case 'learned':
        return name === 'first time' || name === 'drain';
      case 'symptom':
        return SYMPTOM_KEYS.includes(name as never);
      case 'rule':
        return usualProgramme({ powerHp: 60, stroke: 4, cylinders: 4 }).some((r) => r.task === name);
      default:
        return false;
    }
  };
  test('every row names where it is, and it is there', () => {
    expect(table.length).toBeGreaterThan(100);
    const missing = table.flatMap((row) => {
      const places = [...(row.split('|')[3] ?? '').matchAll(/`([^`]+)`/g)].map((m) => m[1]!);
      return places.length === 0 ? [row] : places.filter((p) => !isThere(p));
    });
    expect(missing).toEqual([]);
  });
  test('a wording of the yard names the step whose words it is; what is learned is learned', () => {
    for (const row of table.filter((r) => /wording of the yard/.test(r)))
      expect(row.split('|')[3]).toMatch(/`[a-z-]+\/[a-z-]+`/);
    for (const word of ['text', 'learned', 'later'])
      expect(table.filter((row) => row.includes(`\`${word}\``))).toEqual([]);
    // What is learned is there: a first time takes longer than the next.
    const learned = learnMinutes([
      { task: 'impeller', modelId: 1, personId: 2, first: true, n: 6, sumLog: 6 * Math.log(2.5) },
      { task: 'impeller', modelId: 1, personId: 2, first: false, n: 6, sumLog: 0 },
    ]);
    expect(learned.minutesFor('impeller', 1, 2, 60, true).minutes).toBeGreaterThan(
      learned.minutesFor('impeller', 1, 2, 60, false).minutes,
    );
    // And a drain that took half as long again, again and again.
    const drains = learnMinutes([], [], [{ task: 'gear-lube', modelId: 1, n: 9, sumLog: 9 * Math.log(1.5) }]);
    expect(drains.drainFor('gear-lube', 1, 18).minutes).toBeGreaterThan(drains.drainFor('gear-lube', 2, 18).minutes);
  });
  test('every finding, every question of the yard about the work and every gate stands in it', () => {
    const named = new Set(table.flatMap((row) => [...row.matchAll(/`([^`]+)`/g)].map((m) => m[1]!)));
    expect([...codes].filter((c) => !named.has(`finding:${c}`))).toEqual(['lube in unit'].filter((c) => codes.has(c)));
    expect(SCHOOL_KEYS.filter((k) => !named.has(`school:${k}`))).toEqual([]);
    expect(GATES.filter((g) => !named.has(`gate:${g}`))).toEqual(['no leaks', 'cowl on']);
  });
});
