import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { openYard, type Yard } from '../test/yard.ts';
import { among, json, prepared, rowsOf, tables, transaction } from './index.ts';

/** Rows of statements written out: read by a schema, because no compiler reads SQL. */
let yard: Yard;
beforeAll(async () => {
  yard = await openYard();
});
afterAll(() => yard.close());
const { base } = tables;

test('a row is what the statement gives', async () => {
  const row = z.object({ n: z.number(), day: z.string(), text: z.string().nullable(), told: json<{ a: number }>() });
  const given = sql`select 2 as n, date '2026-04-15' as day, null as text, '{"a":1}'::jsonb as told`;
  expect(await rowsOf(yard.db, row, given)).toEqual([{ n: 2, day: '2026-04-15', text: null, told: { a: 1 } }]);
  await transaction(yard.db, async (tx) => {
    expect(await prepared(tx, z.object({ n: z.number() }), 'two of them', 'select $1::int as n', [7])).toEqual([
      { n: 7 },
    ]);
  });
});

test.each([
  ['a column that is not there', sql`select 1 as m`],
  ['a number that PostgreSQL gives as text, because it may be too large', sql`select count(*) as n from base`],
  ['nothing where something is said to be', sql`select null::int as n`],
])('%s is heard of at once, with its name', async (_, statement) => {
  await expect(rowsOf(yard.db, z.object({ n: z.number() }), statement)).rejects.toThrow(/"n"/);
});

test('rows among ids, as one value to send: none, one and thousands', async () => {
  const names = (ids: number[]) => yard.db.select({ id: base.id }).from(base).where(among(base.id, ids));
  expect(await names([])).toEqual([]);
  expect(await names([yard.baseId])).toEqual([{ id: yard.baseId }]);
  const many = Array.from({ length: 100_000 }, (_, i) => i + 1);
  expect(await names(many)).toEqual(await yard.db.select({ id: base.id }).from(base));
  expect(await names([yard.baseId])).toEqual(
    await yard.db.select({ id: base.id }).from(base).where(eq(base.id, yard.baseId)),
  );
});
