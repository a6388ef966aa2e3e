import { expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import { picksOf } from './picks.ts';

type Line = DayReply['kits'][number]['lines'][number];
const line = (partId: number, quantity: number, place: string | null, onHand = 10) =>
  ({
    partId,
    number: `P-${partId}`,
    name: `Part ${partId}`,
    unit: 'each',
    quantity,
    onHand,
    place,
    open: [],
    sizes: [],
    instead: [],
  }) as unknown as Line;
const kit = (boatName: string, ...lines: Line[]) => ({ boatName, lines }) as DayReply['kits'][number];

test('parts of all boats are one line each, walked along the shelves; what the shelf has not is told', () => {
  const picks = picksOf([
    kit('Plover', line(1, 2, 'A10'), line(2, 1, 'A2'), line(3, 1, null)),
    kit('Tern', line(1, 3, 'A10', 4), line(2, 1, 'A2')),
  ]);
  expect(picks.map((p) => [p.number, p.quantity, p.place, p.boats.join('+')])).toEqual([
    ['P-2', 2, 'A2', 'Plover+Tern'],
    ['P-1', 5, 'A10', 'Plover+Tern'],
    ['P-3', 1, null, 'Plover'],
  ]);
  expect(picksOf([kit('Plover', line(1, 5, 'A1', 4))])[0]!.lacks).toBe(1);
  expect(picksOf([])).toEqual([]);
});

// Common practice, no source: the pair of engines (9.6 qt) takes ten quarts, not twice a jug and a bottle.
test('oil of two boats is poured together, and opens fewer containers than boat by boat', () => {
  const QUART = 946.352946;
  const oil = (quarts: number): Line => ({
    ...line(9, quarts * QUART, 'B1', 40_000),
    unit: 'mL',
    open: [{ id: '3', label: '1 US qt bottle', leftMl: 0.2 * QUART }],
    sizes: [{ id: '1 US qt bottle', ml: QUART, priceMinor: 800, most: null }],
  });
  const [pick] = picksOf([kit('Plover', oil(4.8)), kit('Tern', oil(4.8))]);
  expect(pick!.containers).toBe('189 mL from the open 1 US qt bottle and 10 × 1 US qt bottle; 568 mL left open');
  expect(pick!.spared).toBe(0);
  const [little] = picksOf([kit('Plover', oil(0.5)), kit('Tern', oil(0.5))]);
  expect(little!.containers).toBe('189 mL from the open 1 US qt bottle and 1 × 1 US qt bottle; 189 mL left open');
  expect(little!.spared).toBe(1);
});
