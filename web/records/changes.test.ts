import { expect, test } from '@jest/globals';
import { changesOf } from './changes.ts';

test('an edit shows only what differs, before and after', () => {
  expect(changesOf({ id: 1, name: 'F1', priceMinor: 980, version: 1 }, { name: 'F1', priceMinor: 990 })).toEqual([
    { field: 'price', before: '9.80', after: '9.90' },
  ]);
});
test('an addition shows all of it, a cancellation what was', () => {
  expect(changesOf(null, { boat: 'Knot', tasks: ['oil', 'filter'] })).toEqual([
    { field: 'boat', before: null, after: 'Knot' },
    { field: 'tasks', before: null, after: 'oil, filter' },
  ]);
  expect(changesOf({ status: 'open' }, null)).toEqual([{ field: 'status', before: 'open', after: null }]);
});
test('nothing is told by its number that has a name, and nothing as a machine writes it', () => {
  const names = { 'boatId 17': 'Plover', 'technicianId 3': 'Ines Okoye' };
  expect(changesOf({ boatId: 16, technicianId: 3 }, { boatId: 17, technicianId: 3, active: true }, names)).toEqual([
    { field: 'boat', before: '16', after: 'Plover' },
    { field: 'active', before: null, after: 'yes' },
  ]);
  expect(changesOf(null, { tasks: [{ engineId: 4, task: 'grease' }] }, { 'engineId 4': 'Plover port' })).toEqual([
    { field: 'tasks', before: null, after: 'engine Plover port, task grease' },
  ]);
});
