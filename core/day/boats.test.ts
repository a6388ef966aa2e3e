import { expect, test } from '@jest/globals';
import { pressing } from './boats.ts';
import type { DayBoat } from './types.ts';

const boat = (boatId: number, at: number, state: DayBoat['state']): DayBoat => ({
  boatId,
  boatName: `Boat ${boatId}`,
  baseId: 1,
  berth: null,
  way: 'out',
  at,
  state,
  text: '',
});

test('boats that want somebody stand first, then by time; of many only the most pressing, with how many are left', () => {
  const boats = [
    boat(1, 500, 'fine'),
    boat(2, 400, 'ready'),
    boat(3, 900, 'held'),
    boat(4, 600, 'over'),
    boat(5, 300, 'over'),
    boat(6, 200, 'hours wanted'),
    boat(7, 700, 'work first'),
  ];
  expect(pressing(boats, 60).list.map((b) => b.boatId)).toEqual([3, 5, 4, 7, 6, 2, 1]);
  const { list, more } = pressing(boats, 3);
  expect([list.map((b) => b.boatId), more]).toEqual([[3, 5, 4], 4]);
  // What was given stands as it was.
  expect(boats[0]!.boatId).toBe(1);
  expect(pressing([], 3)).toEqual({ list: [], more: 0 });
});
