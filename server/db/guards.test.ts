import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openTwinYard, type Yard } from '../test/yard.ts';

let yard: Yard;
beforeAll(async () => {
  ({ yard } = await openTwinYard());
});
afterAll(() => yard.close());

test.each([
  ['audit', 'act'],
  ['service_entry', 'task'],
  ['stock_movement', 'note'],
])('rows of the ledger are never changed or erased, by nobody and not at once: %s', async (table, column) => {
  for (const act of [`update ${table} set ${column} = ${column}`, `delete from ${table}`, `truncate ${table} cascade`])
    await expect(yard.pool.query(act)).rejects.toThrow('never changed or erased');
});

test('a reading is never erased', async () => {
  for (const act of ['delete from reading', 'truncate reading cascade'])
    await expect(yard.pool.query(act)).rejects.toThrow();
});
