import { expect, test } from '@jest/globals';
import type { DockAct } from '../outbox/outbox.ts';
import { atDock, keptHours } from './at-dock.ts';

const of = { boatId: 1, boatName: 'Plover', at: Date.parse('2026-04-15T09:00:00Z') };
const act = (id: string, more: { kind: 'out'; out: boolean } | { kind: 'back'; back: boolean }): DockAct => ({
  ...of,
  id,
  hireId: 7,
  ...more,
});
const hire = { id: 7, letGo: null, cameBack: null };

test('a boat stands as the book has it, then as this device has it; the last word counts', () => {
  expect(atDock(hire, [])).toMatchObject({ out: null, back: null, keptOut: null });
  const gone = act('a', { kind: 'out', out: true });
  expect(atDock(hire, [gone])).toMatchObject({ out: '2026-04-15T09:00:00.000Z', keptOut: gone });
  const here = act('b', { kind: 'out', out: false });
  expect(atDock(hire, [gone, here])).toMatchObject({ out: null, keptOut: here });
  // Taken back what the book had.
  const known = { ...hire, letGo: { at: '2026-04-15T08:00:00Z', by: 'Ines' } };
  expect(atDock(known, [here])).toMatchObject({ out: null, keptOut: here });
  expect(atDock({ ...hire, id: 8 }, [gone])).toMatchObject({ out: null, keptOut: null });
  expect(atDock(known, [act('c', { kind: 'back', back: true })])).toMatchObject({ back: '2026-04-15T09:00:00.000Z' });
});

test('hours that wait on this device are not wanted again', () => {
  const hours: DockAct = { ...of, id: 'h', kind: 'hours', day: '2026-04-15', readings: [{ engineId: 3, count: 10 }] };
  expect([...keptHours([hours, act('x', { kind: 'back', back: true })])]).toEqual([3]);
});
