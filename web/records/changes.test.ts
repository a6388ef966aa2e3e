import { expect, test } from '@jest/globals';
import { changesOf } from './changes.ts';

test('an edit shows only what differs, before and after', () => {
  expect(changesOf({ id: 1, name: 'F1', priceMinor: 980, version: 1 }, { name: 'F1', priceMinor: 990 })).toEqual([
    { field: 'price minor', before: '980', after: '990' },
  ]);
});
test('an addition shows all of it, a cancellation what was', () => {
  expect(changesOf(null, { boat: 'Knot', tasks: [1] })).toEqual([
    { field: 'boat', before: null, after: 'Knot' },
    { field: 'tasks', before: null, after: '[1]' },
  ]);
  expect(changesOf({ status: 'open' }, null)).toEqual([{ field: 'status', before: 'open', after: null }]);
});
