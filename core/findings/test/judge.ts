import { expect } from '@jest/globals';
import { traitsOf } from '../../fleet/index.ts';
import {
  findingsOf,
  type Finding,
  type FindingEngine,
  type PastReading,
  type ReadingValue,
  type Readings,
} from '../index.ts';

/** An engine of 60 hp, number 7, as findings are judged by; nothing is known of its past. */
export const engine = (more: Partial<FindingEngine> = {}, traits: object = {}): FindingEngine => ({
  id: 7,
  cylinders: 2,
  traits: traitsOf({ powerHp: 60, stroke: 4, cylinders: 2, traits }),
  sump: { value: 7.1, unit: 'US qt' },
  gearCase: { value: 0.64, unit: 'L' },
  firstOil: false,
  oilUnknown: false,
  planned: new Set(),
  worked: new Set(),
  past: [],
  day: '2026-05-04',
  hours: 412,
  ...more,
});

/** One look of engine 7. */
export const look = (kind: string, choice: string): Readings => ({ [`7 ${kind}`]: { choice } });
/** One figure of engine 7. */
export const figure = (kind: string, value: number, unit: string): Readings => ({ [`7 ${kind}`]: { value, unit } });
/** Its compression, cylinder by cylinder. */
export const psi = (...values: number[]): Readings =>
  Object.fromEntries(values.map((value, i) => [`7 compression#${i + 1}`, { value, unit: 'psi' }]));
/** What was read of it on an earlier day. */
export const onDay = (day: string, hours: number | null, readings: Readings): PastReading[] =>
  Object.entries(readings).map(([key, value]: [string, ReadingValue]) => ({ key, day, hours, value }));

export const judge = (readings: Readings, more: Partial<FindingEngine> = {}, traits: object = {}): Finding[] =>
  findingsOf(engine(more, traits), readings);
/** The one finding there is. */
export function only(found: readonly Finding[]): Finding {
  expect(found).toHaveLength(1);
  return found[0]!;
}
/** The work a finding asks for. */
export const tasks = (f: Finding) => f.proposals.flatMap((p) => (p.kind === 'follow-up' ? [p.task] : []));
