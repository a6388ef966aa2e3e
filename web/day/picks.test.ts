import { expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import { picksOf } from './picks.ts';

type Line = DayReply['kits'][number]['lines'][number];
const line = (partId: number, quantity: number, place: string | null, onHand = 10) =>
  ({ partId, number: `P-${partId}`, name: `Part ${partId}`, unit: 'each', quantity, onHand, place }) as Line;
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
