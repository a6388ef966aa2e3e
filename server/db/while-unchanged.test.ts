import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openYard, type Yard } from '../test/yard.ts';
import { transaction } from './index.ts';
import { whileUnchanged } from './while-unchanged.ts';

/** An answer worked out once while the book stands still, and never an old one. */
let yard: Yard;
let worked = 0;
beforeAll(async () => {
  yard = await openYard();
});
afterAll(() => yard.close());

/** Boats of the book, and how often they were counted. */
const count = (key = 'boats', before: () => Promise<void> = () => Promise.resolve()) =>
  whileUnchanged(yard.db, key, async () => {
    worked++;
    await before();
    const { rows } = await yard.pool.query<{ n: number }>('select count(*)::int as n from boat');
    return rows[0]!;
  });
const add = (name: string) => yard.pool.query('insert into boat (name, base_id) values ($1, $2)', [name, yard.baseId]);

test('worked out once for many at once, and for all who come later', async () => {
  // A write in any database of the cluster counts, and other tests write in theirs: there are moments of quiet.
  const seen: number[] = [];
  for (let i = 0; i < 100 && !seen.includes(1); i++) {
    await new Promise((r) => setTimeout(r, 20));
    worked = 0;
    const answers = await Promise.all(Array.from({ length: 20 }, () => count(`boats ${i}`)));
    await count(`boats ${i}`);
    // Whoever shares an answer has the same one.
    expect(new Set(answers).size).toBeLessThanOrEqual(worked);
    seen.push(worked);
  }
  expect(seen).toContain(1);
  // Of another day, base or role it is another answer.
  await count('boats of base 2');
  expect(worked).toBeGreaterThan(1);
});

test('whatever anybody writes, through any connection, the next one sees it', async () => {
  const before = (await count()).n;
  await add('Plover');
  expect((await count()).n).toBe(before + 1);
  await transaction(yard.db, async (tx) => {
    await tx.execute(`insert into boat (name, base_id) values ('Dunlin', ${yard.baseId})`);
    // Not committed yet: not there for others.
    expect((await count()).n).toBe(before + 1);
  });
  expect((await count()).n).toBe(before + 2);
});

test('written while it is being worked out: whoever asks after that gets no answer from before', async () => {
  const before = (await count()).n;
  await add('Knot');
  let wrote!: () => void;
  const writing = new Promise<void>((resolve) => {
    wrote = resolve;
  });
  const slow = count('boats', () => writing);
  await add('Ruff');
  const after = count();
  wrote();
  await slow;
  expect((await after).n).toBe(before + 2);
});

test('what failed is worked out anew', async () => {
  await add('Teal');
  await expect(count('boats', () => Promise.reject(new Error('the line was cut')))).rejects.toThrow('the line was cut');
  await expect(count()).resolves.toHaveProperty('n');
});
