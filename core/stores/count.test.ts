import { expect, test } from '@jest/globals';
import { countDoubt } from './index.ts';

test('a small difference is booked, a large one is counted again', () => {
  expect(countDoubt(9, 10, 'each')).toEqual({ off: -1, large: false });
  expect(countDoubt(2, 0, 'each')).toEqual({ off: 2, large: false });
  expect(countDoubt(5, 10, 'each')).toEqual({ off: -5, large: true });
  // Five of a hundred are a slip somewhere; no reason to walk back.
  expect(countDoubt(95, 100, 'each')).toEqual({ off: -5, large: false });
  expect(countDoubt(400, 0, 'mL')).toEqual({ off: 400, large: false });
  expect(countDoubt(4000, 40_000, 'mL').large).toBe(true);
});
